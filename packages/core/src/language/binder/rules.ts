// Rules and guards: what may be asked of what, and whether targets and guards leave room.
import type {
  EventSentence,
  Guard,
  HoldSentence,
  Keep,
  KeepSentence,
  Permit,
  Rule,
  Sentence,
  Standing,
  Step,
  Target,
  Trigger,
} from "../../house/index.js";
import { EVERY_DAY, type Weekday } from "../../time/index.js";
import { fromBase, writeQuantity } from "../../units/index.js";
import type {
  ActionNode,
  EventNode,
  GuardNode,
  PermitNode,
  RuleNode,
  StateNode,
  StepNode,
  Term,
  TriggerNode,
  Word,
} from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { constantIn } from "./constant.js";
import type { HouseSymbol, Scope, SymbolKind } from "./scope.js";
import { bindApart, bindCondition, bindDuration, bindTerm, bindValue, mismatch, withUnitOf } from "./terms.js";
import { bindText, headingOf } from "./text.js";
import { bindWord } from "./things.js";
import { differenceOf, fits, type Type, timeOfDay, typeOfValue } from "./type.js";

export function bindRule(node: RuleNode, scope: Scope): Rule {
  if (node.sentences.length === 0 && !scope.faults.within(node.span)) {
    const remedy = "Add a sentence: while … hold …, keep … or when … do { … }.";
    scope.faults.add(node.name.span, { kind: "missing", what: `Rule ${node.name.text} says nothing.`, remedy });
  }
  const standing = (node.standing?.text ?? "plain") as Standing;
  const sentences = node.sentences.flatMap((sentence): (Sentence | undefined)[] =>
    sentence.kind === "event" ? [bindEvent(sentence, scope)] : bindState(sentence, scope),
  );
  return { ...headingOf(node), standing, sentences: sentences.filter((sentence) => sentence !== undefined) };
}

/** Each action of a state makes a sentence of its own, under the same condition. */
function bindState(node: StateNode, scope: Scope): (HoldSentence | KeepSentence | undefined)[] {
  const condition = node.while && bindCondition(node.while, scope);
  const actions = node.actions.map((action) => bindAction(action, scope));
  if (node.while && !condition) return [];
  return actions.map((action) => action && { ...(condition && { while: condition }), ...action });
}

function bindAction(node: ActionNode, scope: Scope): HoldSentence | KeepSentence | undefined {
  if (node.kind === "keep") return bindKeep(node, scope);
  const hold = node.targets.map(({ name, value }) => bindTarget(name, value, scope, ["output"]));
  return { hold: hold.filter((target) => target !== undefined) };
}

function bindTarget(name: Word, value: Term, scope: Scope, kinds: readonly SymbolKind[]): Target | undefined {
  const symbol = scope.resolve(name, kinds);
  const bound = bindFor(symbol, value, scope);
  return symbol && bound && { output: symbol.name, value: bound };
}

/** A value for a thing; where the thing is not known the value is still looked at. */
function bindFor(symbol: HouseSymbol | undefined, value: Term, scope: Scope) {
  if (!symbol?.type) return bindApart(value, scope);
  return bindValue(value, scope, typeOfValue(symbol.type), symbol.range);
}

function bindKeep(node: Extract<ActionNode, { kind: "keep" }>, scope: Scope): KeepSentence | undefined {
  const value = bindTerm(node.value, scope);
  const type = value?.type;
  if (value && type?.kind !== "number") {
    scope.faults.add(node.value.span, { kind: "wrongType", what: writeTerm(node.value), wanted: "a number to keep" });
    return undefined;
  }
  const at = bindKeptAt(node.at, scope, type);
  const tolerance = bindTolerance(node, scope, type);
  const drives = bindDrives(node, scope);
  if ("low" in node.at && node.drives.length < 2) {
    const remedy = "Name one to raise and one to lower; a wide band on one output is a while … until ….";
    scope.faults.add(node.span, { kind: "missing", what: "keep between takes two outputs.", remedy });
  }
  if (!value || !at || !tolerance || !drives) return undefined;
  checkTargets(node, at, tolerance, scope, type);
  return { keep: { value: value.expression, at, tolerance, ...drives } };
}

