// A house as the declarations of a tree: what the binder makes of them is the same house. Repeats stay unrolled, and what
// a calendar file says is not written.
import {
  assumedOf,
  builds,
  type Dial,
  type House,
  isIn,
  type Output,
  type Profile,
  type Range,
  type Schedule,
  type Sensor,
  type TruthType,
  type ValueType,
  type Weather,
} from "../../house/index.js";
import { type DatesRange, dateOfDay, type FixedTime } from "../../time/index.js";
import type { Unit } from "../../units/index.js";
import { type Told, unitOf } from "../binder/attribute.js";
import type { PhraseNode, Row } from "../phrase.js";
import type {
  AttributeNode,
  CountdownNode,
  DatesNode,
  Declaration,
  HouseNode,
  LetNode,
  OpeningNode,
  ProfileEntry,
  Term,
  ThingNode,
  TypeNode,
  ZoneEntry,
} from "../syntax.js";
import { dialAttributes } from "../vocabulary/dial.js";
import { outputAttributes } from "../vocabulary/output.js";
import { airFigures, effectRows, habitFigures, roomRows, unbindFigures } from "../vocabulary/physics.js";
import { sensorAttributes } from "../vocabulary/sensor.js";
import { type WiringRow, wiringRows } from "../vocabulary/wiring.js";
import { unbindGuard, unbindHeading, unbindRule, unbindTargets } from "./rules.js";
import { numberTerm, quoted, nowhere as span, timeTerm, unbindTerm, word } from "./terms.js";
import { unbindTrial } from "./trials.js";

export function unbindHouse(house: House): Declaration[] {
  const outside = <Thing extends { readonly name: string }>(list: readonly Thing[]) =>
    list.filter(({ name }) => !name.includes("."));
  return [
    unbindHead(house),
    ...house.zones.map(
      (zone): Declaration => ({ kind: "zone", ...unbindHeading(zone), entries: unbindZone(house, zone.name), span }),
    ),
    ...outside(house.dials).map((dial) => unbindDial(dial)),
    ...house.modes.map(({ type, atFirst, ...named }): Declaration => {
      const words = { words: type.words.map(word), ordered: type.ordered };
      return { kind: "mode", ...unbindHeading(named), ...words, first: word(atFirst), span };
    }),
    ...house.groups.map(
      ({ members, ...named }): Declaration => ({ kind: "group", ...unbindHeading(named), members: members.map(word), span }),
    ),
    ...outside(house.lets).map((one) => unbindLet(one)),
    ...outside(house.countdowns).map((one) => unbindCountdown(one)),
    ...house.presets.map(
      ({ targets, ...named }): Declaration => ({
        kind: "preset",
        ...unbindHeading(named),
        targets: unbindTargets(targets),
        span,
      }),
    ),
    ...house.schedules.map(unbindSchedule),
    ...house.profiles.map(unbindProfile),
    ...house.rules.map((rule) => unbindRule(rule, house.groups)),
    ...house.guards.map(unbindGuard),
    ...unbindPhysics(house),
    ...house.weathers.map(unbindWeather),
    ...unbindPeople(house),
    ...unbindWirings(house),
    ...house.trials.map(unbindTrial),
  ];
}

function unbindHead({ name, note, place, clock, handLasts, readingsLast }: House): HouseNode {
  const side = (degrees: number, sides: string): Term => ({
    kind: "number",
    value: Math.abs(degrees),
    unit: sides[degrees < 0 ? 1 : 0] as string,
    span,
  });
  return {
    kind: "house",
    title: quoted(name),
    entries: [
      ...(note === undefined ? [] : [{ kind: "note" as const, text: quoted(note), span }]),
      ...(place
        ? [{ kind: "place" as const, latitude: side(place.latitude, "NS"), longitude: side(place.longitude, "EW"), span }]
        : []),
      { kind: "clock", zone: quoted(clock), span },
      ...(handLasts ? [{ kind: "hand lasts" as const, duration: unbindTerm(handLasts), span }] : []),
      ...(readingsLast ? [{ kind: "readings last" as const, duration: unbindTerm(readingsLast), span }] : []),
    ],
    span,
  };
}

