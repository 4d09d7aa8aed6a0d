// What a recording is like: its signals, what a threshold would have meant, what a zone loses.
import { readdirSync } from "node:fs";
import {
  clockOf,
  DAY,
  differenceUnit,
  type HeatLoss,
  HOUR,
  type House,
  heatLoss,
  isSound,
  MINUTE,
  type Recorded,
  type SignalFigures,
  sayDate,
  sayLength,
  sayRounded,
  sayShare,
  signalFigures,
  type Thresholds,
  thresholds,
  type Unit,
  writeDuration,
  writeQuantity,
} from "modrik";
import { nearest } from "modrik/language";
import { CallError } from "../call-error.js";

import { readHouse, readSoundHouse } from "../house-files.js";
import { type Io, pathIn } from "../io.js";
import { fitted, isOf, openRecordingFile } from "../recordings.js";
import { oneOf } from "../run-options.js";
import { writeTable } from "../table.js";

export interface MeasureFileOptions {
  readonly threshold?: string;
  readonly at: readonly string[];
  readonly side?: string;
  readonly loss?: string;
  readonly outdoors?: string;
  readonly clock?: string;
  readonly json?: boolean;
}

/** Measures a recording, and prints its figures. */
export async function measureFile(file: string, path: string | undefined, options: MeasureFileOptions, io: Io): Promise<boolean> {
  if (options.threshold !== undefined && options.loss !== undefined)
    throw new CallError("--threshold and --loss do not go together.", "Ask for one after the other.");
  const beside = houseBeside(path, options, io);
  if (beside === "broken") return false;
  const { records } = await openRecordingFile(file, options.clock ?? beside?.clock, io);
  // A house that only happens to be here is not a house of the recording.
  const house = beside && (path !== undefined || isOf(beside, records)) ? beside : undefined;
  const recorded = house ? fitted(house, file, records, io) : records;
  if (options.threshold !== undefined) return ofThreshold(recorded, house, options.threshold, options, io);
  if (options.loss !== undefined) return ofLoss(recorded, house, options.loss, options, io);
  // What outputs did is measured as such, by simulate.
  const isSensor = ({ name }: SignalFigures) => !house || house.sensors.some((sensor) => sensor.name === name);
  const figures = signalFigures(recorded, house).filter(isSensor);
  if (figures.length === 0) throw new CallError(`${file} has no numbers.`, "Only numbers can be measured.");
  if (options.json) io.out.write(`${JSON.stringify(figures, null, 2)}\n`);
  else io.out.write(`${writeSignals(file, figures, house?.clock ?? options.clock ?? "UTC", io)}\n`);
  return true;
}

/** The house that is named, or that lies where the command runs; a recording can be measured without one. */
function houseBeside(path: string | undefined, { loss }: MeasureFileOptions, io: Io): House | "broken" | undefined {
  if (path !== undefined || loss !== undefined) {
    const here = path ?? (hasHouse(io) ? "." : undefined);
    if (here !== undefined) return readSoundHouse(here, io) ?? "broken";
    throw new CallError(
      "What a zone loses needs its house: what its heater uses stands there.",
      "Name the house, e.g. modrik measure readings.csv my-house --loss bench.",
    );
  }
  if (!hasHouse(io)) return undefined;
  const { text, unreadable } = readHouse(undefined, io);
  if (isSound(text) && unreadable.length === 0) return text.house;
  io.err.write(io.paint.dim("The house in this folder has errors: the recording is measured by itself.\n"));
  return undefined;
}

function hasHouse(io: Io): boolean {
  return readdirSync(pathIn(io, ".")).some((name) => name.endsWith(".modrik"));
}

function writeSignals(file: string, figures: readonly SignalFigures[], zone: string, io: Io): string {
  const clock = clockOf(zone);
  const from = figures.reduce((least, one) => Math.min(least, one.from), Number.POSITIVE_INFINITY);
  const to = figures.reduce((most, one) => Math.max(most, one.to), 0);
  const table = writeTable(
    ["Signal", "reports", "every", "lowest", "highest", "step", "noise", "gaps"],
    figures.map(({ name, unit, reports, interval, lowest, highest, step, noise, gaps }) => [
      name,
      String(reports),
      interval === undefined ? "-" : sayLength(interval),
      figure(lowest, unit),
      figure(highest, unit),
      step === undefined ? "-" : apart(step, unit),
      apart(noise, unit),
      String(gaps.length),
    ]),
    io,
  );
  const gaps = figures
    .filter(({ gaps: own }) => own.length > 0)
    .map(({ name, gaps: own }) => {
      const longest = own.reduce((a, b) => (b.to - b.from > a.to - a.from ? b : a));
      return `  ${name}: ${own.length}, the longest from ${sayDate(clock, longest.from)} for ${sayLength(longest.to - longest.from)}`;
    });
  const unreadable = figures
    .filter((one) => one.unreadable > 0)
    .map((one) => `  ${one.name}: ${one.unreadable} reports without a number`);
  return [
    `${io.paint.bold(file)}, ${sayDate(clock, from)} to ${sayDate(clock, to)}`,
    "",
    table,
    ...(gaps.length > 0 ? ["", "Gaps, much longer than it usually reports:", ...gaps] : []),
    ...(unreadable.length > 0 ? ["", ...unreadable] : []),
  ].join("\n");
}

