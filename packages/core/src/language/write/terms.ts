// Terms as text, in the canonical layout: one blank around words and signs, units as the catalogue spells them.
import { isUnit, writeNumber, writeQuantity, writeTimeOfDay } from "../../units/index.js";
import type { Quoted, Reset, Term } from "../syntax.js";

export function writeTerm(term: Term): string {
  switch (term.kind) {
    case "number":
      return isUnit(term.unit)
        ? writeQuantity({ value: term.value, unit: term.unit })
        : `${writeNumber(term.value)} ${term.unit}`;
    case "duration":
      return term.text;
    case "time":
      return writeTimeOfDay(term.ms);
    case "instant":
      return term.ms === 0 ? term.date : `${term.date} ${writeTimeOfDay(term.ms)}`;
    case "unknown":
      return "unknown";
    case "name":
      return term.text;
    case "call":
      return `${term.name.text}(${term.arguments.map(writeTerm).join(", ")})`;
    case "group":
      return `(${writeTerm(term.of)})`;
    case "sign":
      return `${term.sign}${writeTerm(term.of)}`;
    case "binary":
      return `${writeTerm(term.left)} ${term.sign} ${writeTerm(term.right)}`;
    case "bound":
      return `${writeTerm(term.left)} ${term.bound} ${writeTerm(term.right)}`;
    case "between":
      return `${writeTerm(term.value)} between ${writeTerm(term.low)} and ${writeTerm(term.high)}`;
    case "is":
      return writeIs(term, term.negated ? "is not" : "is");
    case "for":
      return `${writeLasting(term.condition, "has been", "has not been")} for ${writeTerm(term.duration)}`;
    case "in the last":
      return `${writeLasting(term.condition, "was", "was not")} in the last ${writeTerm(term.duration)}`;
    case "until":
      return `${writeTerm(term.condition)} until ${writeReset(term.reset)}`;
    case "during":
      return `${term.outside ? "outside" : "during"} ${term.schedule.text}`;
    case "told":
      return `told ${writeQuoted(term.text)}`;
    case "not":
      return `not ${writeTerm(term.of)}`;
    case "and":
    case "or":
      return term.of.map(writeTerm).join(` ${term.kind} `);
    default:
      throw new RangeError(`no such term: ${JSON.stringify(term satisfies never)}`);
  }
}

function writeIs(term: Extract<Term, { kind: "is" }>, verb: string): string {
  return `${writeTerm(term.left)} ${verb} ${writeTerm(term.right)}`;
}

/** Before `for` and `in the last` the language speaks of what has been. */
function writeLasting(condition: Term, verb: string, negated: string): string {
  return condition.kind === "is" ? writeIs(condition, condition.negated ? negated : verb) : writeTerm(condition);
}

function writeReset(reset: Reset): string {
  if (reset.kind === "condition") return `(${writeTerm(reset.condition)})`;
  const bound = `${reset.bound} ${writeTerm(reset.value)}`;
  return reset.for ? `${bound} for ${writeTerm(reset.for)}` : bound;
}

export function writeQuoted({ parts }: Quoted): string {
  const text = parts.map((part) => (typeof part === "string" ? escaped(part) : `{${writeTerm(part)}}`)).join("");
  return `"${text}"`;
}

function escaped(text: string): string {
  return text.replace(/[\\"]/g, "\\$&").replace(/\n/g, "\\n").replace(/[{}]/g, "$&$&");
}
