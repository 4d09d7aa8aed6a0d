// The parts of a text by what they are to the language, for those who colour it.
import type { FileNode } from "./syntax.js";
import type { Token } from "./token.js";

/** A part of a text: from its first character to after its last. */
export interface SourceToken {
  readonly from: number;
  readonly to: number;
  /** `keyword`: a word of the language. `name`: of a thing, a rule or whatever else is declared; or a state. */
  readonly kind: "comment" | "text" | "number" | "keyword" | "name" | "sign";
}

const plainKinds: Readonly<Record<Exclude<Token["kind"], "word" | "end">, SourceToken["kind"]>> = {
  text: "text",
  date: "number",
  time: "number",
  duration: "number",
  quantity: "number",
  number: "number",
  unit: "number",
  dotted: "name",
  sign: "sign",
  bad: "sign",
};

/** All of a file but its blanks, in order. */
export function sourceTokens({ tokens, names, comments }: FileNode): SourceToken[] {
  const words = tokens.flatMap(({ kind, from, to }): SourceToken[] => {
    if (kind === "end") return [];
    if (kind !== "word") return [{ from, to, kind: plainKinds[kind] }];
    return [{ from, to, kind: names.has(from) ? "name" : "keyword" }];
  });
  const said = comments.map(({ from, to }): SourceToken => ({ from, to, kind: "comment" }));
  return [...words, ...said].sort((a, b) => a.from - b.from);
}
