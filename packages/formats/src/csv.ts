// Recordings as CSV: wide, with a column for each thing in its own unit or the one in its head, or long, with a row for
// each report.
import { convert, type Recorded, readUnit, type Unit, units } from "modrik";
import papa from "papaparse";
import { FormatError } from "./format-error.js";
import type { Notes } from "./notes.js";
import type { RecordingForm } from "./recording.js";
import { type TimeOptions, Times } from "./times.js";
import { readField, writeField } from "./values.js";

interface Row {
  readonly fields: readonly string[];
  readonly where: string;
}

const TIME: ReadonlySet<string> = new Set(["time", "timestamp", "datetime", "date"]);
const NAME: ReadonlySet<string> = new Set(["thing", "name", "signal", "sensor"]);

/** `time,bench.temperature °C,bench.door` and a row for each instant; or `time,thing,value,unit` and a row for each report. */
export function readCsv(
  text: string,
  options: TimeOptions,
  notes: Notes,
): { readonly form: RecordingForm; readonly records: Recorded[] } {
  const [head, ...rows] = rowsOf(text);
  const names = head?.fields.map((field) => field.trim()) ?? [];
  const lower = names.map((name) => name.toLowerCase());
  if (!TIME.has(lower[0] ?? "") || names.length < 2)
    throw new FormatError("The first line of a recording names its columns: time,bench.temperature,bench.door.");
  const times = new Times(options, notes);
  // A date and a time in two columns are one time.
  const parts = lower[0] === "date" && lower[1] === "time" ? 2 : 1;
  const timeOf = ({ fields, where }: Row) => times.read(fields.slice(0, parts).join(" "), where);
  const isLong = lower.includes("value") && lower.some((name) => NAME.has(name));
  const read = isLong ? longReader(lower, notes) : wideReader(names, parts, notes);
  for (const { fields, where } of rows)
    if (fields.length > names.length) throw new FormatError(`${sentence(where)} has more fields than there are columns.`);
  const records = rows.flatMap((row) => {
    const at = timeOf(row);
    return read(row).map((report) => ({ at, ...report }));
  });
  return { form: isLong ? "long CSV" : "wide CSV", records };
}

const sentence = (where: string) => `${where[0]?.toUpperCase()}${where.slice(1)}`;

type Report = Omit<Recorded, "at">;
type Reader = (row: Row) => Report[];

function wideReader(names: readonly string[], parts: number, notes: Notes): Reader {
  const columns = names.map((name, column) => (column < parts ? { name } : columnOf(name)));
  const twice = columns.find((one, column) => columns.findIndex((other) => keyOf(other) === keyOf(one)) < column);
  if (twice) throw new FormatError(`The column "${twice.name}" stands twice.`);
  return ({ fields, where }) =>
    fields.slice(parts).flatMap((text, place) => {
      const field = text.trim();
      if (field === "") return [];
      const { name, unit } = columns[place + parts] as Column;
      const read = readField(field, notes, where);
      return [{ name, ...read, ...inUnit(read, unit) }];
    });
}

/** The unit of a field stands before that of its column. */
function inUnit(read: Partial<Report>, unit: Unit | undefined): { readonly unit?: Unit } {
  return typeof read.value === "number" && unit !== undefined && read.unit === undefined ? { unit } : {};
}

function longReader(columns: readonly string[], notes: Notes): Reader {
  const place = (which: (name: string) => boolean) => columns.findIndex(which);
  const [name, value, unit, kind] = [
    place((column) => NAME.has(column)),
    place((column) => column === "value"),
    place((column) => column === "unit"),
    place((column) => column === "kind"),
  ];
  const others = columns.filter((column, index) => ![0, name, value, unit, kind].includes(index) && column !== "time");
  if (others.length > 0) notes.say(`Not read, as they are no readings: the columns ${others.join(", ")}.`);
  return ({ fields, where }) => {
    const field = (column: number) => fields[column]?.trim() ?? "";
    if (isNoReading(field(kind))) {
      notes.count(`of a ${field(kind)}`, "left out, as it is no reading", where);
      return [];
    }
    if (field(name) === "") throw new FormatError(`${sentence(where)} does not say of what it is.`);
    if (field(value) === "") return [];
    const read = readField(field(value), notes, where);
    const written = field(unit);
    const known = written === "" ? undefined : readUnit(written);
    if (written !== "" && known === undefined)
      throw new FormatError(`${sentence(where)} is in "${written}", which is not a unit Modrik knows.`);
    return [{ name: field(name), ...read, ...inUnit(read, known) }];
  };
}

/** What a list of what happened has next to readings. */
export const isNoReading = (kind: string): boolean => ["notice", "message", "problem", "silence"].includes(kind);

interface Column {
  readonly name: string;
  readonly unit?: Unit;
}

