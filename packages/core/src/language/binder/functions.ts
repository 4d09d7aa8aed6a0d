// Calls: what each function takes and gives.
import type { Expression, SeveralFunction, ValueFunction } from "../../house/index.js";
import { dimensionOf, isUnit, type Unit } from "../../units/index.js";
import { functionHabits } from "../habits.js";
import { nearest } from "../nearest.js";
import type { Argument, Term } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { airFunctions, functionNames } from "./names.js";
import type { Scope } from "./scope.js";
import { type BoundTerm, bindCondition, bindDuration, bindTerm, bindValue, everyOf, oneType, withUnitOf } from "./terms.js";
import { colour, differenceOf, duration, numberType, type Type, typeOfValue } from "./type.js";

type Call = Extract<Term, { kind: "call" }>;
type Of<Kind extends Argument["kind"]> = Extract<Argument, { kind: Kind }>;
type MaybeBound = BoundTerm | undefined;

export function bindCall(term: Call, scope: Scope, want?: Type): MaybeBound {
  const { text } = term.name;
  const meant = functionHabits[text];
  if (meant) {
    scope.faults.add(term.name.span, { kind: "habit", written: text, meant });
    return bindCall({ ...term, name: { ...term.name, text: meant } }, scope, want);
  }
  if (!functionNames.includes(text)) {
    scope.faults.add(term.name.span, {
      kind: "unknownName",
      name: text,
      nearest: nearest(text, functionNames),
      wanted: "function",
    });
    return undefined;
  }
  if (text === "colour") return bindColour(term, scope);
  if (text === "count" || text === "time" || text === "share") return bindCounted(term, text, scope);
  if (text === "clamp" || text === "scale") return bindRanged(term, text, scope, want);
  if (text === "abs" || text === "round") return bindOne(term, text, scope, want);
  if (Object.hasOwn(airFunctions, text)) return bindAir(term, text as keyof typeof airFunctions, scope);
  const [only] = term.arguments;
  if (only?.kind === "term" && only.over && term.arguments.length === 1) return bindWindow(term, only, scope);
  const over = windowByHabit(term, scope);
  if (over) return wrong(term, over, scope);
  if (text === "rise") return wrong(term, "rise takes a value and a window: rise(bench.humidity over 10 min).", scope);
  return bindSeveral(term, text as SeveralFunction, scope, want);
}

/** `mean(z.temperature, 10 min)`: how it is written with a window. */
function windowByHabit({ name, arguments: given }: Call, scope: Scope): string | undefined {
  const [value, window] = given;
  if (value?.kind !== "term" || window?.kind !== "term" || given.length > 2) return undefined;
  if (value.of.kind !== "name" || window.of.kind !== "duration" || !["mean", "min", "max", "rise"].includes(name.text))
    return undefined;
  const type = scope.find(value.of)?.type;
  const isTime = type?.kind !== "number" || dimensionOf(type.unit) === "duration";
  return isTime ? undefined : `Write ${name.text}(${value.of.text} over ${writeTerm(window.of)}).`;
}

function wrong(term: Call, remedy: string, scope: Scope): undefined {
  scope.faults.add(term.span, { kind: "missing", what: `Wrong arguments for ${term.name.text}.`, remedy });
}

