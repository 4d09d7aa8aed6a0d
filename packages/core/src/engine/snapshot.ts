// State that lasts: everything a house remembers, keyed by names and expressions, so that an edited house keeps what fits.
import type { NodeState } from "../expression/index.js";
import type { Value } from "../house/index.js";
import type { PersonAction } from "./person-action.js";
import { either, fields, flag, instant, known, list, named, number, orNull, type Shape, text, tuple } from "./shape.js";

/** Unknown and endless are null. */
type Known = number | null;

/** A house's memory at an instant, as plain JSON. Restoring it and going on equals never having stopped. */
export interface Snapshot {
  readonly version: 4;
  /** Name of the house it was taken of. */
  readonly house: string;
  /** Milliseconds since 1970 UTC. */
  readonly at: number;
  /** How far the clock of the house is ahead, in milliseconds. */
  readonly clockAhead: number;
  /** Values and memories, by expression. */
  readonly nodes: Readonly<Record<string, NodeState>>;
  readonly outputs: Readonly<Record<string, OutputSnapshot>>;
  /** What steps have asked for, by rule, sentence and output. */
  readonly claims: Readonly<Record<string, ClaimSnapshot>>;
  /** Running steps and what triggers last saw, by rule and sentence. */
  readonly events: Readonly<Record<string, EventSnapshot>>;
  /** When running countdowns run out. */
  readonly countdowns: Readonly<Record<string, Known>>;
  /** Paused rules, and until when. */
  readonly paused: Readonly<Record<string, Known>>;
  /** How many claims steps have made. */
  readonly turns: number;
  /** Sensors whose last reading was refused, which has been told. */
  readonly refusing: readonly string[];
  /** Places where a time was not known, which has been told. */
  readonly unknownTimes: readonly string[];
  /** Whether rules chase each other, which has been told. */
  readonly ringing: boolean;
  /** Until when the clock, put back, says what it has said before; null where it does not. */
  readonly backUntil: Known;
  /** What had come and was not due yet. */
  readonly queued: Queued | null;
}

/** What waits for its instant; values in base units, by thing. */
export interface Queued {
  readonly at: number;
  readonly values: readonly (readonly [thing: string, value: Known])[];
  readonly presses: readonly string[];
  readonly acts: readonly Act[];
}

/** What comes besides readings, settings and presses. */
export type Act =
  | { readonly kind: "person"; readonly action: PersonAction }
  | { readonly kind: "confirms"; readonly output: string; readonly value: Value }
  | { readonly kind: "clock"; readonly by: number }
  /** A reading that is not valid is reported. */
  | { readonly kind: "refused"; readonly text: string };

/** What a claim of a step is called in a snapshot. */
export function claimKeyOf(claim: { readonly rule: string; readonly sentence: number; readonly output: string }): string {
  return `${claim.rule}#${claim.sentence} ${claim.output}`;
}

export interface OutputSnapshot {
  readonly value: Known;
  readonly since: Known;
  readonly hand: Known;
  readonly handEnds: Known;
  /** It was not said for how long: it ends with a mode too. */
  readonly handIsOpen: boolean;
  readonly restUntil: Known;
  readonly restFrom: Known;
  /** What it last said it does. */
  readonly confirmed: Known;
  /** That it does something else has been noted. */
  readonly disobeys: boolean;
  /** A moving value that it follows: whose, what was sent of it, and when it moves on. */
  readonly moving: { readonly claim: string; readonly value: Known; readonly next: Known; readonly sent: Known } | null;
}

export interface ClaimSnapshot {
  readonly value: Known;
  readonly timed: boolean;
  readonly turn: number;
  readonly step: number;
  readonly ends: Known;
  readonly ramp: readonly [from: number, to: number, start: number, over: number] | null;
  /** When its ramp ended. */
  readonly rampEnded: Known;
}

export interface EventSnapshot {
  /** The next step, null when none are running. */
  readonly next: Known;
  /** When its wait is over at the latest. */
  readonly wakes: Known;
  /** What its wait last saw of what it waits for. */
  readonly waitSaw: Known;
  readonly waiting: boolean;
  readonly queued: number;
  readonly seen: readonly Known[];
  /** What steps that last until a moment saw of it, by step. */
  readonly untilSaw: readonly (readonly [step: number, saw: Known])[];
  /** Dials and modes set for a time, by the place of what set them: what they go back to, and when. */
  readonly changed: readonly { readonly turn: number; readonly former: Known; readonly ends: Known }[];
  /** Notices told at most once in a time, by step: when last, and how many were held back. */
  readonly told: readonly (readonly [step: number, at: number, heldBack: number])[];
  /** A dose that was running: it is not gone on with. */
  readonly dose: { readonly started: number; readonly amount: number; readonly rate: number; readonly after: number } | null;
}

const value = either(text, number);

const act = (json: unknown, path: string): void => {
  const kinds: Readonly<Record<Act["kind"], Shape>> = {
    person: fields({ action: fields({ kind: text }) }),
    confirms: fields({ output: text, value }),
    clock: fields({ by: instant }),
    refused: fields({ text }),
  };
  fields({ kind: text })(json, path);
  const { kind } = json as Act;
  if (!Object.hasOwn(kinds, kind)) throw new RangeError(`at ${path}/kind there is "${kind}", which is not an act`);
  kinds[kind](json, path);
};

/** A row for each field: the compiler asks for those that are missing. */
const shapeOf = <Stored>(rows: Record<keyof Stored & string, Shape>): Shape => fields(rows);

const snapshotShape = shapeOf<Snapshot>({
  version: number,
  house: text,
  at: instant,
  clockAhead: instant,
  nodes: named(either(fields({ window: list(tuple(number, known)) }), tuple(known, known, known, known))),
  outputs: named(
    shapeOf<OutputSnapshot>({
      value: known,
      since: known,
      hand: known,
      handEnds: known,
      handIsOpen: flag,
      restUntil: known,
      restFrom: known,
      confirmed: known,
      disobeys: flag,
      moving: orNull(fields({ claim: text, value: known, next: known, sent: known })),
    }),
  ),
  claims: named(
    shapeOf<ClaimSnapshot>({
      value: known,
      timed: flag,
      turn: number,
      step: number,
      ends: known,
      ramp: orNull(tuple(number, number, number, number)),
      rampEnded: known,
    }),
  ),
  events: named(
    shapeOf<EventSnapshot>({
      next: known,
      wakes: known,
      waitSaw: known,
      waiting: flag,
      queued: number,
      seen: list(known),
      untilSaw: list(tuple(number, known)),
      changed: list(fields({ turn: number, former: known, ends: known })),
      told: list(tuple(number, number, number)),
      dose: orNull(fields({ started: number, amount: number, rate: number, after: number })),
    }),
  ),
  countdowns: named(known),
  paused: named(known),
  turns: number,
  refusing: list(text),
  unknownTimes: list(text),
  ringing: flag,
  backUntil: known,
  queued: orNull(shapeOf<Queued>({ at: instant, values: list(tuple(text, known)), presses: list(text), acts: list(act) })),
});

/**
 * Reads a snapshot back from JSON.
 * @throws RangeError when it is not a snapshot, which says where, or of another version
 */
export function readSnapshot(json: unknown): Snapshot {
  const version = typeof json === "object" && json !== null && "version" in json ? json.version : undefined;
  if (version !== 4) throw new RangeError(`this is not a snapshot of version 4, but ${JSON.stringify(version)}`);
  try {
    snapshotShape(json, "");
  } catch (error) {
    throw new RangeError(`this is not a snapshot: ${(error as RangeError).message}`);
  }
  return json as Snapshot;
}
