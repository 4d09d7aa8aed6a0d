// Rules and guards.
import type {
  ActionNode,
  DriveNode,
  EventNode,
  GuardNode,
  OccasionNode,
  PermitNode,
  Quoted,
  RuleNode,
  SentenceNode,
  StateNode,
  TriggerNode,
} from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { steps } from "./steps.js";
import { anyWord, condition, name, quoted, sum, value } from "./terms.js";
import { heading, splitNote, target } from "./things.js";
import { days } from "./time.js";

const actions: Readonly<Record<string, (c: Cursor) => ActionNode>> = { hold, keep, cycle };
const ruleBegins = new Set(["while", "when", "note", ...Object.keys(actions)]);

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
  return c.isWord("when") ? event(c) : state(c);
}

function state(c: Cursor): StateNode {
  const first = c.token;
  const during = c.takeWord("while") ? condition(c) : undefined;
  const list: ActionNode[] = [action(c)];
  while (c.token.kind === "word" && Object.hasOwn(actions, c.token.text)) list.push(action(c));
  return { kind: "state", ...(during && { while: during }), actions: list, span: c.span(first) };
}

function action(c: Cursor): ActionNode {
  const parse = c.token.kind === "word" && Object.hasOwn(actions, c.token.text) ? actions[c.token.text] : undefined;
  return parse ? parse(c) : c.fail(Object.keys(actions).map((word) => `"${word}"`));
}

function hold(c: Cursor): ActionNode {
  const first = c.word("hold");
  return { kind: "hold", targets: c.list(() => target(c)), span: c.span(first) };
}

function cycle(c: Cursor): ActionNode {
  const first = c.word("cycle");
  const output = name(c, "an output");
  c.word("on");
  const on = sum(c);
  c.word("off");
  return { kind: "cycle", output, on, off: sum(c), span: c.span(first) };
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

function drive(c: Cursor): DriveNode {
  const first = c.token;
  if (!c.isWord("raise") && !c.isWord("lower")) c.fail(['"raise with"', '"lower with"']);
  const way = c.next().text as "raise" | "lower";
  c.word("with");
  const output = name(c, "an output");
  if (!c.takeWords("in", "proportion", "over")) return { way, output, span: c.span(first) };
  const over = sum(c);
  const period = c.takeCommaWord("cycle") ? sum(c) : undefined;
  return { way, output, proportion: { over, ...(period && { cycle: period }) }, span: c.span(first) };
}

function event(c: Cursor): EventNode {
  const first = c.word("when");
  const triggers = [trigger(c)];
  while (c.takeWords("or", "when")) triggers.push(trigger(c));
  const provided = c.takeWord("provided") ? condition(c) : undefined;
  const begins = c.word("do");
  const list = steps(c, "the steps of do");
  const doSpan = c.span(begins);
  const again = c.areWords("if", "triggered") ? againNode(c) : undefined;
  return {
    kind: "event",
    triggers,
    ...(provided && { provided }),
    steps: list,
    doSpan,
    ...(again && { again }),
    span: c.span(first),
  };
}

function trigger(c: Cursor): TriggerNode {
  const first = c.token;
  const on = () => (c.takeWord("on") ? { days: days(c) } : {});
  if (c.takeWord("at")) {
    const time = sum(c);
    return { kind: "at", time, ...on(), span: c.span(first) };
  }
  if (c.takeWord("every")) {
    const every = sum(c);
    return { kind: "every", every, ...on(), span: c.span(first) };
  }
  if (c.takeWords("the", "house", "starts")) return { kind: "the house starts", span: c.span(first) };
  return occasion(c);
}

/** occasion = name moment | condition */
export function occasion(c: Cursor): OccasionNode {
  const first = c.token;
  const moment = c.isName() ? c.peek().text : "";
  if (c.peek().kind !== "word" || !["changes", "becomes", "begins", "ends"].includes(moment)) {
    return { kind: "condition", condition: condition(c), span: c.span(first) };
  }
  const of = name(c, "a thing or a schedule");
  c.next();
  if (moment === "begins" || moment === "ends") return { kind: moment, name: of, span: c.span(first) };
  if (moment === "becomes") return { kind: "becomes", name: of, value: value(c), span: c.span(first) };
  return { kind: "changes", name: of, ...(c.takeWord("by") && { by: sum(c) }), span: c.span(first) };
}

function againNode(c: Cursor): "start over" | "ignore" | "wait" {
  c.words("if", "triggered", "again");
  c.sign(",");
  if (c.takeWord("start")) {
    c.word("over");
    return "start over";
  }
  if (c.takeWord("ignore")) return "ignore";
  if (c.takeWord("wait")) return "wait";
  return c.fail(['"start over"', '"ignore"', '"wait"']);
}

const guardBegins = new Set(["permit", "note"]);

export function guard(c: Cursor): GuardNode {
  const first = c.word("guard");
  const head = heading(c, "guard");
  const body = c.block(`guard ${head.name.text}`, guardBegins, (): PermitNode | Quoted =>
    c.takeWord("note") ? quoted(c) : permit(c),
  );
  const { entries, note } = splitNote<PermitNode>(body);
  return { kind: "guard", ...head, permits: entries, ...(note && { note }), span: c.span(first) };
}

function permit(c: Cursor): PermitNode {
  const first = c.word("permit");
  const output = name(c, "an output");
  const bound = c.isWord("above") || c.isWord("below") ? (c.next().text as "above" | "below") : undefined;
  const permitted = sum(c);
  c.words("only", "while");
  return { output, ...(bound && { bound }), value: permitted, condition: condition(c), span: c.span(first) };
}
