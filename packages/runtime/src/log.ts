// What a running house says of itself, as lines of JSON for machines.
import pino from "pino";
import type { Says } from "./notes.js";

/** A log of a line of JSON a note. @param write where lines go @param now the house's clock, in milliseconds since 1970 UTC */
export function jsonLog(write: (line: string) => void, now: () => number = Date.now): Says {
  const log = pino(
    { base: null, timestamp: () => `,"time":"${new Date(now()).toISOString()}"`, formatters: { level: (level) => ({ level }) } },
    { write },
  );
  return ({ weight, about, text, more }) => log[weight]({ about, ...more }, text);
}
