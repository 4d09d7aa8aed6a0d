// Recordings of a house: what its things said and when, read from other programs' files and written for them. They are
// CSV, wide (a column for each thing) or long (a row for each report), SenML (RFC 8428), or JSON lines.
import type { Recorded } from "modrik";
import { keyOf, readCsv, writeLongCsv, writeWideCsv } from "./csv.js";
import { readJsonLines, writeJsonLines } from "./json-lines.js";
import { Notes } from "./notes.js";
import { readSenml, writeSenml } from "./senml.js";
import type { TimeOptions } from "./times.js";

export type RecordingForm = "wide CSV" | "long CSV" | "SenML" | "JSON lines";

/** A recording as it was read. */
export interface OpenedRecording {
  readonly form: RecordingForm;
  /** In order of time, one of each thing at an instant. */
  readonly records: Recorded[];
  /** What was done with what is not plain: repeated, out of order, unreadable or left out; a sentence each. */
  readonly notes: readonly string[];
}

/**
 * Reads a recording, and says what it did with what is not plain. Of two reports of a thing at one instant the later one in
 * the file counts; one that says nothing of a number, as `nan`, is a report of an unknown value; an empty field is none.
 * @throws FormatError when the text is in none of the forms, or a time, a unit or a row in it cannot be read
 */
export function openRecording(text: string, options: TimeOptions = {}): OpenedRecording {
  const notes = new Notes();
  const plain = text.replace(/^\uFEFF/, "");
  const begins = plain.trimStart();
  const { form, records } = begins.startsWith("[")
    ? { form: "SenML" as const, records: readSenml(plain, options, notes) }
    : begins.startsWith("{")
      ? { form: "JSON lines" as const, records: readJsonLines(plain, options, notes) }
      : readCsv(plain, options, notes);
  return { form, records: inOrder(records, notes), notes: notes.said };
}

/**
 * Every report of a recording, in order of time.
 * @throws FormatError as `openRecording`
 */
export function readRecording(text: string, options: TimeOptions = {}): Recorded[] {
  return openRecording(text, options).records;
}

/** Writes a recording. Times are in UTC; a value that is not known is written as `nan`. */
export function writeRecording(records: readonly Recorded[], form: RecordingForm): string {
  return writers[form](records);
}

const writers: Readonly<Record<RecordingForm, (records: readonly Recorded[]) => string>> = {
  "wide CSV": writeWideCsv,
  "long CSV": writeLongCsv,
  SenML: writeSenml,
  "JSON lines": writeJsonLines,
};

function inOrder(records: readonly Recorded[], notes: Notes): Recorded[] {
  let latest = Number.NEGATIVE_INFINITY;
  for (const { at } of records) {
    if (at < latest) notes.count("out of order", "put in order of time");
    latest = Math.max(latest, at);
  }
  const sorted = records
    .map((record, place) => ({ record, place }))
    .sort((a, b) => a.record.at - b.record.at || a.place - b.place);
  const kept: Recorded[] = [];
  const places = new Map<string, number>();
  let now = Number.NaN;
  for (const { record } of sorted) {
    if (record.at !== now) places.clear();
    now = record.at;
    // One name may measure two things: then the unit tells them apart.
    const key = keyOf(record);
    const before = places.get(key);
    if (before === undefined) {
      places.set(key, kept.length);
      kept.push(record);
      continue;
    }
    if (isSame(kept[before] as Recorded, record)) notes.count("the same again at the same time", "taken once");
    else notes.count("another value at the same time", "the later one in the file counts");
    kept[before] = record;
  }
  return kept;
}

const isSame = (one: Recorded, other: Recorded) => one.unit === other.unit && one.value === other.value;
