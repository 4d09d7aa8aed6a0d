// `modrik demo` as a process of its own, on a free port.
import { spawn } from "node:child_process";
import { fileURLToPath } from "node:url";

export const modrik = fileURLToPath(new URL("../../packages/cli/bin/modrik.js", import.meta.url));

/** Resolves with its address and a way to end it. */
export function startDemo() {
  const child = spawn(process.execPath, [modrik, "demo", "--port", "0"], { stdio: ["ignore", "pipe", "inherit"] });
  return new Promise((resolve, reject) => {
    child.once("error", reject);
    child.once("exit", (code) => reject(new Error(`the demo ended with ${code} before it said where it is`)));
    child.stdout.on("data", (said) => {
      const address = /http:\S+/.exec(String(said))?.[0];
      if (address) resolve({ address, end: () => child.kill() });
    });
  });
}
