// A timeline played to a house: what its sensors say, what people do, what befalls it.
import { createEngine, type Engine, type EngineOptions, type Run, readSnapshot, type Snapshot } from "../engine/index.js";
import {
  baseOfNumber,
  givenIn,
  type House,
  momentOf,
  type Occurrence,
  ownValue,
  recordedValue,
  skyOf,
  type Timeline,
  type Trial,
  type Value,
  type Weather,
} from "../house/index.js";
import { befall, calm, checkWeather, createPhysics, World, withRooms } from "../physics/index.js";
import { MINUTE } from "../time/index.js";
import { type Heard, Listener } from "../wire/index.js";

/** What a house begins with, and goes on. */
interface Scene extends Pick<Trial, "recorded" | "given" | "cold" | "simulated"> {
  /** Values it begins with beside them, in the thing's own unit. */
  readonly set?: Readonly<Record<string, Value>>;
}

/** A timeline played to a house. */
export class Play {
  readonly #house: House;
  readonly #timeline: Timeline;
  readonly #options: Pick<EngineOptions, "watch" | "onInstant" | "journal">;
  readonly #world: World;
  readonly #listener: Listener;
  #engine: Engine;
  /** What the house kept when it last went down. */
  #kept: Snapshot | undefined;

  /** `onInstant` is told of the engine that lives then: a restart begins a new one. */
  constructor(
    house: House,
    trial: Scene,
    timeline: Timeline,
    { onInstant, ...options }: Pick<EngineOptions, "watch" | "journal"> & { onInstant?: (at: number, engine: Engine) => void },
  ) {
    this.#house = house;
    this.#listener = new Listener(house);
    this.#timeline = timeline;
    this.#options = { ...options, ...(onInstant && { onInstant: (at) => onInstant(at, this.#engine) }) };
    const { from } = timeline;
    const given = { ...lastBefore(house, trial, from), ...givenIn(house, trial), ...trial.set };
    this.#engine = createEngine(house, { at: from, ...(!trial.cold && { given }), ...this.#options });
    if (trial.simulated) checkWeather(house, weatherOf(house, trial.simulated.weather), from, timeline.to);
    const physics =
      trial.simulated && createPhysics(withRooms(house), { from, weather: weatherOf(house, trial.simulated.weather), given });
    this.#world = new World(this.#engine, from, MINUTE, physics);
    if (trial.recorded) this.#world.replay(trial.recorded, from);
    // Rooms begin with what is measured of them; of doors and people what is given is so until something else is.
    else this.#tellAll(given, from, physics?.sensors.filter((sensor) => !physics.isContact(sensor)) ?? []);
  }

  /** Each sensor goes on saying what it is given. */
  #tellAll(given: Readonly<Record<string, Value>>, from: number, simulated: readonly string[]): void {
    for (const [name, value] of Object.entries(given)) {
      if (this.#isSensor(name) && !simulated.includes(name)) this.#world.tell(name, value, from);
    }
  }

