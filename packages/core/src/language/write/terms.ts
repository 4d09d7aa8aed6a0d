// Terms as text, in the canonical layout: one blank around words and signs, units as the catalogue spells them.
import { isUnit, writeNumber, writeQuantity, writeTimeOfDay } from "../../units/index.js";
import type { Argument, CaseNode, Quoted, Reset, Term, Word } from "../syntax.js";

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
      return term.ms === undefined ? term.date : `${term.date} ${writeTimeOfDay(term.ms)}`;
    case "unknown":
      return "unknown";
    case "name":
      return term.text;
    case "each":
      return "";
    case "call":
      return `${term.name.text}(${term.arguments.map(writeArgument).join(", ")})`;
    case "pick":
      return `pick by ${writeTerm(term.by)} { ${term.cases.map(writeCase).join(", ")} }`;
    case "if":
      return `if ${writeTerm(term.condition)} then ${writeTerm(term.then)} else ${writeTerm(term.else)}`;
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
    case "disobeys":
      return `${writeTerm(term.of)} disobeys`;
    case "any":
      return `any ${term.name.text}${writeZones(term.zones)}${writeTerm(term.test)}`;
    case "for":
      return `${writeLasting(term.condition, "has been", "has not been")} for ${writeTerm(term.duration)}`;
    case "in the last":
      return `${writeLasting(term.condition, "was", "was not")} in the last ${writeTerm(term.duration)}`;
    case "until":
      return `${writeTerm(term.condition)} until ${writeReset(term.reset)}`;
    case "during":
      return `${term.outside ? "outside" : "during"} ${term.schedule.text}`;
    case "clock":
      return `clock from ${writeTerm(term.from)} to ${writeTerm(term.to)}`;
    case "told":
    case "problem":
      return `${term.kind} ${writeQuoted(term.text)}`;
    case "sent":
      return `sent ${writeQuoted(term.text)} to ${writeQuoted(term.to)}`;
    case "not":
      return `not ${writeTerm(term.of)}`;
    case "and":
    case "or":
      return term.of.map(writeTerm).join(` ${term.kind} `);
    default:
      throw new RangeError(`no such term: ${JSON.stringify(term satisfies never)}`);
  }
}

function writeZones(zones: readonly Word[]): string {
  return zones.length === 0 ? "" : ` in ${zones.map(({ text }) => text).join(" and ")}`;
}

function writeArgument(argument: Argument): string {
  const over = "over" in argument && argument.over ? ` over ${writeTerm(argument.over)}` : "";
  switch (argument.kind) {
    case "text":
      return writeQuoted(argument.text);
    case "known":
      return `at least ${argument.count} known`;
    case "every":
      return `every ${argument.name.text}${writeZones(argument.zones)}${over}`;
    case "term":
      return `${writeTerm(argument.of)}${over}`;
    case "range": {
      const to = argument.to ? ` to ${writeTerm(argument.to.low)}..${writeTerm(argument.to.high)}` : "";
      return `${writeTerm(argument.low)}..${writeTerm(argument.high)}${to}`;
    }
    default:
      throw new RangeError(`no such argument: ${JSON.stringify(argument satisfies never)}`);
  }
}

function writeCase(node: CaseNode): string {
  return `${writeHead(node)}: ${writeTerm(node.value)}`;
}

function writeHead(node: CaseNode): string {
  switch (node.kind) {
    case "words":
      return node.words.map(({ text }) => text).join(" or ");
    case "bound":
      return `${node.bound} ${writeTerm(node.limit)}`;
    case "between":
      return `between ${writeTerm(node.low)} and ${writeTerm(node.high)}`;
    case "otherwise":
    case "unknown":
      return node.kind;
    default:
      throw new RangeError(`no such case: ${JSON.stringify(node satisfies never)}`);
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
  const pause = reset.pause ? ` then pause ${writeTerm(reset.pause)}` : "";
  const limit = reset.atMost ? `, at most ${writeTerm(reset.atMost)}${pause}` : "";
  if (reset.kind === "condition") return `(${writeTerm(reset.condition)})${limit}`;
  const lasts = reset.for ? ` for ${writeTerm(reset.for)}` : "";
  return `${reset.bound} ${writeTerm(reset.value)}${lasts}${limit}`;
}

export function writeQuoted({ parts }: Quoted): string {
  const text = parts.map((part) => (typeof part === "string" ? escaped(part) : `{${writeTerm(part)}}`)).join("");
  return `"${text}"`;
}

function escaped(text: string): string {
  return text.replace(/[\\"]/g, "\\$&").replace(/\n/g, "\\n").replace(/[{}]/g, "$&$&");
}
