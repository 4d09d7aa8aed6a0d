// What there is: types, ranges, attributes, groups, lets, countdowns, presets.
import type {
  AtLeast,
  Countdown,
  Dial,
  Group,
  Let,
  Mode,
  Named,
  Output,
  Preset,
  Range,
  RawPoint,
  Sensor,
  TruthType,
  Value,
  ValueType,
} from "../../house/index.js";
import { fromBase, readUnit, type Unit, units } from "../../units/index.js";
import { nearest } from "../nearest.js";
import type {
  Attribute,
  CountdownNode,
  GroupNode,
  LetNode,
  ModeNode,
  OfKind,
  PresetNode,
  Term,
  ThingNode,
  TypeNode,
  Word,
} from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { constantIn } from "./constant.js";
import { bindTargets } from "./rules.js";
import type { HouseSymbol, Scope, Typed } from "./scope.js";
import { type BoundTerm, bindCondition, bindDuration, bindTerm, bindValue, sayRange, withUnitOf } from "./terms.js";
import { headingOf } from "./text.js";
import { differenceOf, numberType, typeOfValue, valueTypeOf } from "./type.js";

/** The type a thing is declared with, and the range where the type is one. */
export function bindType(node: TypeNode, scope: Scope): { type: ValueType; range?: Range } | undefined {
  switch (node.kind) {
    case "range":
      return bindRangeType(node, scope);
    case "words":
      return bindWords(node.words, node.ordered, scope);
    case "one":
      return bindOne(node, scope);
    case "colour of":
      return { type: { kind: "colour" } };
    default:
      throw new RangeError(`no such type: ${JSON.stringify(node satisfies never)}`);
  }
}

function bindWords(words: readonly Word[], ordered: boolean, scope: Scope) {
  const seen = new Set<string>();
  for (const { text, span } of words) {
    if (seen.has(text)) scope.faults.add(span, { kind: "doubleName", name: text });
    seen.add(text);
  }
  const [only] = words;
  if (words.length === 1 && only) {
    const remedy = `Name the other state too: ${only.text}/…`;
    scope.faults.add(only.span, { kind: "missing", what: "A thing with states has at least two.", remedy });
  }
  return { type: { kind: "words", words: words.map(({ text }) => text), ordered } as const };
}

function bindOne({ word, span }: Extract<TypeNode, { kind: "one" }>, scope: Scope) {
  if (word === "time") return { type: { kind: "time" } as const };
  if (word === "number") return { type: { kind: "number", unit: "" } as const };
  if (word === "duration") return { type: { kind: "number", unit: "min" } as const };
  if (word === "colour") return { type: { kind: "colour" } as const };
  if (word === "press") return { type: { kind: "press" } as const };
  const unit = readUnit(word);
  if (unit !== undefined) return { type: { kind: "number", unit } as const };
  const near = nearest(word, Object.keys(units));
  scope.faults.add(span, { kind: "unitUnknown", unit: word, nearest: near });
  return undefined;
}

function bindRangeType(node: Extract<TypeNode, { kind: "range" }>, scope: Scope) {
  const unit = unitOf(node.low) || unitOf(node.high);
  const range = bindRange(node.low, node.high, unit, scope);
  return range && { type: { kind: "number", unit } as const, range };
}

/** The unit a number is written in. */
function unitOf(term: Term): Unit {
  if (term.kind === "sign") return unitOf(term.of);
  return term.kind === "number" || term.kind === "duration" ? (readUnit(term.unit) ?? "") : "";
}

function bindRange(lowTerm: Term, highTerm: Term, unit: Unit, scope: Scope): Range | undefined {
  const want = numberType(unit);
  const low = constantTerm(withUnitOf(lowTerm, highTerm), want, scope);
  const high = constantTerm(withUnitOf(highTerm, lowTerm), want, scope);
  if (low === undefined || high === undefined) return undefined;
  if (low >= high) {
    const says = `The range ${writeTerm(lowTerm)}..${writeTerm(highTerm)} is empty.`;
    scope.faults.add(lowTerm.span, { kind: "backwards", says, remedy: "Put the lower end first." });
    return undefined;
  }
  return [low, high];
}

