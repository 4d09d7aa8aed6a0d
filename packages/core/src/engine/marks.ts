// Which of a row of numbers should be looked at.

/** Numbers that are marked, each once. */
export class Marks {
  readonly #marked: Uint8Array;
  readonly #list: number[] = [];
  size = 0;

  constructor(count: number) {
    this.#marked = new Uint8Array(count);
  }

  /** One of them; the only one, where there is one. */
  get first(): number {
    for (let place = 0; ; place++) if (this.#marked[this.#list[place] as number] === 1) return this.#list[place] as number;
  }

  add(number: number): void {
    if (this.#marked[number] === 1) return;
    this.#marked[number] = 1;
    this.#list.push(number);
    this.size++;
  }

  delete(number: number): void {
    if (this.#marked[number] === 0) return;
    this.#marked[number] = 0;
    this.size--;
    if (this.size === 0) while (this.#list.length > 0) this.#list.pop();
  }

  sorted(): number[] {
    const found = this.#list.filter((number) => this.#marked[number] === 1);
    // Mostly they were marked in their order.
    return isRising(found) ? found : [...new Set(found)].sort((a, b) => a - b);
  }

  clear(): void {
    for (const number of this.#list) this.#marked[number] = 0;
    while (this.#list.length > 0) this.#list.pop();
    this.size = 0;
  }
}

function isRising(numbers: readonly number[]): boolean {
  for (let place = 1; place < numbers.length; place++)
    if ((numbers[place] as number) <= (numbers[place - 1] as number)) return false;
  return true;
}
