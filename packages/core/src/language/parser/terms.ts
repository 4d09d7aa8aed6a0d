// Values and conditions: one function for each level of the grammar, from loose to tight.
import { toBase, type Unit } from "../../units/index.js";
import { forHabits, functionHabits, lengthHabits, severalHabits, wordings } from "../habits.js";
import type { Argument, BoundWord, CaseNode, Reset, Term, Word } from "../syntax.js";
import { reserved, starters } from "../token.js";
import { bounds, comesNeedless, comesSeveral, isNumberToken, isTimeAt, lastByHabit, relations, soLongByHabit } from "./ahead.js";
import type { Subject } from "./asked.js";
import { clockByHabit, takesTimeOfDay } from "./clock.js";
import { type Cursor, isPlain } from "./cursor.js";
import { quoted } from "./quoted.js";
import { relation } from "./relation.js";
import { anyWord, name } from "./words.js";

/** condition = conjunction { "or" conjunction } */
export function condition(c: Cursor): Term {
  return chain(c, "or", () => chain(c, "and", () => negation(c)));
}

function chain(c: Cursor, kind: "and" | "or", part: () => Term): Term {
  const first = c.token;
  const of = [part()];
  // `or when` begins another moment.
  const endsHere = () => (kind === "or" && c.isWord("when", 1)) || c.comesMoment?.(c, 1) === true;
  const loud = kind === "and" ? "AND" : "OR";
  for (;;) {
    // `, and`
    if (c.isSign(",") && c.comes(kind, 1) && !c.comes("when", 2)) c.takeMeant("", [","]);
    const comes = c.isWord(kind) || c.comes(loud);
    if (!(comes && !endsHere()) && !(kind === "and" && comesCondition(c))) break;
    if (c.isSign(",")) c.needless("Write and, or or.");
    else if (!c.takeMeant(kind, [loud])) c.next();
    if (c.isWord("if") && !comesThen(c)) c.needless();
    of.push(part());
  }
  return of.length === 1 ? (of[0] as Term) : { kind, of, span: c.span(first) };
}

/** `, z.door is open`: another condition behind a comma, where nothing else is parted by one. */
function comesCondition(c: Cursor): boolean {
  if (!(c.conditions || c.claims) || !c.isSign(",") || !c.isName(1)) return false;
  const { text } = c.peek(2);
  return text === "is" || text === "has" || text === "was" || bounds.has(text as BoundWord);
}

/** Whether an `if` is a value with a `then`. */
function comesThen(c: Cursor): boolean {
  for (let ahead = 1; ; ahead++) {
    const { kind, text } = c.peek(ahead);
    if (text === "then") return true;
    if (kind === "end" || /^(\{|\}|do|hold|keep|cycle)$/.test(text)) return false;
  }
}

function negation(c: Cursor): Term {
  const first = c.token;
  const isLoud = () => (c.peek().kind === "dotted" || c.isSign("(", 1)) && c.takeMeant("not", ["NOT"]);
  if (!c.takeWord("not") && !isLoud()) return test(c);
  const of = negation(c);
  return { kind: "not", of, span: c.span(first) };
}

function test(c: Cursor): Term {
  let left = bareTest(c);
  while (c.isWord("for") || c.isWord("in the last") || lastByHabit(c) || soLongByHabit(c)) {
    if (c.comes("for") && c.peek().unit === "%") {
      const what = "How much of the time something is so is a share.";
      c.missing(c.token, what, `Write share(${c.textOf(left.span)}${c.claims ? "" : " over 1 h"}) at least ${c.peek().text}.`);
    }
    const kind = takeSoLong(c);
    const needless = kind === "for" ? forHabits.find((words) => comesNeedless(c, words)) : undefined;
    if (needless) c.takeAllMeant("", needless);
    if (kind === "for" && c.comes("at most"))
      c.missing(c.token, "What has been so for a time goes on.", `Write time(${c.textOf(left.span)} over 1 h) at most ….`);
    const duration = lengthOfTime(c);
    left = { kind, condition: left, duration, span: c.span(left.span) };
  }
  if (c.isWord("until") && (c.isSign("(", 1) || c.isSign("<", 1) || c.isAmong(bounds, 1))) {
    c.next();
    left = { kind: "until", condition: left, reset: reset(c), span: c.span(left.span) };
  }
  return left;
}

/** `for` or `in the last`, or what is said for them: told. */
function takeSoLong(c: Cursor): "for" | "in the last" {
  const last = lastByHabit(c);
  const long = last ?? soLongByHabit(c);
  if (!long) return c.next().text as "for" | "in the last";
  const meant = last ? "in the last" : "for";
  c.takeAllMeant(meant, long);
  return meant;
}

