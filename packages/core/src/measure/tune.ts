// Which setting is best: one or two knobs over their ranges, each setting simulated in the same weather and with the same
// people; comfort against switching and energy.
import { type House, thingsIn, type Value } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import type { SimulationOptions } from "../physics/index.js";
import { differenceUnit, type Unit, writeReading } from "../units/index.js";
import { aimsOf } from "./aims.js";
import { type Knob, sayKnob, turned } from "./knobs.js";
import type { Aim, KeptMeasure, MeasureOptions } from "./measures.js";
import { measureSimulation } from "./simulation.js";

/** What is tried: every setting once, today's first. */
export interface TuningPlan {
  readonly knobs: readonly Knob[];
  /** Values of the knobs, setting by setting. */
  readonly settings: readonly (readonly Value[])[];
  /** Whose distance from its target is the measure of comfort. */
  readonly about: Aim["about"];
  /** That value, as it is written. */
  readonly value: string;
  /** What drives it: whose starts are counted. */
  readonly outputs: readonly string[];
}

/** What came of one setting. */
export interface TriedSetting {
  readonly values: readonly Value[];
  /** Root-mean-square distance of the kept value from its target, in the unit's own size; undefined where it never applied. */
  readonly distance: number | undefined;
  readonly unit: Unit;
  /** From 0 to 1. */
  readonly inBand: number;
  /** Of what drives it. */
  readonly startsADay: number;
  /** kWh of the whole house; left out where nothing says what it uses. */
  readonly energy?: number;
  readonly cost?: number;
}

/** What all that was tried comes to. */
export interface Tuning {
  readonly plan: TuningPlan;
  /** In the order of the plan, as far as they were tried. */
  readonly tried: readonly TriedSetting[];
  /** Places of those than which none is better in one thing and no worse in all others; energies within 1 % are the same. */
  readonly front: readonly number[];
  /** Of the front, the one nearest to the best of all three, each counted from its best to its worst. */
  readonly recommended?: number;
  /** In a sentence, with what it costs against today's setting. */
  readonly says: string;
}

/** So many settings are tried at most. */
const MOST = 10_000;

/**
 * What should be tried. Comfort is that of the rule named, else of the first value kept by a rule that depends on what is varied.
 * @throws RangeError when there are no knobs or more than two, or nothing is kept
 */
export function planTuning(house: House, knobs: readonly Knob[], rule?: string): TuningPlan {
  if (knobs.length < 1 || knobs.length > 2) throw new RangeError("one or two things are varied");
  const [first, second] = knobs as [Knob, Knob?];
  const today = knobs.map((knob) => knob.today);
  const grid = first.values.flatMap((value): Value[][] => (second ? second.values.map((other) => [value, other]) : [[value]]));
  const settings = [today, ...grid.filter((values) => values.some((value, place) => value !== today[place]))];
  if (settings.length > MOST) throw new RangeError(`these are ${settings.length} settings; ${MOST} are the most`);
  const aims = aimsOf(house).sort((a, b) => Number(b.about.how === "keep") - Number(a.about.how === "keep"));
  const names = knobs.map(({ name }) => name);
  const goesBy = ({ about, ...parts }: Aim) =>
    names.includes(about.rule) || namesBehind(house, parts).some((name) => names.includes(name));
  const aim = rule === undefined ? (aims.find(goesBy) ?? aims[0]) : aims.find(({ about }) => about.rule === rule);
  if (!aim)
    throw new RangeError(
      rule === undefined ? "no rule of the house keeps a value" : `rule ${rule} keeps no value, by keep or by two points`,
    );
  const outputs = aim.drives.flatMap((drive) => drive.outputs);
  return { knobs, settings, about: aim.about, value: writeExpression(aim.value), outputs };
}

/** What it reads, lets opened. */
function namesBehind(house: House, parts: unknown): string[] {
  const names = thingsIn(parts);
  const lets = house.lets.filter(({ name }) => names.includes(name));
  return lets.length === 0 ? names : [...names, ...thingsIn(lets)];
}

/** What each setting is simulated under: the same days, weather, people and seed. */
export type TuneOptions = Omit<SimulationOptions, "keepAt" | "onProgress"> & Pick<MeasureOptions, "price">;

/** Tries one setting of a plan, by its place. @throws RangeError as `measureSimulation` */
export function trySetting(house: House, plan: TuningPlan, place: number, options: TuneOptions = {}): TriedSetting {
  const values = plan.settings[place] as readonly Value[];
  const { house: changed, set } = turned(house, plan.knobs, values);
  const { measures } = measureSimulation(changed, { ...options, set: { ...options.set, ...set } });
  const kept = measures.kept.find((one) => isAbout(one, plan));
  const starts = measures.outputs.filter(({ output }) => plan.outputs.includes(output));
  return {
    values,
    distance: kept?.rmsDistance,
    unit: differenceUnit(kept?.unit ?? ""),
    inBand: kept?.inBand ?? 0,
    startsADay: starts.reduce((sum, { startsADay }) => sum + startsADay, 0),
    ...(measures.energy !== undefined && { energy: measures.energy }),
    ...(measures.cost !== undefined && { cost: measures.cost }),
  };
}

