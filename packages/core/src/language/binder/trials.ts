// Trials: moments, settings, happenings and expectations.
import {
  constantIn,
  type Expectation,
  type Expression,
  type Happening,
  type Recorded,
  type Trial,
  timelineOf,
} from "../../house/index.js";
import type { Sky } from "../../time/index.js";
import type { Declaration, ExpectationNode, FileNode, HappeningNode, Quoted, Term, TrialNode } from "../syntax.js";
import type { Span } from "../token.js";
import { type OccurrenceRow, occurrenceRows } from "../vocabulary/occurrences.js";
import { writeTerm } from "../write/terms.js";
import type { Scope } from "./scope.js";
import { bindMoment, bindSetting } from "./settings.js";
import { bindCondition, bindDuration, bindValue } from "./terms.js";
import { headingOf, plainText } from "./text.js";
import { instant } from "./type.js";

/** What recordings say, by file. */
export type Recordings = Readonly<Record<string, readonly Recorded[]>>;

/** Names of the recordings that trials of some files replay, and weathers are read from. */
export function replaysIn(files: readonly FileNode[]): string[] {
  const inside = (node: Declaration): string[] => {
    if (node.kind === "repeat") return node.unrolled.flatMap(inside);
    if (node.kind === "weather") return node.recording ? [plainText(node.recording)] : [];
    if (node.kind !== "trial") return [];
    return [node, ...node.unrolled].flatMap(({ beginning: { replay } }) => (replay ? [plainText(replay)] : []));
  };
  return [...new Set(files.flatMap(({ declarations }) => declarations.flatMap(inside)))];
}

export function bindTrial(node: TrialNode, outer: Scope, recordings: Recordings, sky: Sky): Trial | undefined {
  const scope = outer.forTrial();
  const { beginning } = node;
  const from = beginning.from.kind === "unknown" ? undefined : bindValue(beginning.from, scope, instant);
  const lasts = beginning.lasts && bindDuration(beginning.lasts, scope);
  const to = beginning.to && bindMoment(beginning.to, scope);
  if (from && to && beginning.to) checkOrder(from, to, beginning.to, scope);
  const weather = node.simulated?.weather && scope.resolve(node.simulated.weather, ["weather"]);
  const given = node.given.map(({ name, value }) => bindSetting(name, value, scope, ["sensor", "output", "dial", "mode"]));
  const happenings = node.happenings.map((happening) => bindHappening(happening, scope));
  const expectations = node.expectations.map((expectation) => bindExpectation(expectation, scope));
  if (!from) return undefined;
  const trial: Trial = {
    ...headingOf(node),
    from,
    ...(lasts && { lasts }),
    ...(to && { to }),
    ...(beginning.replay && bindReplay(beginning.replay, scope, recordings)),
    ...(beginning.cold && { cold: true as const }),
    ...(node.simulated && { simulated: weather ? { weather: weather.name } : {} }),
    given: given.filter((setting) => setting !== undefined),
    happenings: happenings.filter((happening) => happening !== undefined),
    expectations: expectations.filter((expectation) => expectation !== undefined),
  };
  const isWhole = [...happenings, ...expectations].every((one) => one !== undefined);
  if (isWhole && !scope.faults.within(node.span)) checkSpan(trial, node, scope, sky);
  return trial;
}

/** What happens or is expected outside the trial never does. */
function checkSpan(trial: Trial, node: TrialNode, scope: Scope, sky: Sky): void {
  const { from, to, windows, happened } = timelineOf(trial, sky);
  const { beginning } = node;
  const says = ["from", writeTerm(beginning.from), ...(beginning.to ? ["to", writeTerm(beginning.to)] : [])];
  if (beginning.lasts) says.push("for", writeTerm(beginning.lasts));
  const outside = (span: Span, what: string, begins: number, ends: number) => {
    if (begins < from || ends > to) scope.faults.add(span, { kind: "outsideTrial", what, trial: says.join(" ") });
  };
  node.happenings.forEach((one, index) => {
    const { at, to: ends } = happened[index] as { at: number; to: number };
    outside(one.span, "This", at, ends);
  });
  node.expectations.forEach((one, index) => {
    const { from: begins, to: ends } = windows[index] as { from: number; to: number };
    const term = one.at ?? one.by ?? one.to ?? one.from;
    if (term) outside(term.span, writeTerm(term), begins, ends);
  });
}

function bindReplay(quoted: Quoted, scope: Scope, recordings: Recordings): Pick<Trial, "replay" | "recorded"> {
  const replay = plainText(quoted);
  const recorded = recordings[replay];
  if (!recorded) scope.faults.add(quoted.span, { kind: "missingRecording", file: replay });
  return { replay, ...(recorded && { recorded }) };
}

/** Dates sort as text, so a date and time can be compared without a clock. */
function checkOrder(from: Expression, to: Expression, node: Term, scope: Scope): void {
  if (from.kind !== "instant" || to.kind !== "instant") return;
  if (to.date > from.date || (to.date === from.date && to.ms > from.ms)) return;
  const remedy = "Make it end after it begins.";
  scope.faults.add(node.span, { kind: "backwards", says: "This trial ends before it begins.", remedy });
}

function bindExpectation(node: ExpectationNode, scope: Scope): Expectation | undefined {
  const condition = bindCondition(node.condition, scope);
  const then = node.then && bindCondition(node.then, scope);
  const within = node.within && bindDuration(node.within, scope);
  const times = bindTimes(node, scope);
  if (!condition || (node.then && !then)) return undefined;
  return { claim: node.claim, condition, ...(then && { then }), ...(within && { within }), ...times };
}

function bindTimes(node: ExpectationNode, scope: Scope): Pick<Expectation, "by" | "at" | "from" | "to"> {
  const by = node.by && bindMoment(node.by, scope);
  const at = node.at && bindMoment(node.at, scope);
  const from = node.from && bindMoment(node.from, scope);
  const to = node.to && bindMoment(node.to, scope);
  if (from && to && node.to) checkOrder(from, to, node.to, scope);
  return { ...(by && { by }), ...(at && { at }), ...(from && { from }), ...(to && { to }) };
}

function bindHappening(node: HappeningNode, scope: Scope): Happening | undefined {
  const row = occurrenceRows[node.what.kind] as OccurrenceRow;
  const what = row.bind(node.what.parts, scope);
  const when = bindWhen(node.when, scope);
  if (what?.kind === "moves to" && when && !("to" in when)) {
    const remedy = "Write from 07:40 to 08:10 … moves to ….";
    scope.faults.add(node.span, { kind: "missing", what: "A move needs a start and an end.", remedy });
  }
  return what && when && { when, what };
}

function bindWhen(when: HappeningNode["when"], scope: Scope): Happening["when"] | undefined {
  if ("later" in when) {
    const lasts = bindDuration(when.later, scope);
    const later = lasts && constantIn(lasts);
    return later === undefined ? undefined : { later };
  }
  const at = bindMoment("at" in when ? when.at : when.from, scope);
  const to = "to" in when ? bindMoment(when.to, scope) : undefined;
  if ("to" in when && !to) return undefined;
  return at && { at, ...(to && { to }) };
}