/** A name of one word, and a unit after it. */
const PLAIN = /^(\S+)\s+([^\s()[\]]+)$/;
/** A name of any words, and a unit in brackets. */
const BRACKETED = /^(\S.*?)\s+[([]([^\s()[\]]+)[)\]]$/;

/**
 * A column is of a thing, in its own unit or in the one after its name: `bench.temperature °F`, `Bench air [°F]`. What stands
 * after plain words without brackets is a unit where it is one that is known: "Living room" is all name.
 */
function columnOf(text: string): Column {
  const bracketed = BRACKETED.exec(text);
  const [, name, written] = bracketed ?? PLAIN.exec(text) ?? [];
  if (name === undefined || written === undefined) return { name: text };
  const unit = readUnit(written);
  if (unit !== undefined) return { name, unit };
  // A word after a word is part of the name; a sign after it, or anything after the name of a thing, was meant as a unit.
  const isWord = /^[\p{L}\d_-]+$/u.test(written);
  if (!bracketed && isWord && !name.includes(".")) return { name: text };
  throw new FormatError(`The column "${text}" is in "${written}", which is not a unit Modrik knows.`);
}

function rowsOf(text: string): Row[] {
  const { data, errors } = papa.parse<string[]>(text, { delimiter: delimiterOf(text) });
  const lines = lineNumbers(text, data.length);
  const [error] = errors;
  if (error) throw new FormatError(`Line ${lines[error.row ?? 0] ?? 1} is not CSV: ${error.message}.`);
  return data
    .map((fields, index) => ({ fields, where: `line ${lines[index]}` }))
    .filter(({ fields }) => fields.some((field) => field.trim() !== ""));
}

/** What parts the columns of the head: a comma, unless another sign is there more often. */
function delimiterOf(text: string): string {
  const head = /\S[^\r\n]*/.exec(text)?.[0] ?? "";
  const count = (sign: string) => head.split(sign).length;
  return [";", "\t", "|"].reduce((best, sign) => (count(sign) > count(best) ? sign : best), ",");
}

/** The line on which each row begins: a quoted field may go over several. */
function lineNumbers(text: string, rows: number): number[] {
  const numbers: number[] = [];
  let line = 1;
  let quoted = false;
  let begins = true;
  for (const sign of text.replace(/\r\n?/g, "\n")) {
    if (begins) numbers.push(line);
    begins = false;
    if (sign === '"') quoted = !quoted;
    if (sign !== "\n") continue;
    line++;
    begins = !quoted;
  }
  while (numbers.length < rows) numbers.push(line);
  return numbers;
}

// ── Written ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** What a report is of: a thing, and what was measured of it. */
export function keyOf({ name, unit }: { readonly name: string; readonly unit?: Unit | undefined }): string {
  return unit === undefined ? name : `${name} ${units[unit].dimension}`;
}

interface Written {
  readonly name: string;
  readonly place: number;
  unit: Unit | undefined;
}

/** A column for each thing, in the unit in which it was first reported; two where it measures two things. */
export function writeWideCsv(records: readonly Recorded[]): string {
  const columns: Written[] = [];
  const byName = new Map<string, Written[]>();
  const columnFor = (record: Recorded): Written => {
    const { name, unit } = record;
    const own = byName.get(name) ?? [];
    byName.set(name, own);
    // Without a unit it is of whatever its name measures.
    const found = own.find((one) => unit === undefined || one.unit === undefined || keyOf(one) === keyOf(record));
    if (found) {
      found.unit ??= unit;
      return found;
    }
    const made = { name, place: columns.length, unit };
    columns.push(made);
    own.push(made);
    return made;
  };
  const placed = records.map((record) => ({ record, column: columnFor(record) }));
  const rows: string[][] = [];
  let now = Number.NaN;
  for (const { record, column } of placed) {
    if (record.at !== now) rows.push([new Date(record.at).toISOString(), ...Array<string>(columns.length).fill("")]);
    now = record.at;
    (rows.at(-1) as string[])[column.place + 1] = writeField(valueIn(record, column.unit));
  }
  const head = ["time", ...columns.map(({ name, unit }) => (unit ? `${name} ${unit}` : name))];
  return `${papa.unparse([head, ...rows], { newline: "\n" })}\n`;
}

/** A row for each report. */
export function writeLongCsv(records: readonly Recorded[]): string {
  const rows = records.map(({ at, name, value, unit = "" }) => [new Date(at).toISOString(), name, writeField(value), unit]);
  return `${papa.unparse([["time", "thing", "value", "unit"], ...rows], { newline: "\n" })}\n`;
}

function valueIn({ value, unit }: Recorded, wanted: Unit | undefined): Recorded["value"] {
  if (typeof value !== "number" || unit === wanted || unit === undefined || wanted === undefined) return value;
  return units[unit].dimension === units[wanted].dimension ? convert({ value, unit }, wanted).value : value;
}