const isAbout = ({ how, rule, sentence, value }: KeptMeasure, { about, value: text }: TuningPlan) =>
  how === about.how && rule === about.rule && sentence === about.sentence && writeExpression(value) === text;

/** What all that was tried comes to; where it was stopped, what was tried until then. */
export function settleTuning(house: House, plan: TuningPlan, tried: readonly TriedSetting[]): Tuning {
  const known = tried.map((one, place) => ({ one, place })).filter(({ one }) => one.distance !== undefined);
  const worths = new Map(known.map(({ one, place }) => [place, worthsOf(one)]));
  const least = Math.min(...known.map(({ one }) => one.energy ?? Number.POSITIVE_INFINITY));
  const coarse = ([distance = 0, starts = 0, energy]: readonly number[]) => [
    distance,
    starts,
    ...(energy === undefined ? [] : [Math.round(energy / (SAME_ENERGY * least || 1))]),
  ];
  const all = [...worths.values()].map(coarse);
  const front = [...worths].filter(([, own]) => !all.some((other) => beats(other, coarse(own)))).map(([place]) => place);
  const recommended = nearest(front, worths);
  const says = sayTuning(house, plan, tried, recommended);
  return { plan, tried, front, ...(recommended !== undefined && { recommended }), says };
}

/** Energies that differ by less than this share of the least are as good as one another. */
const SAME_ENERGY = 0.01;
/** What differs by less than this share of the worst counts for little. */
const LITTLE = 0.1;

/** Less is better in each. */
const worthsOf = ({ distance = 0, startsADay, energy }: TriedSetting) => [
  distance,
  startsADay,
  ...(energy === undefined ? [] : [energy]),
];

function beats(one: readonly number[], other: readonly number[]): boolean {
  return (
    one.every((value, place) => value <= (other[place] as number)) && one.some((value, place) => value < (other[place] as number))
  );
}

function nearest(front: readonly number[], worths: ReadonlyMap<number, readonly number[]>): number | undefined {
  const all = front.map((place) => worths.get(place) as readonly number[]);
  const columns = (all[0] ?? []).map((_, column) => all.map((one) => one[column] as number));
  const ends = columns.map((column) => [Math.min(...column), Math.max(...column)] as const);
  const far = (one: readonly number[]) =>
    Math.sqrt(
      one.reduce((sum, value, column) => {
        const [best, worst] = ends[column] as readonly [number, number];
        return sum + (worst > best ? ((value - best) / Math.max(worst - best, LITTLE * worst)) ** 2 : 0);
      }, 0),
    );
  return [...front].sort((a, b) => far(worths.get(a) as readonly number[]) - far(worths.get(b) as readonly number[]) || a - b)[0];
}

function sayTuning(house: House, plan: TuningPlan, tried: readonly TriedSetting[], recommended: number | undefined): string {
  const { knobs, value } = plan;
  const [today] = tried;
  const best = recommended === undefined ? undefined : tried[recommended];
  if (!today || !best) return `${value} was never kept in this time, so that nothing can be recommended.`;
  const setting = knobs.map((knob, place) => sayKnob(house, knob, best.values[place] as Value)).join(" and ");
  const count = tried.length;
  if (best === today) return `Keep ${setting}: of ${count} settings it is the best balance of distance, starts and energy.`;
  const distance = (one: TriedSetting) => writeReading(one.distance ?? 0, one.unit);
  const energy = ({ energy: own }: TriedSetting) => `${(own ?? 0).toFixed(1)} kWh`;
  const parts = [
    `${value} is ${distance(best)} from its target (root mean square) instead of ${distance(today)}`,
    `${best.startsADay.toFixed(1)} starts a day instead of ${today.startsADay.toFixed(1)}`,
    ...(best.energy === undefined ? [] : [`${energy(best)} instead of ${energy(today)}`]),
  ];
  return `Set ${setting}: ${parts.join(", ")}.`;
}

/**
 * Tries every setting of one or two knobs, one after another; see `planTuning`, `trySetting` and `settleTuning` to try them
 * next to each other. It depends on nothing but what it is given. `rule` is whose value is the measure of comfort; `onProgress` is
 * called with the share done, from 0 to 1, and ends it by giving back `false`.
 * @throws RangeError as `planTuning` and `measureSimulation`
 */
export function tune(
  house: House,
  knobs: readonly Knob[],
  options: TuneOptions & { readonly rule?: string; readonly onProgress?: (share: number) => boolean | undefined } = {},
): Tuning {
  const { rule, onProgress, ...simulation } = options;
  const plan = planTuning(house, knobs, rule);
  const tried: TriedSetting[] = [];
  for (let place = 0; place < plan.settings.length; place++) {
    tried.push(trySetting(house, plan, place, simulation));
    if (onProgress?.(tried.length / plan.settings.length) === false) break;
  }
  return settleTuning(house, plan, tried);
}
