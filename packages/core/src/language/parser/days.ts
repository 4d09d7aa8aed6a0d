// Days of the week: `daily`, `Mon..Fri, Sun`.
import { weekdayNames } from "../../time/index.js";
import type { Cursor } from "./cursor.js";

const week = [0, 1, 2, 3, 4, 5, 6];

/** Days by other names. */
const dayHabits: readonly (readonly [written: readonly string[], meant: string, days: readonly number[]])[] = [
  [["weekdays"], "Mon..Fri", [0, 1, 2, 3, 4]],
  [["workdays"], "Mon..Fri", [0, 1, 2, 3, 4]],
  [["weekends"], "Sat, Sun", [5, 6]],
  [["weekend"], "Sat, Sun", [5, 6]],
  [["every", "day"], "daily", week],
  [["everyday"], "daily", week],
  [["each", "day"], "daily", week],
  [["all", "days"], "daily", week],
];

/** Days that are meant by another name, told and read on with. */
function daysByHabit(c: Cursor): readonly number[] | undefined {
  const first = c.token;
  const found = dayHabits.find(([written]) => c.comesAll(written));
  if (found) {
    const [written, meant, on] = found;
    c.takeAllMeant(meant, written);
    return on;
  }
  if (first.kind === "date")
    c.missing(first, "Days are days of the week.", `For a date write a line of its own: only ${first.text}.`);
  // Behind a word something else may be missing, which that could be the rest of.
  if ((first.kind !== "time" && first.kind !== "quantity") || c.taken.kind === "word") return undefined;
  const what = `On which days is not said before "${first.text}".`;
  c.faults.add(first, { kind: "missing", what, remedy: `Write daily ${first.text}.`, before: "daily" });
  return week;
}

/** Days of the week, 0 = Monday; `Sat..Mon` passes the end of the week. */
export function days(c: Cursor): number[] {
  if (c.takeWord("daily")) return [...week];
  const byHabit = daysByHabit(c);
  if (byHabit) return [...byHabit];
  const found = new Set<number>();
  do {
    const from = day(c);
    const to = c.takeSign("..") || (comesDay(c, 1) && c.takeMeant("..", ["-", "to", "through"])) ? day(c) : from;
    for (let at = from; ; at = (at + 1) % 7) {
      found.add(at);
      if (at === to) break;
    }
  } while (comesDay(c, 1) && (c.takeSign(",") || c.takeMeant(",", ["and"])));
  return [...found].sort((a, b) => a - b);
}

/** Whether days come, in whichever words, so far ahead; nobody is offered them. */
export function comesDays(c: Cursor, ahead = 0): boolean {
  const isCalled = dayHabits.some(([written]) => c.comesAll(written, ahead));
  return (
    isCalled ||
    c.comes("daily", ahead) ||
    weekdayNames.some((name) => c.comes(name, ahead)) ||
    wholeName(c.peek(ahead).text) !== undefined
  );
}

export function isDay(c: Cursor, ahead: number): boolean {
  return c.isAmong(weekdayNames, ahead);
}

/** A day, by whichever name. */
function comesDay(c: Cursor, ahead: number): boolean {
  return isDay(c, ahead) || wholeName(c.peek(ahead).text) !== undefined;
}

/** `Monday`, `tue`: the day that is meant. */
function wholeName(text: string): (typeof weekdayNames)[number] | undefined {
  const found = weekdayNames.find((name) => text.toLowerCase().startsWith(name.toLowerCase()));
  const isWhole = /^(mon|tues?|wed(nes)?|thu(rs)?|fri|sat(ur)?|sun)(days?)?$/i.test(text);
  return found !== undefined && isWhole && text !== found ? found : undefined;
}

function day(c: Cursor): number {
  const whole = wholeName(c.token.text);
  if (whole && c.takeMeant(whole, [c.token.text])) return weekdayNames.indexOf(whole);
  if (!isDay(c, 0)) c.fail(["a day of the week (Mon to Sun)", '"daily"']);
  return (weekdayNames as readonly string[]).indexOf(c.next().text);
}
