// Days of the week: `daily`, `Mon..Fri, Sun`.
import { weekdayNames } from "../../time/index.js";
import type { Cursor } from "./cursor.js";

/** Days of the week, 0 = Monday; `Sat..Mon` passes the end of the week. */
export function days(c: Cursor): number[] {
  if (c.takeWord("daily")) return [0, 1, 2, 3, 4, 5, 6];
  const found = new Set<number>();
  do {
    const from = day(c);
    const to = c.takeSign("..") || (isDay(c, 1) && c.takeMeant("..", ["-", "to"])) ? day(c) : from;
    for (let at = from; ; at = (at + 1) % 7) {
      found.add(at);
      if (at === to) break;
    }
  } while (c.isSign(",") && isDay(c, 1) && c.takeSign(","));
  return [...found].sort((a, b) => a - b);
}

export function isDay(c: Cursor, ahead: number): boolean {
  return c.isAmong(weekdayNames, ahead);
}

/** `Monday`, `tue`: the day that is meant. */
function wholeName(text: string): (typeof weekdayNames)[number] | undefined {
  const found = weekdayNames.find((name) => text.toLowerCase().startsWith(name.toLowerCase()));
  const isWhole = /^(mon|tues?|wed(nes)?|thu(rs)?|fri|sat(ur)?|sun)(day)?$/i.test(text);
  return found !== undefined && isWhole && text !== found ? found : undefined;
}

function day(c: Cursor): number {
  const whole = wholeName(c.token.text);
  if (whole && c.takeMeant(whole, [c.token.text])) return weekdayNames.indexOf(whole);
  if (!isDay(c, 0)) c.fail(["a day of the week (Mon to Sun)", '"daily"']);
  return (weekdayNames as readonly string[]).indexOf(c.next().text);
}
