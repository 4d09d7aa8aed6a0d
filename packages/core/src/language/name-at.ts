// Which name stands at a place of a text, and in which blocks that is.
import { lex } from "./lexer.js";
import { declarationWords } from "./parser/cursor.js";
import { Faults } from "./problem.js";
import type { Token } from "./token.js";

export interface NameAt {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  /** The zone whose braces it stands in. */
  readonly zone?: string;
}

/** The name or word at a position of a text, if one stands there. */
export function nameAt(text: string, position: number): NameAt | undefined {
  const { tokens } = lex("", text, new Faults({ "": text }));
  const index = tokens.findIndex(({ from, to }) => from <= position && position <= to && to > from);
  const found = tokens
    .slice(index, index + 2)
    .find(({ kind, from }) => (kind === "word" || kind === "dotted") && from <= position);
  if (index < 0 || !found) return undefined;
  const zone = openBlocks(tokens.slice(0, index)).find(({ head }) => head === "zone")?.name;
  return { name: found.text, from: found.from, to: found.to, ...(zone !== undefined && { zone }) };
}

const heads: ReadonlySet<string> = new Set([...declarationWords, "do"]);

/** The blocks that are open, with the word each begins with, as `rule`, `zone`, `do`, and the name behind it. */
export function openBlocks(tokens: readonly Token[]): { head: string; name: string }[] {
  const open: { head: string; name: string }[] = [];
  tokens.forEach(({ text, kind }, index) => {
    if (kind !== "sign") return;
    if (text === "}") open.pop();
    if (text !== "{") return;
    const behind = tokens.slice(0, index).reverse();
    const at = behind.findIndex((token) => token.kind === "word" && heads.has(token.text));
    open.push({ head: behind[at]?.text ?? "", name: behind[at - 1]?.text ?? "" });
  });
  return open;
}
