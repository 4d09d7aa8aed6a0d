// What a value is compared with: the words behind it, and how people say them.
import { boundVerbs, howFast, momentHabits, numberHabits, stateVerbs } from "../habits.js";
import type { BoundWord, Term } from "../syntax.js";
import type { Token } from "../token.js";
import {
  actionWords,
  boundByHabit,
  bounds,
  claimFirst,
  comesAction,
  comesDeed,
  comesRange,
  ends,
  isNumberToken,
  sideAt,
} from "./ahead.js";
import { type Cursor, isPlain } from "./cursor.js";
import { signed, sum, value } from "./terms.js";

const mirrored: Readonly<Record<BoundWord, BoundWord>> = {
  above: "below",
  below: "above",
  "at least": "at most",
  "at most": "at least",
};

/** `at least 3 K below x`, where `at most x - 3 K` is meant: told, and read on with. */
function besideOther(c: Cursor, left: Term, bound: BoundWord | undefined, first: Token): Term {
  const { side, takes } = sideAt(c, 0) as { side: "above" | "below"; takes: number };
  const by = signed(c);
  for (let taken = 0; taken < takes; taken++) c.next();
  const other = sum(c);
  const sign = side === "above" ? "+" : "-";
  // Bare, so much above means at least so much.
  const wanted = bound ?? "at least";
  const meant = side === "above" ? wanted : mirrored[wanted];
  c.tellMeant(first, `${meant} ${c.textOf(other.span)} ${sign} ${c.textOf(by.span)}`);
  const right: Term = { kind: "binary", sign, left: other, right: by, span: c.span(other.span) };
  return { kind: "bound", bound: meant, left, right, span: c.span(left.span) };
}

/** What a value is related to, behind the value: a bound, a state, a range; the value itself where nothing is. */
export function relation(c: Cursor, left: Term): Term {
  const span = () => c.span(left.span);
  const first = c.token;
  const byHabit = boundByHabit(c);
  if (byHabit) {
    for (let taken = 0; taken < byHabit.takes; taken++) c.next();
    if (sideAt(c, 0)) return besideOther(c, left, byHabit.meant, first);
    c.tellMeant(first, byHabit.meant);
    return { kind: "bound", bound: byHabit.meant, left, right: sum(c), span: span() };
  }
  if (left.kind === "name" && sideAt(c, c.isWord("is") ? 1 : 0)) {
    c.takeWord("is");
    return besideOther(c, left, undefined, first);
  }
  if (c.isSign("=")) {
    c.faults.add(c.token, { kind: "habit", written: "=", meant: "is" });
    c.next();
    return { kind: "is", negated: false, left, right: value(c), span: span() };
  }
  const isVerb = c.comes("is") || boundVerbs.has(first.text) || first.text === "remains" || first.text === "lies";
  if (isVerb && c.comes("between", 1) && (isNumberToken(c.peek(2)) || c.isSign("-", 2) || (c.isName(2) && c.comes("and", 3)))) {
    c.takeAllMeant("between", [first.text, "between"]);
    return between(c, left);
  }
  if (c.isAmong(bounds)) {
    const bound = c.next().text as BoundWord;
    if (sideAt(c, 0)) return besideOther(c, left, bound, first);
    return { kind: "bound", bound, left, right: sum(c), span: span() };
  }
  if (c.takeWord("between")) return between(c, left);
  if (c.conditions && left.kind === "name" && comesRange(c)) return rangeByHabit(c, left);
  if (c.claims && left.kind === "name") claimFirst(c, left.text);
  if (
    c.comes("is") &&
    c.comes("in", 1) &&
    !c.peek(1).leads &&
    c.isName(2) &&
    !actionWords.has(c.peek(2).text) &&
    !ends.has(c.peek(2).text)
  )
    c.missing(c.peek(), '"in" cannot stand here.', "Who is where, sensors know: hall.motion was moving in the last 10 min.");
  if (c.takeWord("is") || c.takeWord("was")) {
    const negated = c.takeWord("not");
    return { kind: "is", negated, left, right: value(c), span: span() };
  }
  if (c.isWord("has") && (c.isWord("been", 1) || c.isWord("not", 1))) {
    c.next();
    const negated = c.takeWord("not");
    c.word("been");
    return { kind: "is", negated, left, right: value(c), span: span() };
  }
  if (c.takeWord("disobeys")) return { kind: "disobeys", of: left, span: span() };
  return left.kind === "name" ? withoutVerb(c, left) : left;
}

