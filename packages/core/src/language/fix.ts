// Remedies that are mechanical, done: a missing unit, a name that differs by a letter, a sign of another language.
import type { HouseText } from "./open.js";
import type { Problem } from "./problem.js";

/** A line that was changed, both counted from 1. */
export interface FixedLine {
  readonly file: string;
  readonly line: number;
  readonly before: string;
  readonly after: string;
}

/** A house read after its texts were fixed. */
export interface Fixed {
  /** Fixed where that could be. */
  readonly text: HouseText;
  readonly changed: readonly FixedLine[];
}

/** What one fix brings to light may be fixed in turn; a text never needs more. */
const ROUNDS = 8;

/** Fixes what can be fixed in the texts of a house, and reads it again. */
export function fixHouse(before: HouseText): Fixed {
  const names = Object.keys(before.files);
  let text = before;
  const guessed = new Set<string>();
  for (let round = 0; round < ROUNDS; round++) {
    const { files } = text;
    // A word that hangs on a name that was guessed would be a guess upon a guess.
    const problems = text.problems.filter((one) => one.fix !== undefined && !(isName(one) && guessed.has(lineOf(one))));
    if (problems.length === 0) break;
    for (const problem of problems) if (isName(problem)) guessed.add(lineOf(problem));
    text = names.reduce((now, name) => now.with(name, fixText(files[name] as string, name, problems)), text);
  }
  return { text, changed: names.flatMap((file) => changedLines(file, before.files[file] ?? "", text.files[file] ?? "")) };
}

const isName = ({ code }: Problem) => code === "unknown-name";
const lineOf = ({ place }: Problem) => `${place.file}:${place.line}`;

/** From the end, so that the places before stay what they are. */
function fixText(text: string, file: string, problems: readonly Problem[]): string {
  const fixes = problems.filter(({ place, fix }) => place.file === file && fix !== undefined);
  const fromEnd = [...fixes].sort((a, b) => b.place.from - a.place.from);
  let fixed = text;
  let done = Number.POSITIVE_INFINITY;
  for (const { place, fix } of fromEnd) {
    // What is around something that has just been fixed has its turn in the next round.
    if (place.to > done) continue;
    fixed = `${fixed.slice(0, place.from)}${fix}${fixed.slice(place.to)}`;
    done = place.from;
  }
  return fixed;
}

/** A fix never changes how many lines there are. */
function changedLines(file: string, before: string, after: string): FixedLine[] {
  const others = after.split("\n");
  return before.split("\n").flatMap((text, index) => {
    const now = others[index] ?? "";
    return text === now ? [] : [{ file, line: index + 1, before: text, after: now }];
  });
}
