// The list of what happened in a run, written for other programs. Its readings can be read back as a recording.
import { type LogEntry, recordingOf } from "modrik";
import papa from "papaparse";
import { writeSenml } from "./senml.js";
import { writeField } from "./values.js";

export type LogForm = "CSV" | "JSON lines" | "SenML";

/** Writes what happened. SenML has no room for what was told or went wrong: there it is values alone. */
export function writeLog(log: readonly LogEntry[], form: LogForm): string {
  if (form === "SenML") return writeSenml(recordingOf(log));
  return form === "CSV" ? asCsv(log) : log.map((entry) => `${JSON.stringify(asObject(entry))}\n`).join("");
}

const COLUMNS = ["time", "kind", "thing", "value", "unit", "rule", "cause"];

/** Where entries are of several trials, the first column says of which. */
function asCsv(log: readonly LogEntry[]): string {
  const ofTrials = log.some(({ trial }) => trial !== undefined);
  const rows = log.map(({ at, trial = "", kind, thing = "", value, unit = "", rule = "", cause = "" }) => [
    ...(ofTrials ? [trial] : []),
    new Date(at).toISOString(),
    kind,
    thing,
    writeField(value),
    unit,
    rule,
    cause,
  ]);
  return `${papa.unparse([[...(ofTrials ? ["trial"] : []), ...COLUMNS], ...rows], { newline: "\n" })}\n`;
}

/** Unknown is null. */
function asObject({ at, value, ...others }: LogEntry): object {
  return { time: new Date(at).toISOString(), ...others, value: value ?? null };
}
