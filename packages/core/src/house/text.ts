// A house as text of the language: what the parser makes of that is the same house. Repeats stay unrolled, and what a
// calendar file says is not written.
import { type DatesRange, dateOfDay, type FixedTime, monthNames, type Opening, writeDays } from "../time/index.js";
import { differenceUnit, type Unit, writeDuration, writeNumber, writeQuantity, writeTimeOfDay } from "../units/index.js";
import { nameOfColour } from "./colours.js";
import type { Expression } from "./expression.js";
import type {
  Dial,
  Effect,
  Expectation,
  Happening,
  House,
  Occurrence,
  Output,
  Profile,
  Schedule,
  Sensor,
  Trial,
  Weather,
  Wiring,
  ZonePhysics,
} from "./house.js";
import { isIn } from "./lookup.js";
import { quoted, writeExpectation, writePermit, writeSentence } from "./sentences.js";
import { writeRange, writeType } from "./type-text.js";
import type { TruthType, Value, ValueType } from "./types.js";
import { writeExpression } from "./write.js";

/** The text of a house, one declaration a line; `formatHouse` lays it out. */
export function writeHouse(house: House): string {
  const outside = <Thing extends { readonly name: string }>(list: readonly Thing[]) =>
    list.filter(({ name }) => !name.includes("."));
  const lines = [
    writeHead(house),
    ...house.zones.map((zone) => block(`zone ${head(zone)}`, [...noteLine(zone.note), ...inZone(house, zone.name)])),
    ...outside(house.dials).map((dial) => writeDial(dial, dial.name)),
    ...house.modes.map((mode) => `mode ${head(mode)}: ${mode.type.words.join("/")}, at first ${mode.atFirst}${noteBehind(mode)}`),
    ...house.groups.map((group) => `group ${head(group)} = ${group.members.join(", ")}${noteBehind(group)}`),
    ...outside(house.lets).map((one) => writeLet(one, one.name)),
    ...outside(house.countdowns).map((one) => writeCountdown(one, one.name)),
    ...house.presets.map(({ targets, note, ...named }) => {
      const values = targets.map(({ output, value }) => `${output} at ${writeExpression(value)}`).join(", ");
      return block(`preset ${head(named)}`, [...noteLine(note), values]);
    }),
    ...house.schedules.map(writeSchedule),
    ...house.profiles.map(writeProfile),
    ...house.rules.map(({ standing, sentences, note, ...named }) => {
      const as = standing === "plain" ? "" : ` as ${standing}`;
      const title = named.title === undefined ? "" : ` ${quoted(named.title)}`;
      return block(`rule ${named.name}${as}${title}`, [...noteLine(note), ...sentences.map(writeSentence)]);
    }),
    ...house.guards.map(({ permits, note, ...named }) =>
      block(`guard ${head(named)}`, [...noteLine(note), ...permits.map(writePermit)]),
    ),
    ...writePhysics(house),
    ...house.weathers.map(writeWeather),
    ...writePeople(house),
    ...writeWirings(house.wirings),
    ...house.trials.map(writeTrial),
  ];
  return `${lines.join("\n")}\n`;
}

function block(before: string, entries: readonly string[]): string {
  return `${before} {\n${entries.join("\n")}\n}`;
}

function head({ name: whole, title }: { readonly name: string; readonly title?: string }, name = whole): string {
  return title === undefined ? name : `${name} ${quoted(title)}`;
}

const noteLine = (note: string | undefined) => (note === undefined ? [] : [`note ${quoted(note)}`]);
const noteBehind = ({ note }: { readonly note?: string }) => (note === undefined ? "" : `, note ${quoted(note)}`);

function writeHead({ name, note, place, clock, handLasts }: House): string {
  const side = (degrees: number, sides: string) => `${writeNumber(Math.abs(degrees))} ${sides[degrees < 0 ? 1 : 0]}`;
  return block(`house ${quoted(name)}`, [
    ...noteLine(note),
    ...(place ? [`place ${side(place.latitude, "NS")}, ${side(place.longitude, "EW")}`] : []),
    `clock ${quoted(clock)}`,
    ...(handLasts ? [`hand lasts ${writeExpression(handLasts)}`] : []),
  ]);
}

// ── Things ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

function inZone(house: House, zone: string): string[] {
  const short = (name: string) => name.slice(zone.length + 1);
  const own = <Thing extends { readonly name: string }>(list: readonly Thing[], write: (thing: Thing, name: string) => string) =>
    list.filter(({ name }) => isIn(zone, name)).map((thing) => write(thing, short(thing.name)));
  return [
    ...own(house.sensors, writeSensor),
    ...own(house.outputs, writeOutput),
    ...own(house.dials, writeDial),
    ...own(house.lets, writeLet),
    ...own(house.countdowns, writeCountdown),
  ];
}

