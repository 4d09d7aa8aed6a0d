// Zones and what is in them, dials, modes and groups, written in TypeScript as plain data.

import type { Dial, Group, Mode, Output, Sensor, Zone as ZoneData } from "../house/index.js";
import { onOff, type Range, type ValueType } from "../house/index.js";
import type { Dimension, DimensionOf, Unit } from "../units/index.js";
import {
  type Amount,
  amount,
  type ColourOf,
  type DifferenceOf,
  type Lasting,
  type NumberOf,
  type Pressed,
  type Term,
  type TimeOfDay,
  timeOfDay,
  type WordOf,
} from "./kinds.js";

type Declaration =
  | { readonly list: "sensors"; readonly thing: Sensor }
  | { readonly list: "outputs"; readonly thing: Output }
  | { readonly list: "dials"; readonly thing: Dial }
  | { readonly list: "modes"; readonly thing: Mode };

/** A thing that has its name: what conditions and rules speak of. */
export interface Thing<Role extends "sensor" | "output" | "dial" | "mode", Kind> extends Term<Kind> {
  readonly role: Role;
  readonly name: string;
  readonly declaration: Declaration;
}

/** A thing that has no name yet; it gets that of its place in a zone. */
export interface Spec<Role extends "sensor" | "output" | "dial" | "mode", Kind> {
  named(name: string): Thing<Role, Kind>;
}

/** How people call a thing, and what they should know of it. */
export interface Titled {
  readonly title?: string;
  readonly note?: string;
}

/** What is left out stays out: the data is then equal to that of a text. */
export function titled({ title, note }: Titled): Titled {
  return { ...(title !== undefined && { title }), ...(note !== undefined && { note }) };
}

function spec<Role extends "sensor" | "output" | "dial" | "mode", Kind>(
  role: Role,
  type: ValueType,
  declare: (name: string) => Declaration,
): Spec<Role, Kind> {
  const words = type.kind === "words" ? { words: type.words } : {};
  return {
    named: (name) => ({ role, name, declaration: declare(name), expression: { kind: "value", of: name }, ...words }),
  };
}

/** What a thing holds: a number in a unit, one of some words, `on/off`, a press, a time of day, a colour. */
type Holds = Unit | readonly string[] | "press" | "on/off" | "time" | "colour";

export function typeOf(of: Holds, ordered = false): ValueType {
  if (typeof of !== "string") return { kind: "words", words: of, ordered };
  if (of === "press" || of === "time" || of === "colour") return { kind: of };
  return of === "on/off" ? onOff : { kind: "number", unit: of };
}

/** Of words: whether they go from lowest to highest. */
interface Ordered {
  /** @default false */
  readonly ordered?: boolean;
}

/** What is said of a sensor; see `Sensor` for what each means. */
export interface SensorOptions<Of extends Dimension = Dimension> extends Titled, Ordered {
  readonly range?: Range;
  readonly unknownAfter?: Lasting;
  readonly lastsForEver?: true;
  readonly scale?: number;
  readonly offset?: number;
  readonly reads?: Sensor["reads"];
  readonly smoothOver?: Lasting;
  readonly reportsEvery?: Lasting;
  readonly reportsOnChangeOf?: Amount<DifferenceOf<Of>>;
  readonly lags?: Lasting;
  readonly wobblesBy?: Amount<DifferenceOf<Of>>;
  readonly movesAtMost?: { readonly by: Amount<DifferenceOf<Of>>; readonly in: Lasting };
  readonly deviceHealth?: true;
}

/** Amounts as expressions; what is left out stays out. */
function amounts<Names extends string>(of: { readonly [Name in Names]?: unknown }, names: readonly Names[]) {
  const said = names.filter((name) => of[name] !== undefined);
  return Object.fromEntries(said.map((name) => [name, amount(of[name] as Lasting)]));
}

/** What is said, without what is not. */
function said<Of extends object, Names extends keyof Of>(
  of: Of,
  names: readonly Names[],
): { readonly [Name in Names]?: Exclude<Of[Name], undefined> } {
  return Object.fromEntries(names.flatMap((name) => (of[name] === undefined ? [] : [[name, of[name]]]))) as never;
}

