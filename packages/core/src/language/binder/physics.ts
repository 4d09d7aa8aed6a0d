// Figures of the simulated house, brought to the units its equations use.
import type { Effect, PeopleHabit, RoomPhysics, Weather, ZonePhysics } from "../../house/index.js";
import type { Unit } from "../../units/index.js";
import type { FactNode, HabitNode, PhysicsEntry, PhysicsNode, WeatherNode, Word } from "../syntax.js";
import type { Span } from "../token.js";
import { constantIn } from "./constant.js";
import type { Scope } from "./scope.js";
import { bindDuration } from "./terms.js";
import { headingOf, plainText } from "./text.js";
import { bindFigure, bindWord } from "./things.js";

export function bindPhysics(nodes: readonly PhysicsNode[], scope: Scope): RoomPhysics {
  const zones: ZonePhysics[] = [];
  const effects: Effect[] = [];
  const entries = nodes.flatMap((node) => node.entries);
  for (const entry of entries) {
    if (entry.kind !== "zone") continue;
    const zone = bindZone(entry, scope);
    if (zone) zones.push(zone);
  }
  for (const entry of entries) {
    if (entry.kind === "zone") continue;
    const effect = bindEffect(entry, scope);
    if (!effect) continue;
    effects.push(effect);
    const empty = zonesOf(effect).find((name) => !zones.some(({ zone }) => zone === name));
    if (empty === undefined) continue;
    const remedy = `Say how ${empty} behaves: zone ${empty} { volume … m³, loses … W/K, stores … MJ/K }.`;
    scope.faults.add(placeOf(entry), { kind: "notSimulated", what: `what acts on ${empty}, which has no physics,`, remedy });
  }
  return { zones, effects };
}

/** The zones that an effect acts on. */
function zonesOf(effect: Effect): string[] {
  const zone = (thing: string) => thing.slice(0, Math.max(0, thing.indexOf(".")));
  if (effect.kind === "passes") return [effect.zone, effect.other];
  if (effect.kind === "gives") return [zone(effect.output)];
  return effect.to === "outdoors" ? [zone(effect.sensor)] : [zone(effect.sensor), effect.to];
}

function placeOf(entry: Exclude<PhysicsEntry, { kind: "zone" }>): Span {
  if (entry.kind === "gives") return entry.output.span;
  return entry.kind === "adds" ? entry.sensor.span : entry.zone.span;
}

function bindEffect(entry: Exclude<PhysicsEntry, { kind: "zone" }>, scope: Scope): Effect | undefined {
  if (entry.kind === "gives") return bindGives(entry, scope);
  if (entry.kind === "adds") return bindLeak(entry, scope);
  const zone = scope.resolve(entry.zone, ["zone"]);
  const other = scope.resolve(entry.other, ["zone"]);
  const amount = bindFigure(entry.amount, "W/K", scope);
  return zone && other && amount !== undefined ? { kind: "passes", zone: zone.name, other: other.name, amount } : undefined;
}

const zoneUnits = { volume: "m³", loses: "W/K", stores: "MJ/K", leaks: "/h", soaks: "g/%RH", window: "%" } as const;

function bindZone(entry: Extract<PhysicsEntry, { kind: "zone" }>, scope: Scope): ZonePhysics | undefined {
  const zone = scope.resolve(entry.zone, ["zone"]);
  const facts = bindFacts(entry.facts, zoneUnits, scope);
  const lacks = (["volume", "loses", "stores"] as const).filter((name) => facts[name] === undefined);
  if (lacks.length > 0) {
    const remedy = `Add ${lacks.map((name) => `${name} … ${zoneUnits[name]}`).join(", ")}.`;
    scope.faults.add(entry.zone.span, { kind: "missing", what: `The physics of ${entry.zone.text} lacks figures.`, remedy });
  }
  const { volume, loses, stores, leaks = 0, soaks = 0, window = 0 } = facts;
  if (!zone || volume === undefined || loses === undefined || stores === undefined) return undefined;
  return { zone: zone.name, volume, loses, stores: stores * 1e6, leaks, soaks, window };
}

