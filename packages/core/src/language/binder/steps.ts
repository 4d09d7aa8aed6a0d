// The steps of a `do`.
import type { Expression, Step } from "../../house/index.js";
import type { OfKind, StepNode, Word } from "../syntax.js";
import { bindFor, bindUntil } from "./rules.js";
import type { HouseSymbol, Scope } from "./scope.js";
import { bindApart, bindCondition, bindDuration, bindValue } from "./terms.js";
import { bindText } from "./text.js";
import { differenceOf, numberType, type Type, typeOfValue } from "./type.js";

export function bindSteps(nodes: readonly StepNode[], scope: Scope): Step[] {
  const end = nodes.findIndex(({ kind }) => kind === "end here");
  const behind = end < 0 ? undefined : nodes[end + 1];
  if (behind)
    scope.faults.add(behind.span, {
      kind: "missing",
      what: "Nothing is done behind end here.",
      remedy: "Take these steps out, or end later.",
    });
  return nodes.flatMap((node) => bindStep(node, scope));
}

type Of<Kind extends StepNode["kind"]> = OfKind<StepNode, Kind>;

/** A step for a group makes one for each of its outputs. */
function bindStep(node: StepNode, scope: Scope): Step[] {
  switch (node.kind) {
    case "set":
      return bindSet(node, scope);
    case "toggle":
      return settable(node.name, scope).flatMap((symbol) => bindToggle(node, symbol, scope));
    case "raise":
    case "lower":
      return settable(node.name, scope).flatMap((symbol) => bindRelative(node, symbol, scope));
    case "ramp":
      return bindRamp(node, scope);
    case "dose":
      return bindDose(node, scope);
    case "release":
      return scope.outputs(node.name).map(({ name }) => ({ kind: "release", output: name }));
    case "apply": {
      const preset = scope.resolve(node.name, ["preset"]);
      return preset ? [{ kind: "apply", preset: preset.name }] : [];
    }
    case "start": {
      const countdown = scope.resolve(node.name, ["countdown"]);
      const lasts = node.with && bindDuration(node.with, scope);
      return countdown ? [{ kind: "start", countdown: countdown.name, ...(lasts && { with: lasts }) }] : [];
    }
    case "stop": {
      const countdown = scope.resolve(node.name, ["countdown"]);
      return countdown ? [{ kind: "stop", countdown: countdown.name }] : [];
    }
    case "wait": {
      const lasts = bindDuration(node.duration, scope);
      return lasts ? [{ kind: "wait", for: lasts }] : [];
    }
    case "wait until": {
      const until = bindUntil(node.occasion, scope);
      const atMost = node.atMost && bindDuration(node.atMost, scope);
      return until ? [{ kind: "wait until", until, ...(atMost && { atMost }) }] : [];
    }
    case "if":
      return bindChoice(node, scope);
    case "tell": {
      const onceIn = node.onceIn && bindDuration(node.onceIn, scope);
      const through = node.through && { through: node.through.text };
      return [{ kind: "tell", text: bindText(node.text, scope), ...through, ...(onceIn && { onceIn }) }];
    }
    case "send":
      return [{ kind: "send", text: bindText(node.text, scope), to: bindText(node.to, scope) }];
    case "end here":
      return [{ kind: "end here" }];
    default:
      throw new RangeError(`no such step: ${JSON.stringify(node satisfies never)}`);
  }
}

function settable(name: Word, scope: Scope): readonly HouseSymbol[] {
  return scope.outputs(name, ["output", "group", "dial", "mode"]);
}

function bindSet(node: Of<"set">, scope: Scope): Step[] {
  const symbols = settable(node.name, scope);
  const lasts = node.for && bindDuration(node.for, scope);
  const until = node.until && bindUntil(node.until, scope);
  if (symbols.length === 0) bindApart(node.to, scope);
  return symbols.flatMap((symbol): Step[] => {
    const to = bindFor(symbol, node.to, scope);
    return to ? [{ kind: "set", name: symbol.name, to, ...(lasts && { for: lasts }), ...(until && { until }) }] : [];
  });
}

function bindToggle({ name }: Of<"toggle">, symbol: HouseSymbol, scope: Scope): Step[] {
  if (symbol.type?.kind === "words" && symbol.type.words.length === 2) return [{ kind: "toggle", name: symbol.name }];
  scope.faults.add(name.span, { kind: "wrongType", what: symbol.name, wanted: "something of exactly two words" });
  return [];
}

function bindRelative(node: Of<"raise" | "lower">, symbol: HouseSymbol, scope: Scope): Step[] {
  if (symbol.type?.kind !== "number") {
    scope.faults.add(node.name.span, { kind: "wrongType", what: symbol.name, wanted: "an output or a dial with a number" });
    return [];
  }
  const by = bindValue(node.by, scope, differenceOf(typeOfValue(symbol.type)));
  return by ? [{ kind: node.kind, name: symbol.name, by }] : [];
}

function bindRamp(node: Of<"ramp">, scope: Scope): Step[] {
  const output = scope.resolve(node.name, ["output"]);
  if (output && output.type?.kind !== "number") {
    scope.faults.add(node.name.span, { kind: "wrongType", what: output.name, wanted: "an output with a number" });
    return [];
  }
  const bind = (term: Of<"ramp">["from"]) => output && bindFor(output, term, scope);
  const from = bind(node.from);
  const to = bind(node.to);
  const over = bindDuration(node.over, scope);
  return output && from && to && over ? [{ kind: "ramp", output: output.name, from, to, over }] : [];
}

function bindDose(node: Of<"dose">, scope: Scope): Step[] {
  const output = scope.resolve(node.name, ["output"]);
  const volume: Type = numberType("ml");
  const amount: Expression | undefined = bindValue(node.amount, scope, volume);
  if (output && !output.doses) {
    const remedy = "Calibrate it: delivers 12 ml/s after 0.4 s.";
    scope.faults.add(node.name.span, { kind: "wrongType", what: output.name, wanted: "an output that delivers", remedy });
    return [];
  }
  return output && amount ? [{ kind: "dose", output: output.name, amount }] : [];
}

function bindChoice(node: Of<"if">, scope: Scope): Step[] {
  const branches = node.branches.map(({ condition, steps }) => ({
    if: bindCondition(condition, scope),
    do: bindSteps(steps, scope),
  }));
  const otherwise = node.else ? bindSteps(node.else, scope) : [];
  if (branches.some((branch) => branch.if === undefined)) return [];
  return [{ kind: "if", branches: branches as { if: Expression; do: Step[] }[], else: otherwise }];
}
