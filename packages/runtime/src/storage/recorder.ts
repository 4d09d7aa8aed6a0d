// The journal of a running house: the last days in memory, to be asked; all of it on its way to the disk.
import type { AskingSentence, House, Journal, JournalEvent, JournalRecord, Recording } from "modrik";
import type { Batch } from "./house-file.js";

/** Writes into a journal in memory, and remembers what is yet to be kept. */
export class LiveRecording implements Recording {
  #records: JournalRecord[] = [];
  #keys: { number: number; key: string }[] = [];
  #houses: { at: number; house: House; asking: readonly AskingSentence[] }[] = [];
  #known: number;

  /**
   * @param journal with all that was kept before
   * @param now the house's own clock
   * @param told of each record
   */
  constructor(
    readonly journal: Journal,
    readonly now: () => number,
    readonly told: (record: JournalRecord) => void,
    known: number,
  ) {
    this.#known = known;
  }

  begin(house: House, asking: readonly AskingSentence[]): void {
    this.journal.begin(house, asking);
    this.#houses.push({ at: this.now(), house, asking });
  }

  keyOf(key: string): number {
    const number = this.journal.keyOf(key);
    if (number >= this.#known) {
      this.#keys.push({ number, key });
      this.#known = number + 1;
    }
    return number;
  }

  write(at: number, event: JournalEvent, causes: readonly number[]): number {
    const id = this.journal.write(at, event, causes);
    const record = { id, at, event, causes };
    this.#records.push(record);
    this.told(record);
    return id;
  }

  heard(key: number, at: number): void {
    this.journal.heard(key, at);
  }

  lastOfKeys(): ReadonlyMap<number, number> {
    return this.journal.lastOfKeys();
  }

  /** What is yet to be kept. */
  get pending(): Pick<Batch, "records" | "keys" | "houses"> {
    return { records: this.#records, keys: this.#keys, houses: this.#houses };
  }

  /** Keeps no more than so many waiting: the oldest go. Gives how many went. */
  letGo(most: number): number {
    return this.#records.splice(0, Math.max(0, this.#records.length - most)).length;
  }

  /** It is kept. */
  kept(): void {
    this.#records = [];
    this.#keys = [];
    this.#houses = [];
  }
}
