// Days of the week and dates as text: runs of three or more days as a range.
import { months, weekdays } from "../parser/time.js";
import type { DatesNode } from "../syntax.js";

/** `Mon..Fri`, `Sat, Sun`, `daily`; 0 is Monday. */
export function writeDays(days: readonly number[]): string {
  if (days.length === 7) return "daily";
  const runs: number[][] = [];
  for (const day of days) {
    const run = runs.at(-1);
    if (run && day === (run.at(-1) as number) + 1) run.push(day);
    else runs.push([day]);
  }
  return runs.flatMap((run) => (run.length > 2 ? [`${name(run[0])}..${name(run.at(-1))}`] : run.map(name))).join(", ");
}

function name(day: number | undefined): string {
  return weekdays[day ?? 0] as string;
}

/** `2026-12-24..2027-01-03`, `Oct 15..Apr 10`. */
export function writeDates(node: DatesNode): string {
  const [from, to] = node.kind === "dates" ? [node.from, node.to] : [monthDay(node.from), monthDay(node.to)];
  return from === to ? from : `${from}..${to}`;
}

function monthDay([month, day]: readonly [number, number]): string {
  return `${months[month - 1]} ${day}`;
}
