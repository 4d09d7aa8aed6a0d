// A timeline played to a house: what its sensors say, what people do, what befalls it.
import { createEngine, type Engine, type EngineOptions, type Run } from "../engine/index.js";
import { givenIn, type House, recordedValue, type Timeline, type Trial, type Value, type Weather } from "../house/index.js";
import { calm, checkWeather, createPhysics, World, withRooms } from "../physics/index.js";
import { MINUTE } from "../time/index.js";
import { Actor } from "./actor.js";

/** What a house begins with, and goes on. */
interface Scene extends Pick<Trial, "recorded" | "given" | "cold" | "simulated"> {
  /** Values it begins with next to them, in the thing's own unit. */
  readonly set?: Readonly<Record<string, Value>>;
}

/** A timeline played to a house. */
export class Play {
  readonly #house: House;
  readonly #timeline: Timeline;
  readonly #world: World;
  readonly #actor: Actor;

  /** `onInstant` is told of the engine that lives then: a restart begins a new one. */
  constructor(
    house: House,
    trial: Scene,
    timeline: Timeline,
    { onInstant, ...options }: Pick<EngineOptions, "watch" | "journal"> & { onInstant?: (at: number, engine: Engine) => void },
  ) {
    this.#house = house;
    this.#timeline = timeline;
    const recorded = { ...options, ...(onInstant && { onInstant: (at: number) => onInstant(at, this.#actor.engine) }) };
    const { from } = timeline;
    const given = { ...lastBefore(house, trial, from), ...givenIn(house, trial), ...trial.set };
    const engine = createEngine(house, { at: from, ...(!trial.cold && { given }), ...recorded });
    if (trial.simulated) checkWeather(house, weatherOf(house, trial.simulated.weather), from, timeline.to);
    const physics =
      trial.simulated && createPhysics(withRooms(house), { from, weather: weatherOf(house, trial.simulated.weather), given });
    this.#world = new World(engine, from, MINUTE, physics);
    this.#actor = new Actor(engine, this.#world, recorded);
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
      kept = { at: keepAt, snapshot: this.#actor.engine.snapshot() };
    };
    for (const { at, to, what } of this.#timeline.happenings) {
      if (at > this.#timeline.to) break;
      keepBefore(at);
      this.#world.passTo(at, true);
      this.#actor.happen(what, at, to);
    }
    keepBefore(this.#timeline.to + 1);
    this.#world.passTo(this.#timeline.to);
    return { engine: this.#actor.engine, kept };
  }

  #isSensor(name: string): boolean {
    return this.#house.sensors.some((sensor) => sensor.name === name);
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
