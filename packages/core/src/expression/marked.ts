// Nodes to be brought up to date, each once, those with lower numbers first: a heap by number.

export class Marked {
  readonly #heap: Int32Array;
  readonly #isIn: Uint8Array;
  #size = 0;

  constructor(size: number) {
    this.#heap = new Int32Array(size);
    this.#isIn = new Uint8Array(size);
  }

  get isEmpty(): boolean {
    return this.#size === 0;
  }

  add(node: number): void {
    if (this.#isIn[node] === 1) return;
    this.#isIn[node] = 1;
    const heap = this.#heap;
    let place = this.#size++;
    while (place > 0) {
      const parent = (place - 1) >> 1;
      const above = heap[parent] as number;
      if (above <= node) break;
      heap[place] = above;
      place = parent;
    }
    heap[place] = node;
  }

  /** Takes the first; there is one. */
  take(): number {
    const heap = this.#heap;
    const first = heap[0] as number;
    const size = --this.#size;
    const last = heap[size] as number;
    let place = 0;
    for (;;) {
      let child = 2 * place + 1;
      if (child >= size) break;
      if (child + 1 < size && (heap[child + 1] as number) < (heap[child] as number)) child++;
      const below = heap[child] as number;
      if (below >= last) break;
      heap[place] = below;
      place = child;
    }
    heap[place] = last;
    this.#isIn[first] = 0;
    return first;
  }
}
