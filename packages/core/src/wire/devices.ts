// The other end of the wire: what the devices of a house send and are sent. For devices that are simulated, and for tests.
import { calibrate, type House, type Sensor, type Value, type Wiring } from "../house/index.js";
import { type OutgoingMessage, textOf } from "./encode.js";

type Reading = Extract<Wiring, { kind: "reading" }>;
type Writing = Extract<Wiring, { kind: "writing" }>;

/**
 * The messages by which a house's devices say what some of its sensors read. Sensors that share a topic are told together,
 * as one document of JSON or one list of SenML: so it takes what all of them read.
 * @param reads in the sensor's own unit; undefined leaves it out
 */
export function readingMessages(
  house: House,
  sensors: readonly string[],
  reads: (sensor: string) => Value | undefined,
): OutgoingMessage[] {
  const readings = house.wirings.filter((one): one is Reading => one.kind === "reading");
  const topics = new Set(readings.filter(({ sensor }) => sensors.includes(sensor)).map(({ topic }) => topic));
  return [...topics].flatMap((topic) => {
    const told = readings.filter((one) => one.topic === topic).flatMap((wiring) => said(house, wiring, reads(wiring.sensor)));
    const [first] = told;
    if (!first) return [];
    if (first.wiring.at !== undefined) return [{ topic, text: JSON.stringify(documentOf(told)) }];
    if (first.wiring.record === undefined) return [{ topic, text: String(first.raw) }];
    const records = told.map(({ wiring, raw }) => ({ n: wiring.record, [typeof raw === "number" ? "v" : "vs"]: raw }));
    return [{ topic, text: JSON.stringify(records) }];
  });
}

/** What a message on a topic tells outputs to do: in the texts in which they are told. */
export function readCommand(house: House, topic: string, text: string): { readonly output: string; readonly value: Value }[] {
  return house.wirings.flatMap((wiring) => {
    if (wiring.kind !== "writing" || wiring.topic !== topic) return [];
    const value = commanded(house, wiring, text);
    return value === undefined ? [] : [{ output: wiring.output, value }];
  });
}

/** The messages by which a device says that it does something. */
export function confirmationMessages(house: House, output: string, value: Value): OutgoingMessage[] {
  return house.wirings.flatMap((wiring) =>
    wiring.kind === "writing" && wiring.output === output && wiring.confirmedBy !== undefined
      ? [{ topic: wiring.confirmedBy, text: wiring.texts?.find(({ word }) => word === value)?.text ?? String(value) }]
      : [],
  );
}

/** The topics on which a house tells its outputs what to do. */
export function topicsTold({ wirings }: House): string[] {
  return [...new Set(wirings.flatMap((wiring) => (wiring.kind === "writing" ? [wiring.topic] : [])))];
}

interface Said {
  readonly wiring: Reading;
  readonly raw: string | number;
}

function said({ sensors }: House, wiring: Reading, value: Value | undefined): Said[] {
  const sensor = sensors.find(({ name }) => name === wiring.sensor);
  if (!sensor || value === undefined) return [];
  const text = wiring.texts?.find(({ as }) => as === value)?.text;
  return [{ wiring, raw: text ?? (typeof value === "number" ? raw(sensor, value) : value) }];
}

/** What a device says where the calibrated value is so: its calibration is a straight line, turned round. */
function raw(sensor: Sensor, value: number): number {
  const zero = calibrate(sensor, 0);
  const turned = (value - zero) / (calibrate(sensor, 1) - zero);
  return Number(turned.toPrecision(12));
}

/** The smallest document in which each value stands where its pointer (RFC 6901) looks. */
function documentOf(told: readonly Said[]): unknown {
  let root: unknown;
  for (const { wiring, raw: value } of told) {
    const keys = (wiring.at ?? "")
      .split("/")
      .slice(1)
      .map((key) => key.replaceAll("~1", "/").replaceAll("~0", "~"));
    root = put(root, keys, value);
  }
  return root;
}

function put(node: unknown, [key, ...rest]: readonly string[], value: unknown): unknown {
  if (key === undefined) return value;
  const holder = typeof node === "object" && node !== null ? (node as Record<string, unknown>) : {};
  // A key like __proto__ is a key as any other.
  const entries = Object.entries(holder).filter(([name]) => name !== key);
  const inner = Object.hasOwn(holder, key) ? holder[key] : undefined;
  return Object.fromEntries([...entries, [key, put(inner, rest, value)]]);
}

function commanded({ outputs }: House, wiring: Writing, text: string): Value | undefined {
  const output = outputs.find(({ name }) => name === wiring.output);
  if (!output) return undefined;
  const word = wiring.texts?.find((one) => one.text === text)?.word;
  if (word !== undefined) return word;
  const { type } = output;
  if (type.kind === "words") return type.words.find((one) => textOf(wiring, one) === text);
  // The value stands where {value} does, and is the same wherever it stands.
  const parts = (wiring.text ?? "{value}").split("{value}").map((part) => part.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&"));
  const [, inner = "", ...others] = new RegExp(`^${parts.join("(.+?)")}$`, "s").exec(text) ?? [];
  if (others.some((other) => other !== inner)) return undefined;
  if (type.kind === "colour") return /^#[0-9a-f]{6}$/.exec(inner.toLowerCase())?.[0];
  const number = inner.trim() === "" ? Number.NaN : Number(inner);
  return Number.isFinite(number) ? number : undefined;
}
