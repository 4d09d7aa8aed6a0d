// Several runs side by side: the figures in which they differ, and whose is better.
import { type Expression, type House, replaceParts, thingsIn, type Value, visitExpressions } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { differenceUnit, type Unit } from "../units/index.js";
import { aimsOf } from "./aims.js";
import type { Aim, KeptMeasure, Measures } from "./measures.js";

/** A run that is compared, under a name of its own. */
export interface Compared {
  readonly name: string;
  readonly measures: Measures;
}

/** What is compared: of outputs, of kept values, of the whole run. */
export type FigureName =
  | "starts"
  | "on"
  | "energy"
  | "cost"
  | "in band"
  | "rms distance"
  | "outside"
  | "swing"
  | "overshoot"
  | "time to reach"
  | "all energy"
  | "all cost"
  | "notices";

/** One figure of all runs. */
export interface ComparedFigure {
  readonly figure: FigureName;
  /** What it is of: an output by its name and title, a value as it is written; nothing of the whole run. */
  readonly of?: string;
  readonly title?: string;
  /** The rule that keeps the value. */
  readonly rule?: string;
  /** Of differences, the unit they are in. Times are ms, shares from 0 to 1, energies kWh. */
  readonly unit?: Unit;
  /** In the order of the runs; undefined where a run has none. */
  readonly values: readonly (number | undefined)[];
  /** Places of the runs that are best; none where all are the same, or neither more nor less is better. */
  readonly best: readonly number[];
}

/** What of a kept value is compared, and which way is better. */
const ofKept: readonly (readonly [FigureName, 1 | -1, (one: KeptMeasure) => number | undefined])[] = [
  ["in band", 1, ({ inBand }) => inBand],
  ["rms distance", -1, ({ rmsDistance }) => rmsDistance],
  ["outside", -1, ({ degreeHours }) => degreeHours],
  ["swing", -1, ({ swing }) => swing?.mean],
  ["overshoot", -1, ({ overshoot }) => overshoot?.mean],
  ["time to reach", -1, ({ timeToReach }) => timeToReach?.mean],
];
const IN_UNITS: ReadonlySet<FigureName> = new Set<FigureName>(["rms distance", "outside", "swing", "overshoot"]);

/**
 * The figures of several runs side by side. Kept values are compared where every run has them, by rule and place or, with
 * `aimsInCommon`, by value.
 * @throws RangeError when there are fewer than two runs
 */
export function compare(runs: readonly Compared[]): ComparedFigure[] {
  if (runs.length < 2) throw new RangeError("it takes two runs to compare");
  const figures: ComparedFigure[] = [];
  const add = (figure: Omit<ComparedFigure, "best">, way: 1 | -1 | 0) =>
    figures.push({ ...figure, best: way === 0 ? [] : bestOf(figure.values, way) });
  for (const [key, one] of byKey(runs, ({ measures }) => measures.kept.map((kept) => [keyOf(kept), kept] as const))) {
    const kept = runs.map(({ measures }) => measures.kept.find((other) => keyOf(other) === key));
    if (kept.some((other) => other === undefined)) continue;
    for (const [figure, way, of] of ofKept) {
      const values = kept.map((other) => of(other as KeptMeasure));
      const unit = IN_UNITS.has(figure) ? { unit: differenceUnit(one.unit) } : {};
      const rule = one.rule === IN_COMMON ? {} : { rule: one.rule };
      if (values.some((value) => value !== undefined))
        add({ figure, of: writeExpression(one.value), ...rule, ...unit, values }, way);
    }
  }
  for (const [name, { title }] of byKey(runs, ({ measures }) =>
    measures.outputs.map((output) => [output.output, output] as const),
  )) {
    const outputs = runs.map(({ measures }) => measures.outputs.find(({ output }) => output === name));
    const about = { of: name, title };
    add({ figure: "starts", ...about, values: outputs.map((output) => output?.starts) }, -1);
    add({ figure: "on", ...about, values: outputs.map((output) => output?.onTime) }, 0);
    if (outputs.some((output) => output?.energy !== undefined))
      add({ figure: "energy", ...about, values: outputs.map((output) => output?.energy) }, -1);
    if (outputs.some((output) => output?.cost !== undefined))
      add({ figure: "cost", ...about, values: outputs.map((output) => output?.cost) }, -1);
  }
  const whole = (figure: FigureName, of: (measures: Measures) => number | undefined, way: 1 | -1 | 0) => {
    const values = runs.map(({ measures }) => of(measures));
    if (values.some((value) => value !== undefined)) add({ figure, values }, way);
  };
  whole("all energy", ({ energy }) => energy, -1);
  whole("all cost", ({ cost }) => cost, -1);
  whole("notices", ({ notices }) => notices, 0);
  return figures;
}

