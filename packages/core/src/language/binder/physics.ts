// The simulated house: rooms, what acts on them, the weather and the people. Figures are bound by their rows.
import {
  type Build,
  builds,
  type Effect,
  FURNISHED,
  floorOf,
  type Output,
  type PeopleHabit,
  type Recorded,
  type RoomPhysics,
  roomOf,
  usualRoom,
  type Weather,
  type ZonePhysics,
} from "../../house/index.js";
import { dimensionOf, type Unit } from "../../units/index.js";
import type { Row } from "../phrase.js";
import type { HabitNode, PhysicsEntry, PhysicsNode, Quoted, WeatherNode, Word } from "../syntax.js";
import type { Span } from "../token.js";
import { numberTerm } from "../unbind/terms.js";
import { type At, airFigures, bindFigures, effectRows, habitFigures, roomRows, usualOf } from "../vocabulary/physics.js";
import { writeTerm } from "../write/terms.js";
import type { Scope } from "./scope.js";
import { headingOf, plainText } from "./text.js";
import type { Recordings } from "./trials.js";

export function bindPhysics(nodes: readonly PhysicsNode[], scope: Scope, outputs: readonly Output[]): RoomPhysics {
  const zones: ZonePhysics[] = [];
  const effects: Effect[] = [];
  const bound: { readonly effect: Effect; readonly span: Span }[] = [];
  const entries = nodes.flatMap((node) => node.entries);
  for (const entry of entries) {
    const zone = entry.kind === "zone" ? bindZone(entry, scope) : undefined;
    if (!zone) continue;
    if (zones.some((one) => one.zone === zone.zone))
      scope.faults.add(entry.span, {
        kind: "missing",
        what: `Zone ${zone.zone} is described twice.`,
        remedy: "Remove one of the two.",
      });
    else zones.push(zone);
  }
  const open = new Set(entries.flatMap((entry) => (entry.kind === "effect" ? saidOutdoors(entry.effect, scope) : [])));
  for (const entry of entries) {
    if (entry.kind === "zone") continue;
    const effect = (effectRows[entry.effect.kind] as Row<Effect, At>).bind(entry.effect.parts, { scope, span: entry.span });
    if (!effect) continue;
    if (effect.kind === "passes" && effect.zone === effect.other) {
      const what = `${effect.zone} is beside itself.`;
      scope.faults.add(entry.span, { kind: "missing", what, remedy: "Name two different zones." });
      continue;
    }
    effects.push(effect);
    bound.push({ effect, span: entry.span });
    const known = (name: string) => zones.some(({ zone }) => zone === name) || (effect.kind === "soil" && open.has(name));
    const serves = "output" in effect ? (outputs.find(({ name }) => name === effect.output)?.serves ?? []) : [];
    const empty = serves.some(known) ? undefined : zonesOf(effect).find((name) => !known(name));
    if (empty === undefined) continue;
    const remedy = open.has(empty)
      ? remedyOutdoors(effect, empty)
      : `Describe ${empty}: zone ${empty} { floor 20 m², built solid }.`;
    const what = `what acts on ${empty}, which ${open.has(empty) ? "is outdoors" : "has no physics"},`;
    scope.faults.add(entry.span, { kind: "notSimulated", what, remedy });
  }
  for (const { effect, span } of bound) {
    checkTwice(effect, effects, span, scope);
    checkWater(effect, effects, span, outputs, scope);
    checkSurface(effect, span, scope);
    checkOutdoors(effect, zones, span, scope);
  }
  return { zones, effects };
}

/** The zone that is said to be outdoors. */
function saidOutdoors({ kind, parts }: { readonly kind: string; readonly parts: unknown }, scope: Scope): string[] {
  const zone = kind === "outdoors" ? scope.find((parts as { readonly zone: Word }).zone) : undefined;
  return zone ? [zone.name] : [];
}

/** What to write of an effect that acts on a zone outdoors. */
function remedyOutdoors(effect: Effect, zone: string): string {
  if (effect.kind === "leak" && effect.to === zone) return "Write of leak to outdoors.";
  if (effect.kind === "gives" && effect.from === zone) return "Write of air from outdoors.";
  return effect.kind === "passes" ? "Say it of the room: loses … W/K." : "Remove it: nothing moves the air outdoors.";
}

