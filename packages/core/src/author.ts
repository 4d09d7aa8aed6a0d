// Houses written in TypeScript, with types that know what each thing measures.
//
// It says what a home mostly needs: rooms with sensors, outputs and dials; sentences, guards, schedules and countdowns.
// Groups, lets, presets, profiles, trials, physics and wiring are said in the language.

export * from "./author/index.js";
