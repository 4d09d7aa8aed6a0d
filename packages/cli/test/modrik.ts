// The command as a process.
import { spawnSync } from "node:child_process";
import { fileURLToPath } from "node:url";

export const root = fileURLToPath(new URL("../../../", import.meta.url));
const bin = fileURLToPath(new URL("../bin/modrik.js", import.meta.url));

export interface Ended {
  readonly code: number | null;
  readonly out: string;
  readonly err: string;
}

/** Runs `modrik` with some words, in the clone unless told otherwise. */
export function modrik(words: readonly string[], cwd = root): Ended {
  const env = { ...process.env, NO_COLOR: "1", FORCE_COLOR: undefined };
  const { status, stdout, stderr } = spawnSync(process.execPath, [bin, ...words], {
    cwd,
    encoding: "utf8",
    env,
    timeout: 60_000,
  });
  return { code: status, out: stdout, err: stderr };
}
