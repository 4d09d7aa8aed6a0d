// Everything the language knows of how a house is simulated, a row each: figures of zones and of the air outdoors, what
// acts on zones, and what people do.
import {
  builds,
  constantIn,
  type Effect,
  type Given,
  type PeopleHabit,
  type Weather,
  type ZonePhysics,
} from "../../house/index.js";
import { dimensionOf, isUnit, type Unit } from "../../units/index.js";
import { bindFigure, bindWord } from "../binder/fixed.js";
import { hasReach } from "../binder/reach.js";
import type { Scope } from "../binder/scope.js";
import { bindDuration } from "../binder/terms.js";
import { outdoorsHabits } from "../habits.js";
import type { Cursor } from "../parser/cursor.js";
import { maybe, type PhraseNode, type Piece, type Row, row, type Slot } from "../phrase.js";
import type { OfKind, Term, Word } from "../syntax.js";
import type { Span } from "../token.js";
import { nowhere, numberTerm, word as wordOf } from "../unbind/terms.js";
import { writeTerm } from "../write/terms.js";
import { ofZone, signed, sum, word } from "./slots.js";

/** Where something stands. */
export interface At {
  readonly scope: Scope;
  readonly span: Span;
}

// ── Figures ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** One figure: its unit, what it is where it is not said, and what it may be. */
export interface Figure extends Row<number, At> {
  readonly unit?: Unit;
  /** The words it may be, where it is no number. */
  readonly words?: readonly string[];
  /** Left out where it has to be said. */
  readonly usual?: number;
  /** How it is asked for: `volume … m³`. */
  readonly example: string;
}

interface FigureOptions {
  readonly unit: Unit;
  readonly usual?: number;
  /** What one of the unit is in the house's own figures. @default 1 */
  readonly factor?: number;
  /** What it is written in again, where another unit reads better. */
  readonly said?: { readonly unit: Unit; readonly factor: number };
  readonly least?: "zero" | "above zero";
  readonly most?: number;
}

function figure(words: string, options: FigureOptions, behind: readonly Piece[] = []): Figure {
  const { unit, usual, factor = 1, said = { unit, factor }, least, most } = options;
  return {
    phrase: [words, { figure: signed }, ...behind],
    says: `${words} … ${unit}`.trim(),
    unit,
    bind(parts, { scope }) {
      const term = parts.figure as Term;
      const found = bindFigure(term, unit, scope);
      if (found === undefined) return undefined;
      if (most !== undefined && found > most)
        scope.faults.add(term.span, { kind: "outOfRange", what: writeTerm(term), range: `0..${most} ${unit}` });
      if (found < 0 && least) {
        const says = `${words} cannot be below zero.`;
        scope.faults.add(term.span, { kind: "backwards", says, remedy: "Remove the minus." });
      } else if (found === 0 && least === "above zero") {
        const says = `${words} must be greater than 0: every room has some air and stores some heat.`;
        scope.faults.add(term.span, { kind: "backwards", says, remedy: "Write a figure above zero." });
      }
      return found * factor;
    },
    unbind: (value) => ({ figure: numberTerm(value / said.factor, said.unit) }),
    ...(usual !== undefined && { usual }),
    example: `${words} … ${unit}`,
  };
}

const zero = { least: "zero" as const };

export const zoneFigures: { readonly [Name in keyof Omit<ZonePhysics, "zone" | "floor" | "built">]-?: Figure } = {
  volume: figure("volume", { unit: "m³", least: "above zero" }),
  loses: figure("loses", { unit: "W/K", ...zero }),
  stores: figure("stores", { unit: "MJ/K", factor: 1e6, said: { unit: "kJ/K", factor: 1e3 }, least: "above zero" }),
  leaks: figure("leaks", { unit: "/h", ...zero }),
  soaks: figure("soaks", { unit: "g/%RH", ...zero }),
  window: figure("window", { unit: "%", most: 100, ...zero }, ["of daylight"]),
  glass: figure("glass", { unit: "m²", ...zero }),
  couples: figure("walls pass", { unit: "W/K", ...zero }),
  wood: lasting("wood follows in"),
};

