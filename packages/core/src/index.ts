export type * from "./house/index.js";
export { isSound, type ParsedHouse, type Place, parseHouse, type Problem, type ProblemCode } from "./language/index.js";
