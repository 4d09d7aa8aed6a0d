// One process a house: who holds a house's file is written beside it.
import { existsSync, readFileSync, rmSync, writeFileSync } from "node:fs";

/** The house runs already. */
export class LockedError extends Error {}

/** Locks of this process. */
const held = new Set<string>();

/** Holds a house's file; gives what lets it go. @throws LockedError when another process that lives holds it */
export function holdFile(path: string): () => void {
  const lock = `${path}.lock`;
  if (held.has(lock)) throw new LockedError(`${path} is in use by process ${process.pid}: one process a house`);
  for (let tries = 0; ; tries++) {
    try {
      writeFileSync(lock, `${process.pid}\n`, { flag: "wx" });
      held.add(lock);
      return () => {
        held.delete(lock);
        rmSync(lock, { force: true });
      };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
    }
    // The number of one that died may be ours now.
    const holder = existsSync(lock) ? Number(readFileSync(lock, "utf8")) : 0;
    if (tries > 2 || (holder !== process.pid && lives(holder)))
      throw new LockedError(`${path} is in use by process ${holder}: one process a house`);
    // Who held it died without a word.
    rmSync(lock, { force: true });
  }
}

function lives(pid: number): boolean {
  if (!Number.isInteger(pid) || pid <= 0) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === "EPERM";
  }
}
