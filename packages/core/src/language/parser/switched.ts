// What is switched, as people say it: `turn z.fan on`, `switch on z.fan`, `z.fan = on`. Told with the right form, and read
// on with.
import { openingVerbs } from "../habits.js";
import type { TargetNode } from "../syntax.js";
import { isNumberToken } from "./ahead.js";
import { type Cursor, isPlain } from "./cursor.js";
import { value } from "./terms.js";
import { name } from "./words.js";

const verbs: ReadonlySet<string> = new Set(["turn", "switch", "put"]);
/** `raise z.lamp to 80 %` sets it. */
const moves: ReadonlySet<string> = new Set(["raise", "lower", "increase", "decrease"]);
const between: ReadonlySet<string> = new Set(["=", ":", "to", "at", "is"]);

/**
 * @param verb what such a sentence begins with: `set`
 * @param joins what stands between the thing and its value: `to`
 */
export function switched(c: Cursor, verb: string, joins: string): TargetNode | undefined {
  const first = c.token;
  if (verbs.has(first.text)) return withVerb(c, verb, joins);
  const state = comesOpening(c) ? openingVerbs[first.text] : undefined;
  if (state !== undefined) {
    c.next();
    const what = name(c, "an output, a dial or a mode");
    c.tellMeant(first, `${verb} ${what.text} ${joins} ${state}`);
    return { name: what, value: { kind: "name", text: state, span: first } };
  }
  if (verb === "set" && moves.has(first.text) && c.isName(1) && c.comes("to", 2)) {
    c.next();
    const what = name(c, "an output, a dial or a mode");
    c.next();
    return told(c, first, { name: what, value: value(c) }, verb, joins);
  }
  if (
    first.text === verb &&
    c.isName(1) &&
    !c.peek(2).leads &&
    (c.comes("on", 2) || c.comes("off", 2) || isNumberToken(c.peek(2)))
  )
    return withoutJoin(c, verb, joins);
  const isWord = first.kind === "word" && c.isName() && c.isSign("=", 1);
  if (first.kind !== "dotted" && !isWord) return undefined;
  const at = between.has(c.peek().text) ? 2 : 1;
  const after = c.peek(at);
  if (after.leads || !(isNumberToken(after) || (after.kind === "word" && isPlain(after.text)))) return undefined;
  const what = name(c, "an output, a dial or a mode");
  if (at === 2) c.next();
  return told(c, first, { name: what, value: value(c) }, verb, joins);
}

/** `set z.fan on` */
function withoutJoin(c: Cursor, verb: string, joins: string): TargetNode {
  const first = c.word(verb);
  const what = name(c, "an output, a dial or a mode");
  return told(c, first, { name: what, value: value(c) }, verb, joins);
}

function withVerb(c: Cursor, verb: string, joins: string): TargetNode | undefined {
  const first = c.token;
  const isState = (ahead: number) => c.comes("on", ahead) || c.comes("off", ahead);
  if (isState(1) && c.isName(2)) {
    c.next();
    const state = value(c);
    return told(c, first, { name: name(c, "an output, a dial or a mode"), value: state }, verb, joins);
  }
  if (!c.isName(1) || !isState(2)) return undefined;
  c.next();
  const what = name(c, "an output, a dial or a mode");
  return told(c, first, { name: what, value: value(c) }, verb, joins);
}

function told(c: Cursor, first: Cursor["token"], target: TargetNode, verb: string, joins: string): TargetNode {
  c.tellMeant(first, `${verb} ${target.name.text} ${joins} ${c.textOf(target.value.span)}`);
  return target;
}

/** Whether somebody turns something on or off here. */
export const comesSwitch = (c: Cursor, ahead = 0) =>
  comesOpening(c, ahead) ||
  (verbs.has(c.peek(ahead).text) && (c.isName(ahead + 1) || c.isName(ahead + 2)) && !c.peek(ahead + 1).leads);

const comesOpening = (c: Cursor, ahead = 0) =>
  openingVerbs[c.peek(ahead).text] !== undefined && c.isName(ahead + 1) && !c.peek(ahead + 1).leads;
