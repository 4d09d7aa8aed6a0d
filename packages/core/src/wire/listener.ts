// What a house hears: messages turned into what befalls it. The same for a trial that tells of a message and for a house
// that runs.
import type { House, Value } from "../house/index.js";
import { readConfirmation, readMessage } from "./decode.js";
import { LifeSigns } from "./life-signs.js";

/** What a message means for a house. */
export type Heard =
  /** Its zone gave no sign of life any more: unknown until it is back and reports. */
  | { readonly kind: "lost"; readonly sensor: string }
  /** Its zone is there again. */
  | { readonly kind: "back"; readonly sensor: string }
  | { readonly kind: "pressed"; readonly sensor: string }
  /** In the sensor's own unit; undefined where the message cannot be read. */
  | { readonly kind: "reads"; readonly sensor: string; readonly value: Value | undefined }
  | { readonly kind: "confirms"; readonly output: string; readonly value: Value };

/** Listens for a house. */
export class Listener {
  readonly #house: House;
  readonly #signs: LifeSigns;
  readonly #presses: ReadonlySet<string>;

  constructor(house: House) {
    this.#house = house;
    this.#signs = new LifeSigns(house);
    this.#presses = new Set(house.sensors.flatMap(({ name, type }) => (type.kind === "press" ? [name] : [])));
  }

  /** What a message means, in the order in which it should be taken. What a zone that is gone reads is passed over. */
  hear(topic: string, text: string): Heard[] {
    const signs = this.#signs
      .hear(topic, text)
      .flatMap(({ isThere, sensors }) => sensors.map((sensor): Heard => ({ kind: isThere ? "back" : "lost", sensor })));
    const readings = readMessage(this.#house, topic, text).flatMap(({ sensor, value }): Heard[] => {
      if (this.#presses.has(sensor)) return value === undefined ? [] : [{ kind: "pressed", sensor }];
      return this.#signs.isHeard(sensor) ? [{ kind: "reads", sensor, value }] : [];
    });
    const confirmed = readConfirmation(this.#house, topic, text).map((one): Heard => ({ kind: "confirms", ...one }));
    return [...signs, ...readings, ...confirmed];
  }
}
