// Rules and guards: what may be asked of what, and whether targets and guards leave room.
import type {
  CycleSentence,
  Drive,
  EventSentence,
  Guard,
  HoldSentence,
  Keep,
  KeepSentence,
  NeverTogether,
  Permit,
  Rule,
  Sentence,
  Standing,
} from "../../house/index.js";
import { constantIn } from "../../house/index.js";
import { fromBase, writeNumber, writeQuantity } from "../../units/index.js";
import type {
  ActionNode,
  ApartNode,
  DriveNode,
  EventNode,
  GuardNode,
  OccasionNode,
  PermitNode,
  RuleNode,
  StateNode,
  Term,
} from "../syntax.js";
import { bindSteps } from "../vocabulary/steps.js";
import { writeTerm } from "../write/terms.js";
import { bindWord } from "./fixed.js";
import { bindTrigger } from "./occasions.js";
import { hasReach } from "./reach.js";
import type { HouseSymbol, Scope } from "./scope.js";
import { bindTargets } from "./targets.js";
import { bindCondition, bindDuration, bindTerm, bindValue, mismatch, withUnitOf } from "./terms.js";
import { headingOf } from "./text.js";
import { differenceOf, type Type, typeOfValue } from "./type.js";

export function bindRule(node: RuleNode, scope: Scope): Rule {
  if (node.sentences.length === 0 && !scope.faults.within(node.span)) {
    const remedy = "Add a sentence: while … hold …, keep … or when … do { … }.";
    scope.faults.add(node.name.span, { kind: "missing", what: `Rule ${node.name.text} is empty.`, remedy });
  }
  const standing = (node.standing?.text ?? "plain") as Standing;
  const sentences = node.sentences.flatMap((sentence): (Sentence | undefined)[] =>
    sentence.kind === "event" ? [bindEvent(sentence, scope)] : bindState(sentence, scope),
  );
  return { ...headingOf(node), standing, sentences: sentences.filter((sentence) => sentence !== undefined) };
}

type StateSentence = HoldSentence | KeepSentence | CycleSentence;

/** Each action of a state makes a sentence of its own, under the same condition. */
function bindState(node: StateNode, scope: Scope): (StateSentence | undefined)[] {
  const condition = node.while && bindCondition(node.while, scope);
  const actions = node.actions.map((action) => bindAction(action, scope));
  if (node.while && !condition) return [];
  return actions.map((action) => action && { ...(condition && { while: condition }), ...action });
}

function bindAction(node: ActionNode, scope: Scope): StateSentence | undefined {
  switch (node.kind) {
    case "keep":
      return bindKeep(node, scope);
    case "cycle":
      return bindCycle(node, scope);
    case "hold":
      return { hold: bindTargets(node.targets, scope, ["output", "group"]) };
    default:
      throw new RangeError(`no such action: ${JSON.stringify(node satisfies never)}`);
  }
}

function bindCycle(node: Extract<ActionNode, { kind: "cycle" }>, scope: Scope): CycleSentence | undefined {
  const outputs = scope.outputs(node.output);
  const on = bindDuration(node.on, scope);
  const off = bindDuration(node.off, scope);
  if (outputs.length === 0 || !outputs.every((output) => isDriven(output, node.output.span, scope))) return undefined;
  return on && off && { cycle: { outputs: outputs.map(({ name }) => name), on, off } };
}

/** Whether it is clear what an output is while it is on, and while it is off: of more than two states only `on` says so. */
function isDriven(symbol: HouseSymbol, span: OccasionNode["span"], scope: Scope): boolean {
  const { name, type } = symbol;
  if (type?.kind === "number") return hasReach(symbol, span, scope);
  const words = type?.kind === "words" ? type.words : [];
  if (words.length === 2 || words.includes("on")) return true;
  scope.faults.add(span, {
    kind: "wrongType",
    what: name,
    wanted: "an output with two states, or with a range",
    ...(words.length > 2 && {
      remedy: `Hold one of its states instead: while … until … hold ${name} at ${words.at(-1)}.`,
    }),
  });
  return false;
}

type KeepNode = Extract<ActionNode, { kind: "keep" }>;

function bindKeep(node: KeepNode, scope: Scope): KeepSentence | undefined {
  const value = bindTerm(node.value, scope);
  const type = value?.type;
  if (value && type?.kind !== "number") {
    scope.faults.add(node.value.span, { kind: "wrongType", what: writeTerm(node.value), wanted: "a number to keep" });
    return undefined;
  }
  const symbol = node.value.kind === "name" ? scope.find(node.value) : undefined;
  if (symbol?.health) scope.faults.add(node.value.span, { kind: "deviceHealth", sensor: symbol.name });
  const at = bindKeptAt(node.at, scope, type);
  const free = node.drives.every(({ proportion }) => proportion);
  const tolerance = bindTolerance(node, scope, type, free, at !== undefined);
  const drives = bindDrives(node, scope, type);
  if ("low" in node.at && node.drives.length < 2) {
    const remedy = "Name one output to raise and one to lower. For a wide band on one output, write while … until ….";
    scope.faults.add(node.span, { kind: "missing", what: "keep between needs two outputs.", remedy });
  }
  if ("low" in node.at && node.drives.some(({ proportion }) => proportion)) {
    scope.faults.add(node.span, {
      kind: "missing",
      what: "keep between cannot be in proportion.",
      remedy: "Use one target: keep … at ….",
    });
  }
  if (!value || !at || !drives || (!tolerance && !free)) return undefined;
  checkTargets(node, at, tolerance, scope, type);
  return { keep: { value: value.expression, at, ...(tolerance && { tolerance }), ...drives } };
}

