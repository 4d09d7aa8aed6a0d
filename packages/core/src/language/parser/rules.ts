// Rules: states, and events with their steps.

import { standings } from "../../house/index.js";
import { conditionHabits, driveHabits, forbiddingHabits, keepHabits, sentenceHabits } from "../habits.js";
import { editDistance } from "../nearest.js";
import type { ActionNode, EventNode, RuleNode, SentenceNode, StateNode, TargetNode, Term, TriggerNode, Word } from "../syntax.js";
import type { Token } from "../token.js";
import { readSteps } from "../vocabulary/steps.js";
import { saySentence, sayTriggers } from "../write/rules.js";
import { writeTerm } from "../write/terms.js";
import { relations } from "./ahead.js";
import { type Cursor, Unparsed } from "./cursor.js";
import { comesDays } from "./days.js";
import { cycle, keep } from "./drives.js";
import { declaredName, splitNote, targetOf } from "./heading.js";
import { triggers } from "./occasions.js";
import { quoted } from "./quoted.js";
import { comesSpoken, comesSpokenState, comesWhile, deedFirst, spokenAction, spokenSteps, unless } from "./spoken.js";
import { condition, value } from "./terms.js";
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
  if (c.isSign(":") || c.isSign("=") || (!c.isSign("{") && comesSentence(c))) unbraced(c, declared);
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

/** Whether a sentence of a rule begins here. */
export const comesSentence = (c: Cursor): boolean =>
  !c.asked && (/^(while|when|hold|keep|cycle|if)$/.test(c.token.text) || comesSpoken(c));

/** `rule dry: while …`: its sentence is read, as things stand in it that may be wrong. */
function unbraced(c: Cursor, { text }: Word): never {
  if (c.isSign(":") || c.isSign("=")) c.next();
  return alone(c, "What a rule says stands in braces.", text);
}

/** A sentence that stands in no rule, or in none with braces. */
export function alone(c: Cursor, what: string, name: string): never {
  const first = c.token;
  c.faults.whole(
    first,
    () => sentence(c, undefined),
    (said) => [c.span(first), { kind: "missing", what, remedy: `Write rule ${name} { ${saySentence(said).join(" ")} }.` }],
  );
  throw new Unparsed();
}

function standingWord(c: Cursor) {
  const words = standings.filter((one) => one !== "plain");
  if (!words.some((one) => c.isWord(one))) c.fail(words.map((one) => `"${one}"`));
  return anyWord(c, "a standing");
}

/** @param before the one before it in its rule */
export function sentence(c: Cursor, before: SentenceNode | undefined): SentenceNode {
  // Without a while it always applies.
  c.takeMeant("", ["always"]);
  if (c.isWord("at") || c.isWord("every") || comesDays(c, c.comes("on") ? 1 : 0)) return event(c, true, before, true);
  if (comesBareCondition(c)) return bareState(c, before);
  if (comesKept(c)) return bareKeep(c);
  if (comesSpoken(c) && !c.comes("keep")) {
    const said = deedFirst(c);
    if (said.kind === "state") explainAction(c, true);
    return said;
  }
  if (c.takeMeant("when", ["on"])) return event(c, true, before);
  if (c.comes("unless")) return unlessFirst(c, before);
  const meant = c.isName(1) && keepHabits.has(c.token.text) && c.takeMeant("keep", [c.token.text]) ? "keep" : beginningByHabit(c);
  if (meant === "when" || c.isWord("when")) return event(c, meant !== undefined, before);
  return state(c, meant, before);
}

/** `z.t at 20 °C ± 1 K raise with z.heater`: without its `keep`. */
function comesKept(c: Cursor): boolean {
  if (c.token.kind !== "dotted" || !(c.comes("at", 1) || c.comes("between", 1))) return false;
  for (let ahead = 2; !c.peek(ahead).leads && !/^(while|when|[}])$/.test(c.peek(ahead).text); ahead++)
    if (c.peek(ahead).text === "±" || (/^(raise|lower)$/.test(c.peek(ahead).text) && c.comes("with", ahead + 1))) return true;
  return false;
}

function bareKeep(c: Cursor): SentenceNode {
  c.lacksWord("keep", true);
  return state(c, "keep", undefined);
}

/** `during shop_hours hold …`, `z.door is open hold …`: a condition without its `while`. */
const comesBareCondition = (c: Cursor) => comesWhile(c) || (c.token.kind === "dotted" && relations.has(c.peek().text));

/** `unless z.door is open hold …`: told, and read on with. */
function unlessFirst(c: Cursor, before: SentenceNode | undefined): SentenceNode {
  const first = c.token;
  const during = unless(c);
  if (isHeldBare(before) && comesEnd(c)) explainOrder(c, during, before);
  c.faults.add(c.span(first), { kind: "habit", written: "unless", meant: `while ${writeTerm(during)}` });
  return stateOf(c, first, during, undefined, before);
}

function bareState(c: Cursor, before: SentenceNode | undefined): SentenceNode {
  c.lacksWord("while", true);
  return state(c, "while", before);
}