// ── Things ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

function unbindZone(house: House, zone: string): ZoneEntry[] {
  const own = <Thing extends { readonly name: string }, Node>(
    list: readonly Thing[],
    unbind: (thing: Thing, name: string) => Node,
  ) => list.filter(({ name }) => isIn(zone, name)).map((thing) => unbind(thing, thing.name.slice(zone.length + 1)));
  return [
    ...own(house.sensors, unbindSensor),
    ...own(house.outputs, unbindOutput),
    ...own(house.dials, unbindDial),
    ...own(house.lets, unbindLet),
    ...own(house.countdowns, unbindCountdown),
  ];
}

type Rows = Readonly<Record<string, Row<never, never, Told, unknown>>>;

/** What is said of a thing, in the order of the rows; of a list each item is said. */
export function unbindAttributes(
  thing: object & { readonly type: ValueType },
  rows: Rows,
  lists: readonly string[],
): AttributeNode[] {
  const told = { type: thing.type, unit: unitOf(thing.type) };
  return Object.entries(rows).flatMap(([kind, { unbind }]) => {
    const value = (thing as unknown as Record<string, unknown>)[kind];
    if (value === undefined) return [];
    const items = lists.includes(kind) ? (value as readonly unknown[]) : [value];
    return items.map((item) => ({ kind, parts: unbind(item as never, told), span }));
  });
}

/** Attributes of things by the kind of thing, and those of them that make a list. */
export const attributeRows = {
  sensor: { rows: sensorAttributes, lists: [] },
  output: { rows: outputAttributes, lists: ["atLeast", "atMost"] },
  dial: { rows: dialAttributes, lists: [] },
} as const;

function attributesOf(thing: Sensor | Output | Dial, kind: keyof typeof attributeRows): AttributeNode[] {
  const { rows, lists } = attributeRows[kind];
  return unbindAttributes(thing, rows as unknown as Rows, lists);
}

export function unbindType(type: ValueType | TruthType): TypeNode {
  if (type.kind === "words") return { kind: "words", words: type.words.map(word), ordered: type.ordered, span };
  const one = type.kind === "number" ? (type.unit === "ms" ? "duration" : type.unit || "number") : type.kind;
  return { kind: "one", word: one, span };
}

export function unbindRange([low, high]: Range, unit: Unit): Extract<TypeNode, { kind: "range" }> {
  return { kind: "range", low: numberTerm(low, unit === "ms" ? "ms" : ""), high: numberTerm(high, unit), span };
}

function unbindSensor(sensor: Sensor, name: string): ThingNode {
  const attributes = attributesOf(sensor, "sensor");
  return { kind: "sensor", ...unbindHeading(sensor, name), type: unbindType(sensor.type), attributes, span };
}

function unbindOutput(output: Output, name: string): ThingNode {
  const { type, range, colourOf } = output;
  const kind: TypeNode =
    colourOf === undefined
      ? range
        ? unbindRange(range, unitOf(type))
        : unbindType(type)
      : { kind: "colour of", of: word(colourOf), span };
  return { kind: "output", ...unbindHeading(output, name), type: kind, attributes: attributesOf(output, "output"), span };
}

function unbindDial(dial: Dial, name = dial.name): ThingNode {
  const { type, range } = dial;
  const kind = range ? unbindRange(range, unitOf(type)) : unbindType(type);
  return { kind: "dial", ...unbindHeading(dial, name), type: kind, attributes: attributesOf(dial, "dial"), span };
}

function unbindLet(one: House["lets"][number], name = one.name): LetNode {
  const type = one.type.kind === "truth" ? {} : { type: unbindType(one.type) };
  return { kind: "let", ...unbindHeading(one, name), ...type, value: unbindTerm(one.value), span };
}

function unbindCountdown(one: House["countdowns"][number], name = one.name): CountdownNode {
  return { kind: "countdown", ...unbindHeading(one, name), lasts: unbindTerm(one.lasts), span };
}

// ── Times ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

