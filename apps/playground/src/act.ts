// One thing that is let happen, as a line of a timeline.
import type { ThingInfo } from "./messages.js";

export type ActKind =
  | "reads"
  | "moves"
  | "falls silent"
  | "is pressed"
  | "by hand"
  | "released"
  | "restarts"
  | "power cut"
  | "preset";

export interface Act {
  readonly kind: ActKind;
  /** The thing, or the preset. */
  readonly of: string;
  /** With its unit. */
  readonly value: string;
  /** For so many minutes: until it has moved, of a hand, of a cut. */
  readonly minutes: number;
}

/** What can be done, as one says it, and to which things. */
export const actKinds: readonly {
  readonly kind: ActKind;
  readonly says: string;
  readonly fits?: (thing: ThingInfo) => boolean;
  readonly hasValue?: true;
  readonly lasts?: string;
}[] = [
  { kind: "reads", says: "a sensor reads", fits: ({ role, press }) => role === "sensor" && !press, hasValue: true },
  {
    kind: "moves",
    says: "a sensor is pulled to",
    fits: ({ role, unit }) => role === "sensor" && unit !== undefined,
    hasValue: true,
    lasts: "within",
  },
  { kind: "falls silent", says: "a sensor falls silent", fits: ({ role, press }) => role === "sensor" && !press },
  { kind: "is pressed", says: "a button is pressed", fits: ({ press }) => press === true },
  { kind: "by hand", says: "an output by hand", fits: ({ role }) => role === "output", hasValue: true, lasts: "for" },
  { kind: "released", says: "an output is released", fits: ({ role }) => role === "output" },
  { kind: "restarts", says: "the house restarts" },
  { kind: "power cut", says: "the power is cut", lasts: "for" },
  { kind: "preset", says: "a preset is applied" },
];

const MINUTE = 60_000;

/**
 * Its line.
 * @param at on the house's own clock as if it were UTC
 * @param last the latest instant of the lines before it: a bare time of day comes after that
 * @param isOneDay whether the time of day alone says when
 */
export function lineOf({ kind, of, value, minutes }: Act, at: number, last: number, isOneDay: boolean): string {
  const isBare = isOneDay && at >= last;
  const say = (instant: number) =>
    new Date(instant)
      .toISOString()
      .slice(isBare ? 11 : 0, 16)
      .replace("T", " ");
  const when = `at ${say(at)}`;
  switch (kind) {
    case "reads":
      return `${when} ${of} is ${value}`;
    case "moves":
      return `from ${say(at)} to ${say(at + minutes * MINUTE)} ${of} moves to ${value}`;
    case "falls silent":
      return `${when} ${of} falls silent`;
    case "is pressed":
      return `${when} ${of} is pressed`;
    case "by hand":
      return `${when} person sets ${of} to ${value} for ${minutes} min`;
    case "released":
      return `${when} person releases ${of}`;
    case "restarts":
      return `${when} the house restarts`;
    case "power cut":
      return `${when} the house is down for ${minutes} min`;
    case "preset":
      return `${when} person applies ${of}`;
    default:
      throw new RangeError(`no such act: ${kind satisfies never}`);
  }
}