/** `If`, `While`, `whlie`: how a sentence begins that is meant. */
function beginningByHabit(c: Cursor): string | undefined {
  const { kind, text } = c.token;
  if (kind !== "word" || ruleBegins.has(text)) return undefined;
  const word = text.toLowerCase();
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

const elses: ReadonlySet<string> = new Set("else otherwise elseif elif elsif".split(" "));

/** Steps after a `while`, a time after a `hold`: two ways of saying that are mixed up. */
function explainAction(c: Cursor, hasHeld: boolean): void {
  const { text } = c.token;
  if (text === "do" && !hasHeld)
    c.faults.add(c.token, {
      kind: "missing",
      what: `while needs hold, keep or cycle, which apply as long as it is true; found ${text}.`,
      remedy: "Write `hold X at V`, or, for steps that run once, `when … do { … }`.",
    });
  else if (hasHeld && (elses.has(text) || (text === "," && elses.has(c.peek().text))))
    c.faults.add(c.token, {
      kind: "missing",
      what: `A while has no ${text === "," ? c.peek().text : text}.`,
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
function explainOrder(c: Cursor, during: Term, before: StateNode): never {
  const right = saySentence({ ...before, while: during });
  c.faults.add(c.span(before.span), { kind: "wording", what: "A while comes before what it holds.", right });
  throw new Unparsed();
}

/** A condition that a sentence waits for. */
const waitedFor = (c: Cursor): Term => c.knowing("conditions", true, () => condition(c));

function state(c: Cursor, meant: string | undefined, before: SentenceNode | undefined): StateNode {
  const first = c.token;
  const begun = meant !== undefined && meant in actions ? meant : undefined;
  const during = meant === "while" || c.takeWord("while") ? waitedFor(c) : undefined;
  return stateOf(c, first, during, begun, before);
}

/** A state behind its condition. */
function stateOf(
  c: Cursor,
  first: Token,
  during: Term | undefined,
  begun: string | undefined,
  before: SentenceNode | undefined,
): StateNode {
  if (during) {
    const isAction = c.peek().text in actions;
    if (isAction && c.isSign("{")) c.missing(c.token, "What a while holds needs no braces.", `Write while … ${c.peek().text} ….`);
    if (isAction) c.takeMeant("", ["then", ",", ":"]);
    explainAction(c, false);
    if (isHeldBare(before) && comesEnd(c)) explainOrder(c, during, before);
  } else if (begun === undefined && !c.choose(actions)) {
    if (c.token.kind === "dotted" && (c.comes("not", 2) || c.comes("never", 1) || c.comes("cannot", 1)))
      c.fail(actionWords, forbiddingHabits.never);
    if (c.token.kind === "dotted") c.fail(actionWords, "Write what should be so while something is: while … hold X at on.");
    if (driveHabits[c.token.text]) c.fail(actionWords, "Write what should be kept: keep … at 20 °C ± 1 K raise with ….");
    if (c.comes("do") && before?.kind === "event")
      c.fail(actionWords, "A when has one do: put all steps between its braces, one after the other.");
    c.fail(
      actionWords,
      c.instead(forbiddingHabits) ?? sentenceHabits[c.token.text] ?? "A rule starts with while, when, hold, keep or cycle.",
    );
  }
  const list: ActionNode[] = [begun === undefined && comesSpokenState(c) ? spokenAction(c, during) : action(c, begun)];
  while (c.choose(actions)) list.push(action(c));
  explainAction(c, true);
  return { kind: "state", ...(during && { while: during }), actions: list, span: c.span(first) };
}

/** @param begun the word that was meant by the one that has just been taken */
function action(c: Cursor, begun?: string): ActionNode {
  const word = begun ?? (c.choose(actions) ? c.next().text : meantAmong(c, Object.keys(actions)));
  const read = word === undefined ? undefined : actions[word];
  return read
    ? read(c, c.taken)
    : c.fail(
        actionWords,
        c.instead(conditionHabits) ??
          c.instead(forbiddingHabits) ??
          "A while goes on with and, or, until or for, and then needs hold, keep or cycle.",
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

/** `hold on z.fan`: the state first. */
function stateFirst(c: Cursor): TargetNode | undefined {
  if (!(c.comes("on") || c.comes("off")) || !c.isName(1) || c.peek().leads) return undefined;
  const first = c.token;
  const state = value(c);
  const output = name(c, "an output");
  c.tellMeant(first, `${output.text} at ${first.text}`);
  return { name: output, value: state };
}

/** A target; or several outputs with one value, `z.fan, z.lamp at on`: told, and read on with. */
function sameTargets(c: Cursor): TargetNode[] {
  const turned = stateFirst(c);
  if (turned) return [turned];
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
function event(c: Cursor, hasBegun: boolean, before: SentenceNode | undefined, isBare = false): EventNode {
  const first = hasBegun ? c.token : c.word("when");
  const starts = isBare ? bareTriggers(c) : triggers(c);
  const [start] = starts;
  if (isHeldBare(before) && comesEnd(c) && start?.kind === "condition") explainOrder(c, start.condition, before);
  const provided = comesProvided(c) ? waitedFor(c) : undefined;
  if (c.isSign(",") && c.isWord("do", 1)) c.needless();
  if (c.token.text in actions)
    c.faults.add(c.token, {
      kind: "missing",
      what: `when needs steps, which run once; found ${c.token.text}.`,
      remedy: "For a state that lasts, write while instead of when. For steps, write `do { set X to V }`.",
    });
  const isSpoken = comesSpoken(c);
  const begins = isSpoken ? c.token : beginsSteps(c);
  const list = isSpoken ? spokenSteps(c) : readSteps(c, "the steps of do");
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

/** `at 07:30 do { … }`: what happens comes behind `when`. */
function bareTriggers(c: Cursor): TriggerNode[] {
  const first = c.token;
  const what = `"${first.text}" needs a word before it.`;
  return c.faults.whole(
    first,
    () => triggers(c),
    (starts) => [c.span(first), { kind: "wording", what, right: sayTriggers(starts) }],
  );
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
