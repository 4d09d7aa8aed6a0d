// The parser against the grammar that users read: what it derives is read, what it does not is a problem.
import { formatHouse } from "modrik";
import { pick, type Random, seeded } from "modrik/testing";
import { expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";
import { derive, derives } from "./grammar.js";

const TEXTS = Number(process.env.MODRIK_TEXTS ?? 1500);
const FIRST = Number(process.env.MODRIK_FIRST ?? 1);
const LONG = forMany(TEXTS);

/** Each on a line of its own, so that no number takes a word for its unit. */
const textOf = (tokens: readonly string[]) => tokens.join("\n");
const problemsOf = (tokens: readonly string[]) =>
  formatHouse(textOf(tokens)).problems.map(({ reason, place }) => `${place.line} ${reason}`);

test("what the grammar derives is read, and laid out reads the same", LONG, () => {
  const wrong: string[] = [];
  for (let seed = FIRST; seed < FIRST + TEXTS; seed++) {
    const tokens = derive(seeded(seed), 4 + (seed % 10));
    expect(derives(tokens), `seed ${seed}`).toBe(true);
    const problems = problemsOf(tokens);
    if (problems.length > 0) wrong.push(`seed ${seed}: ${tokens.join(" ")} ${problems.join()}`);
    if (problems.length > 0) continue;
    const { text } = formatHouse(textOf(tokens));
    expect(formatHouse(text), `seed ${seed}: ${tokens.join(" ")}`).toEqual({ text, problems: [] });
  }
  expect(wrong).toEqual([]);
});

function changed(tokens: readonly string[], random: Random): string[] {
  // What a repeated word is replaced by is not told by the grammar.
  const places = [...tokens.keys()].filter((place) => !tokens[place]?.startsWith("each_"));
  const [at, from] = [pick(random, places), pick(random, places)];
  const other = tokens[from] as string;
  return pick(random, [() => tokens.toSpliced(at, 1), () => tokens.toSpliced(at, 0, other), () => tokens.with(at, other)])();
}

test("what it does not derive is a problem", LONG, () => {
  let refused = 0;
  const wrong: string[] = [];
  for (let seed = FIRST; seed < FIRST + TEXTS; seed++) {
    const random = seeded(seed);
    const whole = derive(random, 4 + (seed % 10));
    if (whole.length === 0) continue;
    const tokens = changed(whole, random);
    const isRight = derives(tokens);
    const problems = problemsOf(tokens);
    if ((problems.length === 0) !== isRight)
      wrong.push(`seed ${seed}, ${isRight ? "refused" : "taken"}: ${tokens.join(" ")} ${problems.join()}`);
    if (!isRight) refused++;
  }
  expect(wrong).toEqual([]);
  expect(refused).toBeGreaterThan(TEXTS / 3);
});
