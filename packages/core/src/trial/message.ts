// Raw messages of a timeline: which sensors they are for and what those read in them, which outputs they confirm.
import { calibrate, type House, type Value, type Wiring } from "../house/index.js";

/** Values for sensors wired to a topic; undefined where a message cannot be read. */
export function readMessage(house: House, topic: string, text: string): { sensor: string; value: Value | undefined }[] {
  return house.wirings.flatMap((wiring) => {
    if (wiring.kind !== "reading" || wiring.topic !== topic) return [];
    const sensor = house.sensors.find(({ name }) => name === wiring.sensor);
    if (!sensor) return [];
    const raw = rawOf(wiring, text);
    if (sensor.type.kind === "words") return [{ sensor: sensor.name, value: wordOf(wiring, raw, sensor.type.words) }];
    const number = typeof raw === "string" ? Number(raw.trim() === "" ? Number.NaN : raw) : raw;
    return [
      { sensor: sensor.name, value: number === undefined || !Number.isFinite(number) ? undefined : calibrate(sensor, number) },
    ];
  });
}

/** Outputs that say on a topic what they do: in the texts in which they are told, or in their own words and numbers. */
export function readConfirmation(house: House, topic: string, text: string): { output: string; value: Value }[] {
  return house.wirings.flatMap((wiring) => {
    if (wiring.kind !== "writing" || wiring.confirmedBy !== topic) return [];
    const output = house.outputs.find(({ name }) => name === wiring.output);
    const told = wiring.texts?.find((one) => one.text === text)?.word;
    const own =
      output?.type.kind === "words" ? output.type.words.find((word) => word === text) : Number(text.trim() || Number.NaN);
    const value = told ?? own;
    const known = value !== undefined && !Number.isNaN(value);
    return output && known ? [{ output: output.name, value }] : [];
  });
}

type Reading = Extract<Wiring, { kind: "reading" }>;

function wordOf({ texts }: Reading, raw: string | number | undefined, words: readonly string[]): Value | undefined {
  const said = String(raw);
  return texts?.find(({ text }) => text === said)?.as ?? words.find((word) => word === said);
}

function rawOf({ at, record }: Reading, text: string): string | number | undefined {
  if (at === undefined && record === undefined) return text;
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return undefined;
  }
  const found = at === undefined ? recordIn(json, record as string) : pointed(json, at);
  return typeof found === "string" || typeof found === "number" ? found : undefined;
}

/** RFC 6901. */
function pointed(json: unknown, pointer: string): unknown {
  let found = json;
  for (const part of pointer.split("/").slice(1)) {
    const key = part.replaceAll("~1", "/").replaceAll("~0", "~");
    found =
      typeof found === "object" && found !== null && Object.hasOwn(found, key)
        ? (found as Record<string, unknown>)[key]
        : undefined;
  }
  return found;
}

/** The value of a SenML record (RFC 8428), base name included. */
function recordIn(json: unknown, name: string): unknown {
  let base = "";
  for (const record of Array.isArray(json) ? json : []) {
    base = record?.bn ?? base;
    const whole = `${base}${record?.n ?? ""}`;
    if (whole === name || record?.n === name) return record.v ?? record.vs ?? record.vb;
  }
  return undefined;
}
