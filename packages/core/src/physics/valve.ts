// A radiator with a thermostatic valve: an output that is a target, and heats by how far the room is below it.

/** K between shut and fully open (proportional band of a valve of EN 215). */
const BAND = 2;

/** ms by which its head lags behind the room (EN 215: up to 40 min to 63 %). */
const LAG = 20 * 60_000;

/** °C, the mean of the water in the radiator at 75/65 °C, and K by which that is above a room of 20 °C (EN 442). */
const WATER = 70;
const NOMINAL = 50;

/** How its power falls with the distance between water and room (EN 442). */
const EXPONENT = 1.3;

export class Valve {
  /** What its head feels, °C. */
  #head: number | undefined;

  /** Lets time pass in a room of a temperature, °C. */
  advance(ms: number, room: number): void {
    const before = this.#head ?? room;
    this.#head = room + (before - room) * Math.exp(-ms / LAG);
  }

  /** The share of its full power for a target and a room, °C. */
  share(target: number, room: number): number {
    const opening = Math.min(1, Math.max(0, (target - (this.#head ?? room)) / BAND + 0.5));
    return opening * (Math.max(0, WATER - room) / NOMINAL) ** EXPONENT;
  }
}
