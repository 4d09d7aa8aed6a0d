// What happens in a timeline, done to a house: what its sensors say and suffer, what people do, what befalls the house itself.
import { createEngine, type Engine, type EngineOptions, readSnapshot, type Snapshot } from "../engine/index.js";
import { baseOfNumber, type House, momentOf, type Occurrence, ownValue, skyOf } from "../house/index.js";
import { befall, type World } from "../physics/index.js";
import { type Heard, Listener } from "../wire/index.js";

/** A house to which things happen. A restart begins a new engine: the latest is the one that lives. */
export class Actor {
  readonly #house: House;
  readonly #world: World;
  readonly #listener: Listener;
  readonly #options: Pick<EngineOptions, "watch" | "onInstant" | "journal">;
  #engine: Engine;
  /** What the house kept when it last went down. */
  #kept: Snapshot | undefined;

  /** @param options what its engine was made with, for those after it */
  constructor(engine: Engine, world: World, options: Pick<EngineOptions, "watch" | "onInstant" | "journal">) {
    this.#engine = engine;
    this.#house = engine.house;
    this.#world = world;
    this.#listener = new Listener(engine.house);
    this.#options = options;
  }

  get engine(): Engine {
    return this.#engine;
  }

  /** Lets it happen at an instant; what lasts goes on until another. */
  happen(what: Occurrence, at: number, to: number): void {
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
