// Dates of schedules as text.
import { monthNames } from "../../time/index.js";
import type { DatesNode } from "../syntax.js";

/** `2026-12-24..2027-01-03`, `Oct 15..Apr 10`. */
export function writeDates(node: DatesNode): string {
  const [from, to] = node.kind === "dates" ? [node.from, node.to] : [monthDay(node.from), monthDay(node.to)];
  return from === to ? from : `${from}..${to}`;
}

function monthDay([month, day]: readonly [number, number]): string {
  return `${monthNames[month - 1]} ${day}`;
}