function bindFacts<Name extends string>(
  nodes: readonly FactNode[],
  units: Readonly<Record<Name, Unit>>,
  scope: Scope,
): Partial<Record<Name, number>> {
  const facts: Partial<Record<Name, number>> = {};
  for (const node of nodes) {
    const name = node.name as Name;
    const figure = bindFigure(node.value, units[name], scope);
    if (figure === undefined) continue;
    if (figure === 0 && (name === "volume" || name === "stores")) {
      const says = `${name} is more than nothing: every room has some air, and stores some heat.`;
      scope.faults.add(node.value.span, { kind: "backwards", says, remedy: "Write a figure above zero." });
    }
    if (figure < 0 && units[name] !== "°C") {
      const says = `${node.name} can not be below zero.`;
      scope.faults.add(node.value.span, { kind: "backwards", says, remedy: "Leave the minus out." });
    }
    facts[name] = figure;
  }
  return facts;
}

const gains = { heat: "W", water: "g/h", light: "lx" } as const;

function bindGives(entry: Extract<PhysicsEntry, { kind: "gives" }>, scope: Scope): Effect | undefined {
  const output = scope.resolve(entry.output, ["output"]);
  const what = oneOf(entry.what, Object.keys(gains) as (keyof typeof gains)[], scope);
  const amount = what && bindFigure(entry.amount, gains[what], scope);
  return output && what && amount !== undefined ? { kind: "gives", output: output.name, what, amount } : undefined;
}

function oneOf<Name extends string>(word: Word, names: readonly Name[], scope: Scope): Name | undefined {
  const type = { kind: "words", words: names, ordered: false } as const;
  return bindWord(word, scope, type) as Name | undefined;
}

function bindLeak(entry: Extract<PhysicsEntry, { kind: "adds" }>, scope: Scope): Effect | undefined {
  const sensor = scope.resolve(entry.sensor, ["sensor"]);
  const perHour = bindFigure(entry.amount, "/h", scope);
  const word = sensor?.type && bindWord(entry.word, scope, sensor.type);
  const to = entry.to.text === "outdoors" ? "outdoors" : scope.resolve(entry.to, ["zone"])?.name;
  if (!sensor || word === undefined || perHour === undefined || to === undefined) return undefined;
  return { kind: "leak", sensor: sensor.name, word, perHour, to };
}

const airUnits = { outdoors: "°C", swings: "K", humidity: "%RH", cloud: "%", fronts: "ms", seed: "" } as const;

export function bindWeather(node: WeatherNode, scope: Scope): Weather | undefined {
  const said = bindFacts(node.facts, airUnits, scope);
  const without = (span: Span, what: string, remedy: string) => scope.faults.add(span, { kind: "notSimulated", what, remedy });
  if (node.recording)
    without(
      node.recording.span,
      `a weather from a recording`,
      "Write figures instead: weather frost { outdoors -6 °C, swings 8 K }.",
    );
  for (const { name, value } of node.facts)
    if (name === "fronts" || name === "seed")
      without(value.span, `"${name}" of a weather`, "Take it out: every day of a weather is the same.");
  if (said.outdoors === undefined && !node.recording) {
    const remedy = "Add: outdoors -6 °C.";
    scope.faults.add(node.name.span, { kind: "missing", what: `Weather ${node.name.text} has no temperature.`, remedy });
    return undefined;
  }
  const { outdoors = 0, swings = 0, humidity = 75, cloud = 50, fronts, seed } = said;
  const more = {
    ...(node.recording && { recording: plainText(node.recording) }),
    ...(fronts !== undefined && { fronts }),
    ...(seed !== undefined && { seed }),
  };
  return { ...headingOf(node), outdoors, swings, humidity, cloud, ...more };
}

export function bindHabit(node: HabitNode, scope: Scope): PeopleHabit | undefined {
  const zone = scope.resolve(node.zone, ["zone"]);
  const schedule = scope.resolve(node.schedule, ["schedule"]);
  const every = node.every && bindDuration(node.every, scope);
  const ms = every && constantIn(every);
  const breathes = node.breathes && bindFigure(node.breathes, "l/h", scope);
  if (node.breathes)
    scope.faults.add(node.breathes.span, {
      kind: "notSimulated",
      what: "what people breathe",
      remedy: "Take it out: rooms have no CO₂.",
    });
  const more = { ...(ms !== undefined && { every: ms }), ...(breathes !== undefined && { breathes }) };
  return zone && schedule && { zone: zone.name, during: schedule.name, ...more };
}
