// Trials as lines.
import { writeOne } from "../phrase.js";
import type { BeginningNode, ExpectationNode, HappeningNode, TrialNode } from "../syntax.js";
import { occurrenceRows } from "../vocabulary/occurrences.js";
import { flow, type Line } from "./layout.js";
import { block, heading, note, writeTargets } from "./parts.js";
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
    ...node.expectations.map((one) => line(`expect ${expectation(one)}`, one.span.from)),
  ];
  return block(outer, `trial ${heading(node)}`, node, body);
}

function writeBeginning({ replay, from, lasts, to, cold }: BeginningNode): string {
  const parts = [
    replay && `replay ${writeQuoted(replay)}`,
    `from ${writeTerm(from)}`,
    lasts && `for ${writeTerm(lasts)}`,
    to && `to ${writeTerm(to)}`,
    cold && "cold",
  ];
  return parts.filter((part) => part !== undefined).join(" ");
}

/** When, and what happens then. */
export function happening({ when, what }: HappeningNode): string {
  return `${writeWhen(when)} ${writeOne(occurrenceRows, what)}`;
}

function writeWhen(when: HappeningNode["when"]): string {
  if ("at" in when) return `at ${writeTerm(when.at)}`;
  return "later" in when ? `${writeTerm(when.later)} later` : `from ${writeTerm(when.from)} to ${writeTerm(when.to)}`;
}

/** What is expected, without the word that begins it. */
export function expectation(node: ExpectationNode): string {
  const claim = node.claim === "holds" ? "" : `${node.claim} `;
  const parts = [
    `${claim}${writeTerm(node.condition)}`,
    node.then && `then ${writeTerm(node.then)}`,
    node.within && `within ${writeTerm(node.within)}`,
    node.by && `by ${writeTerm(node.by)}`,
    node.at && `at ${writeTerm(node.at)}`,
    node.from && `from ${writeTerm(node.from)}`,
    node.to && `to ${writeTerm(node.to)}`,
  ];
  return parts.filter((part) => part !== undefined).join(" ");
}
