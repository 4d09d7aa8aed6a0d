// The house read back in sentences: what there is, who may claim each output and in which order, rules with their switch
// points as numbers, when schedules and moments next come, and what uses each dial.
import { createEngine, type Engine } from "../engine/index.js";
import {
  assumedOf,
  type DayTime,
  type Drive,
  type Effect,
  type Expression,
  type Guard,
  type House,
  isBound,
  isIn,
  type Keep,
  type Let,
  type Output,
  ownOf,
  type Preset,
  type Profile,
  type Range,
  type Rule,
  restOf,
  type Schedule,
  type Sensor,
  type Sentence,
  sayValue,
  setsIn,
  type Trigger,
  thingsIn,
  unitOfExpression,
  type Value,
  type ValueType,
  visitExpressions,
} from "../house/index.js";
import {
  writeAttributes,
  writeDeclarations,
  writeEffect,
  writeExpression,
  writeNeverTogether,
  writePermit,
  writeRange,
  writeRoom,
  writeSentence,
  writeTrigger,
  writeType,
} from "../language/index.js";
import { type Calendar, type Clock, clockOf, EVERY_DAY, nextOccurrence, profileAt, stretchOf } from "../time/index.js";
import { fromBase, writeFigure } from "../units/index.js";
import { askersOf, handEndsWith } from "./askers.js";
import { type Explanation, explanation } from "./condition.js";
import { sayInstant } from "./moments.js";
import { switchedAll } from "./switched.js";

/** From when on, and with which values of dials and modes, a house is told. */
export interface TellOptions {
  /** The instant from which on it is told what comes next, in milliseconds since 1970 UTC. */
  readonly at: number;
  /** Values of dials and modes to calculate with, by name. @default what each has at first */
  readonly values?: Readonly<Record<string, Value>>;
}

/**
 * A house read back, section by section.
 * @throws RangeError when a value is named that the house does not have, or that does not fit
 */
export function tellHouse(house: House, { at, values = {} }: TellOptions): Explanation[] {
  return new Teller(house, at, values).tell();
}

/**
 * What a dial or a mode does: each rule that reads it, also by way of lets, with its switch points and other numbers as they
 * are with some values.
 * @throws RangeError when a value is named that the house does not have, or that does not fit
 */
export function tellPoints(house: House, name: string, { at, values = {} }: TellOptions): Explanation[] {
  return new Teller(house, at, values).points(name);
}

/** Tells of a house as it is with some values of its dials. */
export class Teller {
  readonly #house: House;
  readonly #at: number;
  readonly #clock: Clock;
  readonly #numbers: ReadonlyMap<Expression, number>;
  readonly #profileValues: ReadonlyMap<string, Expression>;
  readonly #engine: Engine;
  readonly #values: Readonly<Record<string, Value>>;