export const airFigures: {
  readonly [Name in Exclude<keyof Weather, "name" | "title" | "note" | "recording" | "recorded">]-?: Figure;
} = {
  outdoors: figure("outdoors", { unit: "°C" }),
  swings: figure("swings", { unit: "K", usual: 0, ...zero }),
  seasons: figure("seasons", { unit: "K", usual: 0, ...zero }),
  humidity: figure("humidity", { unit: "%RH", usual: 75, most: 100, ...zero }),
  cloud: figure("cloud", { unit: "%", usual: 50, most: 100, ...zero }),
  fronts: lasting("fronts every"),
  seed: figure("seed", { unit: "", ...zero }),
};

/** A figure that is a length of time. */
function lasting(words: string): Figure {
  return {
    phrase: [words, { lasts: sum }],
    says: `${words} … h`,
    bind(parts, { scope }) {
      const term = parts.lasts as Term;
      const lasts = bindDuration(term, scope);
      return lasts && constantIn(lasts);
    },
    unbind: (ms) => ({ lasts: numberTerm(ms, "ms") }),
    example: `${words} … h`,
  };
}

/** What is said of a room: its figures, or how large it is and how it is built. */
export const roomRows = {
  floor: figure("floor", { unit: "m²", least: "above zero" }),
  built: {
    phrase: ["built", { built: word(Object.keys(builds).join(", ")) }],
    words: Object.keys(builds),
    says: "built solid",
    bind: (parts, { scope }) => {
      const words = Object.keys(builds);
      const found = bindWord(parts.built as Word, scope, { kind: "words", words, ordered: false });
      return found === undefined ? undefined : words.indexOf(String(found));
    },
    unbind: (place) => ({ built: wordOf(Object.keys(builds)[place] as string) }),
    example: "built solid",
  } satisfies Figure,
  ...zoneFigures,
} as const;

/** The figures that are said, by their names. */
export function bindFigures<Name extends string>(
  nodes: readonly PhraseNode[],
  rows: Readonly<Record<Name, Figure>>,
  scope: Scope,
): Partial<Record<Name, number>> {
  const said: Partial<Record<Name, number>> = {};
  for (const { kind, parts, span } of nodes) {
    const bound = rows[kind as Name].bind(parts, { scope, span });
    if (bound !== undefined) said[kind as Name] = bound;
  }
  return said;
}

/** What figures are where they are not said. */
export function usualOf<Name extends string>(rows: Readonly<Record<Name, Figure>>): Partial<Record<Name, number>> {
  const entries = (Object.entries(rows) as [Name, Figure][]).filter(([, { usual }]) => usual !== undefined);
  return Object.fromEntries(entries.map(([name, { usual }]) => [name, usual])) as Partial<Record<Name, number>>;
}

export function unbindFigures<Name extends string>(
  figures: Readonly<Partial<Record<Name, number>>>,
  rows: Readonly<Record<Name, Figure>>,
): PhraseNode<Name>[] {
  return (Object.entries(rows) as [Name, Figure][]).flatMap(([kind, one]) => {
    const value = figures[kind];
    return value === undefined ? [] : [{ kind, parts: one.unbind(value, undefined), span: nowhere }];
  });
}

// ── Effects ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

const gains = { heat: "W", water: "g/h", light: "lx", air: "m³/h" } as const satisfies Record<Given, Unit>;

/** What comes in such a unit. */
export function givenIn(unit: string): Given | undefined {
  const dimension = isUnit(unit) ? dimensionOf(unit) : undefined;
  return (Object.keys(gains) as Given[]).find((one) => dimensionOf(gains[one]) === dimension);
}

const givenWord = word('"heat", "water", "light" or "air"');