const unitOf = (type: ValueType | TruthType): Unit => (type.kind === "number" ? type.unit : "");

function writeValue(value: Value, type: ValueType): string {
  if (typeof value === "string") return type.kind === "colour" ? (nameOfColour(value) ?? `colour(${quoted(value)})`) : value;
  return type.kind === "time" ? writeTimeOfDay(value) : writeQuantity({ value, unit: unitOf(type) });
}

const maybe = <Item>(item: Item | undefined, write: (item: Item) => string) => (item === undefined ? [] : [write(item)]);

function writeSensor(sensor: Sensor, name: string): string {
  const { type, range, unknownAfter, scale, offset, reads, smoothOver, deviceHealth } = sensor;
  const step = differenceUnit(unitOf(type));
  const attributes = [
    ...maybe(range, (bounds) => writeRange(bounds, unitOf(type))),
    ...maybe(unknownAfter, (after) => `unknown after ${writeExpression(after)}`),
    ...maybe(scale, (factor) => `scale ${writeNumber(factor)}`),
    ...maybe(offset, (by) => `offset ${writeQuantity({ value: by, unit: step })}`),
    ...maybe(reads, ([one, other]) => {
      const point = ({ raw, value }: typeof one) => `${writeNumber(raw)} as ${writeQuantity({ value, unit: unitOf(type) })}`;
      return `reads ${point(one)} and ${point(other)}`;
    }),
    ...maybe(smoothOver, (over) => `smooth over ${writeExpression(over)}`),
    ...(deviceHealth ? ["device health"] : []),
  ];
  return `sensor ${head(sensor, name)}: ${[writeType(type), ...attributes].join(", ")}${noteBehind(sensor)}`;
}

function writeOutput(output: Output, name: string): string {
  const { type, range, colourOf, atRest, atLeast, atMost, uses, delivers, withoutControl, serves } = output;
  const kind = colourOf !== undefined ? `colour of ${colourOf}` : range ? writeRange(range, unitOf(type)) : writeType(type);
  const attributes = [
    ...maybe(atRest, (value) => `at rest ${writeValue(value, type)}`),
    ...atLeast.map(({ word, duration }) => `${word} at least ${writeExpression(duration)}`),
    ...atMost.map(
      ({ word, duration, then }) =>
        `${word} at most ${writeExpression(duration)} then ${then.word} at least ${writeExpression(then.duration)}`,
    ),
    ...maybe(uses, (power) => `uses ${writeExpression(power)}`),
    ...maybe(
      delivers,
      ({ rate, after }) => `delivers ${writeExpression(rate)}${after ? ` after ${writeExpression(after)}` : ""}`,
    ),
    ...maybe(withoutControl, (value) => `${writeValue(value, type)} without control`),
    ...maybe(serves, (zones) => `serves ${zones.join(" and ")}`),
  ];
  return `output ${head(output, name)}: ${[kind, ...attributes].join(", ")}${noteBehind(output)}`;
}

function writeDial(dial: Dial, name: string): string {
  const { type, range, atFirst, step } = dial;
  const kind = range ? writeRange(range, unitOf(type)) : writeType(type);
  const difference = differenceUnit(unitOf(type));
  const nudge = maybe(step, (far) => `step ${writeQuantity({ value: far, unit: difference })}`);
  const parts = [kind, `at first ${writeValue(atFirst, type)}`, ...nudge].join(", ");
  return `dial ${head(dial, name)}: ${parts}${noteBehind(dial)}`;
}

function writeLet(one: House["lets"][number], name: string): string {
  const kind = one.type.kind === "truth" ? "" : `: ${writeType(one.type)}`;
  return `let ${head(one, name)}${kind} = ${writeExpression(one.value)}${noteBehind(one)}`;
}

function writeCountdown(one: House["countdowns"][number], name: string): string {
  const named = head(one, name);
  return `countdown ${named} = ${writeExpression(one.lasts)}${noteBehind(one)}`;
}

// ── Times ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

function writeTime({ sun, ms }: FixedTime): string {
  if (sun === undefined) return ms === 86400e3 ? "24:00" : writeTimeOfDay(ms);
  return ms === 0 ? sun : `${sun} ${ms < 0 ? "-" : "+"} ${writeDuration(Math.abs(ms))}`;
}