const figure = (value: number, unit: Unit = "") => writeQuantity({ value: Number(value.toPrecision(6)), unit });

function apart(size: number, unit: Unit = ""): string {
  return writeQuantity({
    value: Number(size.toPrecision(2)),
    unit: differenceUnit(unit) === "K" && unit === "°F" ? "°F" : differenceUnit(unit),
  });
}

// ── Thresholds ──────────────────────────────────────────────────────────────────────────────────────────────────────────

function ofThreshold(
  recorded: readonly Recorded[],
  house: House | undefined,
  name: string,
  { at, side, json }: MeasureFileOptions,
  io: Io,
): boolean {
  const names = signalFigures(recorded, house).map((one) => one.name);
  if (!names.includes(name)) {
    const near = nearest(name, names);
    throw new CallError(
      `The recording has no numbers of "${name}".`,
      near.length > 0 ? `Did you mean ${near.join(" or ")}?` : `It has: ${names.join(", ")}.`,
    );
  }
  if (side !== undefined && side !== "below" && side !== "above")
    throw new CallError(`--side ${side} is no side.`, "Write --side below or --side above.");
  const candidates = at.map((text) => {
    const value = Number(text);
    if (text.trim() === "" || !Number.isFinite(value))
      throw new CallError(`--at ${text} is not a number.`, "Write it in the signal's own unit, e.g. --at 40.");
    return value;
  });
  const found = inTime(() =>
    thresholds(recorded, name, house, { ...(candidates.length > 0 && { candidates }), ...(side && { side }) }),
  );
  if (json) io.out.write(`${JSON.stringify(found, null, 2)}\n`);
  else io.out.write(`${writeThresholds(found, io)}\n`);
  return true;
}

/** What a recording is too short for is the caller's to know. */
function inTime<Result>(work: () => Result): Result {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    throw new CallError(`${error.message}.`, "Take a longer recording.");
  }
}

function writeThresholds({ name, unit, side, noise, known, candidates, suggested }: Thresholds, io: Io): string {
  const holds = candidates[0]?.crossings.map(({ hold }) => hold) ?? [];
  const hasClock = candidates.some(({ clock }) => clock);
  const table = writeTable(
    [
      side === "below" ? "Below" : "Above",
      "of the time",
      ...holds.map((hold) => (hold === 0 ? "begins a day" : `for ${writeDuration(hold)}`)),
      ...(hasClock ? ["dark by day", "light by night"] : []),
    ],
    candidates.map(({ value, beyond, crossings, clock }) => [
      figure(value, unit),
      sayShare(beyond),
      ...crossings.map(({ aDay }) => sayRounded(aDay)),
      ...(clock ? [minutes(clock.darkByDay), minutes(clock.lightByNight)] : []),
    ]),
    io,
  );
  const clockSays = hasClock
    ? [
        "",
        io.paint.dim(
          "Dark by day, light by night: how long a day a clock that goes by sunset and sunrise would have been of another mind.",
        ),
      ]
    : [];
  const pair = suggested
    ? [
        "",
        `Two points that its noise of ${apart(noise, unit)} does not cross, beginning ${sayRounded(suggested.aDay)} times a day:`,
        `  ${suggested.says}`,
      ]
    : ["", "It never went beyond any of them and back: there is nothing to suggest."];
  return [`${io.paint.bold(name)}, known for ${sayLength(known)}`, "", table, ...clockSays, ...pair].join("\n");
}

const minutes = (ms: number) => `${Math.round(ms / MINUTE)} min`;

// ── Heat loss ───────────────────────────────────────────────────────────────────────────────────────────────────────────

function ofLoss(
  recorded: readonly Recorded[],
  house: House | undefined,
  zone: string,
  { outdoors, json }: MeasureFileOptions,
  io: Io,
): boolean {
  if (!house) throw new CallError("The recording has nothing of the house in this folder.", "Name its house.");
  oneOf(house.zones, zone, "zone");
  if (outdoors !== undefined) oneOf(house.sensors, outdoors, "sensor");
  const found = heatLoss(house, recorded, zone, outdoors === undefined ? {} : { outdoors });
  if (json) io.out.write(`${JSON.stringify(found, null, 2)}\n`);
  else io.out.write(`${writeLoss(found, io)}\n`);
  return !("unknown" in found);
}

function writeLoss(found: HeatLoss, io: Io): string {
  const notes = found.notes.map((note) => io.paint.dim(`  ${note}`));
  if ("unknown" in found) return [`What ${found.zone} loses cannot be told: ${found.unknown}.`, ...notes].join("\n");
  const { zone, loses, uncertainty, stores, used, recorded } = found;
  return [
    `${io.paint.bold(zone)} loses ${loses.toFixed(1)} W/K, give or take ${uncertainty.toFixed(1)} W/K, air that leaks included.`,
    `It takes ${(stores / 1e6).toPrecision(2)} MJ to warm its air by 1 K.`,
    io.paint.dim(`  told from ${Math.round(used / HOUR)} h of ${Math.round((10 * recorded) / DAY) / 10} days`),
    ...notes,
  ].join("\n");
}