function bindKeptAt(node: KeepNode["at"], scope: Scope, type: Type | undefined): Keep["at"] | undefined {
  const bind = (term: Term) => (type ? bindValue(term, scope, type) : void bindTerm(term, scope));
  if ("target" in node) return bind(node.target);
  const low = bind(withUnitOf(node.low, node.high));
  const high = bind(withUnitOf(node.high, node.low));
  return low && high && { low, high };
}

function bindTolerance(node: KeepNode, scope: Scope, type: Type | undefined, free: boolean, aims: boolean): Keep["tolerance"] {
  const { tolerance } = node;
  if (!tolerance) {
    // Between two targets of one output none would help.
    if (free || ("low" in node.at && node.drives.length < 2)) return undefined;
    const unit = type?.kind === "number" ? type.unit : "";
    const after = `± 1 ${unit === "°C" ? "K" : unit}`.trim();
    const remedy = `Add how far the value may drift, for example ${after}.`;
    const { span } = "target" in node.at ? node.at.target : node.at.high;
    scope.faults.add(span, { kind: "missing", what: "This keep has no tolerance.", remedy, ...(aims && { after }) });
    return undefined;
  }
  if (free) {
    const remedy = "Remove the ±: an output in proportion has no band.";
    scope.faults.add(tolerance.span, { kind: "missing", what: "Every output here works in proportion.", remedy });
    return undefined;
  }
  const bind = (term: Term) => (type ? bindValue(term, scope, differenceOf(type)) : void bindTerm(term, scope));
  if (!tolerance.above) {
    const both = bind(tolerance.below);
    if (both && (constantIn(both) ?? 1) <= 0) {
      const remedy = "It is how far the value may drift to either side.";
      scope.faults.add(tolerance.below.span, { kind: "backwards", says: "The tolerance must be greater than 0.", remedy });
    }
    return both && { below: both, above: both };
  }
  const below = bind(withUnitOf(tolerance.below, tolerance.above));
  const above = bind(withUnitOf(tolerance.above, tolerance.below));
  if (!below || !above) return undefined;
  const low = constantIn(below) ?? 0;
  const high = constantIn(above) ?? 0;
  if (low > 0 || high < 0) {
    const remedy = "Write the lower part first: ± -0.4..+0.2 K.";
    scope.faults.add(tolerance.span, {
      kind: "backwards",
      says: "An uneven tolerance needs a minus and a plus.",
      remedy,
    });
  }
  return { below: below.kind === "number" ? { ...below, value: -below.value } : { kind: "negative", of: below }, above };
}

function bindDrives(node: KeepNode, scope: Scope, type: Type | undefined): { raiseWith?: Drive; lowerWith?: Drive } | undefined {
  const drives: { raiseWith?: Drive; lowerWith?: Drive } = {};
  const used = new Set<string>();
  let whole = true;
  for (const one of node.drives) {
    const key = one.way === "raise" ? "raiseWith" : "lowerWith";
    const drive = bindDrive(one, scope, type);
    if (!drive) whole = false;
    else if (drives[key] !== undefined) {
      const remedy = `Remove one of the two.`;
      scope.faults.add(one.span, { kind: "missing", what: `This keep has ${one.way} with twice.`, remedy });
    } else if (drive.outputs.some((output) => used.has(output))) {
      const what = `${drive.outputs.join(", ")} cannot both raise and lower.`;
      scope.faults.add(one.output.span, { kind: "missing", what, remedy: "Name two different outputs." });
    } else drives[key] = drive;
    for (const output of drive?.outputs ?? []) used.add(output);
  }
  return whole ? drives : undefined;
}

/** On or off, or in proportion: a range, or a switch over a cycle. */
function bindDrive({ output, proportion }: DriveNode, scope: Scope, type: Type | undefined): Drive | undefined {
  const symbols = scope.outputs(output);
  if (symbols.length === 0) return undefined;
  const outputs = symbols.map(({ name }) => name);
  if (!symbols.every((symbol) => isDriven(symbol, output.span, scope))) return undefined;
  if (!proportion) return { outputs };
  const over = type ? bindValue(proportion.over, scope, differenceOf(type)) : undefined;
  const cycle = proportion.cycle && bindDuration(proportion.cycle, scope);
  const graded = symbols.every((symbol) => symbol.type?.kind === "number");
  if (!graded && !cycle) {
    const remedy = "Add the time in which it is on for its share: , cycle 10 min.";
    scope.faults.add(output.span, { kind: "missing", what: `${outputs[0]} can only be on or off.`, remedy });
    return undefined;
  }
  if (graded && cycle) {
    scope.faults.add(output.span, {
      kind: "missing",
      what: `${outputs[0]} has values in between and needs no cycle.`,
      remedy: "Remove the cycle.",
    });
  }
  const reaches = over && constantIn(over);
  if (reaches !== undefined && reaches <= 0) {
    const says = `In proportion over ${writeTerm(proportion.over)}, nothing lies between off and full.`;
    scope.faults.add(proportion.over.span, { kind: "backwards", says, remedy: "Write a distance above zero, such as 2 K." });
  }
  return over && { outputs, proportion: { over, ...(cycle && { cycle }) } };
}

