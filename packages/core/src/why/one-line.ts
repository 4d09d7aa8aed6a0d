// An explanation in one line: what it says, and the first of what that rests on.
import type { Explanation } from "./condition.js";

export function inOneLine({ says, because: [first] }: Explanation): string {
  if (!first) return says;
  return `${says}: ${isJoint(first) ? sayAll(first.because) : first.says}`;
}

/** What only joins others says nothing without them. */
export function isJoint({ says, because }: Explanation): boolean {
  return /^(?:all of )?these are (?:not )?true$|^it needs one of these$/.test(says) && because.length > 0;
}

/** What each of several says. */
export function sayAll(all: readonly Explanation[]): string {
  return all.map(({ says }) => says).join(", and ");
}