/** `of heat`; where that is left out, the unit before it tells. */
const ofGiven: Slot<Word> = {
  says: '"of heat", "of water", "of light" or "of air"',
  read(c) {
    if (c.takeWord("of")) {
      const what = givenWord.read(c);
      if (what.text === "air" && c.comes("to")) airComes(c);
      return what;
    }
    const { taken } = c;
    const isSaid = Object.hasOwn(gains, c.token.text);
    const what = isSaid ? c.token.text : givenIn(taken.unit);
    if (what === undefined) return c.failFor(ofGiven.says);
    const remedy = `Write ${taken.text} of ${what}.`;
    c.faults.add(taken, {
      kind: "missing",
      what: `"${taken.text}" does not say of what.`,
      remedy,
      after: isSaid ? "of" : `of ${what}`,
    });
    return isSaid ? givenWord.read(c) : { text: what, span: taken };
  },
  write: (what) => `of ${what.text}`,
};

/** `of air to outdoors`: what is blown out there comes in from there. */
function airComes(c: Cursor): void {
  const to = c.peek();
  if (to.text !== "outdoors" && !outdoorsHabits.has(to.text))
    c.missing(c.token, "Of air is said where it comes from.", `Write of the other: … of air from the zone it leaves.`);
  c.takeAllMeant("from outdoors", ["to", to.text]);
}

/** The zone that air is changed with, or the outdoors; told where these are called otherwise. */
function bindPlace(place: Word, scope: Scope): string | undefined {
  if (place.text === "outdoors") return "outdoors";
  if (outdoorsHabits.has(place.text) && !scope.symbols.has(place.text)) {
    scope.faults.add(place.span, { kind: "habit", written: place.text, meant: "outdoors" });
    return "outdoors";
  }
  return scope.resolve(place, ["zone"])?.name;
}

const amountOf = [
  { amount: signed },
  { what: ofGiven },
  maybe("from", { from: word('"outdoors" or a zone') }),
  maybe("lagging", { lags: sum }),
] as const;

interface GivenParts {
  readonly amount: Term;
  readonly what: Word;
  readonly from?: Word | undefined;
  readonly lags?: Term | undefined;
}

function bindGiven({ amount: term, what: said, from: where, lags }: GivenParts, scope: Scope) {
  const words = Object.keys(gains);
  const what = bindWord(said, scope, { kind: "words", words, ordered: false }) as Given | undefined;
  const amount = what && bindFigure(term, gains[what], scope);
  if (!what || amount === undefined) return undefined;
  const time = lags && bindDuration(lags, scope);
  const lagging = time && constantIn(time);
  if (lags && what !== "heat") {
    scope.faults.add(lags.span, { kind: "missing", what: `Only heat comes lagging.`, remedy: "Remove lagging …." });
    return { what, amount };
  }
  if (what !== "air") {
    if (where)
      scope.faults.add(where.span, { kind: "missing", what: `Only air comes from somewhere.`, remedy: "Remove from …." });
    return { what, amount, ...(lagging !== undefined && { lagging }) };
  }
  if (amount < 0) {
    scope.faults.add(term.span, { kind: "backwards", says: "Air cannot be below zero.", remedy: "Remove the minus." });
    return undefined;
  }
  const from = where === undefined ? "outdoors" : bindPlace(where, scope);
  return from === undefined ? undefined : { what, amount, from };
}

function unbindGiven({ what, amount, from, lagging }: Omit<OfKind<Effect, "gives">, "kind" | "output">) {
  return {
    amount: numberTerm(amount, gains[what]),
    what: wordOf(what),
    ...(from !== undefined && { from: wordOf(from) }),
    ...(lagging !== undefined && { lags: numberTerm(lagging, "ms") }),
  };
}

/** A figure above zero. */
function bindPositive(term: Term, unit: Unit, scope: Scope): number | undefined {
  const found = bindFigure(term, unit, scope);
  if (found === undefined || found > 0) return found;
  const says = `${writeTerm(term)} is not above zero.`;
  scope.faults.add(term.span, { kind: "backwards", says, remedy: "Write a figure above zero." });
  return undefined;
}

/** An output that moves water, and the sensor of where it comes from or goes to. */
function bindFlow(parts: { readonly output: Word; readonly sensor: Word }, scope: Scope) {
  const output = scope.resolve(parts.output, ["output"]);
  const sensor = scope.resolve(parts.sensor, ["sensor"]);
  return output && sensor && { output: output.name, sensor: sensor.name };
}