/** A number in a unit, one of some words, or a press. */
export function sensor<Of extends Unit>(
  of: Of,
  options?: SensorOptions<DimensionOf<Of>>,
): Spec<"sensor", NumberOf<DimensionOf<Of>>>;
export function sensor<const Words extends readonly [string, string, ...string[]]>(
  of: Words,
  options?: SensorOptions<never>,
): Spec<"sensor", WordOf<Words[number]>>;
export function sensor(of: "on/off", options?: SensorOptions<never>): Spec<"sensor", WordOf<"on" | "off">>;
export function sensor(of: "time", options?: SensorOptions<never>): Spec<"sensor", TimeOfDay>;
export function sensor(of: "colour", options?: SensorOptions<never>): Spec<"sensor", ColourOf>;
export function sensor(of: "press", options?: Titled): Spec<"sensor", Pressed>;
export function sensor(of: Holds, given: object = {}): Spec<"sensor", never> {
  const options: SensorOptions = given;
  const { movesAtMost, ordered } = options;
  const type = typeOf(of, ordered);
  const thing = {
    ...titled(options),
    type,
    ...said(options, ["range", "lastsForEver", "scale", "offset", "reads", "deviceHealth"]),
    ...amounts(options, ["unknownAfter", "smoothOver", "reportsEvery", "reportsOnChangeOf", "lags", "wobblesBy"]),
    ...(movesAtMost && { movesAtMost: { by: amount(movesAtMost.by), in: amount(movesAtMost.in) } }),
  };
  return spec("sensor", type, (name) => ({ list: "sensors", thing: { name, ...thing } }));
}

export interface OutputOptions<Word extends string = string> extends Titled {
  readonly range?: Range;
  /** What it does when nobody asks. @default off, or 0 */
  readonly atRest?: number | Word;
  /** Least times, by word. */
  readonly atLeast?: Partial<Record<Word, Lasting>>;
  /** A run of a word ends after so long, and another then stays for at least so long. */
  readonly atMost?: readonly {
    readonly word: Word;
    readonly duration: Lasting;
    readonly then: { readonly word: Word; readonly duration: Lasting };
  }[];
  readonly withoutControl?: number | Word;
  readonly uses?: Amount<"power">;
  readonly delivers?: { readonly rate: Amount<"flow">; readonly after?: Lasting };
  /** Zones it acts on, besides its own, by their names. */
  readonly serves?: readonly string[];
}

/** `"on/off"`, other words, or a number in a unit; `"colour"` of a lamp of the same zone. */
export function output(of: "on/off", options?: OutputOptions<"on" | "off">): Spec<"output", WordOf<"on" | "off">>;
export function output(
  of: "colour",
  options: Omit<OutputOptions, "atRest"> & {
    /** Of a lamp of the same zone by its own name, of another zone's by its whole name. */
    readonly of: string;
    readonly atRest?: `#${string}`;
  },
): Spec<"output", ColourOf>;
export function output<Of extends Unit>(of: Of, options?: OutputOptions<never>): Spec<"output", NumberOf<DimensionOf<Of>>>;
export function output<const Words extends readonly [string, string, ...string[]]>(
  of: Words,
  options?: OutputOptions<Words[number]> & Ordered,
): Spec<"output", WordOf<Words[number]>>;
export function output(of: Holds, options: OutputOptions & Ordered & { readonly of?: string } = {}): Spec<"output", never> {
  const { atLeast = {}, atMost = [], uses, delivers, ordered, of: lamp } = options;
  const type = typeOf(of, ordered);
  const thing = {
    ...titled(options),
    type,
    ...said(options, ["range", "atRest", "withoutControl", "serves"]),
    atLeast: Object.entries(atLeast).flatMap(([word, duration]) => (duration ? [{ word, duration: amount(duration) }] : [])),
    atMost: atMost.map(({ word, duration, then }) => ({
      word,
      duration: amount(duration),
      then: { word: then.word, duration: amount(then.duration) },
    })),
    ...(uses && { uses: amount(uses) }),
    ...(delivers && {
      delivers: { rate: amount(delivers.rate), ...(delivers.after && { after: amount(delivers.after) }) },
    }),
  };
  return spec("output", type, (name) => {
    const colourOf = lamp === undefined ? {} : { colourOf: lamp.includes(".") ? lamp : name.replace(/[^.]*$/, lamp) };
    return { list: "outputs", thing: { name, ...thing, ...colourOf } };
  });
}

