// Looks whether the files of a house were saved.
import { setTimeout } from "node:timers/promises";
import { timesOf } from "./house-files.js";
import type { Io } from "./io.js";

/** How often files are looked at: editors replace a file as they save it, and a watcher then loses it. */
const LOOK_MS = 200;

/** The names of files of a house as they are saved from now on, until something ends. */
export function savedFiles(path: string | undefined, io: Io, ended: AbortSignal): AsyncGenerator<string> {
  return look(timesOf(path, io), path, io, ended);
}

async function* look(
  first: ReadonlyMap<string, string>,
  path: string | undefined,
  io: Io,
  ended: AbortSignal,
): AsyncGenerator<string> {
  for (let before = first; !ended.aborted; ) {
    await setTimeout(LOOK_MS);
    const now = timesOf(path, io);
    const saved = [...new Set([...now.keys(), ...before.keys()])].find((name) => now.get(name) !== before.get(name));
    before = now;
    if (saved !== undefined && !ended.aborted) yield saved;
  }
}
