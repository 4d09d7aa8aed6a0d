// Rules and guards.
import type {
  ActionNode,
  EventNode,
  GuardNode,
  PermitNode,
  Quoted,
  RuleNode,
  SentenceNode,
  StateNode,
  StepNode,
  TargetNode,
  TriggerNode,
} from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { anyWord, condition, name, quoted, sum, value } from "./terms.js";
import { days, heading, splitNote } from "./things.js";

const ruleBegins = new Set(["while", "hold", "keep", "when", "note"]);
const actionWords = new Set(["hold", "keep"]);

export function rule(c: Cursor): RuleNode {
  const first = c.word("rule");
  const declared = anyWord(c, "a name for the rule");
  const standing = c.takeWord("as") ? standingWord(c) : undefined;
  const title = c.token.kind === "text" ? quoted(c) : undefined;
  const body = c.block(`rule ${declared.text}`, ruleBegins, () => (c.takeWord("note") ? quoted(c) : sentence(c)));
  const { entries, note } = splitNote<SentenceNode>(body);
  return {
    kind: "rule",
    name: declared,
    ...(standing && { standing }),
    ...(title && { title }),
    ...(note && { note }),
    sentences: entries,
    span: c.span(first),
  };
}

function standingWord(c: Cursor) {
  if (!c.isWord("urgent") && !c.isWord("background")) c.fail(['"urgent"', '"background"']);
  return anyWord(c, "a standing");
}

function sentence(c: Cursor): SentenceNode {
  if (c.isWord("when")) return event(c);
  return state(c);
}

function state(c: Cursor): StateNode {
  const first = c.token;
  const during = c.takeWord("while") ? condition(c) : undefined;
  const actions: ActionNode[] = [action(c)];
  while (c.token.kind === "word" && actionWords.has(c.token.text)) actions.push(action(c));
  return { kind: "state", ...(during && { while: during }), actions, span: c.span(first) };
}

function action(c: Cursor): ActionNode {
  if (c.isWord("hold")) return hold(c);
  if (c.isWord("keep")) return keep(c);
  return c.fail(['"hold"', '"keep"']);
}

function hold(c: Cursor): ActionNode {
  const first = c.word("hold");
  const targets = [target(c)];
  while (c.takeSign(",")) targets.push(target(c));
  return { kind: "hold", targets, span: c.span(first) };
}

function target(c: Cursor): TargetNode {
  const output = name(c, "an output");
  c.word("at");
  return { name: output, value: value(c) };
}

function keep(c: Cursor): ActionNode {
  const first = c.word("keep");
  const kept = sum(c);
  const at = keptAt(c);
  const tolerance = c.isSign("±") ? toleranceNode(c) : undefined;
  const drives = [drive(c)];
  while (c.isWord("raise") || c.isWord("lower")) drives.push(drive(c));
  return { kind: "keep", value: kept, at, ...(tolerance && { tolerance }), drives, span: c.span(first) };
}

function keptAt(c: Cursor) {
  if (c.takeWord("at")) return { target: sum(c) };
  if (!c.takeWord("between")) c.fail(['"at"', '"between"']);
  const low = sum(c);
  c.word("and");
  return { low, high: sum(c) };
}

function toleranceNode(c: Cursor) {
  const first = c.sign("±");
  const below = sum(c);
  const above = c.takeSign("..") ? sum(c) : undefined;
  return { below, ...(above && { above }), span: c.span(first) };
}

function drive(c: Cursor) {
  const first = c.token;
  if (!c.isWord("raise") && !c.isWord("lower")) c.fail(['"raise with"', '"lower with"']);
  const way = c.next().text as "raise" | "lower";
  c.word("with");
  return { way, output: name(c, "an output"), span: c.span(first) };
}

function event(c: Cursor): EventNode {
  const first = c.word("when");
  const triggers = [trigger(c)];
  while (c.isWord("or") && c.isWord("when", 1)) {
    c.next();
    c.next();
    triggers.push(trigger(c));
  }
  const provided = c.takeWord("provided") ? condition(c) : undefined;
  const begins = c.word("do");
  const steps = c.block("the steps of do", stepBegins, () => step(c));
  const doSpan = c.span(begins);
  const again = c.isWord("if") && c.isWord("triggered", 1) ? againNode(c) : undefined;
  return {
    kind: "event",
    triggers,
    ...(provided && { provided }),
    steps,
    doSpan,
    ...(again && { again }),
    span: c.span(first),
  };
}

function trigger(c: Cursor): TriggerNode {
  const first = c.token;
  if (c.takeWord("at")) {
    const time = sum(c);
    return { kind: "at", time, ...(c.takeWord("on") && { days: days(c) }), span: c.span(first) };
  }
  if (c.isName() && (c.isWord("begins", 1) || c.isWord("ends", 1))) {
    const what = name(c, "a schedule");
    return { kind: c.next().text as "begins" | "ends", name: what, span: c.span(first) };
  }
  return { kind: "condition", condition: condition(c), span: c.span(first) };
}

function againNode(c: Cursor): "start over" | "ignore" | "wait" {
  c.word("if");
  c.word("triggered");
  c.word("again");
  c.sign(",");
  if (c.takeWord("start")) {
    c.word("over");
    return "start over";
  }
  if (c.takeWord("ignore")) return "ignore";
  if (c.takeWord("wait")) return "wait";
  return c.fail(['"start over"', '"ignore"', '"wait"']);
}

const stepBegins = new Set(["set", "tell", "wait"]);

function step(c: Cursor): StepNode {
  const first = c.token;
  if (c.takeWord("set")) return set(c, first);
  if (c.takeWord("tell")) {
    const text = quoted(c);
    return { kind: "tell", text, ...(c.takeWord("through") && { through: name(c, "a way to a person") }), span: c.span(first) };
  }
  if (c.takeWord("wait")) {
    if (!c.takeWord("until")) return { kind: "wait", duration: sum(c), span: c.span(first) };
    const until = condition(c);
    const limited = c.isSign(",") && c.isWord("at most", 1);
    if (!limited) return { kind: "wait until", condition: until, span: c.span(first) };
    c.next();
    c.next();
    return { kind: "wait until", condition: until, atMost: sum(c), span: c.span(first) };
  }
  return c.fail(['"set"', '"tell"', '"wait"', "the closing }"]);
}

function set(c: Cursor, first: { file: string; from: number; to: number }): StepNode {
  const what = name(c, "an output, a dial or a mode");
  c.word("to");
  const to = value(c);
  const ends = c.takeWord("for") ? { for: sum(c) } : c.takeWord("until") ? { until: condition(c) } : {};
  return { kind: "set", name: what, to, ...ends, span: c.span(first) };
}

const guardBegins = new Set(["permit", "note"]);

export function guard(c: Cursor): GuardNode {
  const first = c.word("guard");
  const head = heading(c, "guard");
  const body = c.block(`guard ${head.name.text}`, guardBegins, () => (c.takeWord("note") ? quoted(c) : permit(c)));
  const { entries, note } = splitNote<PermitNode>(body as (PermitNode | Quoted)[]);
  return { kind: "guard", ...head, permits: entries, ...(note && { note }), span: c.span(first) };
}

function permit(c: Cursor): PermitNode {
  const first = c.word("permit");
  const output = name(c, "an output");
  const bound = c.isWord("above") || c.isWord("below") ? (c.next().text as "above" | "below") : undefined;
  const permitted = sum(c);
  c.word("only");
  c.word("while");
  return { output, ...(bound && { bound }), value: permitted, condition: condition(c), span: c.span(first) };
}