/** A zone is a room or outdoors. */
function checkOutdoors(effect: Effect, zones: readonly ZonePhysics[], span: Span, scope: Scope): void {
  if (effect.kind !== "outdoors" || !zones.some(({ zone }) => zone === effect.zone)) return;
  const what = `${effect.zone} is a room and outdoors.`;
  scope.faults.add(span, { kind: "missing", what, remedy: "Remove one of the two." });
}

/** What a sensor is can be said once. */
function checkTwice(effect: Effect, effects: readonly Effect[], span: Span, scope: Scope): void {
  const is = (one: Effect) =>
    one.kind === "outdoors"
      ? one.zone
      : one.kind === "holds" || one.kind === "float" || one.kind === "soil" || one.kind === "surface"
        ? one.sensor
        : undefined;
  const name = is(effect);
  if (name === undefined || effects.find((one) => one.kind === effect.kind && is(one) === name) === effect) return;
  scope.faults.add(span, { kind: "missing", what: `${name} is described twice.`, remedy: "Remove one of the two." });
}

/** What is measured at a cold surface. */
function checkSurface(effect: Effect, span: Span, scope: Scope): void {
  const type = effect.kind === "surface" ? scope.symbols.get(effect.sensor)?.type : undefined;
  if (effect.kind !== "surface" || !type) return;
  const measures = type.kind === "number" ? dimensionOf(type.unit) : undefined;
  if (measures === "temperature" || measures === "relative humidity") return;
  const what = `${effect.sensor} does not measure a cold surface.`;
  const remedy = "A sensor of °C does, or one of %RH: the humidity of the air as it touches it.";
  scope.faults.add(span, { kind: "missing", what, remedy });
}

/** Water comes out of tanks and goes into soil, by what an output delivers. */
function checkWater(effect: Effect, effects: readonly Effect[], span: Span, outputs: readonly Output[], scope: Scope): void {
  const is = (kind: Effect["kind"]) =>
    "sensor" in effect && effects.some((one) => one.kind === kind && "sensor" in one && one.sensor === effect.sensor);
  const fault = (what: string, remedy: string) => scope.faults.add(span, { kind: "missing", what, remedy });
  if (effect.kind === "draws" || effect.kind === "waters") {
    const { output } = effect;
    if (outputs.find(({ name }) => name === output)?.delivers === undefined)
      fault(`${output} does not say how much it delivers.`, `Add to its declaration: delivers 12 ml/s.`);
  }
  if ((effect.kind === "draws" || effect.kind === "float" || effect.kind === "gains") && !is("holds"))
    fault(`How much ${effect.sensor} can hold is not said.`, `Add: ${effect.sensor} holds 100 l.`);
  if (effect.kind === "waters" && !is("soil"))
    fault(`${effect.sensor} is not soil.`, `Add: ${effect.sensor} is 0.5 m² of soil 20 cm deep.`);
  const type = "sensor" in effect ? scope.symbols.get(effect.sensor)?.type : undefined;
  if (!type) return;
  const measures = type.kind === "number" ? dimensionOf(type.unit) : undefined;
  if (effect.kind === "soil" && measures !== "share")
    fault(`${effect.sensor} does not measure the water in soil.`, "Only a sensor of % does: the share of water in the volume.");
  if (effect.kind === "holds" && measures !== "share" && measures !== "volume" && !(type.kind === "words" && is("float")))
    fault(
      `${effect.sensor} does not measure what a tank holds.`,
      type.kind === "words"
        ? `Add when its float turns: ${effect.sensor} turns ${type.words[0]} at 10 l.`
        : "A sensor of l or % does, or one of two states.",
    );
}

/** The zones that an effect acts on. */
function zonesOf(effect: Effect): string[] {
  const zone = (thing: string) => thing.slice(0, Math.max(0, thing.indexOf(".")));
  if (effect.kind === "passes") return [effect.zone, effect.other];
  if (effect.kind === "soil" || effect.kind === "surface") return [zone(effect.sensor)];
  if (effect.kind !== "gives" && effect.kind !== "word gives" && effect.kind !== "leak") return [];
  if (effect.kind === "gives" || effect.kind === "word gives") {
    const own = zone(effect.output);
    return effect.from === undefined || effect.from === "outdoors" ? [own] : [own, effect.from];
  }
  return effect.to === "outdoors" ? [zone(effect.sensor)] : [zone(effect.sensor), effect.to];
}

