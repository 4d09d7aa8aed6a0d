export type { Explanation } from "./condition.js";
export { readingOf, sayDate, sayInstant, sayValue } from "./moments.js";
export { why } from "./why.js";