const effect = <Kind extends Effect["kind"]>() => row<OfKind<Effect, Kind>, At>();
const thing = ofZone("an output or sensor of a zone, e.g. bench.heater");

export const effectRows: { readonly [Kind in Effect["kind"]]: Row<OfKind<Effect, Kind>, At> } = {
  gives: effect<"gives">()([{ output: thing }, "gives", ...amountOf], {
    bind(parts, { scope }) {
      const output = scope.resolve(parts.output, ["output"]);
      const given = bindGiven(parts, scope);
      if (!output || !given) return undefined;
      const { type } = output;
      if (!hasReach(output, parts.output.span, scope)) return undefined;
      if (type?.kind === "words" && type.words.length > 2 && !type.words.includes("on")) {
        const remedy = `Say it of each: ${output.name} ${type.words[1]} gives … of ${given.what}.`;
        scope.faults.add(parts.output.span, { kind: "missing", what: `${output.name} has no state on.`, remedy });
        return undefined;
      }
      return { kind: "gives", output: output.name, ...given };
    },
    unbind: ({ output, ...given }) => ({ output: wordOf(output), ...unbindGiven(given) }),
  }),
  "word gives": effect<"word gives">()([{ output: thing }, { word: word("a state of the output") }, "gives", ...amountOf], {
    bind(parts, { scope }) {
      const output = scope.resolve(parts.output, ["output"]);
      const said = output?.type && bindWord(parts.word, scope, output.type);
      const given = bindGiven(parts, scope);
      return output && said !== undefined && given
        ? { kind: "word gives", output: output.name, word: said, ...given }
        : undefined;
    },
    unbind: ({ output, word: said, ...given }) => ({ output: wordOf(output), word: wordOf(said), ...unbindGiven(given) }),
  }),
  leak: effect<"leak">()(
    [
      { sensor: thing },
      { word: word('"gives", or a word of the sensor') },
      "adds",
      { amount: signed },
      "of leak to",
      { to: word('"outdoors" or a zone') },
    ],
    {
      bind(parts, { scope }) {
        const sensor = scope.resolve(parts.sensor, ["sensor"]);
        const perHour = bindFigure(parts.amount, "/h", scope);
        const said = sensor?.type && bindWord(parts.word, scope, sensor.type);
        const to = bindPlace(parts.to, scope);
        if (!sensor || said === undefined || perHour === undefined || to === undefined) return undefined;
        return { kind: "leak", sensor: sensor.name, word: said, perHour, to };
      },
      unbind: ({ sensor, word: said, perHour, to }) => ({
        sensor: wordOf(sensor),
        word: wordOf(said),
        amount: numberTerm(perHour, "/h"),
        to: wordOf(to),
      }),
    },
  ),
  holds: effect<"holds">()([{ sensor: thing }, "holds", { amount: signed }], {
    bind(parts, { scope }) {
      const sensor = scope.resolve(parts.sensor, ["sensor"]);
      const amount = bindPositive(parts.amount, "l", scope);
      return sensor && amount !== undefined ? { kind: "holds", sensor: sensor.name, amount } : undefined;
    },
    unbind: ({ sensor, amount }) => ({ sensor: wordOf(sensor), amount: numberTerm(amount, "l") }),
  }),
  float: effect<"float">()([{ sensor: thing }, "turns", { word: word("a word of the sensor") }, "at", { amount: signed }], {
    bind(parts, { scope }) {
      const sensor = scope.resolve(parts.sensor, ["sensor"]);
      const said = sensor?.type && bindWord(parts.word, scope, sensor.type);
      const below = bindPositive(parts.amount, "l", scope);
      return sensor && said !== undefined && below !== undefined
        ? { kind: "float", sensor: sensor.name, word: said, below }
        : undefined;
    },
    unbind: ({ sensor, word: said, below }) => ({
      sensor: wordOf(sensor),
      word: wordOf(said),
      amount: numberTerm(below, "l"),
    }),
  }),
  gains: effect<"gains">()([{ sensor: thing }, "gains", { amount: signed }], {
    bind(parts, { scope }) {
      const sensor = scope.resolve(parts.sensor, ["sensor"]);
      const amount = bindPositive(parts.amount, "l/h", scope);
      return sensor && amount !== undefined ? { kind: "gains", sensor: sensor.name, amount } : undefined;
    },
    unbind: ({ sensor, amount }) => ({ sensor: wordOf(sensor), amount: numberTerm(amount, "l/h") }),
  }),
  soil: effect<"soil">()([{ sensor: thing }, "is", { area: signed }, "of soil", { depth: signed }, "deep"], {
    bind(parts, { scope }) {
      const sensor = scope.resolve(parts.sensor, ["sensor"]);
      const area = bindPositive(parts.area, "m²", scope);
      const depth = bindPositive(parts.depth, "m", scope);
      return sensor && area !== undefined && depth !== undefined ? { kind: "soil", sensor: sensor.name, area, depth } : undefined;
    },
    unbind: ({ sensor, area, depth }) => ({
      sensor: wordOf(sensor),
      area: numberTerm(area, "m²"),
      depth: numberTerm(depth * 100, "cm"),
    }),
  }),
  outdoors: effect<"outdoors">()([{ zone: word("the name of a zone") }, "is outdoors"], {
    bind(parts, { scope }) {
      const zone = scope.resolve(parts.zone, ["zone"]);
      return zone && { kind: "outdoors", zone: zone.name };
    },
    unbind: ({ zone }) => ({ zone: wordOf(zone) }),
  }),
  surface: effect<"surface">()([{ sensor: thing }, "is a surface with", { warmth: signed }, "of the warmth"], {
    bind(parts, { scope }) {
      const sensor = scope.resolve(parts.sensor, ["sensor"]);
      const warmth = bindPositive(parts.warmth, "%", scope);
      if (warmth !== undefined && warmth > 100)
        scope.faults.add(parts.warmth.span, { kind: "outOfRange", what: writeTerm(parts.warmth), range: "0..100 %" });
      return sensor && warmth !== undefined ? { kind: "surface", sensor: sensor.name, warmth } : undefined;
    },
    unbind: ({ sensor, warmth }) => ({ sensor: wordOf(sensor), warmth: numberTerm(warmth, "%") }),
  }),
  draws: effect<"draws">()([{ output: thing }, "draws from", { sensor: thing }], {
    bind(parts, { scope }) {
      const flow = bindFlow(parts, scope);
      return flow && { kind: "draws", ...flow };
    },
    unbind: ({ output, sensor }) => ({ output: wordOf(output), sensor: wordOf(sensor) }),
  }),
  waters: effect<"waters">()([{ output: thing }, "waters", { sensor: thing }], {
    bind(parts, { scope }) {
      const flow = bindFlow(parts, scope);
      return flow && { kind: "waters", ...flow };
    },
    unbind: ({ output, sensor }) => ({ output: wordOf(output), sensor: wordOf(sensor) }),
  }),
  passes: effect<"passes">()(
    [{ zone: word("the name of a zone") }, "beside", { other: word("the name of a zone") }, "passes", { amount: signed }],
    {
      bind(parts, { scope }) {
        const zone = scope.resolve(parts.zone, ["zone"]);
        const other = scope.resolve(parts.other, ["zone"]);
        const amount = bindFigure(parts.amount, "W/K", scope);
        return zone && other && amount !== undefined ? { kind: "passes", zone: zone.name, other: other.name, amount } : undefined;
      },
      unbind: ({ zone, other, amount }) => ({ zone: wordOf(zone), other: wordOf(other), amount: numberTerm(amount, "W/K") }),
    },
  ),
};

// ── People ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

export const habitFigures: { readonly [Name in Exclude<keyof PeopleHabit, "zone" | "during">]-?: Figure } = {
  every: lasting("comes and goes every"),
  breathes: figure("breathes", { unit: "l/h", ...zero }),
  showers: lasting("showers for"),
  cooks: lasting("cooks for"),
  airs: lasting("airs every"),
  props: lasting("props doors open every"),
  opensAbove: figure("opens windows above", { unit: "°C" }),
  coat: figure("lays a coat of", { unit: "g", ...zero }),
};
