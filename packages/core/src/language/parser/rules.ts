// Rules: states, and events with their steps.

import { standings } from "../../house/index.js";
import { conditionHabits, driveHabits } from "../habits.js";
import { editDistance } from "../nearest.js";
import type { ActionNode, EventNode, RuleNode, SentenceNode, StateNode, TargetNode, Term, Word } from "../syntax.js";
import type { Token } from "../token.js";
import { readSteps } from "../vocabulary/steps.js";
import { relations } from "./ahead.js";
import type { Cursor } from "./cursor.js";
import { cycle, keep } from "./drives.js";
import { declaredName, splitNote, targetOf } from "./heading.js";
import { triggers } from "./occasions.js";
import { quoted } from "./quoted.js";
import { comesSwitch, switched } from "./switched.js";
import { condition } from "./terms.js";
import { anyWord, name } from "./words.js";

/** What a `while` does, read behind its word. */
const actions: Readonly<Record<string, (c: Cursor, first: Token) => ActionNode>> = { hold, keep, cycle };
const actionWords = Object.keys(actions).map((word) => `"${word}"`);
const ruleBegins = new Set(["while", "when", "note", ...Object.keys(actions)]);

export function rule(c: Cursor): RuleNode {
  const first = c.opening("rule");
  const declared = declaredName(c, "rule");
  const lacksAs = c.comes("urgent") || c.comes("background");
  if (lacksAs) c.lacksWord("as");
  const standing = c.takeWord("as") || lacksAs ? standingWord(c) : undefined;
  const title = c.token.kind === "text" ? quoted(c) : undefined;
  let before: SentenceNode | undefined;
  const body = c.block(`rule ${declared.text}`, ruleBegins, () => {
    if (c.takeWord("note")) return quoted(c);
    before = sentence(c, before);
    return before;
  });
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
  const words = standings.filter((one) => one !== "plain");
  if (!words.some((one) => c.isWord(one))) c.fail(words.map((one) => `"${one}"`));
  return anyWord(c, "a standing");
}

/** @param before the one before it in its rule */
function sentence(c: Cursor, before: SentenceNode | undefined): SentenceNode {
  if (c.isWord("at") || c.isWord("every")) return bareEvent(c, before);
  if (comesBareCondition(c)) return bareState(c, before);
  const meant = beginningByHabit(c);
  if (meant === "when" || c.isWord("when")) return event(c, meant !== undefined, before);
  return state(c, meant, before);
}

/** `during shop_hours hold …`, `z.door is open hold …`: a condition without its `while`. */
const comesBareCondition = (c: Cursor) =>
  c.comes("during") || c.comes("outside") || (c.token.kind === "dotted" && relations.has(c.peek().text));

function bareState(c: Cursor, before: SentenceNode | undefined): SentenceNode {
  c.lacksWord("while", true);
  return state(c, "while", before);
}

/** `at 07:30 do { … }`: what happens comes behind `when`. */
function bareEvent(c: Cursor, before: SentenceNode | undefined): SentenceNode {
  c.lacksWord("when", true);
  return event(c, true, before);
}

/** `If`, `While`, `whlie`: how a sentence begins that is meant. */
function beginningByHabit(c: Cursor): string | undefined {
  const { kind, text } = c.token;
  if (kind !== "word" || ruleBegins.has(text)) return undefined;
  const word = text.toLowerCase();
  if (word === "unless") c.missing(c.token, '"unless" is not part of the language.', "Write while not (…).");
  if (word !== "if" && word !== "whenever") return meantAmong(c, ruleBegins);
  c.takeMeant("while", [text]);
  return "while";
}

/** Takes a word that is nearly one of some, or is one with a capital letter: that one is meant. */
function meantAmong(c: Cursor, words: Iterable<string>): string | undefined {
  const { kind, text } = c.token;
  const near = (one: string) => editDistance(text.toLowerCase(), one, 2) <= (one.length > 4 ? 2 : 1);
  const meant = kind === "word" ? [...words].find(near) : undefined;
  if (meant !== undefined) c.takeMeant(meant, [text]);
  return meant;
}

const stepWords = new Set(["do", "set", "tell", "toggle", "dose", "send", "apply", "start", "wait", "ramp"]);

