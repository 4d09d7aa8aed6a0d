// Trials: moments, settings, happenings and expectations.
import type { Expectation, Expression, Happening, Setting, Trial } from "../../house/index.js";
import type { HappeningNode, Term, TrialNode, Word } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { constantIn } from "./constant.js";
import { type Scope, type SymbolKind, valueKinds } from "./scope.js";
import { bindApart, bindCondition, bindDuration, bindTerm, bindValue } from "./terms.js";
import { headingOf } from "./text.js";
import { instant, typeOfValue } from "./type.js";

export function bindTrial(node: TrialNode, outer: Scope): Trial | undefined {
  const scope = outer.forTrial();
  const from = node.from.kind === "unknown" ? undefined : bindValue(node.from, scope, instant);
  const lasts = node.lasts && bindDuration(node.lasts, scope);
  const to = node.to && bindMoment(node.to, scope);
  if (from && to && node.to) checkOrder(from, to, node.to, scope);
  const weather = node.simulated?.weather && scope.resolve(node.simulated.weather, ["weather"]);
  const given = node.given.map(({ name, value }) => bindSetting(name, value, scope, valueKinds));
  const happenings = node.happenings.map((happening) => bindHappening(happening, scope));
  const expectations = node.expectations.map((expectation): Expectation | undefined => {
    const condition = bindCondition(expectation.condition, scope);
    const times = bindTimes(expectation, scope);
    return condition && { claim: expectation.claim, condition, ...times };
  });
  if (node.expectations.length === 0 && !scope.faults.within(node.span)) {
    const remedy = "Say what must come of it: expect … by 07:30.";
    scope.faults.add(node.name.span, { kind: "missing", what: `Trial ${node.name.text} expects nothing.`, remedy });
  }
  if (!from) return undefined;
  return {
    ...headingOf(node),
    from,
    ...(lasts && { lasts }),
    ...(to && { to }),
    ...(node.simulated && { simulated: weather ? { weather: weather.name } : {} }),
    given: given.filter((setting) => setting !== undefined),
    happenings: happenings.filter((happening) => happening !== undefined),
    expectations: expectations.filter((expectation) => expectation !== undefined),
  };
}

/** A time of day, or a date and time. */
function bindMoment(term: Term, scope: Scope): Expression | undefined {
  const bound = bindTerm(term, scope);
  if (!bound || bound.type.kind === "time" || bound.type.kind === "instant") return bound?.expression;
  scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a time such as 07:30" });
  return undefined;
}

/** Dates sort as text, so a date and time can be compared without a clock. */
function checkOrder(from: Expression, to: Expression, node: Term, scope: Scope): void {
  if (from.kind !== "instant" || to.kind !== "instant") return;
  if (to.date > from.date || (to.date === from.date && to.ms > from.ms)) return;
  const remedy = "Let it end after it begins.";
  scope.faults.add(node.span, { kind: "backwards", says: "This trial ends before it begins.", remedy });
}

function bindTimes(
  node: { by?: Term; at?: Term; from?: Term; to?: Term },
  scope: Scope,
): Omit<Expectation, "claim" | "condition"> {
  const by = node.by && bindMoment(node.by, scope);
  const at = node.at && bindMoment(node.at, scope);
  const from = node.from && bindMoment(node.from, scope);
  const to = node.to && bindMoment(node.to, scope);
  if (from && to && node.to) checkOrder(from, to, node.to, scope);
  return { ...(by && { by }), ...(at && { at }), ...(from && { from }), ...(to && { to }) };
}

/** What a sensor is told may be out of its range on purpose. */
function bindSetting(name: Word, value: Term, scope: Scope, kinds: readonly SymbolKind[]): Setting | undefined {
  const symbol = scope.resolve(name, kinds);
  if (!symbol?.type) return bindApart(value, scope);
  const bound = bindValue(value, scope, typeOfValue(symbol.type), symbol.kind === "sensor" ? undefined : symbol.range);
  if (!bound) return undefined;
  if (bound.kind !== "word" && bound.kind !== "unknown" && constantIn(bound) === undefined) {
    scope.faults.add(value.span, { kind: "wrongType", what: writeTerm(value), wanted: "a fixed value" });
    return undefined;
  }
  return { name: symbol.name, value: bound };
}

function bindHappening(node: HappeningNode, scope: Scope): Happening | undefined {
  const what = bindOccurrence(node.what, scope);
  if ("later" in node.when) {
    const lasts = bindDuration(node.when.later, scope);
    const later = lasts && constantIn(lasts);
    return what && later !== undefined ? { when: { later }, what } : undefined;
  }
  const at = bindMoment(node.when.at, scope);
  return what && at && { when: { at }, what };
}

function bindOccurrence(node: HappeningNode["what"], scope: Scope): Happening["what"] | undefined {
  if (node.kind === "the house restarts") return node;
  if (node.kind === "falls silent") {
    const sensor = scope.resolve(node.name, ["sensor"]);
    return sensor && { kind: "falls silent", name: sensor.name };
  }
  const setting = bindSetting(node.name, node.value, scope, ["sensor", "dial", "mode"]);
  return setting && { kind: "is", ...setting };
}
