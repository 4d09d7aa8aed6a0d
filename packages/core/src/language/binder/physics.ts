// The simulated house: rooms, what acts on them, the weather and the people. Figures are bound by their rows.
import {
  type Build,
  builds,
  type Effect,
  type Output,
  type PeopleHabit,
  type RoomPhysics,
  roomOf,
  usualRoom,
  type Weather,
  type ZonePhysics,
} from "../../house/index.js";
import type { Row } from "../phrase.js";
import type { HabitNode, PhysicsEntry, PhysicsNode, WeatherNode } from "../syntax.js";
import { type At, airFigures, bindFigures, effectRows, habitFigures, roomRows, usualOf } from "../vocabulary/physics.js";
import type { Scope } from "./scope.js";
import { headingOf, plainText } from "./text.js";

export function bindPhysics(nodes: readonly PhysicsNode[], scope: Scope, outputs: readonly Output[]): RoomPhysics {
  const zones: ZonePhysics[] = [];
  const effects: Effect[] = [];
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
    const known = (name: string) => zones.some(({ zone }) => zone === name);
    const serves = "output" in effect ? (outputs.find(({ name }) => name === effect.output)?.serves ?? []) : [];
    const empty = serves.some(known) ? undefined : zonesOf(effect).find((name) => !known(name));
    if (empty === undefined) continue;
    const remedy = `Describe ${empty}: zone ${empty} { floor 20 m², built solid }.`;
    scope.faults.add(entry.span, { kind: "notSimulated", what: `what acts on ${empty}, which has no physics,`, remedy });
  }
  return { zones, effects };
}

/** The zones that an effect acts on. */
function zonesOf(effect: Effect): string[] {
  const zone = (thing: string) => thing.slice(0, Math.max(0, thing.indexOf(".")));
  if (effect.kind === "passes") return [effect.zone, effect.other];
  if (effect.kind === "gives" || effect.kind === "word gives") {
    const own = zone(effect.output);
    return effect.from === undefined || effect.from === "outdoors" ? [own] : [own, effect.from];
  }
  return effect.to === "outdoors" ? [zone(effect.sensor)] : [zone(effect.sensor), effect.to];
}

function bindZone(entry: Extract<PhysicsEntry, { kind: "zone" }>, scope: Scope): ZonePhysics | undefined {
  const zone = scope.resolve(entry.zone, ["zone"]);
  const { floor, built, ...said } = bindFigures(entry.facts, roomRows, scope);
  const build = built === undefined ? usualRoom.built : (Object.keys(builds)[built] as Build);
  // A room of which nothing else is said is as large as its volume asks for.
  const size = floor ?? (said.volume === undefined ? usualRoom.floor : said.volume / roomOf("", 1, build).volume);
  const room = zone && { ...roomOf(zone.name, size, build), ...said };
  // Leaks and what soaks are of how it is built: with figures of its own a room has those alone.
  const isFigured = floor === undefined && built === undefined && said.volume !== undefined;
  return room && isFigured ? { ...room, leaks: said.leaks ?? 0, soaks: said.soaks ?? 0 } : room;
}

export function bindWeather(node: WeatherNode, scope: Scope): Weather | undefined {
  const said = bindFigures(node.facts, airFigures, scope);
  const { recording } = node;
  if (recording) {
    const remedy = "Write figures instead: weather frost { outdoors -6 °C, swings 8 K }.";
    scope.faults.add(recording.span, { kind: "notSimulated", what: "a weather from a recording", remedy });
  }
  if (said.outdoors === undefined && !recording) {
    const remedy = "Add: outdoors -6 °C.";
    scope.faults.add(node.name.span, { kind: "missing", what: `Weather ${node.name.text} has no temperature.`, remedy });
    return undefined;
  }
  const air = { outdoors: 0, ...usualOf(airFigures), ...said } as Omit<Weather, "name">;
  return { ...headingOf(node), ...air, ...(recording && { recording: plainText(recording) }) };
}

export function bindHabit(node: HabitNode, scope: Scope): PeopleHabit | undefined {
  const zone = scope.resolve(node.zone, ["zone"]);
  const schedule = scope.resolve(node.schedule, ["schedule"]);
  const habits = bindFigures(node.habits, habitFigures, scope);
  return zone && schedule && { zone: zone.name, during: schedule.name, ...habits };
}
