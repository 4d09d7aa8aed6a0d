// What a reader did with what is not plain: each kind once, how often, and where first.

export class Notes {
  readonly #counted = new Map<string, { count: number; readonly where: string | undefined; readonly done: string }>();
  readonly #said: string[] = [];

  /** @param what of a report; @param done what was done with it; @param where the first place, as `line 4` */
  count(what: string, done: string, where?: string): void {
    const known = this.#counted.get(what);
    if (known) known.count++;
    else this.#counted.set(what, { count: 1, where, done });
  }

  say(sentence: string): void {
    if (!this.#said.includes(sentence)) this.#said.push(sentence);
  }

  get said(): readonly string[] {
    const counted = [...this.#counted].map(([what, { count, where, done }]) => {
      const first = where === undefined ? "" : count === 1 ? ` (${where})` : ` (first in ${where})`;
      return `${count} ${count === 1 ? "report" : "reports"} ${what}${first}: ${done}.`;
    });
    return [...this.#said, ...counted];
  }
}
