// Values and conditions of a house as terms of a tree: what `bind` makes of them is the same again. Written nowhere, they
// have no place.

import {
  type Case,
  crosses,
  type DayTime,
  type Expression,
  isBound,
  nameOfColour,
  type Text,
  type Value,
  type ValueType,
} from "../../house/index.js";
import { differenceUnit, type Unit, writeDuration, writeNumber } from "../../units/index.js";
import type { Argument, CaseNode, Quoted, Reset, Term, Word } from "../syntax.js";
import type { Span } from "../token.js";

/** Where what was never written stands. */
export const nowhere: Span = { file: "", from: 0, to: 0 };
const span = nowhere;

export const word = (text: string): Word => ({ text, span });
export const quoted = (text: string): Quoted => ({ parts: [text], span });
const named = (text: string): Term => ({ kind: "name", text, span });

/** A number with its unit; a duration in its parts. */
export function numberTerm(value: number, unit: Unit): Term {
  if (unit === "ms") return { kind: "duration", ms: value, unit: "ms", text: writeDuration(value), span };
  if (unit === "K" && isLong(value) && !isLong(value * K_IN_F))
    return { kind: "number", value: value * K_IN_F, unit: "°F", span };
  return { kind: "number", value, unit, span };
}

/** So many °F are one kelvin. A difference that somebody wrote in °F is a round number there. */
const K_IN_F = 9 / 5;

const isLong = (value: number) => writeNumber(value).length > 6;

/** A difference, in the size of a unit. */
export function differenceTerm(value: number, unit: Unit): Term {
  return numberTerm(value, differenceUnit(unit));
}

export function timeTerm(ms: number): Term {
  return { kind: "time", ms, span };
}

/** A value of a type, in its own unit. */
export function valueTerm(value: Value, type: ValueType): Term {
  if (typeof value === "string") return type.kind === "colour" ? colour(value) : named(value);
  return type.kind === "time" ? timeTerm(value) : numberTerm(value, type.kind === "number" ? type.unit : "");
}

function colour(text: string): Term {
  const known = nameOfColour(text);
  return known === undefined ? call("colour", [{ kind: "text", text: quoted(text), span }]) : named(known);
}

function call(name: string, given: readonly Argument[]): Term {
  return { kind: "call", name: word(name), arguments: given, span };
}

const argument = (of: Expression, over?: Expression): Argument => ({
  kind: "term",
  of: unbindTerm(of),
  ...(over && { over: part(over) }),
  span,
});

const signs = { plus: "+", minus: "-", times: "*", divided: "/" } as const;

/** An expression as one would write it; parentheses where they are needed. */
export function unbindTerm(expression: Expression): Term {
  switch (expression.kind) {
    case "number":
      return numberTerm(expression.value, expression.unit);
    case "word":
      return named(expression.word);
    case "time":
      return timeTerm(expression.ms);
    case "date":
      return { kind: "instant", date: expression.date, span };
    case "instant":
      return { kind: "instant", date: expression.date, ms: expression.ms, span };
    case "colour":
      return colour(expression.colour);
    case "unknown":
      return { kind: "unknown", span };
    case "value":
      return named(expression.of);
    case "age":
      return named(`${expression.of}.age`);
    case "remaining":
      return named(`${expression.countdown}.remaining`);
    case "last amount":
      return named(`${expression.output}.last_amount`);
    case "rest":
      return named("rest");
    case "begins in":
      return named(`${expression.schedule}.begins_in`);
    case "ends in":
      return named(`${expression.schedule}.ends_in`);
    case "sun":
      return named(`sun.${expression.what}`);
    case "sun time":
      return named(expression.event);
    case "clock":
      return named(`clock.${expression.what}`);
    case "plus":
    case "minus":
    case "times":
    case "divided":
      return { kind: "binary", sign: signs[expression.kind], left: part(expression.left), right: part(expression.right), span };
    case "negative":
      return { kind: "sign", sign: "-", of: part(expression.of), span };
    case "if":
      return {
        kind: "if",
        condition: unbindTerm(expression.condition),
        then: part(expression.then),
        else: part(expression.else),
        span,
      };
    case "pick":
      return { kind: "pick", by: part(expression.by), cases: expression.cases.map(unbindCase), span };
    case "of several": {
      const known: Argument[] = expression.known > 1 ? [{ kind: "known", count: expression.known, span }] : [];
      return call(expression.function, [...expression.of.map((one) => argument(one)), ...known]);
    }
    case "call":
      return call(
        expression.function,
        expression.of.map((one) => argument(one)),
      );
    case "clamp": {
      const { value, low, high } = expression;
      return call("clamp", [argument(value), { kind: "range", low: part(low), high: part(high), span }]);
    }
    case "scale": {
      const { value, from, to } = expression;
      const range = { kind: "range" as const, low: part(from.low), high: part(from.high), span };
      return call("scale", [argument(value), { ...range, to: { low: part(to.low), high: part(to.high) } }]);
    }
    case "over":
      return call(expression.function, [argument(expression.value, expression.over)]);
    case "above":
    case "below":
    case "at least":
    case "at most":
      return { kind: "bound", bound: expression.kind, left: part(expression.left), right: part(expression.right), span };
    case "between": {
      const { value, low, high } = expression;
      return { kind: "between", value: part(value), low: part(low), high: part(high), span };
    }
    case "is":
      return is(expression.left, part(expression.right));
    case "pressed":
      return is(named(expression.sensor), named("pressed"));
    case "running":
      return is(named(expression.countdown), named("running"));
    case "disobeys":
      return { kind: "disobeys", of: named(expression.output), span };
    case "not":
      return unbindNot(expression.of);
    case "and":
    case "or":
      return { kind: expression.kind, of: expression.of.map(part), span };
    case "for":
    case "in the last":
      return { kind: expression.kind, condition: tested(expression.condition), duration: part(expression.duration), span };
    case "until":
      return { kind: "until", condition: tested(expression.condition), reset: unbindReset(expression), span };
    case "during":
      return { kind: "during", outside: false, schedule: word(expression.schedule), span };
    case "clock between":
      return { kind: "clock", from: unbindDayTime(expression.from), to: unbindDayTime(expression.to), span };
    case "count":
    case "share":
      return call(expression.kind, [argument(expression.condition)]);
    case "time true":
      return call("time", [argument(expression.condition)]);
    case "told":
    case "problem":
      return { kind: expression.kind, text: quoted(expression.text), span };
    case "sent":
      return { kind: "sent", text: quoted(expression.text), to: quoted(expression.to), span };
    default:
      throw new RangeError(`no such expression: ${JSON.stringify(expression satisfies never)}`);
  }
}