export interface DialOptions extends Titled {
  readonly range?: Range;
  /** How far a nudge goes. */
  readonly step?: number;
}

/** A value one changes without touching a rule: what it is at first, and its unit, words or `"time"`. */
export function dial<Of extends Unit>(atFirst: number, of: Of, options?: DialOptions): Spec<"dial", NumberOf<DimensionOf<Of>>>;
export function dial(atFirst: string, of: "time", options?: Titled): Spec<"dial", TimeOfDay>;
export function dial<const Words extends readonly [string, string, ...string[]]>(
  atFirst: NoInfer<Words[number]>,
  of: Words,
  options?: Titled & Ordered,
): Spec<"dial", WordOf<Words[number]>>;
export function dial(atFirst: `#${string}`, of: "colour", options?: Titled): Spec<"dial", ColourOf>;
export function dial(atFirst: number | string, of: Holds, options: DialOptions & Ordered = {}): Spec<"dial", never> {
  const { range, step, ordered } = options;
  const titles = titled(options);
  const type = typeOf(of, ordered);
  const first = of === "time" ? timeOfDay(String(atFirst)) : atFirst;
  return spec("dial", type, (name) => ({
    list: "dials",
    thing: {
      name,
      ...titles,
      type,
      ...(range && { range }),
      atFirst: first,
      ...(step !== undefined && { step }),
    },
  }));
}

/** A state of the whole house. */
export function mode<const Words extends readonly [string, string, ...string[]]>(
  name: string,
  words: Words,
  atFirst: NoInfer<Words[number]>,
  options: Titled & Ordered = {},
): Thing<"mode", WordOf<Words[number]>> {
  const type = { kind: "words", words, ordered: options.ordered ?? false } as const;
  const thing = { name, ...titled(options), type, atFirst };
  return spec<"mode", WordOf<Words[number]>>("mode", type, () => ({ list: "modes", thing })).named(name);
}

/** A number by its whole name, where the thing itself is not at hand: `named("bench.linger", "ms")` within `zone("bench", …)`. */
export function named<Of extends Unit>(name: string, _of: Of): Term<NumberOf<DimensionOf<Of>>> {
  return { expression: { kind: "value", of: name } };
}

// ── Zones ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** What a zone says of itself; kept apart from the things in it, which may have any name. */
export const ofZone: unique symbol = Symbol("zone");

export type Specs = Readonly<Record<string, Spec<"sensor" | "output" | "dial", unknown>>>;

/** A zone: its things by name, each with the kind the compiler knows. */
export type Zone<Of extends Specs> = { readonly [Name in keyof Of]: ReturnType<Of[Name]["named"]> } & {
  readonly [ofZone]: ZoneData;
};

/** A zone with its things, each by its name: `bench.humidity`. */
export function zone<const Of extends Specs>(name: string, things: Of, options: Titled = {}): Zone<Of> {
  const named = Object.fromEntries(Object.entries(things).map(([own, thing]) => [own, thing.named(`${name}.${own}`)]));
  return { ...named, [ofZone]: { name, ...titled(options) } } as Zone<Of>;
}

// ── Groups ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** Several outputs under one name: whatever is asked of it is asked of each. */
export interface NamedGroup<Kind> {
  readonly group: Group;
  readonly outputs: readonly Thing<"output", Kind>[];
}

/** Gives several outputs, or other groups, one name. It has to be among the `groups` of the house. */
export function group<Kind>(
  name: string,
  members: readonly (Thing<"output", Kind> | NamedGroup<Kind>)[],
  options: Titled = {},
): NamedGroup<Kind> {
  const names = members.map((one) => ("group" in one ? one.group.name : one.name));
  return { group: { name, ...titled(options), members: names }, outputs: outputsOf(members) };
}

/** One output, several, or those of a group. */
export type Outputs<Kind> = Thing<"output", Kind> | NamedGroup<Kind> | readonly (Thing<"output", Kind> | NamedGroup<Kind>)[];

/** Each of them once, in their order. */
export function outputsOf<Kind>(of: Outputs<Kind>): readonly Thing<"output", Kind>[] {
  if ("group" in of) return of.outputs;
  return "name" in of ? [of] : [...new Set(of.flatMap((one) => outputsOf(one)))];
}
