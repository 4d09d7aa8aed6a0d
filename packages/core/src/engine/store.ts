// Where a house keeps what is to outlive its process: a port, for a disk or for a test.

/** A log that is only ever added to, of plain JSON. */
export interface Store<Entry> {
  /** Resolves when the entries would be found again after any crash; they come in the order in which they were added. */
  append(entries: readonly Entry[]): Promise<void>;
  /** All entries, from the first. */
  load(): Promise<readonly Entry[]>;
}

/** A store in memory. Entries go through JSON, so that what is not plain does not survive here either. */
export class MemoryStore<Entry> implements Store<Entry> {
  readonly #lines: string[] = [];

  async append(entries: readonly Entry[]): Promise<void> {
    this.#lines.push(...entries.map((entry) => JSON.stringify(entry)));
  }

  async load(): Promise<readonly Entry[]> {
    return this.#lines.map((line) => JSON.parse(line) as Entry);
  }
}
