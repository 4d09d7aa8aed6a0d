// Days of the week as text: runs of three or more as a range.
import { weekdays } from "../parser/things.js";

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