/** Steps after a `while`, a time after a `hold`: two ways of saying that are mixed up. */
function explainAction(c: Cursor, hasHeld: boolean): void {
  const { text } = c.token;
  if (stepWords.has(text) && !hasHeld)
    c.faults.add(c.token, {
      kind: "missing",
      what: `while needs hold, keep or cycle, which apply as long as it is true; found ${text}.`,
      remedy: "Write `hold X at V`, or, for steps that run once, `when … do { … }`.",
    });
  else if ((text === "else" || text === "otherwise") && hasHeld)
    c.faults.add(c.token, {
      kind: "missing",
      what: `A while has no ${text}.`,
      remedy: "Write a second sentence, `while not (…) hold …`. What an output does when no rule applies is its `at rest`.",
    });
  else if (text === "for" && hasHeld)
    c.faults.add(c.token, {
      kind: "missing",
      what: "A hold cannot have a time: it lasts as long as its while.",
      remedy: "For a time, write `when … do { set X to V for 10 min }`.",
    });
}

/** Whether a sentence is over; where somebody asks what may come, it is not. */
const comesEnd = (c: Cursor) =>
  !c.asked && (c.isSign("}") || c.token.kind === "end" || (c.token.leads && /^(while|when|note)$/.test(c.token.text)));

/** What is held without a `while`. */
const isHeldBare = (before: SentenceNode | undefined): before is StateNode => before?.kind === "state" && !before.while;

/** `hold z.fan at on while z.door is open`: the other way round. */
function explainOrder(c: Cursor, first: Token, during: string, { actions: held, span }: StateNode): never {
  const last = held.at(-1) as ActionNode;
  const what = c.textOf({ ...span, to: last.span.to });
  return c.missing(first, "A while comes before what it holds.", `Write while ${during} ${what}.`);
}

/** A condition that a sentence waits for. */
const waitedFor = (c: Cursor): Term => c.knowing("conditions", true, () => condition(c));

function state(c: Cursor, meant: string | undefined, before: SentenceNode | undefined): StateNode {
  const first = c.token;
  const begun = meant !== undefined && meant in actions ? meant : undefined;
  const during = meant === "while" || c.takeWord("while") ? waitedFor(c) : undefined;
  if (during) {
    const isAction = c.peek().text in actions;
    if (isAction && c.isSign("{")) c.missing(c.token, "What a while holds needs no braces.", `Write while … ${c.peek().text} ….`);
    if (isAction) c.takeMeant("", ["then", ",", ":"]);
    explainAction(c, false);
    if (isHeldBare(before) && comesEnd(c)) explainOrder(c, first, c.textOf(during.span), before);
  } else if (begun === undefined && !c.choose(actions)) {
    if (comesSwitch(c) || c.token.kind === "dotted")
      c.fail(actionWords, "Write what should be so while something is: while … hold X at on.");
    if (driveHabits[c.token.text]) c.fail(actionWords, "Write what should be kept: keep … at 20 °C ± 1 K raise with ….");
    if (c.comes("do") && before?.kind === "event")
      c.fail(actionWords, "A when has one do: put all steps between its braces, one after the other.");
    const steps = stepWords.has(c.token.text) ? `; steps such as ${c.token.text} go inside do { … }` : "";
    c.fail(actionWords, `A rule starts with while, when, hold, keep or cycle${steps}.`);
  }
  const list: ActionNode[] = [action(c, begun)];
  while (c.choose(actions)) list.push(action(c));
  explainAction(c, true);
  return { kind: "state", ...(during && { while: during }), actions: list, span: c.span(first) };
}

/** @param begun the word that was meant by the one that has just been taken */
function action(c: Cursor, begun?: string): ActionNode {
  const first = c.token;
  const held = begun === undefined && comesSwitch(c) ? switched(c, "hold", "at") : undefined;
  if (held) return { kind: "hold", targets: [held], span: c.span(first) };
  const word = begun ?? (c.choose(actions) ? c.next().text : meantAmong(c, Object.keys(actions)));
  const read = word === undefined ? undefined : actions[word];
  return read
    ? read(c, c.taken)
    : c.fail(
        actionWords,
        c.instead(conditionHabits) ?? "A while goes on with and, or, until or for, and then needs hold, keep or cycle.",
      );
}

