export type { Explanation } from "./condition.js";
export { type Description, describe } from "./describe.js";
export { type Hint, hints } from "./hints.js";
export { readingOf, sayDate, sayInstant, sayValue } from "./moments.js";
export { whatNext } from "./next.js";
export { noticesOf, type ToldNotice, whyNotice } from "./notice.js";
export { type TellOptions, tellHouse } from "./tell.js";
export { why } from "./why.js";
export { whyNot } from "./why-not.js";
