// What tests of a house, or of a program that runs one, want: houses made up by a seed, what befalls them, and a plain
// engine that does the same as the fast one, slowly.
export { actionsAt, changes, houseText, inputsAt, noon, pick, type Random, type Stretch, seeded } from "./generate.js";
export { Reference } from "./reference.js";
