// Remedies that are mechanical, done: a missing unit, a name that differs by a letter.
import type { HouseText } from "./open.js";
import type { Problem } from "./problem.js";

/** A line that was changed, both counted from 1. */
export interface MendedLine {
  readonly file: string;
  readonly line: number;
  readonly before: string;
  readonly after: string;
}

/** A house read after its texts were mended. */
export interface Mended {
  /** Mended where that could be. */
  readonly text: HouseText;
  readonly changed: readonly MendedLine[];
}

/** What one mend brings to light may be mended in turn; a text never needs more. */
const ROUNDS = 8;

/** Mends what can be mended in the texts of a house, and reads it again. */
export function mendHouse(before: HouseText): Mended {
  const names = Object.keys(before.files);
  let text = before;
  for (let round = 0; round < ROUNDS && text.problems.some(({ mend }) => mend !== undefined); round++) {
    const { files, problems } = text;
    text = names.reduce((now, name) => now.with(name, mendText(files[name] as string, name, problems)), text);
  }
  return { text, changed: names.flatMap((file) => changedLines(file, before.files[file] ?? "", text.files[file] ?? "")) };
}

/** From the end, so that the places before stay what they are. */
function mendText(text: string, file: string, problems: readonly Problem[]): string {
  const mends = problems.filter(({ place, mend }) => place.file === file && mend !== undefined);
  const fromEnd = [...mends].sort((a, b) => b.place.from - a.place.from);
  return fromEnd.reduce((whole, { place, mend }) => `${whole.slice(0, place.from)}${mend}${whole.slice(place.to)}`, text);
}

/** A mend never changes how many lines there are. */
function changedLines(file: string, before: string, after: string): MendedLine[] {
  const others = after.split("\n");
  return before.split("\n").flatMap((text, index) => {
    const now = others[index] ?? "";
    return text === now ? [] : [{ file, line: index + 1, before: text, after: now }];
  });
}
