// What declarations begin and end with: name, title, note; and `name at value`.
import type { Quoted, TargetNode, Word } from "../syntax.js";
import type { WantedName } from "../wanted.js";
import { type Cursor, isPlain } from "./cursor.js";
import { anyWord, name, quoted, value } from "./terms.js";

/** The name and title that open a declaration. */
export function heading(c: Cursor, what: string): { name: Word; title?: Quoted } {
  const declared = anyWord(c, `a name for the ${what}`);
  return c.token.kind === "text" ? { name: declared, title: quoted(c) } : { name: declared };
}

/** `, note "…"` at the end of a declaration. */
export function trailingNote(c: Cursor): Quoted | undefined {
  return c.takeCommaWord("note") ? quoted(c) : undefined;
}

/** `note "…"` among entries: kept, and left out of them; of several, each is a line. */
export function splitNote<Entry>(entries: readonly (Entry | Quoted)[]): { entries: Entry[]; note?: Quoted } {
  const isNote = (entry: Entry | Quoted): entry is Quoted =>
    typeof entry === "object" && entry !== null && "parts" in entry && !("kind" in entry);
  const [first, ...others] = entries.filter(isNote);
  const rest = entries.filter((entry): entry is Entry => !isNote(entry));
  if (!first) return { entries: rest };
  return { entries: rest, note: { ...first, parts: [...first.parts, ...others.flatMap(({ parts }) => ["\n", ...parts])] } };
}

export function target(c: Cursor, what: WantedName): TargetNode {
  const output = name(c, what);
  if (!c.isWord("at") && c.token.kind === "word" && !c.token.leads && isPlain(c.token.text) && c.token.text !== "to") {
    c.faults.add(c.token, { kind: "habit", written: c.token.text, meant: `at ${c.token.text}` });
  } else if (!c.takeMeant("at", ["to", "="])) c.word("at");
  return { name: output, value: value(c) };
}