function writeOpening({ days, spans }: Opening): string {
  return `${writeDays(days)} ${spans.map(({ from, to }) => `${writeTime(from)} to ${writeTime(to)}`).join(", ")}`;
}

function writeDates(dates: readonly DatesRange[]): string {
  const monthDay = ([month, day]: readonly [number, number]) => `${monthNames[month - 1]} ${day}`;
  const written = dates.map((one) => {
    const [from, to] = one.kind === "dates" ? [dateOfDay(one.from), dateOfDay(one.to)] : [monthDay(one.from), monthDay(one.to)];
    return from === to ? from : `${from}..${to}`;
  });
  return written.join(", ");
}

function writeSchedule({ note, openings, except, only, file, ...named }: Schedule): string {
  if (file !== undefined)
    return `schedule ${head(named)} from calendar ${quoted(file)}${noteBehind({ ...(note !== undefined && { note }) })}`;
  return block(`schedule ${head(named)}`, [
    ...noteLine(note),
    ...maybe(only, (dates) => `only ${writeDates(dates)}`),
    ...openings.map(writeOpening),
    ...maybe(except, (dates) => `except ${writeDates(dates)}`),
  ]);
}

function writeProfile({ note, type, range, ramped, days, ...named }: Profile): string {
  const kind = range ? writeRange(range, unitOf(type)) : writeType(type);
  const entries = days.map(
    (day) =>
      `${writeDays(day.days)} ${day.points.map(({ from, value }) => `${writeExpression(value)} from ${writeTime(from)}`).join(", ")}`,
  );
  return block(`profile ${head(named)}: ${kind}${ramped ? " ramped" : ""}`, [...noteLine(note), ...entries]);
}

// ── Trials ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** A trial as text of the language, one line for each of its parts. */
export function writeTrial({
  note,
  from,
  lasts,
  to,
  replay,
  simulated,
  given,
  happenings,
  expectations,
  ...named
}: Trial): string {
  const ends = to ? ` to ${writeExpression(to)}` : lasts ? ` for ${writeExpression(lasts)}` : "";
  const begins = `${replay === undefined ? "" : `replay ${quoted(replay)} `}from ${writeExpression(from)}${ends}`;
  const weather = simulated?.weather === undefined ? "" : `, weather ${simulated.weather}`;
  const settled = given.map(({ name, value }) => `${name} is ${writeExpression(value)}`).join(", ");
  return block(`trial ${head(named)}`, [
    ...noteLine(note),
    begins,
    ...(simulated ? [`simulated${weather}`] : []),
    ...(given.length > 0 ? [`given ${settled}`] : []),
    ...happenings.map(writeHappening),
    ...expectations.map((expectation: Expectation) => `expect ${writeExpectation(expectation)}`),
  ]);
}

function writeHappening({ when, what }: Happening): string {
  if ("later" in when) return `${writeDuration(when.later)} later ${writeOccurrence(what)}`;
  const span = when.to ? `from ${writeExpression(when.at)} to ${writeExpression(when.to)}` : `at ${writeExpression(when.at)}`;
  return `${span} ${writeOccurrence(what)}`;
}

function writeOccurrence(what: Occurrence): string {
  const lasting = (duration: Expression | undefined) => (duration ? ` for ${writeExpression(duration)}` : "");
  switch (what.kind) {
    case "is":
    case "moves to":
      return `${what.name} ${what.kind} ${writeExpression(what.value)}`;
    case "jumps to":
      return `${what.name} jumps to ${writeExpression(what.value)}${lasting(what.for)}`;
    case "falls silent":
    case "sticks":
    case "refuses":
    case "is pressed":
      return `${what.name} ${what.kind}`;
    case "reports every":
    case "wobbles by":
      return `${what.name} ${what.kind} ${writeExpression(what.by)}`;
    case "arrives late":
      return `${what.name} arrives ${writeExpression(what.by)} late`;
    case "person sets":
      return `person sets ${what.name} to ${writeExpression(what.value)}${lasting(what.for)}`;
    case "person pauses":
      return `person pauses ${what.name}${lasting(what.for)}`;
    case "message":
      return `message ${quoted(what.topic)} reads ${quoted(what.reads)}`;
    case "the house restarts":
      return what.kind;
    case "the house is down":
      return `the house is down${lasting(what.for)}`;
    case "the clock jumps":
      return `the clock jumps by ${writeExpression(what.by)}`;
    default:
      return `${what.kind} ${what.name}`;
  }
}

// ── The simulated house and its wiring ──────────────────────────────────────────────────────────────────────────────────

