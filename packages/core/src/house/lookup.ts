// Finding things of a house by name.

import { dimensionOf } from "../units/index.js";
import type { Expression } from "./expression.js";
import type { Dial, House, Let, Mode, Output, Profile, Rule, Sensor } from "./house.js";
import { oncePer } from "./once-per.js";
import type { Range, Value } from "./types.js";
import { thingsIn, visitExpressions } from "./visit.js";

/** A thing that holds a value. */
export type Thing =
  | { readonly kind: "sensor"; readonly thing: Sensor }
  | { readonly kind: "output"; readonly thing: Output }
  | { readonly kind: "dial"; readonly thing: Dial }
  | { readonly kind: "mode"; readonly thing: Mode }
  | { readonly kind: "let"; readonly thing: Let }
  | { readonly kind: "profile"; readonly thing: Profile };

/** Every thing that holds a value, by its whole name. */
export const thingsOf: (house: House) => ReadonlyMap<string, Thing> = oncePer((house) => {
  const things = new Map<string, Thing>();
  for (const thing of house.sensors) things.set(thing.name, { kind: "sensor", thing });
  for (const thing of house.outputs) things.set(thing.name, { kind: "output", thing });
  for (const thing of house.dials) things.set(thing.name, { kind: "dial", thing });
  for (const thing of house.modes) things.set(thing.name, { kind: "mode", thing });
  for (const thing of house.lets) things.set(thing.name, { kind: "let", thing });
  for (const thing of house.profiles) things.set(thing.name, { kind: "profile", thing });
  return things;
});

/** The things that an expression, or whatever holds expressions, reads: also those behind its lets. */
export function thingsBehind({ lets }: Pick<House, "lets">, holder: unknown): Set<string> {
  const names = new Set<string>();
  const follow = (name: string): void => {
    if (names.has(name)) return;
    names.add(name);
    const named = lets.find((one) => one.name === name);
    if (named) thingsIn(named.value).forEach(follow);
  };
  thingsIn(holder).forEach(follow);
  return names;
}

const movingKinds: ReadonlySet<string> = new Set<Expression["kind"]>(["over", "age", "remaining", "begins in", "ends in", "sun"]);

/** Whether the value of an expression may change between reports and deadlines: a window, an age, the sun, a ramped profile. */
export function movesByItself(house: Pick<House, "lets" | "profiles">, expression: Expression): boolean {
  const named = thingsBehind(house, expression);
  if (house.profiles.some(({ name, ramped }) => ramped && named.has(name))) return true;
  const lets = house.lets.filter(({ name }) => named.has(name)).map(({ value }) => value);
  let moves = false;
  visitExpressions([expression, lets], (part) => {
    moves ||= movingKinds.has(part.kind) || (part.kind === "clock" && part.what === "time");
  });
  return moves;
}

/** How long a reading of a sensor counts: what it says itself, else what the house says of all that measure a number. */
export function lastsOf(
  { readingsLast }: Pick<House, "readingsLast">,
  { type, unknownAfter, lastsForEver }: Sensor,
): Expression | undefined {
  if (unknownAfter || lastsForEver) return unknownAfter;
  return type.kind === "number" && dimensionOf(type.unit) !== "duration" ? readingsLast : undefined;
}

/** Whether a thing, by its whole name, is in a zone; without one, any is. */
export function isIn(zone: string | undefined, name: string): boolean {
  return zone === undefined || name.startsWith(`${zone}.`);
}

/** What people call a thing: its title, else its name in words. */
export function titleOf(named: { readonly name: string; readonly title?: string }): string {
  return named.title ?? named.name;
}

/** Modes that a rule mentions in a condition, trigger or value, also behind lets and profiles. */
export function modesMentioned(house: House, rule: Rule): readonly string[] {
  const things = thingsOf(house);
  const names = new Set<string>();
  const follow = (name: string): void => {
    if (names.has(name)) return;
    names.add(name);
    const found = things.get(name);
    if (found?.kind === "let") thingsIn(found.thing.value).forEach(follow);
    if (found?.kind === "profile") thingsIn(found.thing.days).forEach(follow);
  };
  thingsIn(rule).forEach(follow);
  for (const sentence of rule.sentences)
    if ("when" in sentence) for (const trigger of sentence.when) if (trigger.kind === "changes") follow(trigger.of);
  return [...names].filter((name) => things.get(name)?.kind === "mode");
}

/**
 * The state in which an output of words is off: `off`; else of two states the second, as of open/closed and on/off; of more the
 * one it rests in, or the first. All others are on. Nothing for what has no words.
 */
export function offWordOf({ type, atRest }: Pick<Output, "type" | "atRest">): string | undefined {
  if (type.kind !== "words") return undefined;
  const { words } = type;
  if (words.includes("off")) return "off";
  return words.length === 2 ? words[1] : typeof atRest === "string" ? atRest : words[0];
}

/** The state in which it is on, or as much as it can be: `on`, else the first that is not off. */
export function onWordOf(output: Pick<Output, "type" | "atRest">): string | undefined {
  if (output.type.kind !== "words") return undefined;
  const off = offWordOf(output);
  return output.type.words.find((word) => word === "on") ?? output.type.words.find((word) => word !== off);
}

/**
 * From nothing to full, of an output of numbers and in its own unit: its range, of a share without one 0..100 %. Nothing where
 * neither is known: then nobody can say what full is.
 */
export function reachOf({ type, range }: Pick<Output, "type" | "range">): Range | undefined {
  return range ?? (type.kind === "number" && type.unit === "%" ? [0, 100] : undefined);
}

/** What an output is while it is kept on: its state that is on, or the most that it can be; nothing of a colour. */
export function fullOf(output: Pick<Output, "type" | "range" | "atRest">): Value | undefined {
  return output.type.kind === "number" ? reachOf(output)?.[1] : onWordOf(output);
}

/** What it is while it is kept off: its state that is off, or the least that it can be; nothing of a colour. */
export function noneOf(output: Pick<Output, "type" | "range" | "atRest">): Value | undefined {
  return output.type.kind === "number" ? reachOf(output)?.[0] : offWordOf(output);
}

/** What an output does when nobody asks: off, 0, or nothing of its own. */
export function restOf({ atRest, type }: Output): Value | undefined {
  if (atRest !== undefined) return atRest;
  if (type.kind === "words") return type.words.includes("off") ? "off" : undefined;
  return type.kind === "number" ? 0 : undefined;
}
