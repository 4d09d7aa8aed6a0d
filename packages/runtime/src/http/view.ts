// A running house as it is seen over HTTP.
import {
  clockOf,
  type Explanation,
  type House,
  handEndsWith,
  lastsOf,
  type Named,
  offWordOf,
  ownOf,
  type Run,
  reachOf,
  readTimeOfDay,
  restOf,
  type Sensor,
  sayValue,
  sinceAt,
  skyOf,
  staysUntil,
  stretchOf,
  tellPoints,
  typeOf,
  type Value,
  whyBriefly,
  whyInShort,
  whyNotice,
  writeDuration,
  writeExpression,
  writeNeverTogether,
  writePermit,
  writeSentence,
} from "modrik";
import type { z } from "zod";
import { Archive } from "../archive/archive.js";
import { topicsOf } from "../postbox.js";
import type { RunningHouse } from "../running-house.js";
import type { HouseFile, NoticeSent } from "../storage/house-file.js";
import { concernsOf } from "./concerns.js";
import type * as shapes from "./shapes.js";
import type { Streams } from "./stream.js";

export type Seen<Shape extends keyof typeof shapes> = (typeof shapes)[Shape] extends z.ZodType<infer Out> ? Out : never;

/** Reads what is shown off a running house. */
export class View {
  readonly archive: Archive;
  /** Those who listen, where any may. */
  streams: Streams | undefined;

  constructor(
    readonly running: RunningHouse,
    readonly file: HouseFile,
    readonly version: string,
  ) {
    this.archive = new Archive(file);
  }

