// What somebody looks on at while a house runs: which of it has turned since the last look. Most of it turns in few steps,
// and is not looked at in the others.
import { type Evaluator, packed } from "../expression/index.js";
import type { Program } from "./program.js";

export class Watched {
  readonly #evaluator: Evaluator;
  readonly #nodes: readonly number[];
  /** Its places, by node. */
  readonly #places: Int32Array;
  readonly #placesAt: Int32Array;
  /** Places of what may turn without a step: sensors, what moves by itself, what is found when somebody looks. */
  readonly #restless: readonly number[];
  /** Places that may have turned since the last look: the first so many. */
  readonly #marked: Int32Array;
  readonly #isMarked: Uint8Array;
  #count = 0;

  constructor({ watched, graph: { nodes } }: Program, evaluator: Evaluator) {
    this.#evaluator = evaluator;
    this.#nodes = watched;
    const places: number[][] = nodes.map(() => []);
    for (const [place, node] of watched.entries()) places[node]?.push(place);
    [this.#places, this.#placesAt] = packed(places);
    const isRestless = (node: number) => nodes[node]?.op === "sensor" || !evaluator.stands(node);
    this.#restless = [...watched.keys()].filter((place) => isRestless(watched[place] as number));
    this.#marked = new Int32Array(watched.length);
    this.#isMarked = new Uint8Array(watched.length);
    for (const place of watched.keys()) this.#mark(place);
  }

  /** A node has changed. */
  changed(node: number): void {
    const end = this.#placesAt[node + 1] as number;
    for (let at = this.#placesAt[node] as number; at < end; at++) this.#mark(this.#places[at] as number);
  }

  #mark(place: number): void {
    if (this.#isMarked[place] === 1) return;
    this.#isMarked[place] = 1;
    this.#marked[this.#count++] = place;
  }

  /** The value at a place now. */
  value(place: number): number {
    return this.#evaluator.current(this.#nodes[place] as number);
  }

  /** All of them as they are now. */
  read(into: Float64Array): void {
    for (let place = 0; place < this.#nodes.length; place++) into[place] = this.value(place);
  }

  /** Brings a list up to date, and names the places that turned: the first so many of `turned`. */
  readTurned(list: Float64Array, turned: Int32Array): number {
    for (let one = 0; one < this.#restless.length; one++) this.#mark(this.#restless[one] as number);
    let count = 0;
    for (let one = 0; one < this.#count; one++) {
      const place = this.#marked[one] as number;
      this.#isMarked[place] = 0;
      const now = this.value(place);
      const before = list[place] as number;
      // Unknown is the same as unknown.
      if (now === before || (Number.isNaN(now) && Number.isNaN(before))) continue;
      list[place] = now;
      turned[count++] = place;
    }
    this.#count = 0;
    return count;
  }
}