function fixedTime({ sun, ms }: FixedTime): Term {
  if (sun === undefined) return timeTerm(ms);
  const event: Term = { kind: "name", text: sun, span };
  if (ms === 0) return event;
  return { kind: "binary", sign: ms < 0 ? "-" : "+", left: event, right: numberTerm(Math.abs(ms), "ms"), span };
}

function unbindDates(dates: readonly DatesRange[]): DatesNode[] {
  return dates.map((one) =>
    one.kind === "dates"
      ? { kind: "dates", from: dateOfDay(one.from), to: dateOfDay(one.to), span }
      : { kind: "yearly", from: one.from, to: one.to, span },
  );
}

function unbindSchedule({ openings, except, only, file, ...named }: Schedule): Declaration {
  const heading = unbindHeading(named);
  if (file !== undefined) return { kind: "schedule", ...heading, calendar: quoted(file), openings: [], span };
  const dates = (kind: "except" | "only", list: readonly DatesRange[] | undefined): OpeningNode[] =>
    list ? [{ kind, dates: unbindDates(list), span }] : [];
  const days = openings.map(({ days, spans }): OpeningNode => {
    const times = spans.map(({ from, to }) => ({ from: fixedTime(from), to: fixedTime(to) }));
    return { kind: "days", days, spans: times, span };
  });
  return { kind: "schedule", ...heading, openings: [...dates("only", only), ...days, ...dates("except", except)], span };
}

function unbindProfile({ type, range, ramped, days, ...named }: Profile): Declaration {
  const entries = days.map((day): ProfileEntry => {
    const points = day.points.map(({ from, value }) => ({ value: unbindTerm(value), from: fixedTime(from) }));
    return { days: day.days, points, span };
  });
  const kind = range ? unbindRange(range, unitOf(type)) : unbindType(type);
  return { kind: "profile", ...unbindHeading(named), type: kind, ramped, entries, span };
}

// ── The simulated house and its wiring ──────────────────────────────────────────────────────────────────────────────────

function unbindPhysics({ physics: { zones, effects } }: House): Declaration[] {
  if (zones.length + effects.length === 0) return [];
  const rooms = zones.map((room) => {
    const { zone, built, ...figures } = room;
    const assumed = new Set<string>(assumedOf(room));
    const said = Object.fromEntries(Object.entries(figures).filter(([name]) => !assumed.has(name)));
    const place = built === undefined ? {} : { built: Object.keys(builds).indexOf(built) };
    const facts = unbindFigures({ ...said, ...place }, roomRows);
    return { kind: "zone" as const, zone: word(zone), facts, span };
  });
  const acting = effects.map((effect) => {
    const parts = (effectRows[effect.kind] as Row<typeof effect, never>).unbind(effect, undefined);
    return { kind: "effect" as const, effect: { kind: effect.kind, parts, span }, span };
  });
  return [{ kind: "physics", entries: [...rooms, ...acting], span }];
}

function unbindWeather({ name, title, note, recording, recorded: _, ...air }: Weather): Declaration {
  const heading = unbindHeading({ name, ...(title !== undefined && { title }), ...(note !== undefined && { note }) });
  if (recording !== undefined) return { kind: "weather", ...heading, recording: quoted(recording), facts: [], span };
  return { kind: "weather", ...heading, facts: unbindFigures(air, airFigures), span };
}

function unbindPeople({ people }: House): Declaration[] {
  if (people.length === 0) return [];
  const entries = people.map(({ zone, during, ...habits }) => ({
    zone: word(zone),
    schedule: word(during),
    habits: unbindFigures(habits, habitFigures),
    span,
  }));
  return [{ kind: "people", entries, span }];
}

function unbindWirings({ wirings, sensors, outputs }: House): Declaration[] {
  const types = new Map([...sensors, ...outputs].map(({ name, type }) => [name, type]));
  const names = [...new Set(wirings.map(({ by }) => by))];
  return names.map((by): Declaration => {
    const own = wirings.filter((one) => one.by === by);
    const entries = own.map((one): PhraseNode<typeof one.kind> => {
      const parts = (wiringRows[one.kind] as WiringRow).unbind(one, (thing) => types.get(thing));
      return { kind: one.kind, parts, span };
    });
    return { kind: "wire", name: word(by), entries, span };
  });
}
