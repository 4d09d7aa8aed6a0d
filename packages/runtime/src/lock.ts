// One process a house: who holds a house's file is written next to it. A process that died holds nothing, though its number
// may be another's by now: after a power cut the house has to come up by itself.
import { readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { uptime } from "node:os";

/** The house runs already. */
export class LockedError extends Error {}

/** Locks of this process. */
const held = new Set<string>();

/** Clocks are set a little at each start of a machine. */
const CLOCKS_DIFFER = 60_000;

/** Holds a house's file; gives what lets it go. @throws LockedError when another process that lives holds it */
export function holdFile(path: string): () => void {
  const lock = `${path}.lock`;
  if (held.has(lock)) throw inUse(path, process.pid);
  for (let tries = 0; ; tries++) {
    try {
      writeFileSync(lock, `${process.pid} ${birthOf(process.pid)}\n`, { flag: "wx" });
      held.add(lock);
      return () => {
        held.delete(lock);
        rmSync(lock, { force: true });
      };
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
    }
    const holder = holderOf(lock);
    if (tries > 2 || holder !== undefined) throw inUse(path, holder ?? 0);
    rmSync(lock, { force: true });
  }
}

const inUse = (path: string, pid: number) => new LockedError(`${path} is in use by process ${pid}: one process a house`);

/** The process that holds it, if it is the one that wrote it and lives. */
function holderOf(lock: string): number | undefined {
  let text: string;
  let writtenAt: number;
  try {
    text = readFileSync(lock, "utf8");
    writtenAt = statSync(lock).mtimeMs;
  } catch {
    return undefined;
  }
  const [pid = Number.NaN, birth = ""] = [Number(text.split(" ")[0]), text.trim().split(" ")[1]];
  if (pid === process.pid || !lives(pid)) return undefined;
  const now = birthOf(pid);
  if (birth !== "" && now !== "") return birth === now ? pid : undefined;
  // Where births are not known: what was written before the machine started was written by somebody who is gone.
  return writtenAt < Date.now() - uptime() * 1000 - CLOCKS_DIFFER ? undefined : pid;
}

/** When a process began, as its system counts it, with the start of the system it counts from; nothing where it does not tell. */
function birthOf(pid: number): string {
  try {
    const boot = readFileSync("/proc/sys/kernel/random/boot_id", "utf8").trim();
    // The name of the program stands in brackets, and may hold blanks.
    const fields = readFileSync(`/proc/${pid}/stat`, "utf8").split(") ").at(-1)?.split(" ") ?? [];
    return `${boot}/${fields[19]}`;
  } catch {
    return "";
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
