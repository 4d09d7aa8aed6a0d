// What a running house says of itself, as lines of JSON for machines.
import pino from "pino";
import type { Says } from "./notes.js";

/** A log of a line of JSON a note. @param write where lines go */
export function jsonLog(write: (line: string) => void): Says {
  const log = pino(
    { base: null, timestamp: pino.stdTimeFunctions.isoTime, formatters: { level: (level) => ({ level }) } },
    { write },
  );
  return ({ weight, about, text, more }) => log[weight]({ about, ...more }, text);
}
