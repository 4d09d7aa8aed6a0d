// What a command works with in place of the process it runs in: so it can run next to others, and in a test.
import { resolve } from "node:path";
import type { Colors } from "picocolors/types";

/** Where text goes. */
export interface Sink {
  write(text: string): unknown;
  /** Whether a person watches it on a terminal. */
  readonly isTTY: boolean;
}

/** What a command reads, writes and asks. */
export interface Io {
  /** The folder that paths start from. */
  readonly cwd: string;
  /** What was asked for. */
  readonly out: Sink;
  /** What went wrong, and how far long work is. */
  readonly err: Sink;
  /** Where a person can be asked; left out where nobody can answer. */
  readonly person?: { readonly input: NodeJS.ReadableStream; readonly output: NodeJS.WritableStream };
  readonly paint: Colors;
  /** What a person does to end what goes on for ever, as Ctrl-C; to be asked for once, by what waits for it. */
  readonly ended: AbortSignal;
  /** Milliseconds since 1970 UTC. */
  now(): number;
}

/** Where a path leads, from the folder a command runs in. */
export function pathIn({ cwd }: Io, path: string): string {
  return resolve(cwd, path);
}
