import { clockOf, dayOfDate, type Explanation, type House, readTimeOfDay, sayDate, tellHouse } from "modrik";
import { nearest } from "modrik/language";
import { CallError } from "../call-error.js";
import { writeExplanation } from "../explanation.js";
import { readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { settings } from "../run-options.js";

export interface ShowOptions {
  readonly only?: string;
  readonly at?: string;
  readonly set: readonly string[];
  readonly json?: boolean;
}

/** Prints the house read back in sentences. */
export function show(path: string | undefined, { only, at, set, json }: ShowOptions, io: Io): boolean {
  const house = readSoundHouse(path, io);
  if (!house) return false;
  const instant = at === undefined ? io.now() : instantOf(house, at);
  const told = tellHouse(house, { at: instant, values: settings(house, set) });
  const sections = only === undefined ? told : about(house, told, only);
  const from = sayDate(clockOf(house.clock), instant);
  if (json) io.out.write(`${JSON.stringify({ house: house.name, from, sections }, null, 2)}\n`);
  else {
    io.out.write(`${io.paint.bold(house.name)} ${io.paint.dim(`(what comes next is from ${from} on)`)}\n`);
    for (const section of sections) io.out.write(`\n${writeExplanation(section).join("\n")}\n`);
  }
  return true;
}

/** What is said of a zone, and whatever mentions it or one of its things. */
function about(house: House, told: readonly Explanation[], name: string): Explanation[] {
  const word = new RegExp(`(?<![\\w.])${name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&")}(?![\\w])`, "u");
  const mentions = ({ says, because }: Explanation): boolean => word.test(says) || because.some(mentions);
  const found = told.flatMap((section): Explanation[] => {
    if (word.test(section.says)) return [section];
    const because = section.because.filter(mentions);
    return because.length > 0 ? [{ ...section, because }] : [];
  });
  if (found.length > 0) return found;
  const { zones, sensors, outputs, dials, modes, lets, schedules, rules, guards } = house;
  const names = [zones, sensors, outputs, dials, modes, lets, schedules, rules, guards].flat().map((thing) => thing.name);
  const near = nearest(name, names);
  const remedy = near.length > 0 ? `Did you mean ${near.join(" or ")}?` : "Name a zone, a thing, a rule or a guard of it.";
  throw new CallError(`Nothing in the house is called "${name}".`, remedy);
}

function instantOf(house: House, text: string): number {
  const [, year, month, day, time = ""] = /^(\d{4})-(\d{2})-(\d{2})[ T]([\d:]+)$/.exec(text.trim()) ?? [];
  const on = dayOfDate(Number(year), Number(month), Number(day));
  const ms = readTimeOfDay(time);
  if (on === undefined || ms === undefined)
    throw new CallError(`"${text}" is not a date and time.`, 'Write --at "2026-01-15 10:00".');
  return clockOf(house.clock).instant(on, ms);
}
