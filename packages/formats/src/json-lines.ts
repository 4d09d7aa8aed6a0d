// Recordings as JSON lines: an object a line, `{"time": …, "thing": …, "value": …, "unit": …}`.
import { type Recorded, readUnit } from "modrik";
import { isNoReading } from "./csv.js";
import { FormatError } from "./format-error.js";
import type { Notes } from "./notes.js";
import { type TimeOptions, Times } from "./times.js";
import { readField } from "./values.js";

const FIELDS: ReadonlySet<string> = new Set(["time", "thing", "value", "unit", "kind"]);

export function readJsonLines(text: string, options: TimeOptions, notes: Notes): Recorded[] {
  const times = new Times(options, notes);
  return text.split(/\r?\n/).flatMap((line, index): Recorded[] => {
    if (line.trim() === "") return [];
    const where = `line ${index + 1}`;
    const { time, thing, value, unit, kind, ...others } = objectIn(line, index);
    if (Object.keys(others).length > 0)
      notes.say(`Not read, as they are no readings: the fields ${Object.keys(others).join(", ")}.`);
    if (typeof kind === "string" && isNoReading(kind)) {
      notes.count(`of a ${kind}`, "left out, as it is no reading", where);
      return [];
    }
    if (typeof thing !== "string" || thing === "") throw new FormatError(`Line ${index + 1} has no "thing".`);
    if (typeof time !== "string" && typeof time !== "number") throw new FormatError(`Line ${index + 1} has no "time".`);
    const at = times.read(String(time), where);
    if (typeof unit === "string" && readUnit(unit) === undefined)
      throw new FormatError(`Line ${index + 1} is in "${unit}", which is not a unit Modrik knows.`);
    const read = value === null || value === undefined ? readField("null", notes, where) : readField(String(value), notes, where);
    const said = typeof unit === "string" ? readUnit(unit) : undefined;
    const own = typeof read.value === "number" && read.unit === undefined && said ? { unit: said } : {};
    return [{ at, name: thing, ...read, ...own }];
  });
}

function objectIn(line: string, index: number): Record<string, unknown> {
  let read: unknown;
  try {
    read = JSON.parse(line);
  } catch (error) {
    throw new FormatError(`Line ${index + 1} is not JSON: ${(error as Error).message}.`);
  }
  if (typeof read !== "object" || read === null || Array.isArray(read))
    throw new FormatError(`Line ${index + 1} is no JSON object with ${[...FIELDS].join(", ")}.`);
  return read as Record<string, unknown>;
}

export function writeJsonLines(records: readonly Recorded[]): string {
  return records
    .map(
      ({ at, name, value = null, unit }) =>
        `${JSON.stringify({ time: new Date(at).toISOString(), thing: name, value, ...(unit && { unit }) })}\n`,
    )
    .join("");
}