function bindKeptAt(
  node: Extract<ActionNode, { kind: "keep" }>["at"],
  scope: Scope,
  type: Type | undefined,
): Keep["at"] | undefined {
  const bind = (term: Term) => (type ? bindValue(term, scope, type) : void bindTerm(term, scope));
  if ("target" in node) return bind(node.target);
  const low = bind(withUnitOf(node.low, node.high));
  const high = bind(withUnitOf(node.high, node.low));
  return low && high && { low, high };
}

function bindTolerance(
  node: Extract<ActionNode, { kind: "keep" }>,
  scope: Scope,
  type: Type | undefined,
): Keep["tolerance"] | undefined {
  const { tolerance } = node;
  if (!tolerance) {
    const unit = type?.kind === "number" ? type.unit : "";
    const remedy = `Say how far it may stray: ± 1 ${unit === "°C" ? "K" : unit}.`.replace(" .", ".");
    scope.faults.add(node.span, { kind: "missing", what: "This keep has no tolerance.", remedy });
    return undefined;
  }
  const bind = (term: Term) => (type ? bindValue(term, scope, differenceOf(type)) : void bindTerm(term, scope));
  if (!tolerance.above) {
    const both = bind(tolerance.below);
    if (both && (constantIn(both) ?? 1) <= 0) {
      const remedy = "Write a number above zero: it is how far the value may stray to either side.";
      scope.faults.add(tolerance.below.span, { kind: "backwards", says: "A tolerance of nothing switches without end.", remedy });
    }
    return both && { below: both, above: both };
  }
  const below = bind(withUnitOf(tolerance.below, tolerance.above));
  const above = bind(withUnitOf(tolerance.above, tolerance.below));
  if (!below || !above) return undefined;
  const low = constantIn(below) ?? 0;
  const high = constantIn(above) ?? 0;
  if (low > 0 || high < 0) {
    const remedy = "Write the part below first, with a minus: ± -0.4..+0.2 K.";
    scope.faults.add(tolerance.span, {
      kind: "backwards",
      says: "A lopsided tolerance runs from below zero to above it.",
      remedy,
    });
  }
  return { below: below.kind === "number" ? { ...below, value: -below.value } : { kind: "negative", of: below }, above };
}

function bindDrives(node: Extract<ActionNode, { kind: "keep" }>, scope: Scope) {
  const drives: { raiseWith?: string; lowerWith?: string } = {};
  let whole = true;
  for (const { way, output, span } of node.drives) {
    const symbol = scope.resolve(output, ["output"]);
    const key = way === "raise" ? "raiseWith" : "lowerWith";
    if (!symbol) whole = false;
    else if (drives[key] !== undefined) {
      const remedy = `Take one of the two ${way} with out.`;
      scope.faults.add(span, { kind: "missing", what: `This keep says ${way} with twice.`, remedy });
    } else if (symbol.name === drives.raiseWith || symbol.name === drives.lowerWith) {
      const what = `${symbol.name} can not raise and lower.`;
      scope.faults.add(output.span, { kind: "missing", what, remedy: "Name two different outputs." });
    } else if (symbol.type?.kind !== "words" || !symbol.type.words.includes("on")) {
      scope.faults.add(output.span, { kind: "wrongType", what: symbol.name, wanted: "an output that is on/off" });
      whole = false;
    } else drives[key] = symbol.name;
  }
  return whole ? drives : undefined;
}

/** Two targets, or two switch points, that are constants must not cross. */
function checkTargets(
  node: Extract<ActionNode, { kind: "keep" }>,
  at: Keep["at"],
  tolerance: Keep["tolerance"],
  scope: Scope,
  type: Type | undefined,
): void {
  if (!("low" in at) || type?.kind !== "number") return;
  const { unit } = type;
  const low = constantIn(at.low);
  const high = constantIn(at.high);
  if (low === undefined || high === undefined || low <= high) return;
  const say = (base: number) => writeQuantity({ value: fromBase(base, unit), unit });
  const below = low - (constantIn(tolerance.below) ?? 0);
  const above = high + (constantIn(tolerance.above) ?? 0);
  const numbers = `raising from ${say(below)} to ${say(low)}, lowering from ${say(above)} to ${say(high)}`;
  scope.faults.add(node.span, { kind: "crossingTargets", numbers });
}

