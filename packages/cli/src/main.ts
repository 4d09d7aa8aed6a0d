// The command `modrik`: the process and its terminal, wired to the commands.
import colors from "picocolors";
import type { Sink } from "./io.js";
import { run } from "./run.js";

/** Listened for by what goes on for ever; all other work ends at once, in the middle of what it does. */
const untilStopped = (): AbortSignal => {
  const ended = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"] as const) process.once(signal, () => ended.abort());
  return ended.signal;
};

const sink = (stream: NodeJS.WriteStream): Sink => ({ write: (text) => stream.write(text), isTTY: stream.isTTY === true });
const { stdin, stdout, stderr } = process;

// A reader that has seen enough, as `head` does, is no reason to fail.
stdout.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code === "EPIPE") process.exit();
  throw error;
});

process.exitCode = await run(process.argv.slice(2), {
  cwd: process.cwd(),
  out: sink(stdout),
  err: sink(stderr),
  ...(stdin.isTTY && stdout.isTTY && { person: { input: stdin, output: stdout } }),
  paint: colors,
  get ended() {
    return untilStopped();
  },
  now: () => Date.now(),
});
