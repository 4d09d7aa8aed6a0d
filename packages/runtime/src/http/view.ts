// A running house as it is seen over HTTP.
import {
  clockOf,
  type House,
  logOf,
  type Named,
  type Run,
  type Sensor,
  sayValue,
  sinceAt,
  skyOf,
  stretchOf,
  typeOf,
  type Value,
  whyInShort,
  writeNeverTogether,
  writePermit,
  writeSentence,
} from "modrik";
import type { z } from "zod";
import type { RunningHouse } from "../running-house.js";
import type { HouseFile } from "../storage/house-file.js";
import type * as shapes from "./shapes.js";

type Seen<Shape extends keyof typeof shapes> = (typeof shapes)[Shape] extends z.ZodType<infer Out> ? Out : never;

/** Reads what is shown off a running house. */
export class View {
  constructor(
    readonly running: RunningHouse,
    readonly file: HouseFile,
    readonly version: string,
  ) {}

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
      version: this.version,
    };
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
    const value = sensor.type.kind === "press" ? undefined : this.running.value(sensor.name);
    return { ...titled(sensor), value: value ?? null, ...unitOf(this.#house, sensor.name), says: sayValue(sensor.type, value) };
  }

  outputs(): Seen<"output">[] {
    const { run } = this.running;
    const snapshot = this.running.snapshot();
    const tried = new Map(this.file.tried().map(({ output, found }) => [output, found]));
    return this.#house.outputs.map((output) => {
      const { name, type } = output;
      const value = this.running.value(name);
      const state = snapshot.outputs[name];
      const since = sinceAt(run.past.line({ kind: "value", of: name }), run.to);
      const { rule } = run.past.reason(name, run.to);
      const found = tried.get(name);
      return {
        ...titled(output),
        value: value ?? null,
        ...unitOf(this.#house, name),
        says: sayValue(type, value),
        ...(type.kind === "words" && { words: [...type.words] }),
        ...(since !== undefined && Number.isFinite(since) && { since: this.instant(since) }),
        because: whyInShort(run, name, run.to) ?? "nothing is known of it",
        ...(rule !== undefined && { rule }),
        ...(state?.hand != null && { hand: { until: state.handEnds == null ? null : this.instant(state.handEnds) } }),
        disobeys: state?.confirmed != null && state.confirmed !== state.value,
        ...(found !== undefined && { tried: found }),
      };
    });
  }

  dials(): Seen<"dial">[] {
    return this.#house.dials.map((dial) => {
      const value = this.running.value(dial.name) ?? dial.atFirst;
      return {
        ...titled(dial),
        value,
        ...unitOf(this.#house, dial.name),
        says: sayValue(dial.type, value),
        ...(dial.range && { range: [dial.range[0], dial.range[1]] as [Value, Value] }),
        ...(dial.step !== undefined && { step: dial.step }),
        atFirst: dial.atFirst,
      };
    });
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
    return this.#house.countdowns.map((one) => {
      const until = countdowns[one.name];
      return { ...titled(one), running: until != null, ...(until != null && { until: this.instant(until) }) };
    });
  }

  presets(): Seen<"preset">[] {
    return this.#house.presets.map((one) => ({ ...titled(one), sets: one.targets.map(({ output: name }) => name) }));
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
    return this.file.notices(from, to).map(({ at, text, through, rule }) => ({
      at: this.instant(at),
      text,
      ...(through !== undefined && { through }),
      ...(rule !== undefined && { rule }),
    }));
  }

  journal(from: number, to: number): Seen<"entry">[] {
    const people = this.file
      .deeds(from, to)
      .map(({ at, who, origin, did }) => ({ at, kind: "person" as const, value: did, who, from: origin }));
    const happened = logOf(this.runOf(from, to)).map(({ trial, ...one }) => one);
    return [...happened, ...people].sort((a, b) => a.at - b.at).map(({ at, ...one }) => ({ at: this.instant(at), ...one }));
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

function titled({ name, title, note }: Named) {
  return { name, ...(title !== undefined && { title }), ...(note !== undefined && { note }) };
}

function unitOf(house: House, name: string): { unit?: string } {
  const type = typeOf(house, name);
  return type.kind === "number" && type.unit !== "" ? { unit: type.unit } : {};
}