function is(left: Expression | Term, right: Term, negated = false): Term {
  return { kind: "is", negated, left: "span" in left ? left : part(left), right, span };
}

const loose: ReadonlySet<Expression["kind"]> = new Set(["and", "or", "plus", "minus", "times", "divided", "if"]);

const group = (of: Term): Term => ({ kind: "group", of, span });

function part(expression: Expression): Term {
  const term = unbindTerm(expression);
  return loose.has(expression.kind) ? group(term) : term;
}

function unbindCase({ if: when, then }: Case): CaseNode {
  const value = part(then);
  if (typeof when === "string") return { kind: when, value, span };
  switch (when.kind) {
    case "above":
    case "below":
    case "at least":
    case "at most":
      return { kind: "bound", bound: when.kind, limit: part(when.right), value, span };
    case "between":
      return { kind: "between", low: part(when.low), high: part(when.high), value, span };
    case "is":
    case "or": {
      const words = (when.kind === "or" ? when.of : [when]).map((one) =>
        one.kind === "is" && one.right.kind === "word" ? one.right.word : "",
      );
      return { kind: "words", words: words.map(word), value, span };
    }
    default:
      throw new RangeError(`nothing is picked by ${when.kind}`);
  }
}

/** `sunset - 20 min`, `07:30`, `bench.lights_out`. */
export function unbindDayTime({ sun, time }: DayTime): Term {
  if (sun === undefined) return part(time);
  // What is added to the event was taken out of its sum: it goes back to where it stood.
  if (time.kind === "plus" || time.kind === "minus") {
    const left = unbindDayTime({ sun, time: time.left });
    return { kind: "binary", sign: signs[time.kind], left, right: part(time.right), span };
  }
  if (time.kind !== "number") return { kind: "binary", sign: "+", left: named(sun), right: part(time), span };
  if (time.value === 0) return named(sun);
  const right = numberTerm(Math.abs(time.value), "ms");
  return { kind: "binary", sign: time.value < 0 ? "-" : "+", left: named(sun), right, span };
}

function unbindNot(of: Expression): Term {
  if (of.kind === "is") return is(of.left, part(of.right), true);
  if (of.kind === "during") return { kind: "during", outside: true, schedule: word(of.schedule), span };
  return { kind: "not", of: of.kind === "for" || of.kind === "in the last" ? group(unbindTerm(of)) : part(of), span };
}

/** What `for`, `in the last` and `until` stand after: all but a single test stands in parentheses. */
function tested(condition: Expression): Term {
  const term = unbindTerm(condition);
  const single = condition.kind === "not" && (condition.of.kind === "is" || condition.of.kind === "during");
  return !single && ["and", "or", "not", "until", "if"].includes(condition.kind) ? group(term) : term;
}

function unbindReset({ condition, reset, atMost, pause }: Extract<Expression, { kind: "until" }>): Reset {
  const limit = { ...(atMost && { atMost: part(atMost) }), ...(pause && { pause: part(pause) }) };
  if (
    isBound(condition) &&
    isBound(reset) &&
    !crosses(condition, reset) &&
    JSON.stringify(condition.left) === JSON.stringify(reset.left)
  )
    return { kind: "bound", bound: reset.kind, value: part(reset.right), ...limit };
  return { kind: "condition", condition: unbindTerm(reset), ...limit };
}

/** Text whose braces are values. */
export function unbindText(text: Text): Quoted {
  return { parts: text.map((one) => (typeof one === "string" ? one : unbindTerm(one))), span };
}