/** Two targets, or two switch points, that are constants must not cross. */
function checkTargets(node: KeepNode, at: Keep["at"], tolerance: Keep["tolerance"], scope: Scope, type: Type | undefined): void {
  if (!("low" in at) || type?.kind !== "number") return;
  const { unit } = type;
  const low = constantIn(at.low);
  const high = constantIn(at.high);
  if (low === undefined || high === undefined || low <= high) return;
  const say = (base: number) => writeQuantity({ value: fromBase(base, unit), unit });
  const below = low - ((tolerance && constantIn(tolerance.below)) ?? 0);
  const above = high + ((tolerance && constantIn(tolerance.above)) ?? 0);
  const numbers = `it would raise from ${say(below)} to ${say(low)}, and lower from ${say(above)} to ${say(high)}`;
  scope.faults.add(node.span, { kind: "crossingTargets", numbers });
}

// ── Event sentences ───────────────────────────────────────────────────────────────────────────────────────────────────

function bindEvent(node: EventNode, scope: Scope): EventSentence | undefined {
  const when = node.triggers.map((trigger) => bindTrigger(trigger, scope));
  const provided = node.provided && bindCondition(node.provided, scope);
  const steps = bindSteps(node.steps, scope);
  if (node.provided && !provided) return undefined;
  return {
    when: when.filter((trigger) => trigger !== undefined),
    ...(provided && { provided }),
    do: steps,
    ifTriggeredAgain: node.again ?? "start over",
  };
}

// ── Guards ────────────────────────────────────────────────────────────────────────────────────────────────────────────

export function bindGuard(node: GuardNode, scope: Scope): Guard {
  const neverTogether = node.apart.flatMap((one) => bindApart(one, scope));
  return {
    ...headingOf(node),
    permits: node.permits.flatMap((permit) => bindPermit(permit, scope)),
    ...(neverTogether.length > 0 && { neverTogether }),
  };
}

function bindApart(node: ApartNode, scope: Scope): NeverTogether[] {
  const found = node.outputs.flatMap((one) => scope.outputs(one));
  const apart = node.apart && bindDuration(node.apart, scope);
  for (const output of found)
    if (!output.rests) {
      const what = `Output ${output.name} has no at-rest value.`;
      scope.faults.add(node.span, { kind: "missing", what, remedy: "Add it where the output is declared: , at rest …." });
    }
  const outputs = [...new Set(found.map(({ name }) => name))];
  if (outputs.length > 1) return [{ outputs, ...(apart && { apart }) }];
  if (found.length > 0)
    scope.faults.add(node.span, {
      kind: "missing",
      what: "never together needs two outputs or more.",
      remedy: "Name another one.",
    });
  return [];
}

function bindPermit(node: PermitNode, scope: Scope): Permit[] {
  const outputs = scope.outputs(node.output);
  const onlyWhile = bindCondition(node.condition, scope);
  if (!onlyWhile) return [];
  return outputs.flatMap((output): Permit[] => {
    const what = output.type && bindPermitted(node, output, scope);
    return what ? [{ output: output.name, what, onlyWhile }] : [];
  });
}

function bindPermitted({ bound, value }: PermitNode, output: HouseSymbol, scope: Scope): Permit["what"] | undefined {
  if (!output.type) return undefined;
  const type = typeOfValue(output.type);
  if (!bound) {
    if (output.type.kind !== "words") return void explainPermit(value, output, scope);
    if (value.kind !== "name") return void mismatch(value, { kind: "unknown" }, type, scope);
    const word = bindWord({ text: value.text, span: value.span }, scope, output.type);
    return word === undefined ? undefined : { word };
  }
  const limit = bindValue(value, scope, type, output.range);
  return limit && (bound === "above" ? { above: limit } : { below: limit });
}

/** Only words are permitted one by one. */
function explainPermit(value: Term, { name, type, range }: HouseSymbol, scope: Scope): void {
  const isNumber = type?.kind === "number";
  const limit =
    value.kind === "number" ? writeTerm(value) : range && isNumber ? `${writeNumber(range[0])} ${type.unit}`.trim() : "…";
  scope.faults.add(value.span, {
    kind: "missing",
    what: `${name} has no states that are permitted one by one.`,
    remedy: isNumber
      ? `Write permit ${name} above ${limit} only while ….`
      : "Permit the lamp that it colours, or another output with states.",
  });
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