  get #house(): House {
    return this.running.house;
  }

  /** As the clock on the wall has it. */
  instant(at: number): string {
    return new Date(at + this.running.clockAhead).toISOString();
  }

  house(): Seen<"house"> {
    const { running } = this;
    return {
      name: this.#house.name,
      clock: clockOf(this.#house.clock).zone,
      at: this.instant(running.now),
      runningSince: this.instant(running.startedAt),
      ...this.#state(),
      dry: running.isDry,
      speed: running.speed,
      handLasts: this.#handLasts(),
      version: this.version,
    };
  }

  #handLasts(): string {
    const { past, to } = this.running.run;
    const { handLasts } = this.#house;
    const ms = handLasts ? past.value(handLasts, to) : USUAL_HAND;
    return Number.isNaN(ms) ? "until released" : writeDuration(ms);
  }

  health(): Seen<"health"> {
    const state = this.#state();
    return { fine: state.broker === "there" && state.storage === "fine", ...state };
  }

  #state() {
    return {
      broker: this.running.isUp ? ("there" as const) : ("away" as const),
      storage: this.running.refusedSince === undefined ? ("fine" as const) : ("refuses" as const),
    };
  }

  zones(): Seen<"zone">[] {
    const { zones, outputs, dials, sensors } = this.#house;
    const within = (zone: string, things: readonly Named[]) =>
      things.filter(({ name }) => name.startsWith(`${zone}.`)).map(({ name }) => name);
    return zones.map((zone) => ({
      ...titled(zone),
      sensors: sensors.filter(({ name }) => name.startsWith(`${zone.name}.`)).map((sensor) => this.#reading(sensor)),
      outputs: within(zone.name, outputs),
      dials: within(zone.name, dials),
    }));
  }

  #reading(sensor: Sensor): Seen<"reading"> {
    const { name, type, deviceHealth } = sensor;
    const { run } = this.running;
    const isPress = type.kind === "press";
    const value = isPress ? undefined : this.running.value(name);
    const heardAt = this.running.heardAt(name) ?? this.#pressedAt(sensor);
    const until = lastsOf(this.#house, sensor);
    const lasts = until && value !== undefined ? run.past.value(until, run.to) : Number.NaN;
    return {
      ...titled(sensor),
      value: value ?? null,
      ...unitOf(this.#house, name),
      says: isPress ? (heardAt === undefined ? "not pressed yet" : "pressed") : sayValue(type, value),
      ...(heardAt !== undefined && { heardAt: this.instant(heardAt) }),
      ...(heardAt !== undefined && lasts > 0 && { goneAt: this.instant(heardAt + lasts) }),
      ...(deviceHealth && { health: true }),
    };
  }

  #pressedAt({ name, type }: Sensor): number | undefined {
    if (type.kind !== "press") return undefined;
    const { past } = this.running.run;
    return past.line({ kind: "pressed", sensor: name }).times.findLast((at) => at > past.beginning);
  }

  outputs(): Seen<"output">[] {
    const { run } = this.running;
    const snapshot = this.running.snapshot();
    const tried = new Map(this.file.tried().map(({ output, found }) => [output, found]));
    return this.#house.outputs.map((output) => {
      const { name, type } = output;
      const range = reachOf(output);
      const value = this.running.value(name);
      const state = snapshot.outputs[name];
      const since = sinceAt(run.past.line({ kind: "value", of: name }), run.to);
      const { rule, guard, delayed } = run.past.reason(name, run.to);
      const found = tried.get(name);
      const stays = staysUntil(run, snapshot, name);
      const endsWith = handEndsWith(this.#house, name);
      const hand = state?.hand == null ? undefined : this.#hand(name, state.handEnds, state.handIsOpen ? endsWith : []);
      const isRefused = hand && guard !== undefined && !delayed && state?.hand !== state?.value;
      return {
        ...titled(output),
        value: value ?? null,
        ...unitOf(this.#house, name),
        says: sayValue(type, value),
        ...(type.kind === "words" && { words: [...type.words] }),
        ...(range && { range: [range[0], range[1]] as [Value, Value] }),
        ...(type.kind === "colour" && { colour: true }),
        isOn: value !== undefined && value !== (restOf(output) ?? offWordOf(output) ?? "#000000"),
        ...(since !== undefined && Number.isFinite(since) && { since: this.instant(since) }),
        because: whyInShort(run, name, run.to) ?? "nothing is known of it",
        briefly: whyBriefly(run, name, run.to),
        ...(rule !== undefined && { rule }),
        ...(guard !== undefined && { guard }),
        ...(stays && { stays: { until: this.instant(stays.until), says: stays.says } }),
        ...(hand && { hand: { ...hand, ...(isRefused && { refused: guard }) } }),
        handEndsWith: endsWith,
        disobeys: state?.confirmed != null && state.confirmed !== state.value,
        ...(found !== undefined && { tried: found }),
      };
    });
  }

  #hand(output: string, ends: number | null, endsWith: readonly string[]) {
    const applied = this.#house.presets.filter(({ targets }) => targets.some((one) => one.output === output));
    const deeds = [output, ...applied.map(({ name }) => name)].flatMap((name) => this.file.lastDeed(name) ?? []);
    const who = deeds.sort((a, b) => b.at - a.at)[0]?.who;
    return { until: ends === null ? null : this.instant(ends), endsWith: [...endsWith], ...(who !== undefined && { who }) };
  }

  dials(): Seen<"dial">[] {
    return this.#house.dials.map((dial) => {
      const { name, type, range, step, atFirst } = dial;
      const value = this.running.value(name) ?? atFirst;
      const before = this.#before(name);
      const deed = before && this.file.lastDeed(name);
      return {
        ...titled(dial),
        value,
        ...unitOf(this.#house, name),
        says: sayValue(type, value),
        ...(range && { range: [range[0], range[1]] as [Value, Value] }),
        ...(step !== undefined && { step }),
        ...(type.kind === "words" && { words: [...type.words] }),
        atFirst,
        ...(before && {
          before: { value: before.value, says: sayValue(type, before.value), until: this.instant(before.until) },
        }),
        // A rule may have set it since.
        ...(deed && deed.at === before.until && { who: deed.who }),
      };
    });
  }

  /** What a dial was before it was last changed. */
  #before(name: string): { readonly value: Value; readonly until: number } | undefined {
    const { times, values } = this.running.run.past.line({ kind: "value", of: name });
    const place = values.findLastIndex((base) => base !== values.at(-1));
    const [base, until] = [values[place], times[place + 1]];
    if (base === undefined || until === undefined) return undefined;
    const value = ownOf(base, typeOf(this.#house, name));
    return value === undefined ? undefined : { value, until };
  }

  modes(): Seen<"mode">[] {
    return this.#house.modes.map((mode) => ({
      ...titled(mode),
      value: String(this.running.value(mode.name) ?? mode.atFirst),
      words: [...mode.type.words],
      atFirst: mode.atFirst,
    }));
  }

  countdowns(): Seen<"countdown">[] {
    const { countdowns } = this.running.snapshot();
    const { past, to } = this.running.run;
    return this.#house.countdowns.map((one) => {
      const until = countdowns[one.name];
      const usual = past.value(one.lasts, to);
      return {
        ...titled(one),
        running: until != null,
        ...(until != null && { until: this.instant(until) }),
        usual: Number.isNaN(usual) ? "unknown" : writeDuration(usual),
      };
    });
  }

  presets(): Seen<"preset">[] {
    const { past, to } = this.running.run;
    return this.#house.presets.map((one) => ({
      ...titled(one),
      sets: one.targets.map(({ output: name }) => name),
      changes: one.targets.flatMap(({ output: name, value }) => {
        const type = typeOf(this.#house, name);
        const then = sayValue(type, ownOf(past.value(value, to), type));
        const now = sayValue(type, this.running.value(name));
        return now === then ? [] : [{ name, now, then }];
      }),
    }));
  }

  lets(): Seen<"let">[] {
    return this.#house.lets.map((one) => {
      const type = typeOf(this.#house, one.name);
      const value = this.running.value(one.name);
      return {
        ...titled(one),
        value: value ?? null,
        ...unitOf(this.#house, one.name),
        says: sayValue(type, value),
        means: writeExpression(one.value),
      };
    });
  }

  schedules(): Seen<"schedule">[] {
    const at = this.running.now + this.running.clockAhead;
    return this.#house.schedules.map((one) => {
      const { open, until } = stretchOf(one, skyOf(this.#house), at);
      return { ...titled(one), open, until: Number.isFinite(until) ? new Date(until).toISOString() : null };
    });
  }

  rules(): Seen<"rule">[] {
    const { run } = this.running;
    return this.#house.rules.map((one) => {
      const paused = run.past.paused(one.name, run.to);
      return {
        ...titled(one),
        standing: one.standing,
        sentences: one.sentences.map(writeSentence),
        runnable: one.sentences.some((sentence) => "do" in sentence),
        ...(paused && { paused: { until: paused.until === undefined ? null : this.instant(paused.until) } }),
      };
    });
  }

  guards(): Seen<"guard">[] {
    return this.#house.guards.map((one) => ({
      ...titled(one),
      sentences: [...one.permits.map(writePermit), ...(one.neverTogether ?? []).map(writeNeverTogether)],
    }));
  }

  notices(from: number, to: number): Seen<"notice">[] {
    return this.file.notices(from, to).map((one) => this.#notice(one));
  }

  /** A notice by its id, of the last month. */
  notice(id: string): Seen<"notice"> | undefined {
    const { now } = this.running;
    return this.notices(now - MONTH, now).find((one) => String(one.id) === id);
  }

  /** Why a notice was sent, where what led to it is remembered. */
  whyNotice(id: number): Explanation | undefined {
    const { now } = this.running;
    const found = this.file.notices(now - MONTH, now).find((one) => one.id === id);
    if (!found) return undefined;
    const { at } = found;
    const within = this.file.notices(at, at).findIndex((one) => one.id === id);
    const run = { ...this.runOf(at - DAY, at), from: at, to: at };
    return within < run.past.notices(at, at).length ? whyNotice(run, within + 1) : undefined;
  }

  /** What a dial or a mode would do with a value, all else being as it is. */
  points(name: string, value: Value | undefined): Explanation[] {
    const { sensors, dials, modes } = this.#house;
    const known = [...sensors, ...dials, ...modes]
      .filter(({ type }) => type.kind !== "press")
      .map((one) => [one.name, one.name === name ? value : this.running.value(one.name)]);
    const values = Object.fromEntries(known.filter(([, one]) => one !== undefined)) as Record<string, Value>;
    return tellPoints(this.#house, name, { at: this.running.now, values });
  }

  /** The next instant of a time of day, or at which a schedule begins or ends. */
  momentOf(text: string): number | undefined {
    const { now, clockAhead } = this.running;
    const schedule = this.#house.schedules.find(({ name }) => name === text);
    const sky = skyOf(this.#house);
    if (schedule) {
      const { until } = stretchOf(schedule, sky, now + clockAhead);
      return Number.isFinite(until) ? until - clockAhead : undefined;
    }
    const ms = readTimeOfDay(text);
    if (ms === undefined) return undefined;
    const { clock } = sky;
    const { day } = clock.local(now + clockAhead);
    const today = clock.instant(day, ms) - clockAhead;
    return today > now ? today : clock.instant(day + 1, ms) - clockAhead;
  }

  #notice({ id, at, text, through, rule, ticked }: NoticeSent): Seen<"notice"> {
    return {
      id,
      at: this.instant(at),
      text,
      ...(through !== undefined && { through }),
      sentTo: topicsOf(this.#house, through),
      ...(rule !== undefined && { rule }),
      ...(ticked && { ticked: { at: this.instant(ticked.at), who: ticked.who } }),
    };
  }

  /** All that stands now. */
  now(): Seen<"now"> {
    const zones = this.zones();
    const outputs = this.outputs();
    const { now } = this.running;
    const { paused } = this.running.snapshot();
    return {
      house: this.house(),
      concerns: concernsOf(this, zones, outputs),
      notices: this.notices(now - NOTICED, now)
        .filter(({ ticked }) => !ticked)
        .reverse(),
      zones,
      outputs,
      dials: this.dials(),
      modes: this.modes(),
      countdowns: this.countdowns(),
      schedules: this.schedules(),
      paused: Object.entries(paused).map(([rule, until]) => ({ rule, until: until === null ? null : this.instant(until) })),
    };
  }

  history(name: string, from: number, to: number, limit: number): Seen<"history"> {
    const reports = this.file.history(from, to, [name]).slice(-limit);
    return {
      name,
      ...unitOf(this.#house, name),
      reports: reports.map(({ at, value }) => ({ at: this.instant(at), value: value ?? null })),
      hours: this.file
        .hours(name, from, to)
        .map(({ at, count, mean, low, high }) => ({ at: this.instant(at), count, mean, low, high })),
    };
  }

  /** What is remembered of a stretch: of the last days in memory, of what is older on the disk. */
  runOf(from: number, to: number): Run {
    const { run } = this.running;
    if (from >= run.from) return { ...run, from, to };
    const past = this.file.journal(from, to);
    return Number.isFinite(past.beginning) ? { past, from: Math.max(from, past.beginning), to } : { ...run, to };
  }
}

const DAY = 86_400_000;
/** What a hand lasts in a house that does not say. */
const USUAL_HAND = 2 * 3_600_000;
const NOTICED = 2 * DAY;
const MONTH = 32 * DAY;

function titled({ name, title, note }: Named) {
  return { name, ...(title !== undefined && { title }), ...(note !== undefined && { note }) };
}

function unitOf(house: House, name: string): { unit?: string } {
  const type = typeOf(house, name);
  return type.kind === "number" && type.unit !== "" ? { unit: type.unit } : {};
}
