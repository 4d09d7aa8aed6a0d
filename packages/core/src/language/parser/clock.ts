// The time of day as it is called and compared elsewhere: told with the right form, and read on with.
import type { Term } from "../syntax.js";
import { isTimeAt, relations } from "./ahead.js";
import type { Cursor } from "./cursor.js";

/** What a condition about the time of day begins with elsewhere. */
const starts: ReadonlySet<string> = new Set(["clock", "time", "it", "the", "between", "from", "after", "before"]);
/** How the time of day is called elsewhere; nothing else is called so. */
const names: readonly (readonly string[])[] = [["time", "of", "day"], ["the", "time"], ["the", "clock"], ["clock"]];
const nameStarts: ReadonlySet<string> = new Set(names.map(([word]) => word as string));

const named = (c: Cursor) => (nameStarts.has(c.token.text) ? names.find((words) => c.comesAll(words)) : undefined);

/** Takes what `clock.time` is called elsewhere, where that comes. */
export function takesTimeOfDay(c: Cursor): boolean {
  const words = named(c);
  if (words) c.takeAllMeant("clock.time", words);
  return words !== undefined;
}

/**
 * `from 22:00 to 06:00`, `time between 22:00 and 06:00`, `after 22:00`, `time of day is after 22:00`.
 * @param sum reads a value
 */
export function clockByHabit(c: Cursor, sum: (c: Cursor) => Term): Term | undefined {
  const first = c.token;
  if (!starts.has(first.text)) return undefined;
  const isNamed = named(c);
  // Something may be called `time` or `it`, and be compared as a time is.
  const isCalled = !isNamed && (c.comes("time") || c.comes("it"));
  if (isCalled && !["is", "after", "before"].some((word) => c.comes(word, 1))) return undefined;
  const behind = isCalled ? 1 : (isNamed?.length ?? 0);
  const at = behind > 0 && c.comes("is", behind) ? behind + 1 : behind;
  const isOperand = isTimeAt(c, at + 1) || (c.isName(at + 1) && (isNamed || !relations.has(c.peek(at + 2).text)));
  const joins = c.comes("between", at) ? "and" : c.comes("from", at) ? "to" : undefined;
  if (joins !== undefined && (isNamed ? isOperand : isTimeAt(c, at + 1)) && !(c.comes("clock") && joins === "to")) {
    take(c, at + 1);
    const from = sum(c);
    c.word(joins);
    const to = sum(c);
    c.tellMeant(first, `clock from ${c.textOf(from.span)} to ${c.textOf(to.span)}`);
    return { kind: "clock", from, to, span: c.span(first) };
  }
  const isAfter = c.comes("after", at);
  if (!isOperand || (!isAfter && !c.comes("before", at))) return undefined;
  take(c, at + 1);
  const right = sum(c);
  const bound = isAfter ? "at least" : "below";
  c.tellMeant(first, `clock.time ${bound} ${c.textOf(right.span)}`);
  return { kind: "bound", bound, left: { kind: "name", text: "clock.time", span: first }, right, span: c.span(first) };
}

function take(c: Cursor, count: number): void {
  for (let taken = 0; taken < count; taken++) c.next();
}
