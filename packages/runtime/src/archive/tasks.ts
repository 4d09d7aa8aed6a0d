// What is read of the past of a house: charts, figures, recordings. It may take seconds, so it is done in a thread of its
// own; each task is plain data, and so is its answer, as text.
import { chartOf, type ThemeName } from "@modrik/charts";
import { writeRecording } from "@modrik/formats";
import {
  type House,
  isIn,
  Journal,
  logOf,
  measure,
  type Run,
  type Snapshot,
  sayValue,
  thingsIn,
  titleOf,
  typeOf,
  whatComes,
  whyBriefly,
  writeExpression,
} from "modrik";
import type { HouseFile } from "../storage/house-file.js";

/** Of which stretch, and of what in it. */
export interface Chosen {
  readonly from: number;
  readonly to: number;
  readonly zone?: string | undefined;
  /** Names of sensors and outputs, in place of a zone. */
  readonly things?: readonly string[] | undefined;
}

export type ArchiveTask =
  | (Chosen & {
      readonly kind: "chart";
      readonly mean: boolean;
      readonly theme: ThemeName;
      readonly width: number;
      readonly height: number;
      /** How far the clock on the wall is ahead. */
      readonly ahead: number;
    })
  | (Chosen & { readonly kind: "recording"; readonly ahead: number })
  | {
      readonly kind: "journal";
      readonly from: number;
      readonly to: number;
      /** Only of these kinds, and of this thing or rule. */
      readonly kinds?: readonly string[] | undefined;
      readonly of?: string | undefined;
      readonly limit: number;
      readonly ahead: number;
    }
  | { readonly kind: "coming"; readonly house: House; readonly snapshot: Snapshot; readonly ahead: number };

/** What is asked for, as JSON or CSV; nothing where nothing is remembered of that time. */
export function doTask(file: HouseFile, task: ArchiveTask): string | undefined {
  switch (task.kind) {
    case "chart":
      return chartIn(file, task);
    case "recording":
      return recordingIn(file, task);
    case "journal":
      return journalIn(file, task);
    case "coming":
      return comingIn(task);
  }
}

const stamp = (at: number) => new Date(at).toISOString();

function chartIn(file: HouseFile, task: Extract<ArchiveTask, { kind: "chart" }>): string | undefined {
  const past = file.journal(task.from, task.to);
  if (!Number.isFinite(past.beginning) || past.beginning >= task.to) return undefined;
  const run: Run = { past, from: Math.max(task.from, past.beginning), to: task.to };
  const { zone, things, mean, theme, width, height, ahead } = task;
  const {
    options,
    height: needed,
    readings = [],
  } = chartOf(run, { zone, things, mean, theme, width, height, title: "", thin: true });
  return JSON.stringify({
    from: stamp(run.from + ahead),
    to: stamp(run.to + ahead),
    options,
    height: needed,
    readings,
    figures: figuresOf(run, task),
  });
}

function figuresOf(run: Run, { zone, things }: Chosen) {
  const { house } = run.past;
  const isChosen = (name: string) => (things ? things.includes(name) : isIn(zone, name));
  const { outputs, kept } = measure(run);
  const known = (value: number) => (Number.isFinite(value) ? value : null);
  return {
    outputs: outputs
      .filter(({ output }) => isChosen(output))
      .map(({ output: name, title, starts, onTime, share, energy }) => ({
        name,
        title,
        starts,
        onTime,
        share,
        ...(energy !== undefined && { energy }),
      })),
    kept: kept
      .filter(({ value }) => thingsIn(value).some(isChosen))
      .map(({ rule, value, unit, applied, inBand, lowest, highest }) => ({
        rule,
        says: value.kind === "value" ? titleIn(house, value.of) : writeExpression(value),
        unit,
        inBand: applied > 0 ? inBand : null,
        lowest: known(lowest),
        highest: known(highest),
      })),
  };
}

function titleIn({ sensors, lets }: House, name: string): string {
  const found = [...sensors, ...lets].find((one) => one.name === name);
  return found ? titleOf(found) : name;
}

/** A row for each moment, a column for each thing; of what was thinned, the mean of each hour. */
function recordingIn(
  file: HouseFile,
  { from, to, zone, things, ahead }: Chosen & { readonly ahead: number },
): string | undefined {
  const house = file.house(to);
  if (!house) return undefined;
  const all = [...house.sensors, ...house.outputs, ...house.dials, ...house.modes].map(({ name }) => name);
  const names = all.filter((name) => (things ? things.includes(name) : isIn(zone, name)));
  const unitIn = (name: string) => {
    const type = typeOf(house, name);
    return type.kind === "number" && type.unit !== "" ? { unit: type.unit } : {};
  };
  const thinned = names.flatMap((name) => file.hours(name, from, to).map(({ at, mean }) => ({ name, at, value: mean })));
  const whole = file.history(from, to, names);
  const records = [...thinned, ...whole].map(({ name, at, ...rest }) => ({ name, at: at + ahead, ...rest, ...unitIn(name) }));
  return writeRecording(records, "wide CSV");
}

/** What happened, and what people did, the latest of it. */
function journalIn(file: HouseFile, { from, to, kinds, of, limit, ahead }: Extract<ArchiveTask, { kind: "journal" }>): string {
  const past = file.journal(from, to);
  const isAsked = (kind: string, ...about: (string | undefined)[]) =>
    (!kinds || kinds.includes(kind)) && (of === undefined || about.includes(of));
  const run: Run = { past, from: Math.max(from, past.beginning), to };
  const happened = Number.isFinite(past.beginning)
    ? logOf(run).map(({ trial, cause, ...one }) => ({
        ...one,
        // The whole of it is asked for line by line.
        ...(cause !== undefined && one.thing !== undefined && { cause: whyBriefly(run, one.thing, one.at) }),
      }))
    : [];
  const people = file
    .deeds(from, to)
    .map(({ at, who, origin, did, thing }) => ({ at, kind: "person", value: did, who, from: origin, ...(thing && { thing }) }));
  const all: readonly { readonly at: number; readonly kind: string; readonly thing?: string; readonly rule?: string }[] = [
    ...happened,
    ...people,
  ];
  const asked = all.filter(({ kind, thing, rule }) => isAsked(kind, thing, rule)).sort((a, b) => a.at - b.at);
  return JSON.stringify(asked.slice(-limit).map(({ at, ...one }) => ({ at: stamp(at + ahead), ...one })));
}

function comingIn({ house, snapshot, ahead }: Extract<ArchiveTask, { kind: "coming" }>): string {
  const past = new Journal();
  past.begin(house, []);
  const { at } = snapshot;
  const coming = whatComes({ past, from: at, to: at, kept: { at, snapshot } });
  return JSON.stringify(
    coming.map(({ at: when, thing, value, because }) => ({
      at: stamp(when + ahead),
      thing,
      says: sayValue(typeOf(house, thing), value),
      ...(because !== undefined && { because }),
    })),
  );
}
