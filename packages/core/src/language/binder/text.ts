// Titles, notes and the texts of notices.
import type { Expression, Named, Text } from "../../house/index.js";
import type { Quoted, Word } from "../syntax.js";
import type { Scope } from "./scope.js";
import { bindTerm } from "./terms.js";

/** Title and note of a declaration, under its whole name. */
export function headingOf(node: { name: Word; title?: Quoted; note?: Quoted }, name = node.name.text): Named {
  return {
    name,
    ...(node.title && { title: plainText(node.title) }),
    ...(node.note && { note: plainText(node.note) }),
  };
}

/** Text in which nothing is replaced. */
export function plainText({ parts }: Quoted): string {
  return parts.filter((part) => typeof part === "string").join("");
}

/** Text whose braces are values. */
export function bindText({ parts }: Quoted, scope: Scope): Text {
  const text: (string | Expression)[] = [];
  for (const part of parts) {
    const bound = typeof part === "string" ? part : bindTerm(part, scope)?.expression;
    if (bound !== undefined) text.push(bound);
  }
  return text;
}
