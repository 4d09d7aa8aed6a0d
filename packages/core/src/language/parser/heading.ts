// What declarations begin and end with: name, title, note; and `name at value`.
import { rampedHabits } from "../habits.js";
import type { Quoted, TargetNode, Word } from "../syntax.js";
import type { WantedName } from "../wanted.js";
import { isNumberToken } from "./ahead.js";
import { type Cursor, isPlain } from "./cursor.js";
import { quoted } from "./quoted.js";
import { value } from "./terms.js";
import { anyWord, name } from "./words.js";

/** A new name; one of several words, or a title alone, is told with the name that it can have, and read on with. */
export function declaredName(c: Cursor, what: string): Word {
  const first = c.token;
  if (first.kind === "text") {
    const text = nameFor(first.text.slice(1, -1));
    const said = `The ${what} ${first.text} has no name to be used by.`;
    if (text === "") c.missing(first, said, `Write a name before its title: ${what} my_${what} ${first.text}.`);
    c.faults.add(first, { kind: "missing", what: said, remedy: `Write ${text} ${first.text}.`, before: text });
    return { text, span: { ...first, to: first.from } };
  }
  const declared = anyWord(c, `a name for the ${what}`);
  let parts = 0;
  while (comesPart(c, what)) {
    c.takeSign("-");
    c.takeName();
    parts++;
  }
  if (parts === 0) return declared;
  const span = c.span(declared.span);
  const text = nameFor(c.textOf(span));
  c.tellMeant(span, text);
  return { text, span };
}

/** Words that come behind the name of a rule, a weather, a profile. */
const goesOn: ReadonlySet<string> = new Set(["as", "urgent", "background", "from", "ramped"]);

/** Another word of a name, or a hyphen and one, where the name should be over. */
function comesPart(c: Cursor, what: string): boolean {
  const ahead = c.isSign("-") ? 1 : 0;
  const { kind, text, leads } = c.peek(ahead);
  const isOver = goesOn.has(text) || (what === "profile" && rampedHabits.includes(text));
  if (kind !== "word" || leads || c.asked || isOver) return false;
  if (ahead === 1) return isPlain(text);
  // More words, up to what comes behind a name.
  let last = 1;
  while (c.peek(last).kind === "word" && !c.peek(last).leads && isOfName(c.peek(last).text)) last++;
  const { kind: after, text: sign } = c.peek(last);
  return isOfName(text) && (after === "text" || sign === "{" || (last === 1 && (sign === ":" || sign === "=")));
}

/** A word that may be a part of what somebody takes for a name. */
const isOfName = (text: string) => !goesOn.has(text) && !/^(while|when|if|hold|keep|cycle)$/.test(text);

/** `My café 2` as a name: `my_café_2`. */
function nameFor(text: string): string {
  const name = text
    .trim()
    .toLowerCase()
    .replace(/[^\p{L}\p{M}\p{N}]+/gu, "_")
    .replace(/^_+|_+$/g, "");
  return /^\p{N}/u.test(name) ? `_${name}` : name;
}

/** The name and title that open a declaration. */
export function heading(c: Cursor, what: string): { name: Word; title?: Quoted } {
  const declared = declaredName(c, what);
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
  return targetOf(c, name(c, what));
}

/** What a thing is set to, behind its name. */
export function targetOf(c: Cursor, output: Word): TargetNode {
  if (!c.isWord("at") && c.token.kind === "word" && !c.token.leads && isPlain(c.token.text) && c.token.text !== "to") {
    c.faults.add(c.token, { kind: "habit", written: c.token.text, meant: `at ${c.token.text}` });
  } else if (isNumberToken(c.token) && !c.token.leads) {
    c.lacksWord("at");
  } else if (!c.takeMeant("at", ["to", "=", ":"])) c.word("at");
  return { name: output, value: value(c) };
}