  /** Plays it to its end; what is kept is the house at an instant, when all of that has happened. */
  run(keepAt = Number.POSITIVE_INFINITY): { readonly engine: Engine; readonly kept: Run["kept"] } {
    let kept: Run["kept"];
    const keepBefore = (at: number) => {
      if (kept || keepAt >= at) return;
      this.#world.passTo(keepAt);
      kept = { at: keepAt, snapshot: this.#engine.snapshot() };
    };
    for (const { at, to, what } of this.#timeline.happenings) {
      if (at > this.#timeline.to) break;
      keepBefore(at);
      this.#world.passTo(at, true);
      this.#happen(what, at, to);
    }
    keepBefore(this.#timeline.to + 1);
    this.#world.passTo(this.#timeline.to);
    return { engine: this.#engine, kept };
  }

  #isSensor(name: string): boolean {
    return this.#house.sensors.some((sensor) => sensor.name === name);
  }

  #happen(what: Occurrence, at: number, to: number): void {
    if (befall(this.#world, what, at, to)) return;
    const engine = this.#engine;
    switch (what.kind) {
      case "is": {
        const value = ownValue(this.#house, what.name, what.value);
        if (value !== undefined) engine.set(what.name, value, at);
        break;
      }
      case "message":
        for (const heard of this.#listener.hear(what.topic, what.reads)) this.#hear(heard, at);
        break;
      case "the house restarts":
        this.#restart(at, at);
        break;
      case "the house is down":
        this.#restart(at, at + (baseOfNumber(what.for) ?? 0));
        break;
      case "the clock jumps":
        engine.jumpClock(baseOfNumber(what.by) ?? 0, at);
        break;
      default:
        this.#act(what as Extract<Occurrence, { kind: `person ${string}` }>, at);
    }
  }

  #hear(heard: Heard, at: number): void {
    switch (heard.kind) {
      case "lost":
        return this.#world.mute([heard.sensor], at);
      case "back":
        return this.#world.unmute([heard.sensor]);
      case "pressed":
        return this.#engine.press(heard.sensor, at);
      case "confirms":
        return this.#engine.confirm(heard.output, heard.value, at);
      case "reads": {
        const { sensor, value } = heard;
        if (value !== undefined) this.#world.happen(sensor, value, at);
        return this.#engine.report(sensor, value ?? Number.NaN, at);
      }
    }
  }

  /** What a person does. */
  #act(what: Extract<Occurrence, { kind: `person ${string}` }>, at: number): void {
    const engine = this.#engine;
    const { name } = what;
    switch (what.kind) {
      case "person sets": {
        const lasts = what.until ? momentOf(what.until, skyOf(this.#house), at, true) - at : baseOfNumber(what.for);
        const outputs = this.#outputsOf(name);
        const value = ownValue(this.#house, outputs[0] ?? name, what.value);
        if (value === undefined) return;
        if (outputs.length === 0) engine.set(name, value, at);
        for (const output of outputs)
          engine.person({ kind: "switches", output, value, ...(lasts !== undefined && { lasts }) }, at);
        break;
      }
      case "person releases":
        for (const output of this.#outputsOf(name)) engine.person({ kind: "releases", output }, at);
        break;
      case "person pauses": {
        const lasts = baseOfNumber(what.for);
        engine.person({ kind: "pauses", rule: name, ...(lasts !== undefined && { lasts }) }, at);
        break;
      }
      case "person resumes":
        engine.person({ kind: "resumes", rule: name }, at);
        break;
      case "person applies":
        engine.person({ kind: "applies", preset: name }, at);
        break;
      case "person starts":
        engine.person({ kind: "starts", countdown: name }, at);
        break;
      case "person stops":
        engine.person({ kind: "stops", countdown: name }, at);
        break;
      case "person runs":
        engine.person({ kind: "runs", rule: name }, at);
        break;
      default:
        throw new RangeError(`no such action: ${JSON.stringify(what satisfies never)}`);
    }
  }

  /** An output, or those of a group; none for a dial or a mode. */
  #outputsOf(name: string): readonly string[] {
    const group = this.#house.groups.find((one) => one.name === name);
    if (group) return group.members;
    return this.#house.outputs.some((output) => output.name === name) ? [name] : [];
  }

  /** The house goes down, where it is not down already, and comes up again from what it kept. */
  #restart(at: number, upAt: number): void {
    if (at >= this.#engine.now) {
      this.#engine.advanceTo(at);
      const kept = upAt > at ? this.#engine.goDown(at) : this.#engine.snapshot();
      if (upAt > at) this.#world.loseControl();
      this.#kept = readSnapshot(JSON.parse(JSON.stringify(kept)));
    }
    const restore = this.#kept;
    if (!restore) return;
    this.#engine = createEngine(this.#house, { at: Math.max(upAt, this.#engine.now), restore, ...this.#options });
    this.#world.engine = this.#engine;
  }
}

function weatherOf(house: House, name: string | undefined): Weather {
  return house.weathers.find((weather) => weather.name === name) ?? house.weathers[0] ?? calm;
}

/** What a recording said last of each thing before the trial begins: it has been so. */
function lastBefore(house: House, { recorded = [] }: Pick<Trial, "recorded">, from: number): Record<string, Value> {
  const inputs = new Set(
    [...house.sensors, ...house.dials, ...house.modes].filter(({ type }) => type.kind !== "press").map(({ name }) => name),
  );
  const last: Record<string, Value> = {};
  for (const record of recorded) {
    const value = record.at < from && inputs.has(record.name) ? recordedValue(house, record) : undefined;
    if (value !== undefined) last[record.name] = value;
  }
  return last;
}
