// What declarations are written of: their heads, blocks, notes, and lists of `name at value`.
import type { Quoted, TargetNode, Word } from "../syntax.js";
import type { Line } from "./layout.js";
import { writeQuoted, writeTerm } from "./terms.js";

export type Placed = { readonly span: { readonly from: number; readonly to: number } };

export function block(indent: number, head: string, { span }: Placed, body: readonly Line[]): Line[] {
  return [{ indent, text: `${head} {`, at: span.from }, ...body, { indent, text: "}", at: span.to - 1 }];
}

export function heading({ name, title }: { name: Word; title?: Quoted }): string {
  return title ? `${name.text} ${writeQuoted(title)}` : name.text;
}

export function note({ note: said }: { note?: Quoted }, indent: number): Line[] {
  return said ? [{ indent, text: `note ${writeQuoted(said)}`, at: said.span.from }] : [];
}

export function trailingNote({ note: said }: { note?: Quoted }): string {
  return said ? `, note ${writeQuoted(said)}` : "";
}

/** `a at b, c at d`, to be laid out in a line or several. */
export function writeTargets(targets: readonly TargetNode[], joins: string): { text: string; at: number }[] {
  return targets.map(({ name, value }, index) => {
    const comma = index < targets.length - 1 ? "," : "";
    return { text: `${name.text} ${joins} ${writeTerm(value)}${comma}`, at: name.span.from };
  });
}
