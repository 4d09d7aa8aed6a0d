// The figures of a run, as tables.
import {
  type CycleMeasure,
  differenceUnit,
  fromBase,
  type KeptMeasure,
  type Lengths,
  type MeasureOptions,
  type Measures,
  type OutputMeasure,
  sayEnergy,
  sayLength,
  sayRounded,
  sayShare,
  type Unit,
  writeExpression,
  writeReading,
} from "modrik";
import { CallError } from "./call-error.js";
import type { Io } from "./io.js";
import { writeTable } from "./table.js";

export interface FigureOptions {
  readonly price?: string;
  readonly cycles?: string;
}

/** @throws CallError when one of them is no such number */
export function measureOptions({ price, cycles }: FigureOptions): MeasureOptions {
  const cost = price === undefined ? undefined : Number(price.replace(",", "."));
  if (cost !== undefined && !(price?.trim() && cost >= 0 && Number.isFinite(cost)))
    throw new CallError(`--price ${price} is not a price.`, "Write what a kWh costs, e.g. --price 0.31.");
  const latest = cycles === undefined ? undefined : Number(cycles);
  if (latest !== undefined && !(Number.isSafeInteger(latest) && latest >= 1))
    throw new CallError(`--cycles ${cycles} is not a number of cycles.`, "Write a whole number from 1 on, e.g. --cycles 3.");
  return { ...(cost !== undefined && { price: cost }), ...(latest !== undefined && { cycles: latest }) };
}

/** A table, wherever it is written. */
export interface FigureTable {
  readonly head: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

/** Tables of outputs and of what is kept, and a line of what has no row in them. */
export function figureTables(measures: Measures): { readonly tables: readonly FigureTable[]; readonly lines: readonly string[] } {
  const { kept, cycles } = measures;
  // What stayed on one side all the time has no figures worth a row.
  const points = kept.filter(({ how }) => how === "until");
  const between = points.filter(({ below, above }) => below < 1 && above < 1);
  const aside = points.filter((one) => !between.includes(one)).map(({ value, rule }) => `${writeExpression(value)} (${rule})`);
  const keeps = kept.filter(({ how }) => how === "keep");
  const tables = [ofOutputs(measures.outputs), ofKeeps(keeps), ofPoints(between), ofCycles(cycles)];
  const energy = sayEnergyOf(measures);
  return {
    tables: tables.filter(({ rows }) => rows.length > 0),
    lines: [
      ...(aside.length > 0 ? [`All the time on one side of its two points: ${aside.join(", ")}.`] : []),
      ...(energy === undefined ? [] : [energy]),
    ],
  };
}

/** The same as text. */
export function writeFigures(measures: Measures, io: Io): string {
  const { tables, lines } = figureTables(measures);
  return [...tables.flatMap(({ head, rows }) => [writeTable(head, rows, io), ""]), ...lines].join("\n");
}

function ofOutputs(outputs: readonly OutputMeasure[]): FigureTable {
  const hasEnergy = outputs.some(({ energy }) => energy !== undefined);
  const hasCost = outputs.some(({ cost }) => cost !== undefined);
  const head = ["Output", "starts", "a day", "on", "share", "mean on (min..max)", "mean off (min..max)"];
  return {
    head: [...head, ...(hasEnergy ? ["energy"] : []), ...(hasCost ? ["cost"] : [])],
    rows: outputs.map(({ title, starts, startsADay, onTime, share, on, off, energy, cost }) => [
      title,
      String(starts),
      sayRounded(startsADay),
      sayLength(onTime),
      sayShare(share),
      writeLengths(on),
      writeLengths(off),
      ...(hasEnergy ? [energy === undefined ? "-" : sayEnergy(energy)] : []),
      ...(hasCost ? [cost === undefined ? "-" : cost.toFixed(2)] : []),
    ]),
  };
}

function ofKeeps(kept: readonly KeptMeasure[]): FigureTable {
  return {
    head: [
      "Kept",
      "by rule",
      "for",
      "in band",
      "distance",
      "rms",
      "outside",
      "lowest..highest",
      "swing",
      "overshoot",
      "to reach",
    ],
    rows: kept.map((one) => [
      writeExpression(one.value),
      one.rule,
      sayLength(one.applied),
      sayShare(one.inBand),
      difference(one.meanDistance, one.unit),
      difference(one.rmsDistance, one.unit),
      `${difference(one.degreeHours, one.unit)}·h`,
      ...movements(one),
      one.timeToReach ? sayLength(one.timeToReach.mean) : "-",
    ]),
  };
}

function ofPoints(between: readonly KeptMeasure[]): FigureTable {
  return {
    head: ["Two points", "by rule", "for", "below", "between", "above", "lowest..highest", "swing", "overshoot"],
    rows: between.map((one) => [
      writeExpression(one.value),
      one.rule,
      sayLength(one.applied),
      sayShare(one.below),
      sayShare(one.inBand),
      sayShare(one.above),
      ...movements(one),
    ]),
  };
}

function ofCycles(cycles: readonly CycleMeasure[]): FigureTable {
  return {
    head: ["By turns", "by rule", "for", "lowest..highest", "swing"],
    rows: cycles.map((one) => [writeExpression(one.value), one.rule, sayLength(one.applied), ...movements(one).slice(0, 2)]),
  };
}

function movements(one: (KeptMeasure | CycleMeasure) & Pick<KeptMeasure, "overshoot">): string[] {
  const { unit, swing, overshoot } = one;
  return [
    fromTo(one.lowest, one.highest, unit),
    swing ? difference(swing.mean, unit) : "-",
    overshoot ? difference(overshoot.mean, unit) : "-",
  ];
}

/** `41.9..45 %RH`. */
function fromTo(low: number, high: number, unit: Unit): string {
  const lowest = writeReading(low, unit);
  return `${lowest.slice(0, lowest.length - unit.length).trimEnd()}..${writeReading(high, unit)}`;
}

function sayEnergyOf({ energy, cost, peak }: Measures): string | undefined {
  if (energy === undefined) return undefined;
  const at = peak ? `; at most ${writeReading(peak.watts / 1000, "kW")} on at once` : "";
  return `${sayEnergy(energy)}${cost === undefined ? "" : `, ${cost.toFixed(2)}`}${at}.`;
}

/** A difference in the size of a unit, in the unit that differences have. */
export function difference(size: number, unit: Unit): string {
  return writeReading(unit === "°F" ? fromBase((size * 5) / 9, "K") : size, differenceUnit(unit));
}

function writeLengths(lengths: Lengths | undefined): string {
  if (!lengths) return "-";
  const { mean, min, max } = lengths;
  return `${sayLength(mean)} (${sayLength(min)}..${sayLength(max)})`;
}
