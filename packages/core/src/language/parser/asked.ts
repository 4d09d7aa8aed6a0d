// What the parser asks for where a text stops: that is what a writer may go on with.

/** What a state is of: a thing by its name, or the words themselves where the thing is just being declared. */
export type Subject = string | readonly string[] | undefined;

export class Asked {
  /** Words of the language, several where they only stand together. */
  readonly words = new Set<string>();
  /** Names, values and states, in the words of their problems. */
  readonly slots = new Set<string>();
  /** Of what a state would be. */
  subject: Subject;
  /** The zone whose braces are around. */
  zone: string | undefined;
  #closed = false;

  get isEmpty(): boolean {
    return this.words.size === 0 && this.slots.size === 0;
  }

  word(words: string): void {
    if (!this.#closed && /^\p{L}/u.test(words)) this.words.add(words);
  }

  slot(what: string, subject: Subject, zone: string | undefined): void {
    if (this.#closed) return;
    this.slots.add(what);
    this.subject ??= subject;
    this.zone ??= zone;
  }

  /** What is asked for from here on is not asked of the writer: the parser picks up what it takes for broken. */
  close(): void {
    this.#closed = true;
  }
}