function bindEvent(node: EventNode, scope: Scope): EventSentence | undefined {
  const when = node.triggers.map((trigger) => bindTrigger(trigger, scope));
  const provided = node.provided && bindCondition(node.provided, scope);
  const steps = node.steps.map((step) => bindStep(step, scope));
  if (node.provided && !provided) return undefined;
  return {
    when: when.filter((trigger) => trigger !== undefined),
    ...(provided && { provided }),
    do: steps.filter((step) => step !== undefined),
    ifTriggeredAgain: node.again ?? "start over",
  };
}

function bindTrigger(node: TriggerNode, scope: Scope): Trigger | undefined {
  if (node.kind === "at") {
    const time = bindValue(node.time, scope, timeOfDay);
    return time && { kind: "at", time, days: (node.days ?? EVERY_DAY) as readonly Weekday[] };
  }
  if (node.kind === "condition") {
    const condition = bindCondition(node.condition, scope);
    return condition && { kind: "becomes true", condition };
  }
  const schedule = scope.resolve(node.name, ["schedule"]);
  return schedule && { kind: node.kind, schedule: schedule.name };
}

function bindStep(node: StepNode, scope: Scope): Step | undefined {
  switch (node.kind) {
    case "set":
      return bindSet(node, scope);
    case "tell":
      return { kind: "tell", text: bindText(node.text, scope), ...(node.through && { through: node.through.text }) };
    case "wait": {
      const lasts = bindDuration(node.duration, scope);
      return lasts && { kind: "wait", for: lasts };
    }
    case "wait until": {
      const condition = bindCondition(node.condition, scope);
      const atMost = node.atMost && bindDuration(node.atMost, scope);
      return condition && { kind: "wait until", condition, ...(atMost && { atMost }) };
    }
    default:
      throw new RangeError(`no such step: ${JSON.stringify(node satisfies never)}`);
  }
}

function bindSet(node: Extract<StepNode, { kind: "set" }>, scope: Scope): Step | undefined {
  const target = bindTarget(node.name, node.to, scope, ["output", "dial", "mode"]);
  const lasts = node.for && bindDuration(node.for, scope);
  const until = node.until && bindCondition(node.until, scope);
  if (!target) return undefined;
  return { kind: "set", name: target.output, to: target.value, ...(lasts && { for: lasts }), ...(until && { until }) };
}

export function bindGuard(node: GuardNode, scope: Scope): Guard {
  const permits = node.permits.map((permit) => bindPermit(permit, scope));
  return { ...headingOf(node), permits: permits.filter((permit) => permit !== undefined) };
}

function bindPermit(node: PermitNode, scope: Scope): Permit | undefined {
  const output = scope.resolve(node.output, ["output"]);
  const onlyWhile = bindCondition(node.condition, scope);
  if (!output?.type || !onlyWhile) return undefined;
  const type = typeOfValue(output.type);
  if (!node.bound) {
    const { value } = node;
    const word = value.kind === "name" ? bindWord({ text: value.text, span: value.span }, scope, output.type) : undefined;
    if (value.kind !== "name") mismatch(value, { kind: "unknown" }, type, scope);
    return word === undefined ? undefined : { output: output.name, what: { word }, onlyWhile };
  }
  const limit = bindValue(node.value, scope, type, output.range);
  if (!limit || !fits(type, type)) return undefined;
  return { output: output.name, what: node.bound === "above" ? { above: limit } : { below: limit }, onlyWhile };
}

/** Guards must leave every output one permitted value. */
export function checkPermits(guards: readonly { node: GuardNode; guard: Guard }[], scope: Scope): void {
  const forbidden = new Map<string, Set<string>>();
  for (const { node, guard } of guards) {
    for (const { output, what } of guard.permits) {
      const type = scope.symbols.get(output)?.type;
      if (!("word" in what) || type?.kind !== "words") continue;
      const words = forbidden.get(output) ?? new Set();
      forbidden.set(output, words.add(what.word));
      if (words.size === type.words.length) scope.faults.add(node.name.span, { kind: "forbidsAll", output });
    }
  }
}
