// The part of a house that some names rest on: what they read, what sets them, what that rests on in turn.
import type { Guard, House, Rule, Sentence, Step } from "./house.js";
import { thingsBehind } from "./lookup.js";
import { oncePer } from "./once-per.js";
import { stepsIn } from "./steps.js";
import { visitParts } from "./visit.js";

/** What has a name of its own, and may be left out with all that nothing else needs. */
const named = [
  "sensors",
  "outputs",
  "dials",
  "modes",
  "groups",
  "lets",
  "countdowns",
  "presets",
  "schedules",
  "profiles",
  "rules",
  "guards",
] as const;

interface Web {
  /** By name, the names of what it rests on. */
  readonly needs: ReadonlyMap<string, ReadonlySet<string>>;
  /** Parts that were asked for before, by the names that are kept. */
  readonly parts: Map<string, House>;
}

/**
 * A smaller house in which some things do what they do in the whole one: with all that they rest on, and without trials,
 * physics, weathers and people. Names that the house does not have are passed over; a house of which nothing can be left out
 * is given back itself.
 * @param names things, rules and guards, by their whole names
 */
export function partOf(house: House, names: Iterable<string>): House {
  const { needs, parts } = webOf(house);
  const kept = new Set<string>();
  const open = [...names, ...namesIn([house.handLasts, house.readingsLast], needs)];
  for (let name = open.pop(); name !== undefined; name = open.pop()) {
    const needed = needs.get(name);
    if (!needed || kept.has(name)) continue;
    kept.add(name);
    for (const one of needed) open.push(one);
  }
  if (kept.size === needs.size) return house;
  const key = [...kept].sort().join("\n");
  const part = parts.get(key) ?? without(house, kept);
  parts.set(key, part);
  return part;
}

function without(house: House, kept: ReadonlySet<string>): House {
  const lists = named.map((list) => [
    list,
    (house[list] as readonly { readonly name: string }[]).filter(({ name }) => kept.has(name)),
  ]);
  return {
    ...house,
    ...(Object.fromEntries(lists) as Pick<House, (typeof named)[number]>),
    trials: [],
    physics: { zones: [], effects: [] },
    weathers: [],
    people: [],
    wirings: house.wirings.filter((one) =>
      "sensor" in one ? kept.has(one.sensor) : "output" in one ? kept.has(one.output) : true,
    ),
  };
}

const webOf: (house: House) => Web = oncePer((house) => {
  const needs = new Map<string, Set<string>>();
  const all = named.flatMap((list) => house[list] as readonly { readonly name: string }[]);
  for (const { name } of all) needs.set(name, needs.get(name) ?? new Set());
  // What has the same name, a rule and a let, is kept together.
  for (const item of all) for (const name of namesIn(item, needs)) needs.get(item.name)?.add(name);
  const sets = (setter: string, name: string) => needs.get(name)?.add(setter);
  for (const rule of house.rules) for (const name of setBy(rule, house)) sets(rule.name, name);
  for (const guard of house.guards) for (const name of guardedBy(guard)) sets(guard.name, name);
  return { needs, parts: new Map() };
});

/** The names that stand anywhere in something. */
function namesIn(holder: unknown, names: ReadonlyMap<string, unknown>): Set<string> {
  const found = new Set<string>();
  const take = (value: unknown) => {
    if (typeof value === "string" && names.has(value)) found.add(value);
  };
  visitParts(holder, (part) => {
    for (const value of Object.values(part)) {
      if (Array.isArray(value)) value.forEach(take);
      else take(value);
    }
  });
  return found;
}

/** What a rule asks for or sets: outputs, dials, modes, countdowns; of a group and of a preset, each. */
function setBy({ sentences }: Rule, house: House): string[] {
  const { groups, presets } = house;
  const members = (name: string): string[] => [
    name,
    ...(groups.find((one) => one.name === name)?.members.flatMap(members) ?? []),
    ...(presets.find((one) => one.name === name)?.targets.flatMap(({ output }) => members(output)) ?? []),
  ];
  return sentences.flatMap((sentence) => namesSetBy(sentence, house)).flatMap(members);
}

function namesSetBy(sentence: Sentence, house: House): readonly string[] {
  if ("hold" in sentence) return sentence.hold.map(({ output }) => output);
  if ("cycle" in sentence) return sentence.cycle.outputs;
  if ("keep" in sentence) {
    const { at, tolerance, raiseWith, lowerWith } = sentence.keep;
    const driven = [raiseWith, lowerWith].flatMap((drive) => drive?.outputs ?? []);
    // A dial is not set so that the targets of a band would cross.
    return [...driven, ...thingsBehind(house, [at, tolerance])];
  }
  return stepsIn(sentence.do).flatMap(({ step }) => nameSetBy(step));
}

function nameSetBy(step: Step): readonly string[] {
  switch (step.kind) {
    case "set":
    case "toggle":
    case "raise":
    case "lower":
      return [step.name];
    case "ramp":
      return step.outputs;
    case "dose":
    case "release":
      return [step.output];
    case "apply":
      return [step.preset];
    case "start":
    case "stop":
      return [step.countdown];
    default:
      return [];
  }
}

function guardedBy({ permits, neverTogether = [] }: Guard): string[] {
  return [...permits.map(({ output }) => output), ...neverTogether.flatMap(({ outputs }) => outputs)];
}
