export type { Explanation } from "./condition.js";
export { sayInstant } from "./moments.js";
export { why } from "./why.js";
