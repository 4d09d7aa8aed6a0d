// State that lasts: everything a house remembers, keyed by names and expressions, so that an edited house keeps what fits.
import type { NodeState } from "../expression/index.js";

/** Unknown and endless are null. */
type Known = number | null;

/** A house's memory at an instant, as plain JSON. Restoring it and going on equals never having stopped. */
export interface Snapshot {
  readonly version: 1;
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
}

export interface OutputSnapshot {
  readonly value: Known;
  readonly since: Known;
  readonly hand: Known;
  readonly handEnds: Known;
  readonly restUntil: Known;
  readonly restFrom: Known;
}

export interface ClaimSnapshot {
  readonly value: Known;
  readonly timed: boolean;
  readonly turn: number;
  readonly step: number;
  readonly ends: Known;
  readonly ramp: readonly [from: number, to: number, start: number, over: number] | null;
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
  /** Dials and modes set for a time, by step: what they go back to, and when. */
  readonly changed: readonly { readonly step: number; readonly former: Known; readonly ends: Known }[];
  /** Notices told at most once in a time, by step: when last, and how many were held back. */
  readonly told: readonly (readonly [step: number, at: number, heldBack: number])[];
  /** A dose that was running: it is not gone on with. */
  readonly dose: { readonly started: number; readonly amount: number } | null;
}

/**
 * Reads a snapshot back from JSON.
 * @throws RangeError when it is no snapshot, or of another version
 */
export function readSnapshot(json: unknown): Snapshot {
  const version = typeof json === "object" && json !== null && "version" in json ? json.version : undefined;
  if (version !== 1) throw new RangeError(`this is no snapshot of version 1, but ${JSON.stringify(version)}`);
  return json as Snapshot;
}