function hold(c: Cursor, first: Token): ActionNode {
  return { kind: "hold", targets: targets(c), span: c.span(first) };
}

/** Several are parted by commas, and everybody may write `and`. */
function targets(c: Cursor): TargetNode[] {
  const list = sameTargets(c);
  while (c.takeSign(",") || (c.token.text === "and" && c.takeMeant(",", ["and"]))) list.push(...sameTargets(c));
  return list;
}

/** A target; or several outputs with one value, `z.fan, z.lamp at on`: told, and read on with. */
function sameTargets(c: Cursor): TargetNode[] {
  const first = c.token;
  const names = [name(c, "an output")];
  while ((c.comes(",") || c.comes("and")) && c.isName(1)) {
    c.next();
    names.push(name(c, "an output"));
  }
  const last = targetOf(c, names.at(-1) as Word);
  if (names.length === 1) return [last];
  const says = c.textOf(last.value.span);
  c.tellMeant(first, names.map(({ text }) => `${text} at ${says}`).join(", "));
  return names.map((output) => ({ name: output, value: last.value }));
}

/** @param before the one before it in its rule */
function event(c: Cursor, hasBegun: boolean, before: SentenceNode | undefined): EventNode {
  const first = hasBegun ? c.token : c.word("when");
  const starts = triggers(c);
  if (isHeldBare(before) && comesEnd(c)) explainOrder(c, first, c.textOf(c.span(starts[0]?.span ?? first)), before);
  const provided = comesProvided(c) ? waitedFor(c) : undefined;
  if (c.isSign(",") && c.isWord("do", 1)) c.needless();
  else if (c.isSign(",") && stepsCome(c, 1)) c.next();
  if (c.token.text in actions)
    c.faults.add(c.token, {
      kind: "missing",
      what: `when needs steps, which run once; found ${c.token.text}.`,
      remedy: "For a state that lasts, write while instead of when. For steps, write `do { set X to V }`.",
    });
  else if (stepsCome(c, 0) && !c.isWord("do"))
    c.faults.add(c.token, { kind: "missing", what: "Steps need braces.", remedy: `Write \`do { ${c.token.text} … }\`.` });
  const begins = beginsSteps(c);
  const list = readSteps(c, "the steps of do");
  const doSpan = c.span(begins);
  if (c.comes("else")) c.missing(c.token, "A when has no else.", "Put it inside: do { if … { … } else { … } }.");
  const again = c.areWords("if", "triggered") ? againNode(c) : undefined;
  return {
    kind: "event",
    triggers: starts,
    ...(provided && { provided }),
    steps: list,
    doSpan,
    ...(again && { again }),
    span: c.span(first),
  };
}

/** `provided`, or what is said for it: told, and read on with. */
function comesProvided(c: Cursor): boolean {
  if (c.takeWord("provided")) return true;
  if (c.isWord("triggered", 1)) return false;
  if (c.comes("during") || c.comes("outside")) {
    c.lacksWord("provided", true);
    return true;
  }
  const written = onlyIf.find((words) => c.comesAll(words));
  if (written) c.takeAllMeant("provided", written);
  return written !== undefined || c.takeMeant("provided", ["if", "while", "and"]);
}

const onlyIf = ["if", "while", "when"].flatMap((word) => [
  ["only", word],
  ["but", "only", word],
]);

/** Whether steps come so far ahead, without `do { … }`. */
const stepsCome = (c: Cursor, ahead: number) => stepWords.has(c.peek(ahead).text) || comesSwitch(c, ahead);

/** `do`, or the brace behind it, where that is left out or another word stands there: told, and read on with. */
function beginsSteps(c: Cursor): Token {
  const { token, taken } = c;
  if (c.takeMeant("do", ["then", "run"]) || c.takeWord("do")) {
    const { kind, text, leads } = c.token;
    if (kind === "word" && !leads) c.missing(c.token, "Steps need braces.", `Write do { ${text} … }.`);
    return token;
  }
  // A condition may have taken it for a name.
  if (!c.isSign("{") || taken.text === "do") return c.isWord("do") ? c.next() : c.fail(['"do"'], c.instead(conditionHabits));
  c.faults.add(taken, { kind: "missing", what: "Steps come behind do.", remedy: "Write do { … }.", after: "do" });
  return token;
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
