// The devices of a house, simulated, behind a link: as if they were there.
import {
  confirmationMessages,
  Devices,
  type House,
  type Occurrence,
  type OutgoingMessage,
  readCommand,
  readingMessages,
  topicsTold,
  type Value,
  type Weather,
} from "modrik";
import type { HouseClock } from "./clock.js";
import type { Link } from "./link.js";

export interface SimulatedDevicesOptions {
  /** When they begin: milliseconds since 1970 UTC. */
  readonly from: number;
  readonly link: Link;
  readonly weather?: Weather | undefined;
  readonly seed?: number | undefined;
  /** What befalls them from the beginning on. */
  readonly faults?: readonly Occurrence[] | undefined;
}

/** How often they are looked at, in milliseconds of the house's clock: contacts are told of so late at most. */
const LOOK = 1000;

/** Devices that read their rooms, say it over the wire, do what they are told and say that they do. */
export class SimulatedDevices {
  readonly #house: House;
  #clock: HouseClock | undefined;
  readonly #link: Link;
  readonly #devices: Devices;
  /** What each sensor said last: those that share a message are told together. */
  readonly #read = new Map<string, Value>();
  /** Sensors that read something new since it was last said. */
  readonly #news = new Set<string>();
  #unsubscribe: () => void = () => {};
  #wakes: () => void = () => {};
  #ended = false;

  constructor(house: House, { from, link, weather, seed, faults = [] }: SimulatedDevicesOptions) {
    this.#house = house;
    this.#link = link;
    const host = {
      reads: (sensor: string, value: Value) => {
        this.#read.set(sensor, value);
        this.#news.add(sensor);
      },
      presses: (sensor: string) => {
        for (const message of readingMessages(house, [sensor], (one) => (one === sensor ? "pressed" : undefined)))
          this.#say(message);
      },
      does: (output: string, value: Value) => {
        for (const message of confirmationMessages(house, output, value)) this.#say({ ...message, retained: true });
      },
    };
    this.#devices = new Devices(house, host, { from, ...(weather && { weather }), ...(seed !== undefined && { seed }) });
    for (const fault of faults) this.#devices.befall(fault, from);
    // Who comes back says where it stands.
    link.onTurn((isUp) => {
      if (!isUp) return;
      this.#sayHere();
      for (const sensor of this.#read.keys()) this.#news.add(sensor);
      this.#sayNews();
    });
  }

  /** They begin to speak, by a clock that shows when they begin or later. */
  async start(clock: HouseClock): Promise<this> {
    this.#clock = clock;
    this.#unsubscribe = await this.#link.subscribe(topicsTold(this.#house), (topic, text) => this.#hear(topic, text));
    this.#sayHere();
    this.#look(clock);
    return this;
  }

  /** They fall silent, and say so. */
  async stop(): Promise<void> {
    this.#ended = true;
    this.#wakes();
    this.#unsubscribe();
    await Promise.resolve();
  }

  /** Something befalls one of them now. @throws RangeError where it is nothing that befalls a device */
  befall(what: Occurrence): void {
    if (!this.#clock) throw new RangeError("devices that have not begun");
    this.#devices.befall(what, this.#clock.now());
    this.#sayNews();
  }

  #hear(topic: string, text: string): void {
    const now = this.#clock?.now();
    if (this.#ended || now === undefined) return;
    for (const { output, value } of readCommand(this.#house, topic, text)) this.#devices.command(output, value, now);
    this.#sayNews();
  }

  #look(clock: HouseClock): void {
    if (this.#ended) return;
    const now = clock.now();
    this.#devices.passTo(now);
    this.#sayNews();
    this.#wakes = clock.wake(now + LOOK, () => this.#look(clock));
  }

  #sayNews(): void {
    if (this.#news.size === 0 || !this.#link.isUp) return;
    // Sensors that tell of changes alone are known to whoever comes later: as real ones, they leave it with the broker.
    for (const message of readingMessages(this.#house, [...this.#news], (sensor) => this.#read.get(sensor)))
      this.#say({ ...message, retained: true });
    this.#news.clear();
  }

  #sayHere(): void {
    for (const one of this.#house.wirings)
      if (one.kind === "alive") this.#say({ topic: one.topic, text: one.reads, retained: true });
  }

  #say(message: OutgoingMessage): void {
    if (!this.#link.isUp) return;
    // What does not arrive is said again with the next reading.
    this.#link.publish(message).catch(() => {});
  }
}