/** A length of time; `an hour` is told, and read on with. */
export function lengthOfTime(c: Cursor): Term {
  const found = lengthHabits.find(([written]) => c.comesAll(written));
  if (!found) return sum(c);
  const [written, meant] = found;
  const { token } = c;
  c.takeAllMeant(meant, written);
  const [value = "", unit = ""] = meant.split(" ");
  const ms = toBase({ value: Number(value), unit: unit as Unit });
  return { kind: "duration", ms, unit, text: meant, span: c.span(token) };
}

/** A bound that comes, or the one sign for it that is also a sign of the language. */
function takeBound(c: Cursor): BoundWord {
  return c.takeMeant("below", ["<"]) ? "below" : (c.next().text as BoundWord);
}

function reset(c: Cursor): Reset {
  if (c.takeSign("(")) {
    const inner = condition(c);
    c.sign(")");
    return { kind: "condition", condition: inner, ...limit(c) };
  }
  const bound = takeBound(c);
  const value = sum(c);
  const lasts = c.takeWord("for") ? { for: sum(c) } : {};
  return { kind: "bound", bound, value, ...lasts, ...limit(c) };
}

/** [ "," "at most" sum [ "then" "pause" sum ] ] */
function limit(c: Cursor): { atMost?: Term; pause?: Term } {
  if (!c.takeCommaWord("at most")) return {};
  const atMost = sum(c);
  return c.takeWords("then", "pause") ? { atMost, pause: sum(c) } : { atMost };
}

const tells: readonly string[] = ["tell", ...(wordings.tell ?? [])];

function bareTest(c: Cursor): Term {
  const first = c.token;
  const several = comesSeveral(c) ? severalHabits[first.text] : undefined;
  if (several !== undefined) c.missing(first, `"${first.text}" is not part of the language.`, several);
  const byClock = c.claims ? undefined : clockByHabit(c, sum);
  if (byClock) return byClock;
  if (c.isWord("during") || c.isWord("outside")) {
    // A thing of a zone may be called so, and within its zone only its whole name is read as that.
    if (c.zone !== undefined && relations.has(c.peek().text))
      c.missing(first, `"${first.text}" begins a condition about a schedule.`, `Write ${c.zone}.${first.text}.`);
    const outside = c.next().text === "outside";
    const schedule = name(c, "a schedule");
    return { kind: "during", outside, schedule, span: c.span(first) };
  }
  if (c.takeWords("clock", "from")) {
    const from = sum(c);
    c.word("to");
    return { kind: "clock", from, to: sum(c), span: c.span(first) };
  }
  if (c.claims) for (const word of ["told", "problem", "sent"]) c.offer(word);
  if (c.claims && c.peek().kind === "text" && c.takeMeant("told", tells))
    return { kind: "told", text: quoted(c), span: c.span(first) };
  if ((c.comes("told") || c.comes("problem")) && c.peek().kind === "text") {
    const kind = c.next().text as "told" | "problem";
    return { kind, text: quoted(c), span: c.span(first) };
  }
  if (c.comes("sent") && c.peek().kind === "text") {
    c.next();
    const text = quoted(c);
    c.word("to");
    return { kind: "sent", text, to: quoted(c), span: c.span(first) };
  }
  if (c.takeWord("any")) {
    const things = anyWord(c, "what there are several of: battery, sensor");
    const zones = zonesIn(c);
    const each: Term = { kind: "each", span: things.span };
    const of = relation(c, each);
    if (of === each) c.fail(['"above"', '"below"', '"is"', '"between"']);
    return { kind: "any", name: things, zones, test: of, span: c.span(first) };
  }
  return relation(c, sum(c));
}

/** [ "in" WORD { "and" WORD } ] */
function zonesIn(c: Cursor): Word[] {
  if (!c.takeWord("in")) return [];
  const zone = "the name of a zone";
  const zones = [anyWord(c, zone)];
  while (c.isWord("and")) {
    c.want(zone, 1);
    if (c.peek().kind !== "word") break;
    c.next();
    zones.push(anyWord(c, zone));
  }
  return zones;
}

/** value = sum | starter: a state may have any name. */
export function value(c: Cursor): Term {
  const { token } = c;
  c.want("a state");
  if (token.kind === "word" && starters.has(token.text)) {
    c.takeName();
    return { kind: "name", text: token.text, span: c.span(token) };
  }
  return sum(c);
}

