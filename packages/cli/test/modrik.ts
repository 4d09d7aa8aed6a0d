// The command: within this process, as one of its own, and on a terminal.
import { spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { fileURLToPath } from "node:url";
import picocolors from "picocolors";
import { PATIENCE } from "../../../test/patience.js";
import { run } from "../src/run.js";

const { createColors } = picocolors;

export const root = fileURLToPath(new URL("../../../", import.meta.url));
const bin = fileURLToPath(new URL("../bin/modrik.js", import.meta.url));

export interface Ended {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

/**
 * Runs `modrik` with some words, in the clone unless told otherwise.
 * @param until what goes on for ever is told to end when it has printed this, and `meanwhile` is done
 * @param meanwhile gets what was printed, and how to ask what is printed since
 */
export async function modrik(
  words: readonly string[],
  cwd = root,
  until?: RegExp,
  meanwhile: (out: string, latest: () => string) => Promise<void> = async () => {},
  isTTY = false,
): Promise<Ended> {
  const said = { out: "", err: "" };
  const ended = new AbortController();
  let failed: { error: unknown } | undefined;
  let waits = until !== undefined;
  const sink = (name: "out" | "err") => ({
    isTTY,
    write: (text: string) => {
      said[name] += text;
      if (!waits || !until?.test(said.out)) return;
      waits = false;
      void meanwhile(said.out, () => said.out)
        .catch((error: unknown) => {
          failed = { error };
        })
        .finally(() => ended.abort());
    },
  });
  const code = await run(words, {
    cwd,
    out: sink("out"),
    err: sink("err"),
    paint: createColors(false),
    ended: ended.signal,
    now: () => Date.now(),
  });
  if (failed) throw failed.error;
  return { code, ...said };
}

/** Runs `modrik` as a process of its own, from what was built: so it starts, ends, and works on several cores. */
export function modrikAlone(words: readonly string[], cwd = root): Ended {
  const env = { ...process.env, NO_COLOR: "1", FORCE_COLOR: undefined };
  const { status, stdout, stderr } = spawnSync(process.execPath, [bin, ...words], {
    cwd,
    encoding: "utf8",
    env,
    timeout: PATIENCE,
  });
  return { code: status ?? -1, out: stdout, err: stderr };
}

/** Runs `modrik` on a pseudo-terminal; what is shown is what a person sees in the end, without colours. */
export function onTerminal(
  words: readonly string[],
  cwd = root,
  typed?: string,
): { readonly ended: boolean; readonly shown: string } {
  const command = [process.execPath, bin, ...words].map((word) => `'${word}'`).join(" ");
  const { status, signal, stdout } = spawnSync("script", ["-qec", command, "/dev/null"], {
    cwd,
    encoding: "utf8",
    timeout: PATIENCE,
    ...(typed === undefined ? {} : { input: typed }),
    stdio: [typed === undefined ? "ignore" : "pipe", "pipe", "pipe"],
  });
  return { ended: status !== null && signal === null, shown: seen(stdout) };
}

/** Runs `modrik` on a terminal, where somebody types an answer to each question once it is there. */
export async function askedOnTerminal(
  words: readonly string[],
  answers: readonly (readonly [question: RegExp, typed: string])[],
  cwd = root,
) {
  const command = [process.execPath, bin, ...words].map((word) => `'${word}'`).join(" ");
  const child = spawn("script", ["-qec", command, "/dev/null"], { cwd, stdio: ["pipe", "pipe", "ignore"] });
  const tooLong = setTimeout(() => child.kill(), PATIENCE);
  let written = "";
  let since = 0;
  const left = [...answers];
  child.stdout.on("data", (text) => {
    written += String(text);
    if (!left[0]?.[0].test(written.slice(since))) return;
    since = written.length;
    const [, typed = ""] = left.shift() ?? [];
    // What asks listens once it has shown its question.
    setTimeout(() => child.stdin.write(typed), 200);
  });
  const [status] = (await once(child, "exit")) as [number | null];
  clearTimeout(tooLong);
  return { ended: status !== null, shown: seen(written) };
}

/** Each line as it stands once everything that clears or returns has been written. */
function seen(written: string): string {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: the codes of a terminal begin with one
  const codes = /\u001b\[[\d;?]*[A-JL-Za-z]/g;
  const lines = written.replaceAll("\r\n", "\n").replace(codes, "").split("\n");
  return lines.map((line) => line.slice(line.lastIndexOf("\r\u001b[K") + 1).replace("\u001b[K", "")).join("\n");
}