  constructor(house: House, at: number, values: Readonly<Record<string, Value>>) {
    this.#house = house;
    this.#at = at;
    this.#values = values;
    this.#clock = clockOf(house.clock);
    this.#profileValues = new Map(house.profiles.map((profile) => [profile.name, ofName(profile)]));
    const watch = [...house.rules.flatMap(({ sentences }) => sentences.flatMap(figuresIn)), ...this.#profileValues.values()];
    this.#numbers = new Map(watch.map((expression, index) => [expression, index]));
    this.#engine = createEngine(house, { at, given: values, watch });
    this.#engine.advanceTo(at);
  }

  tell(): Explanation[] {
    const house = this.#house;
    const section = (says: string, parts: readonly Explanation[]) => (parts.length === 0 ? [] : [explanation(says, parts)]);
    return [
      ...(house.note === undefined ? [] : [explanation(`note: ${house.note}`)]),
      ...house.zones.flatMap((zone) => section(`Zone ${sayThing(zone)}`, [...noteOf(zone), ...this.#inZone(zone.name)])),
      ...section(
        "Outputs and what controls them, the strongest first",
        house.outputs.map((output) => this.#output(output)),
      ),
      ...section(
        "Rules",
        house.rules.map((rule) => this.#rule(rule)),
      ),
      ...section(
        "Guards",
        house.guards.map((guard) => this.#guard(guard)),
      ),
      ...section(
        "Dials and modes, and what uses them",
        [...house.dials, ...house.modes].map((thing) => this.#setting(thing)),
      ),
      ...section(
        "Lets",
        house.lets.map((one) => this.#let(one)),
      ),
      ...section("Groups, presets and countdowns", [
        ...house.groups.map((one) => explanation(`${sayThing(one)}: ${one.members.join(", ")}`, noteOf(one))),
        ...house.presets.map((one) => this.#preset(one)),
        ...house.countdowns.map((one) => explanation(`${sayThing(one)}: runs for ${writeExpression(one.lasts)}`, noteOf(one))),
      ]),
      ...section(
        "Schedules",
        house.schedules.map((schedule) => this.#schedule(schedule)),
      ),
      ...section(
        "Profiles",
        house.profiles.map((profile) => this.#profile(profile)),
      ),
      ...section("Simulated rooms", this.#rooms()),
      ...section(
        "Wiring",
        writeDeclarations(house, ["wire"]).flatMap((lines) => lines.slice(1, -1).map((line) => explanation(line.trim()))),
      ),
    ];
  }

  /** What is said of one thing by its whole name, as a sensor, a rule or a schedule. */
  entry(name: string): Explanation | undefined {
    const house = this.#house;
    const find = <Thing extends { readonly name: string }>(list: readonly Thing[]) => list.find((one) => one.name === name);
    const sensor = find(house.sensors);
    if (sensor) return this.#sensor(sensor);
    const output = find(house.outputs);
    if (output) return this.#output(output);
    const setting = find<House["dials"][number] | House["modes"][number]>([...house.dials, ...house.modes]);
    if (setting) return this.#setting(setting);
    const rule = find(house.rules);
    if (rule) return this.#rule(rule);
    const guard = find(house.guards);
    if (guard) return this.#guard(guard);
    const named = find(house.lets);
    if (named) return this.#let(named);
    const schedule = find(house.schedules);
    return schedule && this.#schedule(schedule);
  }

  // ── What there is ───────────────────────────────────────────────────────────────────────────────────────────────────

  #inZone(zone: string): Explanation[] {
    const own = <Thing extends { name: string }>(things: readonly Thing[]) =>
      things.filter(({ name }) => name.startsWith(`${zone}.`));
    return own(this.#house.sensors).map((sensor) => this.#sensor(sensor));
  }

  #sensor(sensor: Sensor): Explanation {
    // Its range is told with its type.
    const attributes = writeAttributes(sensor, "sensor").filter(({ name }) => name !== "range");
    const parts = [sayType(sensor.type, sensor.range), ...attributes.map(({ text }) => text)];
    return explanation(`${sayThing(sensor)}: ${parts.join(", ")}`, noteOf(sensor));
  }

  /** Each room with what was said of it, what follows from how it is built, and what acts on it. */
  #rooms(): Explanation[] {
    const { zones, effects } = this.#house.physics;
    const actsOn = (effect: Effect, zone: string) =>
      "zone" in effect ? effect.zone === zone : isIn(zone, "sensor" in effect ? effect.sensor : effect.output);
    const actingOn = (zone: string) =>
      effects.filter((one) => one.kind !== "outdoors" && actsOn(one, zone)).map((effect) => explanation(writeEffect(effect)));
    const open = effects.flatMap((one) => (one.kind === "outdoors" ? [explanation(writeEffect(one), actingOn(one.zone))] : []));
    const rooms = zones.map((room) => {
      const { said, assumed } = writeRoom(room, assumedOf(room));
      const acting = actingOn(room.zone);
      const rest = assumed.length > 0 ? [explanation(`assumed, as it is built ${room.built}: ${assumed.join(", ")}`)] : [];
      return explanation(`${room.zone}: ${said.join(", ")}`, [...rest, ...acting]);
    });
    return [...rooms, ...open];
  }

  #preset(preset: Preset): Explanation {
    const targets = preset.targets.map(({ output, value }) => `${output} at ${writeExpression(value)}`);
    return explanation(`${sayThing(preset)}: ${targets.join(", ")}`, noteOf(preset));
  }

  /** Its value now and until when, and its lines. */
  #profile(profile: Profile): Explanation {
    const sky = { clock: this.#clock, place: this.#house.place };
    const stretch = profileAt(profile.days, sky, this.#at);
    const until =
      stretch && Number.isFinite(stretch.until)
        ? `, ${profile.ramped ? "on its way until" : "until"} ${this.#when(stretch.until)}`
        : "";
    const [lines = []] = writeDeclarations({ ...this.#house, profiles: [profile] }, ["profile"]);
    const now = this.#number(this.#profileValues.get(profile.name) as Expression);
    const value = Number.isNaN(now) ? "unknown" : sayValue(profile.type, ownOf(now, profile.type));
    return explanation(`${sayThing(profile)}: ${value} now${until}`, [
      ...noteOf(profile),
      ...lines.slice(1, -1).map((line) => explanation(line.trim())),
    ]);
  }

  #guard(guard: Guard): Explanation {
    return explanation(sayThing(guard), [
      ...noteOf(guard),
      ...[...guard.permits.map(writePermit), ...(guard.neverTogether ?? []).map(writeNeverTogether)].map((text) =>
        explanation(text),
      ),
    ]);
  }

  #let(named: Let): Explanation {
    return explanation(`${sayThing(named)} = ${writeExpression(named.value)}`, noteOf(named));
  }

  #schedule(schedule: Schedule): Explanation {
    return explanation(`${sayThing(schedule)}: ${this.next(schedule)}`, noteOf(schedule));
  }

  // ── Who may claim what ──────────────────────────────────────────────────────────────────────────────────────────────

  #output(output: Output): Explanation {
    const permits = this.#house.guards.flatMap(({ name, permits: all, neverTogether = [] }) => {
      const own = all.filter((permit) => permit.output === output.name).map(writePermit);
      const together = neverTogether.filter(({ outputs }) => outputs.includes(output.name)).map(writeNeverTogether);
      return [...own, ...together].map((text) => explanation(`guard ${name}: ${text}`));
    });
    const askers = askersOf(this.#house, output.name).map(({ rule, sentence, way }) => {
      const standing =
        rule.standing === "plain" ? "" : rule.standing === "watch" ? ", on watch, asks for nothing" : `, ${rule.standing}`;
      const how = way === "for good" ? "permanently" : way;
      return explanation(`rule ${rule.name}${standing}, ${how}: ${this.#asks(sentence, output.name)}`);
    });
    const rest = restOf(output);
    const idle = rest === undefined ? "otherwise unchanged" : `otherwise ${sayValue(output.type, rest)} (at rest)`;
    const ending = handEndsWith(this.#house, output.name);
    const lasts = this.#house.handLasts ? writeExpression(this.#house.handLasts) : "2 h";
    const hand = `manual override: until released, otherwise ${ending.length > 0 ? `until ${ending.join(" or ")} changes` : `for ${lasts}`}`;
    const protects = (name: string) => name === "atLeast" || name === "atMost";
    // What it does at rest is told by what it does else.
    const attributes = writeAttributes(output, "output").filter(({ name }) => name !== "atRest");
    const protection = attributes.filter(({ name }) => protects(name)).map(({ text }) => text);
    const others = attributes.filter(({ name }) => !protects(name)).map(({ text }) => text);
    const kept = protection.length === 0 ? [] : [explanation(`protected: ${protection.join(", ")}`)];
    const kind = [sayType(output.type, output.range), ...others].join(", ");
    return explanation(`${sayThing(output)}: ${kind}`, [
      ...noteOf(output),
      ...permits,
      explanation(hand),
      ...askers,
      explanation(idle),
      ...kept,
    ]);
  }

  /** What a sentence asks of an output, in a few words. */
  #asks(sentence: Sentence, output: string): string {
    if ("do" in sentence) return `when ${sentence.when.map(writeTrigger).join(", or ")}`;
    const when = sentence.while ? ` while ${writeExpression(sentence.while)}` : "";
    if ("hold" in sentence) {
      const target = sentence.hold.find((one) => one.output === output);
      return `${target ? writeExpression(target.value) : ""}${when}`;
    }
    if ("cycle" in sentence) return `on ${writeExpression(sentence.cycle.on)}, off ${writeExpression(sentence.cycle.off)}${when}`;
    const { keep } = sentence;
    const way = keep.raiseWith?.outputs.includes(output) ? "raise" : "lower";
    return `${this.switchPoints(keep, way)}${when}`;
  }

  /** `on below 42 %RH, off above 48 %RH`, by the words of what it drives. */
  switchPoints(keep: Keep, way: "raise" | "lower"): string {
    const drive = (way === "raise" ? keep.raiseWith : keep.lowerWith) as Drive;
    const unit = unitOfExpression(this.#house, keep.value);
    const [low, high] = endsOf(keep).map((end) => this.#number(end)) as [number, number];
    const say = (base: number) => (Number.isNaN(base) ? "an unknown value" : writeFigure(fromBase(base, unit), unit));
    if (drive.proportion) {
      const over = this.#number(drive.proportion.over);
      const [none, all] = way === "raise" ? [low, low - over] : [high, high + over];
      return `from 0 at ${say(none)} to full at ${say(all)}`;
    }
    const below = keep.tolerance ? this.#number(keep.tolerance.below) : 0;
    const above = keep.tolerance ? this.#number(keep.tolerance.above) : 0;
    const two = keep.raiseWith !== undefined && keep.lowerWith !== undefined;
    const { on, off } = switchedAll(
      keep,
      this.#house.outputs.filter(({ name }) => drive.outputs.includes(name)),
    );
    if (way === "raise")
      return `${on} below ${say(low - below)}, ${off} ${two ? `at ${say(low)}` : `above ${say(high + above)}`}`;
    return `${on} above ${say(high + above)}, ${off} ${two ? `at ${say(high)}` : `below ${say(low - below)}`}`;
  }

  // ── Rules ───────────────────────────────────────────────────────────────────────────────────────────────────────────

  #rule(rule: Rule): Explanation {
    const standing = rule.standing === "plain" ? "" : ` as ${rule.standing}`;
    return explanation(`${sayThing(rule)}${standing}`, [
      ...noteOf(rule),
      ...rule.sentences.map((sentence) => explanation(writeSentence(sentence), this.#figures(sentence))),
    ]);
  }

  /** Its switch points and other numbers, and when its moments next come. */
  #figures(sentence: Sentence): Explanation[] {
    if (!("keep" in sentence)) return this.figures(sentence).map((says) => explanation(says));
    const { keep } = sentence;
    const points = (["raise", "lower"] as const).flatMap((way) => {
      const drive = way === "raise" ? keep.raiseWith : keep.lowerWith;
      return drive ? [explanation(`${drive.outputs.join(", ")}: ${this.switchPoints(keep, way)}`)] : [];
    });
    return [...points, ...this.figures(sentence).map((says) => explanation(says))];
  }

  /** What numbers in its conditions are now, and when its moments next come. */
  figures(sentence: Sentence): string[] {
    const moments = "do" in sentence ? sentence.when.flatMap((trigger) => this.#nextOf(trigger)) : [];
    return [...new Set([...this.#bounds(sentence), ...this.#stretches(sentence), ...moments])];
  }

  /** Until when the schedules and spans of a sentence are as they are. */
  #stretches(sentence: Sentence): string[] {
    const said: string[] = [];
    visitExpressions(sentence, (part) => {
      if (part.kind === "during") {
        const schedule = this.#house.schedules.find(({ name }) => name === part.schedule);
        if (schedule) said.push(`${part.schedule}: ${this.next(schedule)}`);
      }
      if (part.kind !== "clock between" || part.from.time.kind !== "time" || part.to.time.kind !== "time") return;
      const end = ({ sun, time }: DayTime) => ({ ...(sun && { sun }), ms: time.kind === "time" ? time.ms : 0 });
      const openings = [{ days: EVERY_DAY, spans: [{ from: end(part.from), to: end(part.to) }] }];
      said.push(`${writeExpression(part)}: ${this.next({ openings })}`);
    });
    return said;
  }

  /** When a trigger next comes, or what it waits for. */
  trigger(trigger: Trigger): string[] {
    const lasting = trigger.kind === "becomes true" && trigger.condition.kind === "for" ? [trigger.condition.duration] : [];
    const waits = lasting.map((duration) => `once, ${writeExpression(duration)} after it began`);
    return [...new Set([...this.#bounds(trigger), ...waits, ...this.#nextOf(trigger)])];
  }

  #bounds(holder: unknown): string[] {
    return boundsIn(holder).map((bound) => {
      const unit = unitOfExpression(this.#house, bound);
      const base = this.#number(bound);
      const value = Number.isNaN(base) ? "unknown now" : `${writeFigure(fromBase(base, unit), unit)} now`;
      return `${writeExpression(bound)} is ${value}`;
    });
  }

  #nextOf(trigger: Trigger): string[] {
    if (trigger.kind !== "at") return [];
    const ms = this.#number(trigger.at.time);
    const sky = { clock: this.#clock, place: this.#house.place };
    const next = nextOccurrence(sky, { ...(trigger.at.sun && { sun: trigger.at.sun }), ms }, trigger.days, this.#at);
    return [`next ${this.#when(next)}`];
  }

  #number(expression: Expression): number {
    const index = this.#numbers.get(expression);
    return index === undefined ? Number.NaN : this.#engine.watched(index);
  }

  /** Rules that read a thing, also by way of lets, with their numbers. */
  points(name: string): Explanation[] {
    const { rules, lets } = this.#house;
    const names = new Set([name]);
    // A set takes what is added while it is gone through.
    for (const one of names) for (const { name: own, value } of lets) if (thingsIn(value).includes(one)) names.add(own);
    const uses = (sentence: Sentence) => thingsIn(sentence).some((one) => names.has(one));
    return rules.flatMap((rule) => {
      const figures = rule.sentences.filter(uses).flatMap((sentence) => [...this.#targets(sentence), ...this.#figures(sentence)]);
      return figures.length === 0 ? [] : [explanation(sayThing(rule), figures)];
    });
  }

  /** What a `hold` asks for now, where that is not written as it is. */
  #targets(sentence: Sentence): Explanation[] {
    if (!("hold" in sentence)) return [];
    return sentence.hold.flatMap(({ output, value }) => {
      const type = this.#house.outputs.find(({ name }) => name === output)?.type;
      if (!type || constants.has(value.kind)) return [];
      return [explanation(`${output}: ${sayValue(type, ownOf(this.#number(value), type))} now`)];
    });
  }

  // ── Dials, schedules ────────────────────────────────────────────────────────────────────────────────────────────────

  #setting(thing: House["dials"][number] | House["modes"][number]): Explanation {
    const value = sayValue(thing.type, this.#values[thing.name] ?? thing.atFirst);
    const range = "range" in thing && thing.range ? ` of ${sayType(thing.type, thing.range)}` : "";
    const users = this.#usersOf(thing.name);
    const used = users.length === 0 ? "not used" : `used by ${users.join(", ")}`;
    const setters = this.#house.rules.filter((rule) => setsIn(rule).has(thing.name)).map((rule) => rule.name);
    const set = setters.length === 0 ? "" : `; set by ${setters.join(", ")}`;
    return explanation(`${sayThing(thing)}: ${value}${range}; ${used}${set}`, noteOf(thing));
  }

  /** Rules, guards and lets that read a thing. */
  #usersOf(name: string): string[] {
    const { rules, guards, lets, outputs } = this.#house;
    const triggered = (rule: Rule) =>
      rule.sentences.some(
        (sentence) => "do" in sentence && sentence.when.some((one) => one.kind === "changes" && one.of === name),
      );
    return [
      ...rules.filter((rule) => thingsIn(rule).includes(name) || triggered(rule)).map((rule) => rule.name),
      ...guards.filter((guard) => thingsIn(guard).includes(name)).map((guard) => `guard ${guard.name}`),
      ...lets.filter(({ value }) => thingsIn(value).includes(name)).map((one) => one.name),
      ...outputs.filter((output) => thingsIn(output).includes(name)).map((output) => output.name),
    ];
  }

  /** Whether a schedule applies, and until when, or when it next does. */
  next(calendar: Calendar): string {
    const { open, until } = stretchOf(calendar, { clock: this.#clock, place: this.#house.place }, this.#at);
    if (!Number.isFinite(until)) return open ? "always" : "never again";
    return open ? `now, until ${this.#when(until)}` : `next ${this.#when(until)}`;
  }

  #when(instant: number): string {
    return Number.isFinite(instant) ? sayInstant(this.#clock, instant, this.#at) : "never";
  }
}

function endsOf({ at }: Keep): [low: Expression, high: Expression] {
  return "low" in at ? [at.low, at.high] : [at, at];
}

/** Every number that is told of a sentence. */
function figuresIn(sentence: Sentence): Expression[] {
  const times = "do" in sentence ? sentence.when.flatMap((trigger) => (trigger.kind === "at" ? [trigger.at.time] : [])) : [];
  const held = "hold" in sentence ? sentence.hold.map(({ value }) => value) : [];
  if (!("keep" in sentence)) return [...boundsIn(sentence), ...times, ...held];
  const { keep } = sentence;
  const proportions = [keep.raiseWith, keep.lowerWith].flatMap((drive) => (drive?.proportion ? [drive.proportion.over] : []));
  const tolerance = keep.tolerance ? [keep.tolerance.below, keep.tolerance.above] : [];
  return [...boundsIn(sentence), ...endsOf(keep), ...tolerance, ...proportions];
}

/** What conditions compare with, or how long they last, where that is not written as a number. */
function boundsIn(holder: unknown): Expression[] {
  const found: Expression[] = [];
  visitExpressions(holder, (part) => {
    const bound = isBound(part) ? part.right : part.kind === "for" || part.kind === "in the last" ? part.duration : undefined;
    if (bound && !constants.has(bound.kind)) found.push(bound);
  });
  return found;
}

const constants: ReadonlySet<Expression["kind"]> = new Set(["number", "word", "time"]);

function ofName({ name }: { readonly name: string }): Expression {
  return { kind: "value", of: name };
}

function noteOf({ note }: { readonly note?: string }): Explanation[] {
  return note === undefined ? [] : [explanation(`note: ${note}`)];
}

function sayThing({ name, title }: { readonly name: string; readonly title?: string }): string {
  return title === undefined ? name : `${name} "${title}"`;
}

/** `0..100 %RH`, `open/closed`, `time`. */
function sayType(type: ValueType, range: Range | undefined): string {
  return range && type.kind === "number" ? writeRange(range, type.unit) : writeType(type);
}
