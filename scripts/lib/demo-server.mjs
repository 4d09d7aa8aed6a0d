// `modrik demo` as a process of its own, on a free port.
import { spawn } from "node:child_process";
import { fileURLToPath } from "node:url";

export const modrik = fileURLToPath(new URL("../../packages/cli/bin/modrik.js", import.meta.url));

/** Resolves with the addresses of its pages and of its broker, and a way to end it. */
export function startDemo(...words) {
  return startHouse(["demo", "--port", "0", ...words], /MQTT at (\S+)/);
}

/** A command that runs a house: resolves once it has said what is waited for. */
export function startHouse(words, waitsFor) {
  const child = spawn(process.execPath, [modrik, ...words], { stdio: ["ignore", "pipe", "pipe"] });
  let said = "";
  let stderr = "";
  child.stderr.on("data", (text) => {
    stderr += String(text);
  });
  return new Promise((resolve, reject) => {
    child.once("error", reject);
    child.once("exit", (code) => reject(new Error(`the house ended with ${code} before it said where it is\n${said}${stderr}`)));
    const read = (text) => {
      said += String(text);
      const found = waitsFor.exec(said);
      const [origin] = /http:\/\/[\d.]+:\d+/.exec(said) ?? [];
      if (!found || !origin) return;
      // What else it says is of no interest, and must not be in its way.
      child.stdout.off("data", read).resume();
      const ended = new Promise((done) => child.once("exit", done));
      const end = (signal = "SIGTERM") => {
        child.kill(signal);
        return ended;
      };
      const told = () => stderr;
      resolve({ origin, panel: `${origin}/panel/`, playground: `${origin}/playground/`, broker: found[1], end, told });
    };
    child.stdout.on("data", read);
  });
}
