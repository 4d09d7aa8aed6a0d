// Expressions of a house as text of the language.
import { writeNumber, writeQuantity, writeTimeOfDay } from "../units/index.js";
import { nameOfColour } from "./colours.js";
import type { Case, DayTime, Expression } from "./expression.js";

const signs = { plus: "+", minus: "-", times: "*", divided: "/" } as const;

/** An expression as one would write it; parentheses where they are needed. */
export function writeExpression(expression: Expression): string {
  switch (expression.kind) {
    case "number":
      return expression.unit === "" ? writeNumber(expression.value) : writeQuantity(expression);
    case "word":
      return expression.word;
    case "time":
      return writeTimeOfDay(expression.ms);
    case "date":
      return expression.date;
    case "instant":
      return `${expression.date} ${writeTimeOfDay(expression.ms)}`;
    case "colour":
      return nameOfColour(expression.colour) ?? `colour("${expression.colour}")`;
    case "unknown":
      return "unknown";
    case "value":
      return expression.of;
    case "age":
      return `${expression.of}.age`;
    case "begins in":
      return `${expression.schedule}.begins_in`;
    case "ends in":
      return `${expression.schedule}.ends_in`;
    case "sun":
      return `sun.${expression.what}`;
    case "sun time":
      return expression.event;
    case "clock":
      return `clock.${expression.what}`;
    case "plus":
    case "minus":
    case "times":
    case "divided":
      return `${part(expression.left)} ${signs[expression.kind]} ${part(expression.right)}`;
    case "negative":
      return `-${part(expression.of)}`;
    case "if":
      return `if ${writeExpression(expression.condition)} then ${part(expression.then)} else ${part(expression.else)}`;
    case "pick":
      return `pick by ${part(expression.by)} { ${expression.cases.map((one) => writeCase(one, expression.by)).join(", ")} }`;
    case "of several": {
      const known = expression.known > 1 ? [`at least ${expression.known} known`] : [];
      return `${expression.function}(${[...expression.of.map(writeExpression), ...known].join(", ")})`;
    }
    case "call":
      return `${expression.function}(${expression.of.map(writeExpression).join(", ")})`;
    case "clamp":
      return `clamp(${writeExpression(expression.value)}, ${part(expression.low)}..${part(expression.high)})`;
    case "scale": {
      const { value, from, to } = expression;
      const ends = [from, to].map(({ low, high }) => `${part(low)}..${part(high)}`);
      return `scale(${writeExpression(value)}, ${ends.join(" to ")})`;
    }
    case "over":
      return `${expression.function}(${writeExpression(expression.value)} over ${part(expression.over)})`;
    case "above":
    case "below":
    case "at least":
    case "at most":
      return `${part(expression.left)} ${expression.kind} ${part(expression.right)}`;
    case "between":
      return `${part(expression.value)} between ${part(expression.low)} and ${part(expression.high)}`;
    case "is":
      return `${part(expression.left)} is ${part(expression.right)}`;
    case "pressed":
      return `${expression.sensor} is pressed`;
    case "running":
      return `${expression.countdown} is running`;
    case "disobeys":
      return `${expression.output} disobeys`;
    case "not":
      return writeNot(expression.of);
    case "and":
    case "or":
      return expression.of.map(part).join(` ${expression.kind} `);
    case "for":
      return `${lasting(expression.condition, "has been", "has not been")} for ${part(expression.duration)}`;
    case "in the last":
      return `${lasting(expression.condition, "was", "was not")} in the last ${part(expression.duration)}`;
    case "until":
      return `${tested(expression.condition)} until ${writeReset(expression)}`;
    case "during":
      return `during ${expression.schedule}`;
    case "clock between":
      return `clock from ${writeDayTime(expression.from)} to ${writeDayTime(expression.to)}`;
    case "count":
    case "share":
      return `${expression.kind}(${writeExpression(expression.condition)})`;
    case "time true":
      return `time(${writeExpression(expression.condition)})`;
    case "told":
    case "problem":
      return `${expression.kind} ${JSON.stringify(expression.text)}`;
    case "sent":
      return `sent ${JSON.stringify(expression.text)} to ${JSON.stringify(expression.to)}`;
    default:
      throw new RangeError(`no such expression: ${JSON.stringify(expression satisfies never)}`);
  }
}

const loose: ReadonlySet<Expression["kind"]> = new Set(["and", "or", "plus", "minus", "times", "divided", "if"]);

function part(expression: Expression): string {
  const text = writeExpression(expression);
  return loose.has(expression.kind) ? `(${text})` : text;
}

function writeCase(one: Case, by: Expression): string {
  if (typeof one.if === "string") return `${one.if}: ${part(one.then)}`;
  return `${writeExpression(one.if)
    .replaceAll(`${part(by)} is `, "")
    .replace(`${part(by)} `, "")}: ${part(one.then)}`;
}

/** `sunset - 20 min`, `07:30`, `bench.lights_out`. */
export function writeDayTime({ sun, time }: DayTime): string {
  if (sun === undefined) return part(time);
  if (time.kind !== "number" || time.value === 0) return time.kind === "number" ? sun : `${sun} + ${part(time)}`;
  return `${sun} ${time.value < 0 ? "-" : "+"} ${writeQuantity({ value: Math.abs(time.value), unit: "ms" })}`;
}

function writeNot(of: Expression): string {
  if (of.kind === "is") return `${part(of.left)} is not ${part(of.right)}`;
  if (of.kind === "during") return `outside ${of.schedule}`;
  return of.kind === "for" || of.kind === "in the last" ? `not (${writeExpression(of)})` : `not ${part(of)}`;
}

/** What `for`, `in the last` and `until` stand behind: all but a single test stands in parentheses. */
function tested(condition: Expression): string {
  const text = writeExpression(condition);
  const single = condition.kind === "not" && (condition.of.kind === "is" || condition.of.kind === "during");
  return !single && ["and", "or", "not", "until", "if"].includes(condition.kind) ? `(${text})` : text;
}

/** Before `for` and `in the last` the language speaks of what has been. */
function lasting(condition: Expression, verb: string, negated: string): string {
  if (condition.kind === "is") return `${part(condition.left)} ${verb} ${part(condition.right)}`;
  if (condition.kind === "not" && condition.of.kind === "is") {
    return `${part(condition.of.left)} ${negated} ${part(condition.of.right)}`;
  }
  return tested(condition);
}

const bounds: ReadonlySet<Expression["kind"]> = new Set(["above", "below", "at least", "at most"]);

function writeReset({ condition, reset, atMost, pause }: Extract<Expression, { kind: "until" }>): string {
  const short = !atMost && bounds.has(reset.kind) && bounds.has(condition.kind) && "left" in reset && "left" in condition;
  if (short && writeExpression(condition.left) === writeExpression(reset.left)) {
    return `${reset.kind} ${part(reset.right)}`;
  }
  const limit = atMost && pause ? `, at most ${part(atMost)} then pause ${part(pause)}` : "";
  return `(${writeExpression(reset)})${limit}`;
}

/** The things that an expression, or whatever holds expressions, reads; each once, in the order written. */
export function thingsIn(holder: unknown): string[] {
  const found = new Set<string>();
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(visit);
    else if (typeof value === "object" && value !== null) {
      if ("kind" in value && value.kind === "value" && "of" in value) found.add(value.of as string);
      else Object.values(value).forEach(visit);
    }
  };
  visit(holder);
  return [...found];
}
