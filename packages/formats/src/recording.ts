// Recordings of a house as the core takes them: CSV with a column for each thing, in its own unit or the one in its head, or SenML (RFC 8428).
import { type Recorded, readUnit, type Unit, type Value } from "modrik";
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

/** `time,bench.temperature °C,bench.door` and a row for each instant. */
function readCsv(text: string): Recorded[] {
  const { data, errors } = papa.parse<string[]>(text);
  const lines = lineNumbers(text, data.length);
  const [error] = errors.filter(({ code }) => code !== "UndetectableDelimiter");
  if (error) throw new FormatError(`Line ${lines[error.row ?? 0] ?? 1} is not CSV: ${error.message}.`);
  const [head = { row: [], line: 1 }, ...rows] = data
    .map((row, index) => ({ row, line: lines[index] as number }))
    .filter(({ row }) => row.length > 1 || row[0]?.trim());
  const columns = head.row.map((text) => columnOf(text.trim()));
  if (columns[0]?.name !== "time" || columns.length < 2)
    throw new FormatError("The first line of a recording names its columns: time,bench.temperature,bench.door.");
  return rows.flatMap(({ row, line }) => {
    const at = instantOf(row[0] ?? "", line);
    return row.slice(1).flatMap((field, column) => {
      const head = columns[column + 1];
      if (head === undefined) throw new FormatError(`Line ${line} has more fields than there are columns.`);
      if (field.trim() === "") return [];
      const value = fieldValue(field.trim());
      return [{ at, name: head.name, value, ...(typeof value === "number" && head.unit !== undefined && { unit: head.unit }) }];
    });
  });
}

/** A column is of a thing, in its own unit or in the one behind its name: `bench.temperature °F`, `bench.temperature [°F]`. */
function columnOf(text: string): { readonly name: string; readonly unit?: Unit } {
  const [, name, written] = /^(\S+)\s+[([]?([^\s()[\]]+)[)\]]?$/.exec(text) ?? [];
  if (name === undefined || written === undefined) return { name: text };
  const unit = readUnit(written);
  if (unit === undefined) throw new FormatError(`The column "${text}" is in "${written}", which is not a unit Modrik knows.`);
  return { name, unit };
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

/** A date and time with its offset, as ISO 8601 has it: without one nobody knows when it was. */
function instantOf(text: string, line: number): number {
  const at = /(?:Z|[+-]\d{2}:?\d{2})$/i.test(text.trim()) ? Date.parse(text.trim()) : Number.NaN;
  if (Number.isNaN(at))
    throw new FormatError(`Line ${line}: "${text}" is not a time. Write 2026-01-15T07:00:00Z, or with an offset such as +01:00.`);
  return at;
}

function fieldValue(text: string): Value {
  const number = Number(text);
  return Number.isFinite(number) ? number : text;
}

interface SenmlRecord {
  readonly bn?: unknown;
  readonly bt?: unknown;
  readonly bu?: unknown;
  readonly n?: unknown;
  readonly u?: unknown;
  readonly t?: unknown;
  readonly v?: unknown;
  readonly vs?: unknown;
  readonly vb?: unknown;
  readonly bv?: unknown;
  readonly bver?: unknown;
}

/** Of SenML, in `bver`. */
const VERSION = 10;

/** Times below it are relative to now (RFC 8428, 4.5.3), which a recording has not. */
const RELATIVE = 2 ** 28;

function readSenml(text: string): Recorded[] {
  let pack: unknown;
  try {
    pack = JSON.parse(text);
  } catch (error) {
    throw new FormatError(`It is not SenML: ${(error as Error).message}.`);
  }
  let [baseName, baseTime, baseUnit, baseValue] = ["", 0, "", 0];
  return (pack as SenmlRecord[]).flatMap((record, index) => {
    if (typeof record !== "object" || record === null) throw new FormatError(`Record ${index + 1} is not a SenML record.`);
    baseName = typeof record.bn === "string" ? record.bn : baseName;
    baseUnit = typeof record.bu === "string" ? record.bu : baseUnit;
    baseTime = typeof record.bt === "number" ? record.bt : baseTime;
    baseValue = typeof record.bv === "number" ? record.bv : baseValue;
    const unknown = Object.keys(record).find((field) => field.endsWith("_"));
    if (unknown !== undefined)
      throw new FormatError(`Record ${index + 1} has the field "${unknown}", which must be understood (RFC 8428, 4.4).`);
    if (typeof record.bver === "number" && record.bver > VERSION)
      throw new FormatError(`Record ${index + 1} is of SenML version ${record.bver}; ${VERSION} is the latest that is read.`);
    const name = `${baseName}${typeof record.n === "string" ? record.n : ""}`;
    const seconds = baseTime + (typeof record.t === "number" ? record.t : 0);
    if (name === "") throw new FormatError(`Record ${index + 1} has no name.`);
    if (!(seconds >= RELATIVE)) throw new FormatError(`Record ${index + 1} has no absolute time.`);
    const value = typeof record.v === "number" ? record.v + baseValue : (record.vs ?? record.vb);
    // A sum (s, on its base bs) is the integral of a value over time, and no reading.
    if (value === undefined) return [];
    const at = Math.round(seconds * 1000);
    const says = typeof record.u === "string" ? record.u : baseUnit;
    if (typeof value === "number") return [{ at, name, ...inUnit(value, says, index) }];
    return [{ at, name, ...(typeof value === "string" && { value }) }];
  });
}

/** Units of SenML (RFC 8428, 12.1; RFC 8798) that have another name here, and what a value of theirs is multiplied by. */
const renamed: Readonly<Record<string, readonly [unit: Unit, factor: number]>> = {
  Cel: ["°C", 1],
  "/": ["%", 100],
  deg: ["°", 1],
  m2: ["m²", 1],
  m3: ["m³", 1],
  "m3/s": ["m³/h", 3600],
  "l/s": ["l/min", 60],
  "g/m3": ["g/m³", 1],
  "ug/m3": ["µg/m³", 1],
  "1/s": ["/h", 3600],
};

const same: ReadonlySet<string> = new Set<Unit>([
  "%RH",
  "%",
  "lx",
  "ppm",
  "ppb",
  "W",
  "kW",
  "Wh",
  "kWh",
  "J",
  "V",
  "A",
  "Hz",
  "Pa",
  "hPa",
  "l",
  "g",
  "kg",
  "mm",
  "cm",
  "m",
  "km",
  "m/s",
  "km/h",
  "dB",
  "pH",
  "ms",
  "s",
  "min",
  "h",
]);

/** Without a unit a value is in that of its thing. A kelvin of SenML is an absolute temperature. */
function inUnit(value: number, says: string, index: number): Pick<Recorded, "value" | "unit"> {
  if (says === "") return { value };
  if (says === "K") return { value: value - 273.15, unit: "°C" };
  const [unit, factor] = renamed[says] ?? [same.has(says) ? (says as Unit) : undefined, 1];
  if (unit === undefined) throw new FormatError(`Record ${index + 1} is in "${says}", which is not a unit Modrik knows.`);
  return { value: value * factor, unit };
}
