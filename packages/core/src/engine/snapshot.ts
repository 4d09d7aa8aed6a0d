// State that lasts: everything a house remembers, keyed by names and expressions, so that an edited house keeps what fits.
import type { NodeState } from "../expression/index.js";

/** A house's memory at an instant, as plain JSON. Restoring it and going on equals never having stopped. */
export interface Snapshot {
  readonly version: 1;
  /** Milliseconds since 1970 UTC. */
  readonly at: number;
  /** Values and memories, by expression. */
  readonly nodes: Readonly<Record<string, NodeState>>;
  /** What each output was last sent, and since when. */
  readonly outputs: Readonly<Record<string, { readonly value: number | null; readonly since: number | null }>>;
  /** What steps have asked for, by rule, sentence and output. */
  readonly claims: Readonly<
    Record<
      string,
      {
        readonly value: number | null;
        readonly timed: boolean;
        readonly turn: number;
        readonly step: number;
        readonly ends: number | null;
      }
    >
  >;
  /** Running steps and what triggers last saw, by rule and sentence. */
  readonly events: Readonly<Record<string, EventSnapshot>>;
  /** How many claims steps have made. */
  readonly turns: number;
}

export interface EventSnapshot {
  /** The next step, null when none are running. */
  readonly next: number | null;
  /** Whether it waits for a condition. */
  readonly waiting: boolean;
  /** When its wait is over at the latest. */
  readonly wakes: number | null;
  readonly queued: number;
  readonly seen: readonly (number | null)[];
  /** Dials and modes set for a time, by step: what they go back to, and when. */
  readonly changed: readonly {
    readonly step: number;
    readonly former: number | null;

    readonly ends: number | null;
  }[];
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