export function sum(c: Cursor): Term {
  const first = c.token;
  if (c.takeWord("if")) {
    const { subject } = c;
    const when = condition(c);
    c.subject = subject;
    c.word("then");
    c.want("a state");
    const then = sum(c);
    c.word("else");
    c.subject = subject;
    c.want("a state");
    return { kind: "if", condition: when, then, else: sum(c), span: c.span(first) };
  }
  return binary(c, ["+", "-"], () => binary(c, ["*", "/"], () => factor(c)));
}

function binary(c: Cursor, signs: readonly string[], part: () => Term): Term {
  let left = part();
  for (;;) {
    const sign = takeSignOf(c, signs);
    if (!sign) return left;
    const right = part();
    left = { kind: "binary", sign, left, right, span: c.span(left.span) };
  }
}

/** One of some signs, or its word, which is told: `plus 20 min`. */
function takeSignOf(c: Cursor, signs: readonly string[]): "+" | "-" | "*" | "/" | undefined {
  const { kind, text } = c.token;
  const meant = text === "plus" ? "+" : text === "minus" ? "-" : undefined;
  if (meant && signs.includes(meant) && isNumberToken(c.peek()) && c.takeMeant(meant, [text])) return meant;
  if (kind !== "sign" || !signs.includes(text)) return undefined;
  return c.next().text as "+" | "-" | "*" | "/";
}

function factor(c: Cursor): Term {
  const first = c.token;
  if (!c.isSign("+") && !c.isSign("-")) return primary(c);
  const sign = c.next().text as "+" | "-";
  const of = primary(c);
  return { kind: "sign", sign, of, span: c.span(first) };
}

function primary(c: Cursor): Term {
  const { token } = c;
  c.want("a value");
  switch (token.kind) {
    case "number":
      c.next();
      c.want("a unit");
      return { kind: "number", value: token.value, unit: "", span: token };
    case "quantity":
      c.next();
      return { kind: "number", value: token.value, unit: token.unit, span: token };
    case "duration": {
      c.next();
      const duration: Term = { kind: "duration", ms: token.value, unit: token.unit, text: token.text, span: token };
      return (c.comes("before") || c.comes("after")) && isTimeAt(c, 1) ? besideTime(c, duration) : duration;
    }
    case "text": {
      // A time of day, or a state, in quotes.
      const inside = token.text.slice(1, -1);
      if (/^[\p{L}_][\p{L}\p{N}_]*$/u.test(inside) && isPlain(inside)) {
        c.takeMeant(inside, [token.text]);
        return { kind: "name", text: inside, span: token };
      }
      const [hours, minutes] = inside.split(":").map(Number);
      if (!/^"\d{1,2}:\d{2}"$/.test(token.text)) return c.fail(["a value"]);
      c.takeMeant(token.text.slice(1, -1), [token.text]);
      return { kind: "time", ms: ((hours ?? 0) * 60 + (minutes ?? 0)) * 60e3, span: token };
    }
    case "time":
      c.next();
      return { kind: "time", ms: token.value, span: token };
    case "date":
      return instant(c);
    case "dotted":
      c.subject = token.text;
      c.takeName();
      return { kind: "name", text: token.text, span: token };
    case "word":
      if (c.isWord("pick")) return pick(c);
      if (takesTimeOfDay(c)) return { kind: "name", text: "clock.time", span: c.span(token) };
      return token.text === "unknown" || isPlain(token.text) ? nameOrCall(c) : c.failFor("a value");
    case "sign":
      return token.text === "(" ? group(c) : c.failFor("a value");
    default:
      c.offer("pick by");
      c.offer("unknown");
      return c.failFor("a value");
  }
}

/** `30 min before sunset`, where `sunset - 30 min` is meant: told, and read on with. */
function besideTime(c: Cursor, duration: Term): Term {
  const sign = c.next().text === "before" ? "-" : "+";
  const left = primary(c);
  c.tellMeant(duration.span, `${c.textOf(left.span)} ${sign} ${c.textOf(duration.span)}`);
  return { kind: "binary", sign, left, right: duration, span: c.span(duration.span) };
}

function instant(c: Cursor): Term {
  const first = c.next();
  const ms = c.token.kind === "time" ? c.next().value : undefined;
  return { kind: "instant", date: first.text, ...(ms !== undefined && { ms }), span: c.span(first) };
}

function nameOrCall(c: Cursor): Term {
  const { token } = c;
  if (c.takeWord("unknown")) return { kind: "unknown", span: token };
  if (c.comes("of", 1) && c.isName(2)) return nameOfOther(c);
  c.takeName();
  if (!c.isSign("(")) {
    c.subject = token.text;
    return { kind: "name", text: token.text, span: token };
  }
  c.next();
  const given = c.knowing("conditions", false, () => c.list(() => argument(c)));
  c.sign(")");
  return { kind: "call", name: { text: token.text, span: token }, arguments: given, span: c.span(token) };
}

