export { type Ask, asksOf } from "./asks.js";
export { type CheckOptions, checkHouse } from "./check.js";
export { type Finding, type FindingCode, findingCodes } from "./finding.js";