function constantTerm(term: Term, want: ReturnType<typeof numberType>, scope: Scope): number | undefined {
  const bound = bindValue(term, scope, want);
  return bound && constantIn(bound, want.unit);
}

type Of<Kind extends Attribute["kind"]> = OfKind<Attribute, Kind>;

/** The last attribute of a kind. */
function attributeOf<Kind extends Attribute["kind"]>(node: ThingNode, kind: Kind): Of<Kind> | undefined {
  return node.attributes.findLast((attribute) => attribute.kind === kind) as Of<Kind> | undefined;
}

export function bindSensor(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Sensor {
  const after = attributeOf(node, "unknown after");
  const smooth = attributeOf(node, "smooth over");
  const unknownAfter = after && bindDuration(after.value, scope);
  const smoothOver = smooth && bindDuration(smooth.value, scope);
  for (const kind of ["smooth over", "scale", "offset", "reads"] as const) {
    const attribute = attributeOf(node, kind);
    if (attribute && type.kind !== "number")
      scope.faults.add(attribute.span, { kind: "wrongType", what: `"${kind}"`, wanted: "an attribute of a thing with words" });
  }
  const calibration = type.kind === "number" ? bindCalibration(node, scope, type.unit) : {};
  return {
    ...headingOf(node, scope.whole(node.name.text)),
    type,
    ...(range && { range }),
    ...(unknownAfter && { unknownAfter }),
    ...(smoothOver && { smoothOver }),
    ...calibration,
    ...(attributeOf(node, "device health") && { deviceHealth: true as const }),
  };
}

function bindCalibration(node: ThingNode, scope: Scope, unit: Unit): Pick<Sensor, "scale" | "offset" | "reads"> {
  const scaleNode = attributeOf(node, "scale");
  const offsetNode = attributeOf(node, "offset");
  const readsNode = attributeOf(node, "reads");
  const scale = scaleNode && constantTerm(scaleNode.value, numberType(""), scope);
  if (scaleNode && scale === 0) {
    const remedy = "Write what a reading is multiplied by, as scale 1.02.";
    scope.faults.add(scaleNode.value.span, { kind: "backwards", says: "With scale 0 every reading is the same.", remedy });
  }
  const offset = offsetNode && constantDifference(offsetNode.value, unit, scope);
  const points = readsNode?.points.map(({ raw, value }) => bindRawPoint(raw, value, unit, scope));
  const reads = points?.every((point) => point !== undefined) ? (points as [RawPoint, RawPoint]) : undefined;
  if (readsNode && reads && reads[0].raw === reads[1].raw) {
    const remedy = "Take the two readings at two different values.";
    scope.faults.add(readsNode.span, { kind: "backwards", says: "Both points have the same raw reading.", remedy });
  }
  return { ...(scale !== undefined && { scale }), ...(offset !== undefined && { offset }), ...(reads && { reads }) };
}

function bindRawPoint(rawTerm: Term, valueTerm: Term, unit: Unit, scope: Scope): RawPoint | undefined {
  const raw = constantTerm(rawTerm, numberType(""), scope);
  const value = constantTerm(valueTerm, numberType(unit), scope);
  return raw === undefined || value === undefined ? undefined : { raw, value };
}

/** A fixed difference, in the size of a unit. */
function constantDifference(term: Term, unit: Unit, scope: Scope): number | undefined {
  const bound = bindValue(term, scope, differenceOf(numberType(unit)));
  const base = bound && constantIn(bound);
  return base === undefined ? undefined : base / units[unit].factor;
}

/** The range of a sensor, in the unit of its type. */
export function bindSensorRange(node: ThingNode, type: ValueType, scope: Scope): Range | undefined {
  const attribute = node.attributes.find((attribute) => attribute.kind === "range");
  if (!attribute) return undefined;
  if (type.kind === "number") return bindRange(attribute.low, attribute.high, type.unit, scope);
  scope.faults.add(attribute.span, { kind: "wrongType", what: "A range", wanted: "an attribute of a thing with words" });
  return undefined;
}

export function bindOutput(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Output {
  const rest = attributeOf(node, "at rest");
  const without = attributeOf(node, "without control");
  const atRest = rest && bindConstantValue(rest.value, scope, type, range);
  const withoutControl = without && bindConstantValue(without.value, scope, type, range);
  if (!rest && range && (range[0] > 0 || range[1] < 0)) {
    const remedy = `Say it, as 0 is not in its range: at rest ${sayRange(range, type.kind === "number" ? type.unit : "").split("..")[0]} ….`;
    scope.faults.add(node.name.span, { kind: "missing", what: `What ${node.name.text} does at rest is not said.`, remedy });
  }
  if (type.kind === "press") {
    const remedy = "Give it words, such as on/off, a range or a unit.";
    scope.faults.add(node.type.span, {
      kind: "wrongType",
      what: "An output that is pressed",
      wanted: "something that can be so",
      remedy,
    });
  }
  const lamp = node.type.kind === "colour of" ? scope.resolve(node.type.of, ["output"]) : undefined;
  const uses = attributeOf(node, "uses");
  const power = uses && bindValue(uses.value, scope, numberType("W"));
  const delivers = bindDelivers(node, scope);
  const serves = attributeOf(node, "serves")?.zones.flatMap((zone) => scope.resolve(zone, ["zone"])?.name ?? []);
  return {
    ...headingOf(node, scope.whole(node.name.text)),
    type,
    ...(range && { range }),
    ...(lamp && { colourOf: lamp.name }),
    ...(atRest !== undefined && { atRest }),
    ...bindProtections(node, scope, type),
    ...(power && { uses: power }),
    ...(delivers && { delivers }),
    ...(withoutControl !== undefined && { withoutControl }),
    ...(serves && { serves }),
  };
}

function bindProtections(node: ThingNode, scope: Scope, type: ValueType): Pick<Output, "atLeast" | "atMost"> {
  const atLeast: AtLeast[] = [];
  const atMost: Output["atMost"][number][] = [];
  for (const attribute of node.attributes) {
    if (attribute.kind !== "at least" && attribute.kind !== "at most") continue;
    const word = bindWord(attribute.word, scope, type);
    const duration = bindDuration(attribute.duration, scope);
    if (attribute.kind === "at least") {
      if (word !== undefined && duration) atLeast.push({ word, duration });
      continue;
    }
    const then = bindWord(attribute.then, scope, type);
    const rest = bindDuration(attribute.rest, scope);
    if (then !== undefined && then === word) {
      scope.faults.add(attribute.then.span, {
        kind: "missing",
        what: "The run ends with the word it has.",
        remedy: "Name the other word.",
      });
    }
    if (word !== undefined && duration && then !== undefined && rest)
      atMost.push({ word, duration, then: { word: then, duration: rest } });
  }
  return { atLeast, atMost };
}

function bindDelivers(node: ThingNode, scope: Scope): Output["delivers"] {
  const attribute = attributeOf(node, "delivers");
  if (!attribute) return undefined;
  const rate = bindValue(attribute.rate, scope, numberType("ml/s"));
  const after = attribute.after && bindDuration(attribute.after, scope);
  return rate && { rate, ...(after && { after }) };
}

export function bindDial(node: ThingNode, scope: Scope, type: ValueType, range: Range | undefined): Dial | undefined {
  const first = attributeOf(node, "at first");
  const atFirst = first && bindConstantValue(first.value, scope, type, range);
  const nudge = attributeOf(node, "step");
  const step = nudge && type.kind === "number" ? constantDifference(nudge.value, type.unit, scope) : undefined;
  if (!first) {
    const remedy = "Say what it is until somebody sets it: at first ….";
    scope.faults.add(node.name.span, { kind: "missing", what: `Dial ${node.name.text} has no first value.`, remedy });
  }
  if (atFirst === undefined) return undefined;
  return {
    ...headingOf(node, scope.whole(node.name.text)),
    type,
    ...(range && { range }),
    atFirst,
    ...(step !== undefined && { step }),
  };
}

/** A value that stands fixed in a declaration, in the thing's own unit. */
export function bindConstantValue(term: Term, scope: Scope, type: ValueType, range?: Range): Value | undefined {
  const want = typeOfValue(type);
  const bound = bindValue(term, scope, want, range);
  if (!bound) return undefined;
  if (bound.kind === "word") return bound.word;
  if (bound.kind === "colour") return bound.colour;
  const value = constantIn(bound);
  if (value === undefined) {
    const remedy = "Write a number or a word; it cannot depend on other things.";
    scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a fixed value", remedy });
    return undefined;
  }
  return type.kind === "number" ? fromBase(value, type.unit) : value;
}

/** A word that must be one of a type's. */
export function bindWord(word: Word, scope: Scope, type: ValueType | TruthType): string | undefined {
  if (type.kind === "words" && type.words.includes(word.text)) return word.text;
  const words = type.kind === "words" ? type.words : [];
  if (words.length === 0) {
    scope.faults.add(word.span, { kind: "wrongType", what: `The word ${word.text}`, wanted: "a number" });
  } else {
    scope.faults.add(word.span, { kind: "unknownWord", word: word.text, words, nearest: nearest(word.text, words) });
  }
  return undefined;
}

export function bindMode(node: ModeNode, scope: Scope): Mode | undefined {
  const { type } = bindWords(node.words, node.ordered, scope);
  const atFirst = bindWord(node.first, scope, type);
  return atFirst === undefined ? undefined : { ...headingOf(node), type, atFirst };
}

export function bindGroup(node: GroupNode, symbol: HouseSymbol): Group {
  return { ...headingOf(node), members: (symbol.members?.() ?? []).map(({ name }) => name) };
}

/** The value of a let, bound once: its type follows from it, or is said. */
export function bindLetValue(node: LetNode, scope: Scope): (BoundTerm & { readonly typed: Typed }) | undefined {
  const said = node.type && bindType(node.type, scope);
  if (node.type && !said) return undefined;
  const want = said && typeOfValue(said.type);
  const bound = bindTerm(node.value, scope, want);
  if (!bound) return undefined;
  if (want) {
    const expression = bindValue(node.value, scope, want, said.range);
    return expression && { expression, type: want, typed: { type: said.type, ...(said.range && { range: said.range }) } };
  }
  if (
    bound.type.kind === "words" &&
    bound.type.words.length === 2 &&
    bound.expression.kind !== "value" &&
    node.value.kind === "name"
  ) {
    const condition = bindCondition(node.value, scope);
    return condition && { ...bound, expression: condition, typed: { type: { kind: "truth" } } };
  }
  const type = valueTypeOf(bound.type);
  if (!type) {
    scope.faults.add(node.value.span, {
      kind: "wrongType",
      what: writeTerm(node.value),
      wanted: "a value of one kind",
      remedy: "Say the kind: let x: °C = ….",
    });
    return undefined;
  }
  return { ...bound, typed: { type, ...(bound.range && { range: bound.range }) } };
}

export function bindLet(node: LetNode, scope: Scope, bound: BoundTerm & { readonly typed: Typed }): Let {
  return { ...headingOf(node, scope.whole(node.name.text)), type: bound.typed.type, value: bound.expression };
}

export function bindCountdown(node: CountdownNode, scope: Scope): Countdown | undefined {
  const lasts = bindDuration(node.lasts, scope);
  return lasts && { ...headingOf(node, scope.whole(node.name.text)), lasts };
}

export function bindPreset(node: PresetNode, scope: Scope): Preset {
  const targets = bindTargets(node.targets, scope, ["output", "group", "dial", "mode"]);
  const twice = node.targets.find(({ name }, index) => node.targets.findIndex((other) => other.name.text === name.text) < index);
  if (twice)
    scope.faults.add(twice.name.span, {
      kind: "missing",
      what: `Preset ${node.name.text} gives ${twice.name.text} two values.`,
      remedy: "Take one of them out.",
    });
  return { ...(headingOf(node) as Named), targets };
}

/** A number in a given unit, for physics and weather. */
export function bindFigure(term: Term, unit: Unit, scope: Scope): number | undefined {
  const bound = bindValue(term, scope, numberType(unit));
  const base = bound && constantIn(bound);
  if (base === undefined) return undefined;
  return fromBase(base, unit);
}