/** `temperature of bench`, where `bench.temperature` is meant; `mean of …`, where `mean(…)` is. */
function nameOfOther(c: Cursor): Term {
  const { token } = c;
  const other = c.peek(2);
  if (other.kind === "dotted")
    c.missing(token, `"${token.text} of" is not part of the language.`, `Write ${callOf(c, token.text)}.`);
  const text = `${other.text}.${token.text}`;
  c.takeAllMeant(text, [token.text, "of", other.text]);
  c.subject = text;
  return { kind: "name", text, span: c.span(token) };
}

/** `average of a, b and c` as a call. */
function callOf(c: Cursor, called: string): string {
  const names = [c.peek(2).text];
  for (let ahead = 3; (c.isSign(",", ahead) || c.comes("and", ahead)) && c.isName(ahead + 1); ahead += 2)
    names.push(c.peek(ahead + 1).text);
  return `${functionHabits[called] ?? called}(${names.join(", ")})`;
}

function argument(c: Cursor): Argument {
  const first = c.token;
  const over = () => (c.takeWord("over") ? sum(c) : undefined);
  if (first.kind === "text") return { kind: "text", text: quoted(c), span: first };
  if (c.isWord("at least") && c.peek().kind === "number" && c.isWord("known", 2)) {
    c.next();
    const count = c.next().value;
    c.next();
    return { kind: "known", count, span: c.span(first) };
  }
  if (c.takeWord("every")) {
    const things = anyWord(c, "what there are several of: battery, sensor");
    const zones = zonesIn(c);
    const window = over();
    return { kind: "every", name: things, zones, ...(window && { over: window }), span: c.span(first) };
  }
  const of = condition(c);
  if (c.takeSign("..")) return { kind: "range", low: of, ...rangeEnd(c), span: c.span(first) };
  const window = over();
  return { kind: "term", of, ...(window && { over: window }), span: c.span(first) };
}

function rangeEnd(c: Cursor) {
  const high = sum(c);
  if (!c.takeWord("to")) return { high };
  const low = sum(c);
  c.sign("..");
  return { high, to: { low, high: sum(c) } };
}

function pick(c: Cursor): Term {
  const first = c.word("pick");
  c.word("by");
  const { subject } = c;
  const by = sum(c);
  c.sign("{");
  const picked = c.subject;
  const cases = c.list(() => {
    c.subject = picked;
    return pickCase(c, subject);
  });
  c.sign("}");
  return { kind: "pick", by, cases, span: c.span(first) };
}

/** @param subject what the picked value is of */
function pickCase(c: Cursor, subject: Subject): CaseNode {
  const first = c.token;
  const end = () => {
    c.sign(":");
    c.subject = subject;
    return { value: value(c), span: c.span(first) };
  };
  if ((c.isWord("otherwise") || c.isWord("unknown")) && c.isSign(":", 1)) {
    const kind = c.next().text as "otherwise" | "unknown";
    return { kind, ...end() };
  }
  const isWords = first.kind === "word" && (c.isSign(":", 1) || c.isWord("or", 1));
  if ((c.isSign("<") || c.isAmong(bounds)) && !isWords) {
    const bound = takeBound(c);
    return { kind: "bound", bound, limit: sum(c), ...end() };
  }
  if (!isWords && c.takeWord("between")) {
    const low = sum(c);
    c.word("and");
    return { kind: "between", low, high: sum(c), ...end() };
  }
  const words = [anyWord(c, "a word, a bound, otherwise or unknown")];
  while (c.takeWord("or")) words.push(anyWord(c, "one of its words"));
  return { kind: "words", words, ...end() };
}

function group(c: Cursor): Term {
  const first = c.next();
  const of = condition(c);
  c.sign(")");
  return { kind: "group", of, span: c.span(first) };
}

/** [ "+" | "-" ] number */
export function signed(c: Cursor): Term {
  const number = c.isSign("+") || c.isSign("-") ? c.peek() : c.token;
  if (!["number", "quantity", "duration"].includes(number.kind)) c.failFor("a number");
  return factor(c);
}

/** A state, or a number. */
export function stateWord(c: Cursor): Term {
  const { token } = c;
  c.want("a state");
  if (token.kind !== "word") return signed(c);
  if (reserved.has(token.text)) c.failFor("a state");
  c.takeName("a state");
  return { kind: "name", text: token.text, span: token };
}
