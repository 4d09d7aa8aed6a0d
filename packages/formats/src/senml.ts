// Recordings as SenML in JSON (RFC 8428).
import { convert, type Recorded, SECOND, type Unit, units } from "modrik";
import { FormatError } from "./format-error.js";
import type { Notes } from "./notes.js";
import type { TimeOptions } from "./times.js";
import { readField } from "./values.js";

type Record_ = Readonly<Record<string, unknown>>;

/** Of SenML, in `bver`. */
const VERSION = 10;

/** Times below it are relative to now (RFC 8428, 4.5.3). */
const RELATIVE = 2 ** 28;

export function readSenml(text: string, { now }: TimeOptions, notes: Notes): Recorded[] {
  let [baseName, baseTime, baseUnit, baseValue] = ["", 0, "", 0];
  return packIn(text).flatMap((record, index): Recorded[] => {
    const place = `Record ${index + 1}`;
    const { bn, bt, bu, bv, bver, n, t, u, v, vs, vb, vd, s } = record;
    baseName = typeof bn === "string" ? bn : baseName;
    baseUnit = typeof bu === "string" ? bu : baseUnit;
    baseTime = typeof bt === "number" ? bt : baseTime;
    baseValue = typeof bv === "number" ? bv : baseValue;
    const unknown = Object.keys(record).find((field) => field.endsWith("_"));
    if (unknown !== undefined)
      throw new FormatError(`${place} has the field "${unknown}", which must be understood (RFC 8428, 4.4).`);
    if (typeof bver === "number" && bver > VERSION)
      throw new FormatError(`${place} is of SenML version ${bver}; ${VERSION} is the latest that is read.`);
    const said = typeof v === "number" ? v + baseValue : (vs ?? vb);
    if (said === undefined) {
      if (s !== undefined)
        notes.count("of a sum", "left out: it is the integral of a value, and no reading", place.toLowerCase());
      else if (vd !== undefined) notes.count("of binary data", "left out", place.toLowerCase());
      // A record of base fields alone says nothing of its own.
      else if (n !== undefined || u !== undefined || t !== undefined)
        notes.count("without a value", "left out", place.toLowerCase());
      return [];
    }
    const says = typeof u === "string" ? u : baseUnit;
    const name = `${baseName}${typeof n === "string" ? n : ""}${partOf(says)}`;
    if (name === "") throw new FormatError(`${place} has no name.`);
    const seconds = baseTime + (typeof t === "number" ? t : 0);
    const at = instantOf(seconds, now, place);
    if (says === "lat" || says === "lon") notes.count("of a place on earth", `named with ".lat" and ".lon"`, place.toLowerCase());
    if (typeof said === "number") return [{ at, name, ...inUnit(said, says, place) }];
    if (typeof said === "string") return [{ at, name, ...readField(said, notes, place.toLowerCase()) }];
    return [{ at, name, value: String(said) }];
  });
}

/** Latitude and longitude have one name, and are both degrees. */
const partOf = (unit: string) => (unit === "lat" || unit === "lon" ? `.${unit}` : "");

function packIn(text: string): readonly Record_[] {
  let pack: unknown;
  try {
    pack = JSON.parse(text);
  } catch (error) {
    throw new FormatError(`It is not SenML: ${(error as Error).message}.`);
  }
  const records = pack as readonly unknown[];
  records.forEach((record, index) => {
    if (typeof record !== "object" || record === null || Array.isArray(record))
      throw new FormatError(`Record ${index + 1} is not a SenML record.`);
  });
  return records as readonly Record_[];
}

function instantOf(seconds: number, now: number | undefined, place: string): number {
  if (seconds >= RELATIVE) return Math.round(seconds * SECOND);
  if (now === undefined) throw new FormatError(`${place} has no absolute time.`);
  return now + Math.round(seconds * SECOND);
}

/** Units of SenML (RFC 8428, 12.1; RFC 8798) that have another name here, and what a value of theirs is multiplied by. */
type Renamed = readonly [unit: Unit, factor: number];
const renamed: Readonly<Record<string, Renamed>> = {
  Cel: ["°C", 1],
  "/": ["%", 100],
  "%EL": ["%", 1],
  deg: ["°", 1],
  lat: ["°", 1],
  lon: ["°", 1],
  m2: ["m²", 1],
  m3: ["m³", 1],
  "m3/s": ["m³/h", 3600],
  "l/s": ["l/min", 60],
  "g/m3": ["g/m³", 1],
  "ug/m3": ["µg/m³", 1],
  "1/s": ["/h", 3600],
  "1/min": ["/h", 60],
  count: ["", 1],
};

/** Those that are written the same. */
const same: ReadonlySet<Unit> = new Set<Unit>(
  "%RH % lx ppm ppb W kW Wh kWh J V A Hz Pa hPa l g kg mm cm m km m/s km/h dB pH ms s min h".split(" ") as Unit[],
);

/** Without a unit a value is in that of its thing. A kelvin of SenML is an absolute temperature. */
function inUnit(value: number, says: string, place: string): Pick<Recorded, "value" | "unit"> {
  if (says === "") return { value };
  if (says === "K") return { value: value - 273.15, unit: "°C" };
  const [unit, factor] = renamed[says] ?? [same.has(says as Unit) ? (says as Unit) : undefined, 1];
  if (unit === undefined) throw new FormatError(`${place} is in "${says}", which is not a unit Modrik knows.`);
  return { value: value * factor, unit };
}

/** In one pack: the first time is its base time. What SenML has no unit for is in that of its thing. */
export function writeSenml(records: readonly Recorded[]): string {
  const base = (records[0]?.at ?? 0) / SECOND;
  const pack = records.map(({ at, name, value, unit }, index) => ({
    ...(index === 0 && { bt: base }),
    n: name,
    ...(at / SECOND !== base && { t: Math.round(at - base * SECOND) / SECOND }),
    ...fieldsOf(value, unit),
  }));
  return `[\n${pack.map((record) => JSON.stringify(record)).join(",\n")}\n]\n`;
}

function fieldsOf(value: Recorded["value"], unit: Unit | undefined): object {
  if (value === undefined) return { vs: "nan" };
  if (typeof value !== "number") return { vs: value };
  if (unit === undefined || unit === "") return { v: value };
  if (same.has(unit)) return { u: unit, v: value };
  // A unit of the same kind that SenML has.
  const name = names.find((one) => units[(renamed[one] as Renamed)[0]].dimension === units[unit].dimension);
  if (name !== undefined) {
    const [own, factor] = renamed[name] as Renamed;
    return { u: name, v: convert({ value, unit }, own).value / factor };
  }
  const other = [...same].find((one) => units[one].dimension === units[unit].dimension);
  return other === undefined ? { v: value } : { u: other, v: convert({ value, unit }, other).value };
}

const names = Object.keys(renamed);