function bindColour(term: Call, scope: Scope): MaybeBound {
  const [only, ...more] = term.arguments;
  const text = only?.kind === "text" ? only.text.parts.filter((part) => typeof part === "string").join("") : "";
  if (more.length > 0 || !/^#[0-9a-f]{6}$/i.test(text))
    return wrong(term, 'Write six hexadecimal digits: colour("#ffbf00").', scope);
  return { expression: { kind: "colour", colour: text.toLowerCase() }, type: colour };
}

const gives = { count: numberType(""), time: duration, share: numberType("%") } as const;

/** Over a window; without one, in trials, over the span of the expectation. */
function bindCounted(term: Call, name: "count" | "time" | "share", scope: Scope): MaybeBound {
  const [only, ...more] = term.arguments;
  if (only?.kind !== "term" || more.length > 0)
    return wrong(term, `${name} takes one condition. Join several with and or or.`, scope);
  const condition = bindCondition(only.of, scope.forMoments());
  if (!only.over) {
    if (!scope.inTrial) {
      const remedy = name === "share" ? "share is only allowed in trials." : `Add the window: ${name}(… over 1 h).`;
      scope.faults.add(term.span, { kind: "notHere", what: `${name}(…)`, remedy });
      return undefined;
    }
    const kind = name === "time" ? "time true" : name;
    return condition && { expression: { kind, condition }, type: gives[name] };
  }
  if (name === "share") return wrong(term, "share uses the span of its expectation. Remove over ….", scope);
  const over = bindDuration(only.over, scope);
  return condition && over && { expression: { kind: "over", function: name, value: condition, over }, type: gives[name] };
}

function bindWindow(term: Call, { of, over }: Of<"term">, scope: Scope): MaybeBound {
  const name = term.name.text;
  const value = bindNumber(of, scope);
  const lasts = over && bindDuration(over, scope);
  if (name !== "mean" && name !== "min" && name !== "max" && name !== "rise") {
    return wrong(term, "Over a window, use mean, min, max, rise, time or count.", scope);
  }
  if (!value || !lasts) return undefined;
  const type = name === "rise" ? differenceOf(value.type) : value.type;
  return { expression: { kind: "over", function: name, value: value.expression, over: lasts }, type };
}

function bindNumber(term: Term, scope: Scope, want?: Type): MaybeBound {
  const bound = bindTerm(term, scope, want);
  if (!bound || bound.type.kind === "number" || bound.type.kind === "unknown") return bound;
  scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a number" });
  return undefined;
}

function bindSeveral(term: Call, name: SeveralFunction, scope: Scope, want?: Type): MaybeBound {
  const bound: BoundTerm[] = [];
  const terms: Term[] = [];
  let known = 1;
  let whole = true;
  for (const argument of term.arguments) {
    if (argument.kind === "known") known = argument.count;
    else if (argument.kind === "every") {
      const found = bindEvery(argument, scope);
      whole &&= found !== undefined;
      bound.push(...(found ?? []));
      terms.push(...(found ?? []).map((): Term => ({ kind: "unknown", span: argument.span })));
    } else if (argument.kind === "term" && !argument.over) {
      const found = bindNumber(argument.of, scope, want ?? bound[0]?.type);
      whole &&= found !== undefined;
      if (found) bound.push(found);
      terms.push(argument.of);
    } else return wrong(term, `${name} takes values, or every NAME.`, scope);
  }
  if (!whole || bound.length === 0) return whole ? wrong(term, `${name} takes values, or every NAME.`, scope) : undefined;
  const type = oneType(bound, terms, scope);
  if (!type) return undefined;
  if (name === "sum" && type.kind === "number" && type.dimension === "temperature") {
    scope.faults.add(term.span, { kind: "absolute", says: "Temperatures cannot be added.", remedy: "Use their mean." });
    return undefined;
  }
  const of = bound.map(({ expression }) => expression);
  return { expression: { kind: "of several", function: name, of, known }, type: name === "spread" ? differenceOf(type) : type };
}

function bindEvery({ name, zones, over }: Of<"every">, scope: Scope): BoundTerm[] | undefined {
  const symbols = everyOf(name, zones, scope);
  const lasts = over && bindDuration(over, scope);
  if (symbols.length === 0 || (over && !lasts)) return undefined;
  const bound: BoundTerm[] = [];
  for (const symbol of symbols) {
    const typed = symbol.typed ? symbol.typed() : symbol;
    if (typed?.type?.kind !== "number") {
      scope.faults.add(name.span, { kind: "wrongType", what: symbol.name, wanted: "a number" });
      return undefined;
    }
    const value: Expression = { kind: "value", of: symbol.name };
    bound.push({
      expression: lasts ? { kind: "over", function: "mean", value, over: lasts } : value,
      type: typeOfValue(typed.type),
    });
  }
  return bound;
}

function bindOne(term: Call, name: ValueFunction & ("abs" | "round"), scope: Scope, want?: Type): MaybeBound {
  const [only, ...more] = term.arguments;
  if (only?.kind !== "term" || only.over || more.length > 0) return wrong(term, `${name} takes one number.`, scope);
  const value = bindNumber(only.of, scope, want);
  return value && { expression: { kind: "call", function: name, of: [value.expression] }, type: value.type };
}

/** `clamp(x, a..b)`, `scale(x, a..b to c..d)`. */
function bindRanged(term: Call, name: "clamp" | "scale", scope: Scope, want?: Type): MaybeBound {
  const [first, range, ...more] = term.arguments;
  const example = name === "clamp" ? "clamp(x, 10..30 °C)" : "scale(x, 50..400 lx to 100..0 %)";
  const fitting =
    first?.kind === "term" &&
    !first.over &&
    range?.kind === "range" &&
    more.length === 0 &&
    (name === "scale") === (range.to !== undefined);
  if (!fitting) return wrong(term, `Write ${example}.`, scope);
  const value = bindNumber(first.of, scope, name === "clamp" ? want : undefined);
  const from = value && bindEnds(range.low, range.high, scope, value.type);
  if (!value || !from) return undefined;
  if (!range.to) return { expression: { kind: "clamp", value: value.expression, ...from }, type: value.type };
  const type = bindTerm(withUnitOf(range.to.low, range.to.high), scope, want)?.type;
  const to = type && bindEnds(range.to.low, range.to.high, scope, type);
  return to && { expression: { kind: "scale", value: value.expression, from, to }, type };
}

function bindEnds(lowTerm: Term, highTerm: Term, scope: Scope, type: Type): { low: Expression; high: Expression } | undefined {
  const low = bindValue(withUnitOf(lowTerm, highTerm), scope, type);
  const high = bindValue(withUnitOf(highTerm, lowTerm), scope, type);
  return low && high && { low, high };
}

function bindAir(term: Call, name: keyof typeof airFunctions, scope: Scope): MaybeBound {
  const [temperature, humidity, ...more] = term.arguments;
  if (temperature?.kind !== "term" || humidity?.kind !== "term" || more.length > 0) {
    return wrong(term, `Write ${name}(temperature, humidity).`, scope);
  }
  const t = bindValue(temperature.of, scope, numberType("°C"));
  const rh = bindValue(humidity.of, scope, numberType("%RH"));
  const unit: Unit = isUnit(airFunctions[name]) ? airFunctions[name] : "";
  return t && rh && { expression: { kind: "call", function: name, of: [t, rh] }, type: numberType(unit) };
}