/** Behind its word: what a value is between. */
function between(c: Cursor, left: Term): Term {
  const low = sum(c);
  c.word("and");
  const high = sum(c);
  return { kind: "between", value: left, low, high, span: c.span(left.span) };
}

/** Where `between 18 °C and 20 °C` is meant, or `not between`: told, and read on with. */
function rangeByHabit(c: Cursor, left: Term): Term {
  const first = c.next();
  const low = sum(c);
  if (!c.takeSign("..")) c.word("to");
  const high = sum(c);
  const between: Term = { kind: "between", value: left, low, high, span: c.span(left.span) };
  const says = `between ${c.textOf(low.span)} and ${c.textOf(high.span)}`;
  if (first.text !== "outside") {
    c.tellMeant(first, says);
    return between;
  }
  const span = c.span(left.span);
  c.faults.add(span, { kind: "habit", written: c.textOf(span), meant: `not ${c.textOf(left.span)} ${says}` });
  return { kind: "not", of: between, span };
}

/** `bench.door open for 5 min`, `bench.fan turns on`, `bench.door opens`: what is meant is clear, and read on with. */
function withoutVerb(c: Cursor, left: Term): Term {
  const { token } = c;
  if (c.claims && c.comesAll(["to", "be"])) {
    c.takeAllMeant("is", ["to", "be"]);
    return { kind: "is", negated: false, left, right: value(c), span: c.span(left.span) };
  }
  if (c.claims && /^(starts|runs|switches)$/.test(token.text) && c.isAmong(bounds, 1))
    c.missing(
      token,
      `"${token.text}" is not part of the language.`,
      `Write count(${c.textOf(left.span)} is on) ${c.peek().text} ….`,
    );
  const opens = stateVerbs[token.text];
  if (opens !== undefined) {
    c.faults.add(token, { kind: "habit", written: token.text, meant: `is ${opens}` });
    c.takeName();
    return { kind: "is", negated: false, left, right: { kind: "name", text: opens, span: token }, span: c.span(left.span) };
  }
  if (boundVerbs.has(token.text) && (c.comes("by", 1) || isNumberToken(c.peek())))
    c.missing(token, `"${token.text}${c.comes("by", 1) ? " by" : ""}" is not part of the language.`, howFast);
  if (c.comesAll(["differs", "from"]))
    c.missing(token, '"differs from" is not part of the language.', `Write abs(${c.textOf(left.span)} - …) above 2 K.`);
  const isVerb = boundVerbs.has(token.text) || token.text === "switches" || token.text === "comes";
  if (isVerb && !token.leads && c.peek().kind === "word" && isPlain(c.peek().text)) {
    c.faults.add(token, { kind: "habit", written: token.text, meant: "is" });
    c.next();
    return { kind: "is", negated: false, left, right: value(c), span: c.span(left.span) };
  }
  const isPlainWord = isPlain(token.text) || token.text === "unknown";
  const isState = token.kind === "word" && !token.leads && isPlainWord && !clauses.has(token.text) && !begins.has(token.text);
  const after = c.peek();
  const isOver = c.claims
    ? after.leads || after.text === "}" || clauses.has(after.text)
    : c.conditions &&
      !actionWords.has(token.text) &&
      (ends.has(after.text) || comesAction(c, 1) || comesDeed(c, after.text === "," ? 2 : 1));
  if (isState && isOver) {
    if (numberHabits[token.text])
      c.missing(token, `"${token.text}" is not part of the language.`, numberHabits[token.text] as string);
    c.faults.add(token, { kind: "missingVerb", word: token.text, verb: "is" });
    return { kind: "is", negated: false, left, right: value(c), span: c.span(left.span) };
  }
  const verb = c.isWord("for", 1) ? "has been" : c.isWord("in the last", 1) ? "was" : undefined;
  if (verb === undefined || !isPlain(token.text)) return left;
  c.faults.add(token, { kind: "missingVerb", word: token.text, verb });
  c.takeName();
  const right: Term = { kind: "name", text: token.text, span: token };
  return { kind: "is", negated: false, left, right, span: c.span(left.span) };
}

/** What schedules and countdowns are said to do, and is no state of theirs. */
const begins: ReadonlySet<string> = new Set(momentHabits.map(([[word = ""]]) => word));

/** Words that may come after a condition that is claimed. */
const clauses: ReadonlySet<string> = new Set(
  "by at from to then within and or for until expect after before between since given".split(" "),
);
