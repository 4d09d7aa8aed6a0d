// What is switched, as people say it: `turn z.fan on`, `switch on z.fan`, `z.fan = on`. Told with the right form, and read
// on with.
import { openingVerbs, runningVerbs } from "../habits.js";
import type { TargetNode } from "../syntax.js";
import { comesOpening, comesTarget, isNumberToken, joinsAt, moveVerbs, switchVerbs } from "./ahead.js";
import { type Cursor, isPlain } from "./cursor.js";
import { value } from "./terms.js";
import { name } from "./words.js";

/**
 * @param verb what such a sentence begins with: `set`
 * @param joins what stands between the thing and its value: `to`
 */
export function switched(c: Cursor, verb: string, joins: string): TargetNode | undefined {
  const first = c.token;
  if (switchVerbs.has(first.text)) return withVerb(c, verb, joins);
  const state = comesOpening(c) ? (openingVerbs[first.text] ?? runningVerbs[first.text]) : undefined;
  if (state !== undefined) {
    c.next();
    const what = name(c, "an output, a dial or a mode");
    c.tellMeant(first, `${verb} ${what.text} ${joins} ${state}`);
    return { name: what, value: { kind: "name", text: state, span: first } };
  }
  if (verb === "set" && moveVerbs.has(first.text) && c.isName(1) && c.comes("to", 2)) {
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
  const isWord = first.kind === "word" && c.isName() && (c.isSign("=", 1) || comesTarget(c));
  if (first.kind !== "dotted" && !isWord) return undefined;
  const joined = joinsAt(c, 1) || (c.comes("is", 1) ? 1 : 0);
  const at = joined + 1;
  const after = c.peek(at);
  if (after.leads || !(isNumberToken(after) || (after.kind === "word" && isPlain(after.text)))) return undefined;
  const what = name(c, "an output, a dial or a mode");
  for (let taken = 0; taken < joined; taken++) c.next();
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
