// How tests wait for what takes its time. What they wait for comes on any machine, however busy it is; the limit is only there so
// that a test that would hang ends.

/** How long anything is waited for, in ms. */
export const PATIENCE = 240_000;

/** For a test of many cases, of which a script asks for more than `npm test` does. */
export const forMany = (cases: number) => ({ timeout: 3 * PATIENCE + 1000 * cases });

export const later = (ms: number) => new Promise<void>((done) => setTimeout(done, ms));

/** Waits until something is there; what throws is not there yet. */
export async function until<Value>(is: () => Value | Promise<Value>): Promise<NonNullable<Value>> {
  const ends = Date.now() + PATIENCE;
  for (;;) {
    const found = await Promise.resolve()
      .then(is)
      .catch(() => undefined);
    if (found !== undefined && found !== null && found !== false) return found;
    if (Date.now() > ends) throw new Error("it never came to be so");
    await later(20);
  }
}
