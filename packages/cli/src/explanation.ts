// Explanations as a tree of lines.
import type { Explanation } from "modrik";

export function writeExplanation({ says, because }: Explanation, indent = ""): string[] {
  return [`${indent}${says}`, ...because.flatMap((part) => writeExplanation(part, `${indent}  `))];
}
