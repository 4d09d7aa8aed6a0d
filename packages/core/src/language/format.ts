// Text in its canonical layout.
import { parseFile } from "./parser/file.js";
import { Faults, type Problem } from "./problem.js";
import { writeDeclaration } from "./write/declarations.js";
import { layOut } from "./write/layout.js";

/** A text laid out, or as it was with its problems. */
export interface Formatted {
  /** The canonical text; the text as it was where it has errors. */
  readonly text: string;
  readonly problems: readonly Problem[];
}

/**
 * Lays one file of a house out: two blanks a level, one blank around words and signs, units as they are written in the
 * catalogue. Comments and single blank lines stay. Formatting twice changes nothing more.
 * @param file named in the problems
 */
export function formatHouse(text: string, file = "house.modrik"): Formatted {
  const faults = new Faults({ [file]: text });
  const { declarations, comments } = parseFile(file, text, faults);
  if (faults.count > 0) return { text, problems: faults.problems };
  return {
    text: layOut(
      declarations.flatMap((node) => writeDeclaration(node)),
      comments,
      text,
    ),
    problems: [],
  };
}
