// Trials as lines.
import type { BeginningNode, ExpectationNode, HappeningNode, OccurrenceNode, TrialNode } from "../syntax.js";
import { block, heading, note, writeTargets } from "./declarations.js";
import { flow, type Line } from "./layout.js";
import { writeQuoted, writeTerm } from "./terms.js";

export function trial(node: TrialNode, outer: number): Line[] {
  const indent = outer + 1;
  const line = (text: string, at: number): Line => ({ indent, text, at });
  const { repeat, simulated, beginning } = node;
  const given = writeTargets(node.given, "is");
  const body = [
    ...note(node, indent),
    ...(repeat
      ? [line(`for each ${repeat.word.text} in ${repeat.values.map(writeTerm).join(", ")}`, repeat.word.span.from)]
      : []),
    line(writeBeginning(beginning), beginning.span.from),
    ...(simulated
      ? [line(`simulated${simulated.weather ? `, weather ${simulated.weather.text}` : ""}`, simulated.span.from)]
      : []),
    ...(given.length > 0 ? flow(indent, "given", given, (given[0] as { at: number }).at) : []),
    ...node.happenings.map((one) => line(happening(one), one.span.from)),
    ...node.expectations.map((one) => line(expectation(one), one.span.from)),
  ];
  return block(outer, `trial ${heading(node)}`, node, body);
}

function writeBeginning({ replay, from, lasts, to }: BeginningNode): string {
  const begins = `${replay ? `replay ${writeQuoted(replay)} ` : ""}from ${writeTerm(from)}`;
  if (lasts) return `${begins} for ${writeTerm(lasts)}`;
  return to ? `${begins} to ${writeTerm(to)}` : begins;
}

function happening({ when, what }: HappeningNode): string {
  return `${writeWhen(when)} ${writeOccurrence(what)}`;
}

function writeWhen(when: HappeningNode["when"]): string {
  if ("at" in when) return `at ${writeTerm(when.at)}`;
  return "later" in when ? `${writeTerm(when.later)} later` : `from ${writeTerm(when.from)} to ${writeTerm(when.to)}`;
}

function writeOccurrence(what: OccurrenceNode): string {
  switch (what.kind) {
    case "the house restarts":
      return what.kind;
    case "the house is down":
      return `the house is down for ${writeTerm(what.for)}`;
    case "the clock jumps":
      return `the clock jumps by ${writeTerm(what.by)}`;
    case "person sets":
      return `person sets ${what.name.text} to ${writeTerm(what.value)}${what.for ? ` for ${writeTerm(what.for)}` : ""}`;
    case "person pauses":
      return `person pauses ${what.name.text}${what.for ? ` for ${writeTerm(what.for)}` : ""}`;
    case "person releases":
    case "person resumes":
    case "person applies":
    case "person starts":
    case "person stops":
    case "person runs":
      return `${what.kind} ${what.name.text}`;
    case "message":
      return `message ${writeQuoted(what.topic)} reads ${writeQuoted(what.reads)}`;
    case "is":
    case "moves to":
    case "reports every":
    case "wobbles by":
      return `${what.name.text} ${what.kind} ${writeTerm(what.value)}`;
    case "falls silent":
    case "sticks":
    case "refuses":
      return `${what.name.text} ${what.kind}`;
    case "jumps to":
      return `${what.name.text} jumps to ${writeTerm(what.value)} for ${writeTerm(what.for)}`;
    case "arrives late":
      return `${what.name.text} arrives ${writeTerm(what.value)} late`;
    default:
      throw new RangeError(`no such occurrence: ${JSON.stringify(what satisfies never)}`);
  }
}

function expectation(node: ExpectationNode): string {
  const claim = node.claim === "holds" ? "" : `${node.claim} `;
  const parts = [
    `expect ${claim}${writeTerm(node.condition)}`,
    node.then && `then ${writeTerm(node.then)}`,
    node.within && `within ${writeTerm(node.within)}`,
    node.by && `by ${writeTerm(node.by)}`,
    node.at && `at ${writeTerm(node.at)}`,
    node.from && `from ${writeTerm(node.from)}`,
    node.to && `to ${writeTerm(node.to)}`,
  ];
  return parts.filter((part) => part !== undefined).join(" ");
}
