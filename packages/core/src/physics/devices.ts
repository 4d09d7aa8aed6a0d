// The devices of a house, simulated: its rooms, weather and people, behind whatever carries what they say. The rules run
// elsewhere, and cannot tell the difference.
import type { Change, Engine } from "../engine/index.js";
import { type House, type Occurrence, ownOf, restOf, typeOf, type Value } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { withRooms } from "./assumed.js";
import { befall } from "./befall.js";
import { furnish, type SimulationOptions, stage } from "./stage.js";
import type { Listening, World } from "./world.js";

/** Carries what simulated devices say. Values are in the thing's own unit. */
export interface DeviceHost {
  /** A sensor says what it reads. */
  reads(sensor: string, value: Value, at: number): void;
  /** Somebody pressed a button. */
  presses(sensor: string, at: number): void;
  /** An output says that it does something. */
  does(output: string, value: Value, at: number): void;
}

/** Under which sky and with which people they stand, and from when. */
export interface DeviceOptions extends Pick<SimulationOptions, "weather" | "seed" | "every"> {
  /** Milliseconds since 1970 UTC. */
  readonly from: number;
}

/** Simulated devices. */
export class Devices {
  readonly #world: World;
  readonly #wires: Wires;

  /** Rooms begin as those of a house that has been lived in. @throws RangeError as `simulate` */
  constructor(own: House, host: DeviceHost, { from, weather, seed = 1, every = MINUTE }: DeviceOptions) {
    const house = withRooms(own);
    const lived = stage(house, { from, seed, ...(weather && { weather }) }, {});
    this.#wires = new Wires(house, host, from);
    const { world } = furnish(this.#wires, { from, weather: lived.weather, seed, every, airs: lived.airs });
    this.#world = world;
  }

  /** An output is told what to do, from an instant on. */
  command(output: string, value: Value, at: number): void {
    this.passTo(Math.max(at, this.#wires.now));
    this.#wires.told(output, value);
    this.passTo(this.#wires.now);
  }

  /** Lets time pass: what is said meanwhile is said in its order. @throws RangeError where that lies behind */
  passTo(at: number): void {
    this.#world.passTo(at);
  }

  /** Something befalls a sensor or an output: it sticks, falls silent, refuses, wobbles … @throws RangeError where that is nothing of a device */
  befall(what: Occurrence, at: number): void {
    this.passTo(at);
    if (!befall(this.#world, what, at, at)) throw new RangeError(`"${what.kind}" is nothing that befalls a device`);
  }
}

/** Stands where an engine would: passes on what is said, and gives what was told. */
class Wires implements Listening {
  readonly #host: DeviceHost;
  readonly #said = new Map<string, Value>();
  #changes: Change[] = [];
  now: number;

  constructor(
    readonly house: House,
    host: DeviceHost,
    from: number,
  ) {
    this.#host = host;
    this.now = from;
  }

  told(output: string, value: Value): void {
    if (this.#said.get(output) === value) {
      // Told again, it says again what it does.
      this.#host.does(output, value, this.now);
      return;
    }
    this.#said.set(output, value);
    this.#changes.push({ at: this.now, output, value, because: {} });
  }

  get nextDeadline(): number {
    return this.#changes.length > 0 ? this.now : Number.POSITIVE_INFINITY;
  }

  get asksObedience(): boolean {
    return true;
  }

  sensorNumber(sensor: string): number {
    return this.house.sensors.findIndex(({ name }) => name === sensor);
  }

  report(sensor: string, value: Value, at: number): void {
    this.#said.set(sensor, value);
    this.#host.reads(sensor, value, at);
  }

  reportNumber(number: number, base: number, at: number): void {
    const name = this.house.sensors[number]?.name ?? "";
    const value = ownOf(base, typeOf(this.house, name));
    if (value !== undefined) this.report(name, typeof value === "number" ? Number(value.toPrecision(12)) : value, at);
  }

  lose(): void {}

  press(sensor: string, at: number): void {
    this.#host.presses(sensor, at);
  }

  set(): void {}

  /** What was said or told last; an output that was told nothing yet rests. */
  value(name: string): Value | undefined {
    const output = this.house.outputs.find((one) => one.name === name);
    return this.#said.get(name) ?? (output && restOf(output));
  }

  confirm(output: string, value: Value, at: number): void {
    this.#host.does(output, value, at);
  }

  advanceTo(at: number): void {
    this.now = at;
  }

  takeChanges(): ReturnType<Engine["takeChanges"]> {
    return this.#changes.splice(0);
  }
}
