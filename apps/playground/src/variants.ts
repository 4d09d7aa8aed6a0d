// Another variant of a house over the days that are shown: the same weather, the same hours.
import { chartOfComparison } from "@modrik/charts";
import {
  aimsInCommon,
  clockOf,
  compare,
  dateOfDay,
  isSound,
  labelOfCompared,
  measure,
  provoke,
  type Run,
  sayCompared,
} from "modrik";
import type { HouseText } from "modrik/language";
import type { Comparison, Look, Setup } from "./messages.js";
import { fitting } from "./open-house.js";
import { optionsOf } from "./simulated-days.js";
import { readTimeline } from "./timeline.js";

interface Variant {
  readonly text: HouseText;
  readonly setup: Setup;
  readonly name: string;
}

/** @throws RangeError when the other one cannot be run over the same time */
export function comparisonOf(
  { run, setup: now }: { readonly run: Run; readonly setup: Setup },
  { text, setup, name }: Variant,
  look: Look,
): Comparison {
  if (!isSound(text)) throw new RangeError(`the variant "${name}" has errors in its text`);
  const date = dateOfDay(clockOf(run.past.house.clock).local(run.from).day);
  const { house, happenings } = readTimeline(text, setup.acts, date, now.days);
  const other = provoke(house, happenings, optionsOf(house, { ...setup, from: date, days: now.days, weather: now.weather }));
  if (other.from !== run.from || other.to !== run.to)
    throw new RangeError("its clock is another one: the two are not of the same time");
  const variants = [
    { name: "now", run, house: run.past.house, set: fitting(run.past.house, now.set) },
    { name, run: other, house, set: fitting(house, setup.set) },
  ];
  const aims = aimsInCommon(variants);
  const figures = compare(
    variants.map((one, place) => ({ name: one.name, measures: measure(one.run, { aims: aims[place] ?? [] }) })),
  );
  const rows = figures
    .map((figure) => ({
      label: labelOfCompared(figure),
      values: figure.values.map((value) => sayCompared(figure, value)),
      best: figure.best,
    }))
    .filter(({ values }) => new Set(values).size > 1);
  const chart = chartOfComparison(variants, { ...look, zone: undefined, height: 320, title: "" });
  return { chart, names: variants.map((one) => one.name), rows, same: figures.length - rows.length };
}
