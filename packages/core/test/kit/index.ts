// What tests of a house, or of a program that runs one, want: houses made up by a seed, what befalls them, and a plain
// engine that does the same as the fast one, slowly.
export { actionsAt, houseText, inputsAt, pick, type Random, seeded } from "./generate.js";
export { Reference } from "./reference.js";
