// Recordings as files: read with what was done with them said, and written by the ending of the name.
import { readFileSync, statSync } from "node:fs";
import { FormatError, type LogForm, type OpenedRecording, openRecording, type RecordingForm, writeLog } from "@modrik/formats";
import { type House, type LogEntry, misfitsOf, type Recorded } from "modrik";
import { CallError } from "./call-error.js";
import { isHouseFile, openHouseFile } from "./house-file.js";
import { type Io, pathIn } from "./io.js";
import { writeResult } from "./write-result.js";

/** @throws CallError when there is no such file, or it is not a recording */
export async function openRecordingFile(
  file: string,
  clock: string | undefined,
  io: Io,
): Promise<{ readonly records: readonly Recorded[] }> {
  const path = pathIn(io, file);
  if (isHouseFile(file)) return { records: (await openHouseFile(file, io)).records };
  if (!statSync(path, { throwIfNoEntry: false })?.isFile()) throw new CallError(`There is no file "${file}".`);
  let opened: OpenedRecording;
  try {
    const text = new TextDecoder("utf-8", { fatal: true }).decode(readFileSync(path));
    opened = openRecording(text, { now: statSync(path).mtimeMs, ...(clock !== undefined && { clock }) });
  } catch (error) {
    if (error instanceof TypeError) throw new CallError(`${file} is not UTF-8 text.`, "Save it as UTF-8.");
    if (!(error instanceof FormatError)) throw error;
    throw new CallError(`${file} cannot be read. ${error.message}`, "Correct it, or record it again.");
  }
  for (const note of opened.notes) io.err.write(`${io.paint.dim(`${file}: ${note}`)}\n`);
  return opened;
}

/** A recording of a house; what of it is nothing of the house is said. @throws CallError when nothing of it is */
export async function recordingFor(house: House, file: string, io: Io): Promise<readonly Recorded[]> {
  return fitted(house, file, (await openRecordingFile(file, house.clock, io)).records, io);
}

/** Whether any of a recording is of things of a house. */
export function isOf(house: House, records: readonly Recorded[]): boolean {
  const names = new Set([...house.sensors, ...house.outputs, ...house.dials, ...house.modes].map(({ name }) => name));
  return records.some(({ name }) => names.has(name));
}

/** What of it does not fit is said. @throws CallError when nothing does */
export function fitted(house: House, file: string, records: readonly Recorded[], io: Io): readonly Recorded[] {
  const misfits = misfitsOf(house, records);
  for (const { name, says, count } of misfits)
    io.err.write(`${io.paint.yellow(`${file}: ${name} ${says}. Left out: ${count} report${count === 1 ? "" : "s"}.`)}\n`);
  const left = records.length - misfits.reduce((sum, { count }) => sum + count, 0);
  if (left === 0)
    throw new CallError(
      `${file} has no reports of things of this house.`,
      `Name its columns as the house does, e.g. ${house.sensors[0]?.name ?? "bench.temperature"}.`,
    );
  return records;
}

const forms: Readonly<Record<string, readonly [recording: RecordingForm, log: LogForm]>> = {
  ".csv": ["wide CSV", "CSV"],
  ".jsonl": ["JSON lines", "JSON lines"],
  ".ndjson": ["JSON lines", "JSON lines"],
  ".senml": ["SenML", "SenML"],
  ".json": ["SenML", "SenML"],
};

/** The form that a file's name asks for; nothing for another ending. */
export function formOf(file: string): { readonly recording: RecordingForm; readonly log: LogForm } | undefined {
  const found = forms[/\.[^./\\]+$/.exec(file.toLowerCase())?.[0] ?? ""];
  return found && { recording: found[0], log: found[1] };
}

/** Writes what happened into a file, or with `-` prints it. @throws CallError when the file says no form, or cannot be written */
export function writeLogFile(log: readonly LogEntry[], file: string, io: Io): void {
  const form = file === "-" ? "CSV" : formOf(file)?.log;
  if (!form)
    throw new CallError(
      `"${file}" does not say what the list is to be.`,
      "Name a file that ends in .csv, .jsonl or .senml, or - to print it.",
    );
  const text = writeLog(log, form);
  if (file === "-") io.out.write(text);
  else {
    writeResult(file, text, io);
    io.err.write(`created ${file}\n`);
  }
}
