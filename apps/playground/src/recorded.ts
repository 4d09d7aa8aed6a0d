// A recording as the page shows it: its columns, and how often a signal was how much.
import { openRecording, type TimeOptions } from "@modrik/formats";
import { type House, type Recorded, signalFigures, thresholds } from "modrik";
import type { Distribution, RecordingInfo } from "./messages.js";

/** @throws FormatError when it cannot be read */
export function openedRecording(
  name: string,
  text: string,
  options: TimeOptions,
): { readonly records: readonly Recorded[]; readonly info: RecordingInfo } {
  const { form, records, notes } = openRecording(text, options);
  const columns = new Map<string, RecordingInfo["columns"][number]>();
  for (const { name: column, value, unit = "" } of records) {
    const { count = 0, first = value === undefined ? "unknown" : `${value} ${unit}`.trim() } = columns.get(column) ?? {};
    columns.set(column, { name: column, unit, count: count + 1, first });
  }
  return { records, info: { name, form, notes, columns: [...columns.values()], figures: signalFigures(records) } };
}

/** @throws RangeError when it has no numbers of that name */
export function distributionOf(
  records: readonly Recorded[],
  name: string,
  house: House,
  side: "below" | "above" | undefined,
): Distribution {
  // Of the house only where it is counts: its sensors' ranges are not those of a file's columns.
  const found = thresholds(records, name, { ...house, sensors: [] }, side ? { side } : {});
  return { thresholds: found, bins: binsOf(records, name) };
}

const BINS = 24;

/** Shares of its reports, from its lowest to its highest. */
function binsOf(records: readonly Recorded[], name: string): Distribution["bins"] {
  const values = records.flatMap((one) =>
    one.name === name && typeof one.value === "number" && Number.isFinite(one.value) ? [one.value] : [],
  );
  const low = values.reduce((a, b) => Math.min(a, b), Number.POSITIVE_INFINITY);
  const high = values.reduce((a, b) => Math.max(a, b), Number.NEGATIVE_INFINITY);
  if (!(high > low)) return [];
  const size = (high - low) / BINS;
  const counts = new Array<number>(BINS).fill(0);
  for (const value of values) {
    const bin = Math.min(BINS - 1, Math.floor((value - low) / size));
    counts[bin] = (counts[bin] ?? 0) + 1;
  }
  return counts.map((count, bin) => ({ from: low + bin * size, to: low + (bin + 1) * size, share: count / values.length }));
}
