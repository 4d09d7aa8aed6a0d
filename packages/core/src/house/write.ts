// Expressions of a house as text of the language.
import { writeNumber, writeQuantity, writeTimeOfDay } from "../units/index.js";
import type { Expression } from "./expression.js";

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
    case "instant":
      return `${expression.date} ${writeTimeOfDay(expression.ms)}`;
    case "unknown":
      return "unknown";
    case "value":
      return expression.of;
    case "plus":
    case "minus":
    case "times":
    case "divided":
      return `${part(expression.left)} ${signs[expression.kind]} ${part(expression.right)}`;
    case "negative":
      return `-${part(expression.of)}`;
    case "above":
    case "below":
    case "at least":
    case "at most":
      return `${part(expression.left)} ${expression.kind} ${part(expression.right)}`;
    case "between":
      return `${part(expression.value)} between ${part(expression.low)} and ${part(expression.high)}`;
    case "is":
      return `${part(expression.left)} is ${part(expression.right)}`;
    case "not":
      return writeNot(expression.of);
    case "and":
    case "or":
      return expression.of.map(part).join(` ${expression.kind} `);
    case "for":
      return `${lasting(expression.condition, "has been")} for ${part(expression.duration)}`;
    case "in the last":
      return `${lasting(expression.condition, "was")} in the last ${part(expression.duration)}`;
    case "until":
      return `${part(expression.condition)} until ${writeReset(expression)}`;
    case "during":
      return `during ${expression.schedule}`;
    case "count":
      return `count(${writeExpression(expression.condition)})`;
    case "told":
      return `told ${JSON.stringify(expression.text)}`;
    default:
      throw new RangeError(`no such expression: ${JSON.stringify(expression satisfies never)}`);
  }
}

const loose: ReadonlySet<Expression["kind"]> = new Set(["and", "or", "plus", "minus", "times", "divided"]);

function part(expression: Expression): string {
  const text = writeExpression(expression);
  return loose.has(expression.kind) ? `(${text})` : text;
}

function writeNot(of: Expression): string {
  if (of.kind === "is") return `${part(of.left)} is not ${part(of.right)}`;
  if (of.kind === "during") return `outside ${of.schedule}`;
  return of.kind === "for" || of.kind === "in the last" ? `not (${writeExpression(of)})` : `not ${part(of)}`;
}

function lasting(condition: Expression, verb: string): string {
  if (condition.kind === "is") return `${part(condition.left)} ${verb} ${part(condition.right)}`;
  if (condition.kind === "not" && condition.of.kind === "is") {
    return `${part(condition.of.left)} ${verb} not ${part(condition.of.right)}`;
  }
  return part(condition);
}

function writeReset({ condition, reset }: Extract<Expression, { kind: "until" }>): string {
  if ("left" in reset && "left" in condition && writeExpression(condition.left) === writeExpression(reset.left)) {
    return `${reset.kind} ${part(reset.right)}`;
  }
  return `(${writeExpression(reset)})`;
}

/** The things an expression reads, each once, in the order written. */
export function thingsIn(expression: Expression): string[] {
  const found = new Set<string>();
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(visit);
    else if (typeof value === "object" && value !== null) {
      if ("kind" in value && value.kind === "value" && "of" in value) found.add(value.of as string);
      else Object.values(value).forEach(visit);
    }
  };
  visit(expression);
  return [...found];
}