function writePhysics({ physics: { zones, effects } }: House): string[] {
  if (zones.length + effects.length === 0) return [];
  return [block("physics", [...zones.map(writeZonePhysics), ...effects.map(writeEffect)])];
}

function writeZonePhysics({ zone, volume, loses, stores, leaks, soaks, window }: ZonePhysics): string {
  const facts = [
    `volume ${writeNumber(volume)} m³`,
    `loses ${writeNumber(loses)} W/K`,
    `stores ${writeNumber(stores / 1e3)} kJ/K`,
    `leaks ${writeNumber(leaks)} /h`,
    `soaks ${writeNumber(soaks)} g/%RH`,
    `window ${writeNumber(window)} % of daylight`,
  ];
  return `zone ${zone} { ${facts.join(", ")} }`;
}

const givenIn: Readonly<Record<"heat" | "water" | "light", Unit>> = { heat: "W", water: "g/h", light: "lx" };

function writeEffect(effect: Effect): string {
  switch (effect.kind) {
    case "gives":
      return `${effect.output} gives ${writeQuantity({ value: effect.amount, unit: givenIn[effect.what] })} of ${effect.what}`;
    case "leak":
      return `${effect.sensor} ${effect.word} adds ${writeNumber(effect.perHour)} /h of leak to ${effect.to}`;
    case "passes":
      return `${effect.zone} beside ${effect.other} passes ${writeNumber(effect.amount)} W/K`;
    default:
      throw new RangeError(`no such effect: ${JSON.stringify(effect satisfies never)}`);
  }
}

function writeWeather({ recording, outdoors, swings, humidity, cloud, fronts, seed, ...named }: Weather): string {
  if (recording !== undefined) return `weather ${head(named)} from ${quoted(recording)}`;
  const air = [
    `outdoors ${writeNumber(outdoors)} °C`,
    `swings ${writeNumber(swings)} K`,
    `humidity ${writeNumber(humidity)} %RH`,
    `cloud ${writeNumber(cloud)} %`,
    ...maybe(fronts, (every) => `fronts every ${writeDuration(every)}`),
    ...maybe(seed, (one) => `seed ${writeNumber(one)}`),
  ];
  return `weather ${head(named)} { ${air.join(", ")} }`;
}

function writePeople({ people }: House): string[] {
  if (people.length === 0) return [];
  const habits = people.map(({ zone, during, every, breathes }) => {
    const parts = [
      ...maybe(every, (duration) => `comes and goes every ${writeDuration(duration)}`),
      ...maybe(breathes, (litres) => `breathes ${writeNumber(litres)} l/h`),
    ];
    return [`${zone} during ${during}`, ...parts].join(", ");
  });
  return [block("people", habits)];
}

function writeWirings(wirings: readonly Wiring[]): string[] {
  const names = [...new Set(wirings.map(({ by }) => by))];
  return names.map((by) => block(`wire ${by}`, wirings.filter((one) => one.by === by).map(writeWiring)));
}

function writeWiring(wiring: Wiring): string {
  const topic = quoted(wiring.topic);
  switch (wiring.kind) {
    case "alive":
      return `zone ${wiring.zone} alive while ${topic} reads ${quoted(wiring.reads)}`;
    case "notices":
      return `notices ${wiring.way} to ${topic}`;
    case "reading": {
      const parts = [
        ...maybe(wiring.at, (pointer) => ` at ${quoted(pointer)}`),
        ...maybe(wiring.record, (record) => ` record ${quoted(record)}`),
        ...maybe(wiring.texts, (texts) => ` reading ${texts.map(({ text, as }) => `${quoted(text)} as ${as}`).join(", ")}`),
      ];
      return `${wiring.sensor} from ${topic}${parts.join("")}`;
    }
    case "writing": {
      const parts = [
        ...maybe(wiring.text, (text) => ` writing ${verbatim(text)}`),
        ...maybe(wiring.texts, (texts) => ` writing ${texts.map(({ word, text }) => `${word} as ${quoted(text)}`).join(", ")}`),
        ...maybe(wiring.confirmedBy, (by) => ` confirmed by ${quoted(by)}`),
        ...maybe(wiring.againEvery, (every) => ` again every ${writeDuration(every)}`),
      ];
      return `${wiring.output} to ${topic}${parts.join("")}`;
    }
    default:
      throw new RangeError(`no such wiring: ${JSON.stringify(wiring satisfies never)}`);
  }
}

/** A text in which `{value}` stands for the value. */
function verbatim(text: string): string {
  return quoted(text).replaceAll("{{value}}", "{value}");
}
