// What a message means: which sensors it is for and what those read in it, which outputs say by it what they do. The same
// for a trial that tells of a message and for a house that hears one.
import { calibrate, type House, type Output, type Sensor, type Value, type Wiring } from "../house/index.js";
import { pointed } from "./pointer.js";
import { recordIn } from "./senml.js";

/** What a sensor reads in a message. */
export interface MessageReading {
  readonly sensor: string;
  /** In the sensor's own unit; undefined where the message cannot be read. */
  readonly value: Value | undefined;
}

/** What an output says that it does. */
export interface Confirmation {
  readonly output: string;
  /** In the output's own unit. */
  readonly value: Value;
}

/** Reads a message on a topic for the sensors that are wired to it. Never throws, whatever the text is. */
export function readMessage(house: House, topic: string, text: string): MessageReading[] {
  return house.wirings.flatMap((wiring) => {
    if (wiring.kind !== "reading" || wiring.topic !== topic) return [];
    const sensor = house.sensors.find(({ name }) => name === wiring.sensor);
    return sensor ? [{ sensor: sensor.name, value: valueIn(sensor, wiring, rawOf(wiring, text)) }] : [];
  });
}

/** Reads a message on a topic for the outputs that confirm by it: in the texts in which they are told, or in their own words and numbers. */
export function readConfirmation(house: House, topic: string, text: string): Confirmation[] {
  return house.wirings.flatMap((wiring) => {
    if (wiring.kind !== "writing" || wiring.confirmedBy !== topic) return [];
    const output = house.outputs.find(({ name }) => name === wiring.output);
    const value = output && (wiring.texts?.find((one) => one.text === text)?.word ?? ownIn(output, text));
    return output && value !== undefined ? [{ output: output.name, value }] : [];
  });
}

type Reading = Extract<Wiring, { kind: "reading" }>;
type Raw = string | number | boolean | undefined;

function valueIn(sensor: Sensor, wiring: Reading, raw: Raw): Value | undefined {
  if (raw === undefined) return undefined;
  const said = String(raw);
  const as = wiring.texts?.find(({ text }) => text === said)?.as;
  const { type } = sensor;
  if (type.kind === "press") return wiring.texts ? as : isPressed(wiring, said) ? PRESSED : undefined;
  if (as !== undefined) return as;
  if (type.kind === "words") return type.words.find((word) => word === said);
  const number = typeof raw === "boolean" ? undefined : decimal(said);
  return number === undefined ? undefined : calibrate(sensor, number);
}

/** What a button reads. */
const PRESSED = "pressed";

/** Any message presses; in one that tells of more, an empty text is a remote that says it is done. */
const isPressed = ({ at, record }: Reading, said: string) => said !== "" || (at === undefined && record === undefined);

function ownIn({ type }: Output, text: string): Value | undefined {
  if (type.kind === "words") return type.words.find((word) => word === text);
  return type.kind === "colour" ? /^#[0-9a-f]{6}$/.exec(text.trim().toLowerCase())?.[0] : decimal(text);
}

/** A number as JSON writes it, blanks about it allowed. */
function decimal(text: string): number | undefined {
  const number = /^\s*[+-]?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?\s*$/.test(text) ? Number(text) : Number.NaN;
  return Number.isFinite(number) ? number : undefined;
}

function rawOf({ at, record }: Reading, text: string): Raw {
  if (at === undefined && record === undefined) return text;
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return undefined;
  }
  const found = at === undefined ? recordIn(json, record as string) : pointed(json, at);
  return typeof found === "string" || typeof found === "number" || typeof found === "boolean" ? found : undefined;
}