function bindZone(entry: Extract<PhysicsEntry, { kind: "zone" }>, scope: Scope): ZonePhysics | undefined {
  const zone = scope.resolve(entry.zone, ["zone"]);
  const { built, ...said } = bindFigures(entry.facts, roomRows, scope);
  if (!zone) return undefined;
  const build = built === undefined ? usualRoom.built : (Object.keys(builds)[built] as Build);
  const { couples, wood, ...usual } = roomOf(floorOf(said), build, said.glass);
  // Leaks, walls, what soaks and its light are of how it is built: with figures of its own a room has those alone.
  const isFigured = said.floor === undefined && built === undefined && said.volume !== undefined;
  const made: ZonePhysics = isFigured
    ? { zone: zone.name, ...usual, leaks: 0, soaks: 0, window: 0, ...said }
    : { zone: zone.name, built: build, ...usual, couples, wood, ...said };
  if ((made.couples ?? 0) > 0 && made.stores <= made.volume * FURNISHED) {
    const least = numberTerm((made.volume * FURNISHED) / 1e3, "kJ/K");
    const says = `Walls of ${made.zone} store nothing: its air and furniture alone store ${writeTerm(least)}.`;
    scope.faults.add(entry.span, { kind: "backwards", says, remedy: "Give stores a greater figure, or remove walls pass …." });
  }
  return made;
}

export function bindWeather(node: WeatherNode, scope: Scope, recordings: Recordings): Weather | undefined {
  const said = bindFigures(node.facts, airFigures, scope);
  const { recording } = node;
  if (recording) {
    const recorded = bindRecording(recording, scope, recordings);
    const air = { outdoors: 0, ...usualOf(airFigures) } as Omit<Weather, "name">;
    return { ...headingOf(node), ...air, recording: plainText(recording), ...(recorded && { recorded }) };
  }
  if (said.outdoors === undefined) {
    if (node.isPart) return undefined;
    const remedy = "Add: outdoors -6 °C.";
    scope.faults.add(node.name.span, { kind: "missing", what: `Weather ${node.name.text} has no temperature.`, remedy });
    return undefined;
  }
  return { ...headingOf(node), ...({ outdoors: 0, ...usualOf(airFigures), ...said } as Omit<Weather, "name">) };
}

/** What a weather can be read of, and what each column measures. */
const columns: Readonly<Record<string, Unit>> = { outdoors: "°C", humidity: "%RH", daylight: "lx", cloud: "%" };

/** A weather is read of a recording that has the temperature outdoors, at two instants at least; the rest is what it usually is. */
function bindRecording(quoted: Quoted, scope: Scope, recordings: Recordings): readonly Recorded[] | undefined {
  const file = plainText(quoted);
  const recorded = recordings[file];
  if (!recorded) {
    scope.faults.add(quoted.span, { kind: "missingRecording", file });
    return undefined;
  }
  const fault = (what: string, remedy: string) => {
    scope.faults.add(quoted.span, { kind: "missing", what, remedy });
    return undefined;
  };
  const head = "Name its columns for example: time,outdoors °C,humidity %RH,cloud %.";
  for (const { name, value, unit } of recorded) {
    const own = Object.hasOwn(columns, name) ? columns[name] : undefined;
    if (own === undefined) return fault(`${file} has a column "${name}", which is nothing of the weather.`, head);
    if (typeof value !== "number") return fault(`${file} says that ${name} is "${value}", which is no number.`, "Correct it.");
    if (unit !== undefined && dimensionOf(unit) !== dimensionOf(own))
      return fault(`${file} measures ${name} in ${unit}, which does not fit ${own}.`, head);
  }
  const measured = recorded.filter(({ name }) => name === "outdoors");
  if (measured.length < 2) return fault(`${file} has ${measured.length === 0 ? "no" : "only one"} temperature outdoors.`, head);
  return recorded;
}

export function bindHabit(node: HabitNode, scope: Scope): PeopleHabit | undefined {
  const zone = scope.resolve(node.zone, ["zone"]);
  const schedule = scope.resolve(node.schedule, ["schedule"]);
  const habits = bindFigures(node.habits, habitFigures, scope);
  if (habits.showers !== undefined && habits.cooks !== undefined) {
    const remedy = `Write two lines: ${node.zone.text} during … twice.`;
    scope.faults.add(node.zone.span, { kind: "missing", what: "One habit either showers or cooks.", remedy });
  }
  return zone && schedule && { zone: zone.name, during: schedule.name, ...habits };
}
