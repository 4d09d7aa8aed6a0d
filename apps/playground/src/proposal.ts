// A trial of what was let happen: how it begins, and what could be expected of it.
import {
  clockOf,
  DAY,
  expectable,
  expressionOf,
  HOUR,
  isSound,
  type Provoked,
  runTrial,
  sayDate,
  valueAt,
  writeExpectation,
  writeExpression,
} from "modrik";
import type { HouseText } from "modrik/language";
import { TIMELINE } from "./timeline.js";

interface Proposal {
  /** When it runs, on what, what is given and what happens. */
  readonly head: string;
  readonly offers: readonly string[];
  /** Why it cannot be a trial. */
  readonly broken?: string;
}

/** From the full hour before the first act to one after the last; without acts all of the run. */
export function proposalOf(run: Provoked, text: HouseText, acts: string): Proposal {
  const { house } = run.past;
  const { happened } = run;
  const clock = clockOf(house.clock);
  const isPlain = happened.length === 0;
  const first = Math.min(...happened.map(({ at }) => at));
  const last = Math.max(...happened.map(({ to }) => to));
  const begins = isPlain ? run.from : Math.max(run.from, Math.floor(first / HOUR) * HOUR);
  const ends = isPlain ? run.to : Math.min(run.to, Math.ceil((last + HOUR) / HOUR) * HOUR);
  const moment = (at: number) => sayDate(clock, at);
  // Where a day ends, the clock of a trial says so by its date.
  const span = ends - begins === DAY ? "for 24 h" : `to ${moment(ends)}`;
  const unmoved = new Set(run.unmoved);
  const given = [...house.sensors, ...house.dials, ...house.modes].flatMap(({ name, type, ...rest }) => {
    if (type.kind === "press") return [];
    const isDial = house.dials.some((one) => one.name === name) || house.modes.some((one) => one.name === name);
    // Of doors and people in simulated rooms, what is given would stay so.
    if (!isDial && type.kind !== "number" && !unmoved.has(name)) return [];
    const base = valueAt(run.past.line({ kind: "value", of: name }), begins);
    if (Number.isNaN(base)) return [];
    const value = rounded(writeExpression(expressionOf(base, type)));
    const usual = "atFirst" in rest ? String((rest as { atFirst: unknown }).atFirst) : undefined;
    return isDial && usual === value.split(" ")[0] ? [] : [`${name} is ${value}`];
  });
  const head = [
    `from ${moment(begins)} ${span}`,
    `simulated, weather ${run.weather.name}`,
    ...(given.length > 0 ? [`given ${given.join(",\n    ")}`] : []),
    ...acts
      .split("\n")
      .map((line) => line.trim())
      .filter((line) => line !== ""),
  ];
  const hasWeather = house.weathers.some(({ name }) => name === run.weather.name);
  const lines = hasWeather ? head : head.map((line) => (line.startsWith("simulated") ? "simulated" : line));
  const tried = text.with(TIMELINE, `trial proposed_here {\n${lines.join("\n")}\n}`);
  const trial = tried.house.trials.find(({ name }) => name === "proposed_here");
  const [problem] = tried.problems.filter(({ place }) => place.file === TIMELINE);
  const broken = problem ? `${problem.reason} ${problem.remedy ?? ""}`.trim() : undefined;
  const offers = trial && isSound(tried) ? expectable(runTrial(tried.house, trial).run).map(writeExpectation) : [];
  return { head: lines.join("\n"), offers, ...(broken !== undefined && { broken }) };
}

/** To two digits after the point: nobody gives a room more exactly. */
const rounded = (text: string) => text.replace(/-?\d+\.\d{3,}/, (number) => String(Math.round(Number(number) * 100) / 100));
