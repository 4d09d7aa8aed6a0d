// Looks whether the files of a house were saved.
import { setTimeout } from "node:timers/promises";
import { timesOf } from "./house-files.js";
import type { Io } from "./io.js";

/** How often files are looked at: editors replace a file as they save it, and a watcher then loses it. */
const LOOK_MS = 200;

/** The names of files of a house as they are saved, until something ends. */
export async function* savedFiles(path: string | undefined, io: Io, ended: AbortSignal): AsyncGenerator<string> {
  for (let before = timesOf(path, io); !ended.aborted; ) {
    await setTimeout(LOOK_MS);
    const now = timesOf(path, io);
    const saved = [...new Set([...now.keys(), ...before.keys()])].find((name) => now.get(name) !== before.get(name));
    before = now;
    if (saved !== undefined && !ended.aborted) yield saved;
  }
}
