// Randomness with a seed: the same seed gives the same numbers anywhere, as only 32-bit integer operations are used.

/** Numbers in [0, 1), from a whole number as seed. The generator is mulberry32 (T. Ettinger, public domain). */
export function randomFrom(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** The same for the same name and seed, and another for each name (FNV-1a, Fowler, Noll and Vo). */
export function seedOf(name: string, seed: number): number {
  let hash = 0x811c9dc5 ^ seed;
  for (const char of name) hash = Math.imul(hash ^ (char.codePointAt(0) as number), 0x01000193);
  return hash;
}