const keyOf = ({ how, rule, sentence, value }: KeptMeasure) => `${how} ${rule} ${sentence} ${writeExpression(value)}`;

/** Of all runs, each key once, in the order in which they come. */
function byKey<Item>(runs: readonly Compared[], of: (run: Compared) => readonly (readonly [string, Item])[]): Map<string, Item> {
  return new Map(runs.flatMap(of).reverse()) as Map<string, Item>;
}

/** Figures that differ by less are the same. */
const SAME = 1e-9;

function bestOf(values: readonly (number | undefined)[], way: 1 | -1): number[] {
  const known = values.flatMap((value) => (value === undefined ? [] : [value * way]));
  const [most, least] = [Math.max(...known), Math.min(...known)];
  if (!(most - least > SAME * Math.max(1, Math.abs(most)))) return [];
  return values.flatMap((value, place) =>
    value !== undefined && most - value * way <= SAME * Math.max(1, Math.abs(most)) ? [place] : [],
  );
}

// ── What houses with other rules are measured by ────────────────────────────────────────────────────────────────────────

/** A house, and what its dials are set to. */
export interface Variant {
  readonly house: House;
  readonly set?: Readonly<Record<string, Value>>;
}

/** Stands in the place of a rule where an aim is none of the house's own. */
const IN_COMMON = "(in common)";

/**
 * What is measured of several houses alike, where they keep a value by other rules: the target and tolerance of the first
 * house that says them, by a `keep` before two points. One list for each house; empty where all have the same rules.
 */
export function aimsInCommon(variants: readonly Variant[]): (readonly Aim[])[] {
  const own = variants.map((variant) => aimsOf(variant.house).map((aim) => ({ aim, variant, text: writeExpression(aim.value) })));
  const all = own.flat();
  const isEverywhere = ({ aim, text }: (typeof all)[number]) =>
    own.every((list) => list.some((other) => other.text === text && sameSentence(other.aim, aim)));
  const values = [...new Set(all.filter((one) => !isEverywhere(one)).map(({ text }) => text))];
  const aims = values.flatMap((text) => {
    const found = all
      .filter((one) => one.text === text)
      .sort((a, b) => Number(b.aim.about.how === "keep") - Number(a.aim.about.how === "keep"))[0];
    return found ? [settled(found.aim, found.variant)] : [];
  });
  return variants.map(({ house }) => aims.flatMap((aim) => fitted(aim, house)));
}

const sameSentence = (one: Aim, other: Aim) =>
  one.about.how === other.about.how && one.about.rule === other.about.rule && one.about.sentence === other.about.sentence;

/** Its dials as the numbers they stand at. */
function settled(aim: Aim, { house, set = {} }: Variant): Aim {
  const numbers = new Map(
    house.dials.flatMap(({ name, type, atFirst }) => {
      const value = set[name] ?? atFirst;
      return type.kind === "number" && typeof value === "number"
        ? [[name, { kind: "number", value, unit: type.unit } satisfies Expression] as const]
        : [];
    }),
  );
  const replace = (part: unknown) => {
    const { kind, of } = (typeof part === "object" && part !== null ? part : {}) as { kind?: unknown; of?: unknown };
    return kind === "value" && typeof of === "string" ? (numbers.get(of) ?? part) : part;
  };
  const { low, high, below, above } = replaceParts({ low: aim.low, high: aim.high, below: aim.below, above: aim.above }, replace);
  return { ...aim, about: { how: "keep", rule: IN_COMMON, sentence: 0 }, low, high, below, above };
}

/** As far as a house has what it speaks of. */
function fitted(aim: Aim, house: House): Aim[] {
  const names = new Set([house.sensors, house.outputs, house.dials, house.modes, house.lets].flat().map(({ name }) => name));
  const has = (part: unknown) => {
    let fits = thingsIn(part).every((name) => names.has(name));
    visitExpressions(part, (one) => {
      if (one.kind === "during") fits &&= house.schedules.some(({ name }) => name === one.schedule);
    });
    return fits;
  };
  if (!has([aim.value, aim.low, aim.high, aim.below, aim.above])) return [];
  const drives = aim.drives.map(({ outputs, way }) => ({ outputs: outputs.filter((name) => names.has(name)), way }));
  return [{ ...aim, applies: has(aim.applies ?? []) ? aim.applies : undefined, drives }];
}
