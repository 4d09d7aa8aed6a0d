// Recordings of a house as the core takes them: CSV with a column for each thing, or SenML (RFC 8428). Values are in the
// own unit of their thing.
import type { Recorded, Value } from "modrik";
import papa from "papaparse";
import { FormatError } from "./format-error.js";

/**
 * Every report of a recording, in order of time. An empty field is no report; text that is no number is taken as a word.
 * @throws FormatError when the text is neither CSV with a first column `time` nor SenML, or a time in it cannot be read
 */
export function readRecording(text: string): Recorded[] {
  const records = text.trimStart().startsWith("[") ? readSenml(text) : readCsv(text);
  return records.sort((a, b) => a.at - b.at);
}

/** `time,bench.temperature,bench.door` and a row for each instant. */
function readCsv(text: string): Recorded[] {
  const { data, errors } = papa.parse<string[]>(text.trim(), { skipEmptyLines: true });
  const [error] = errors.filter(({ code }) => code !== "UndetectableDelimiter");
  if (error) throw new FormatError(`Line ${(error.row ?? 0) + 1} is no CSV: ${error.message}.`);
  const [head = [], ...rows] = data;
  const names = head.map((name) => name.trim());
  if (names[0] !== "time" || names.length < 2)
    throw new FormatError("The first line of a recording names its columns: time,bench.temperature,bench.door.");
  return rows.flatMap((row, index) => {
    const at = instantOf(row[0] ?? "", index + 2);
    return row.slice(1).flatMap((field, column) => {
      const name = names[column + 1];
      if (name === undefined) throw new FormatError(`Line ${index + 2} has more fields than there are columns.`);
      return field.trim() === "" ? [] : [{ at, name, value: fieldValue(field.trim()) }];
    });
  });
}

/** A date and time with its offset, as ISO 8601 has it: without one nobody knows when it was. */
function instantOf(text: string, line: number): number {
  const at = /(?:Z|[+-]\d{2}:?\d{2})$/i.test(text.trim()) ? Date.parse(text.trim()) : Number.NaN;
  if (Number.isNaN(at))
    throw new FormatError(`Line ${line}: "${text}" is no time. Write 2026-01-15T07:00:00Z, or with an offset, as +01:00.`);
  return at;
}

function fieldValue(text: string): Value {
  const number = Number(text);
  return Number.isFinite(number) ? number : text;
}

interface SenmlRecord {
  readonly bn?: unknown;
  readonly bt?: unknown;
  readonly n?: unknown;
  readonly t?: unknown;
  readonly v?: unknown;
  readonly vs?: unknown;
  readonly vb?: unknown;
}

/** Times below it are relative to now (RFC 8428, 4.5.3), which a recording has not. */
const RELATIVE = 2 ** 28;

function readSenml(text: string): Recorded[] {
  let pack: unknown;
  try {
    pack = JSON.parse(text);
  } catch (error) {
    throw new FormatError(`It is no SenML: ${(error as Error).message}.`);
  }
  let [baseName, baseTime] = ["", 0];
  return (pack as SenmlRecord[]).flatMap((record, index) => {
    if (typeof record !== "object" || record === null) throw new FormatError(`Record ${index + 1} is no SenML record.`);
    baseName = typeof record.bn === "string" ? record.bn : baseName;
    baseTime = typeof record.bt === "number" ? record.bt : baseTime;
    const name = `${baseName}${typeof record.n === "string" ? record.n : ""}`;
    const seconds = baseTime + (typeof record.t === "number" ? record.t : 0);
    if (name === "") throw new FormatError(`Record ${index + 1} has no name.`);
    if (!(seconds >= RELATIVE)) throw new FormatError(`Record ${index + 1} has no absolute time.`);
    const value = record.v ?? record.vs ?? record.vb;
    if (value === undefined) return [];
    const at = Math.round(seconds * 1000);
    return [{ at, name, ...((typeof value === "number" || typeof value === "string") && { value }) }];
  });
}
