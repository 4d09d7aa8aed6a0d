// Terms → expressions: names, words, units and types. A term that does not bind has its problem noted and is undefined.
import { type Bound, colours, constantIn, crosses, dayTimeOf, type Expression, type Range } from "../../house/index.js";
import { DAY, dayOfDate, SUN_EVENTS, type SunEvent } from "../../time/index.js";
import {
  type Dimension,
  differenceInBase,
  dimensionOf,
  isUnit,
  type Unit,
  units,
  writeDuration,
  writeNumber,
  writeQuantity,
  writeTimeOfDay,
} from "../../units/index.js";
import { everyHabits, numberHabits } from "../habits.js";
import { nearest } from "../nearest.js";
import type { Term, Word } from "../syntax.js";
import type { Fault } from "../words.js";
import { writeTerm } from "../write/terms.js";
import { facts } from "./facts.js";
import { bindCall } from "./functions.js";
import type { builtInNames } from "./names.js";
import { bindPick } from "./pick.js";
import { type HouseSymbol, type Scope, valueKinds } from "./scope.js";
import {
  colour,
  date,
  differenceOf,
  duration,
  fits,
  instant,
  numberType,
  sayType,
  type Type,
  timeOfDay,
  truth,
  typeOfValue,
  weekday,
} from "./type.js";

export interface BoundTerm {
  readonly expression: Expression;
  readonly type: Type;
  /** The range of the thing it names. */
  readonly range?: Range;
  /** Whether it names a sensor's number, which is hardly ever exactly one value. */
  readonly measured?: boolean;
}

type MaybeBound = BoundTerm | undefined;

/** Binds a condition. */
export function bindCondition(term: Term, scope: Scope): Expression | undefined {
  const bound = bindTerm(term, scope, truth);
  if (!bound) return undefined;
  if (bound.type.kind === "truth" || bound.type.kind === "unknown") return bound.expression;
  const what = writeTerm(term);
  if (bound.type.kind === "words" && bound.type.words.length === 2) {
    return {
      kind: "is",
      left: bound.expression,
      right: { kind: "word", word: bound.type.words[0] as string, of: bound.type.words },
    };
  }
  const remedy =
    bound.type.kind === "words"
      ? `Name one of its states: ${what} is ${bound.type.words[0]}.`
      : `Compare it: ${what} above …, below …, between … and ….`;
  scope.faults.add(term.span, { kind: "notTruth", what, remedy });
  return undefined;
}

/** Binds a value that must be of a type; `difference` reads °C and °F as steps. */
export function bindValue(term: Term, scope: Scope, want: Type, range?: Range): Expression | undefined {
  const bound = bindTerm(term, scope, want);
  if (!bound) return undefined;
  if (!fits(bound.type, want)) {
    mismatch(term, bound.type, want, scope);
    return undefined;
  }
  if (range) checkRange(term, bound.expression, want, range, scope);
  return bound.expression;
}

/** Looks for problems in a value whose place is not known; a bare word may be anything there. */
export function bindApart(term: Term, scope: Scope): undefined {
  if (term.kind !== "name") bindTerm(term, scope);
}

/** Binds a duration above zero. */
export function bindDuration(term: Term, scope: Scope): Expression | undefined {
  const expression = bindValue(term, scope, duration);
  const ms = expression && constantIn(expression);
  if (ms !== undefined && ms <= 0) {
    const remedy = "Write a duration above zero, such as 10 min.";
    scope.faults.add(term.span, { kind: "backwards", says: `The duration ${writeTerm(term)} must be longer than 0.`, remedy });
    return undefined;
  }
  return expression;
}

/** A constant must lie in the range of what it is set to or compared with. */
export function checkRange(term: Term, expression: Expression, type: Type, range: Range, scope: Scope): void {
  if (type.kind !== "number") return;
  const value = constantIn(expression, type.unit);
  if (value === undefined || (value >= range[0] - 1e-9 && value <= range[1] + 1e-9)) return;
  const what = writeQuantity({ value, unit: type.unit });
  scope.faults.add(term.span, { kind: "outOfRange", what, range: sayRange(range, type.unit) });
}

export function sayRange(range: Range, unit: Unit): string {
  return `${writeNumber(range[0])}..${writeQuantity({ value: range[1], unit })}`;
}

/** Binds any term; `want` is what its place expects and gives bare words their meaning. */
export function bindTerm(term: Term, scope: Scope, want?: Type): MaybeBound {
  switch (term.kind) {
    case "number":
      return bindNumber(term, scope, want);
    case "duration":
      return { expression: { kind: "number", value: term.ms, unit: "ms" }, type: duration };
    case "time":
      return { expression: { kind: "time", ms: term.ms }, type: timeOfDay };
    case "instant":
      return bindInstant(term, scope, want);
    case "unknown":
      return { expression: { kind: "unknown" }, type: { kind: "unknown" } };
    case "name":
      return bindName({ text: term.text, span: term.span }, scope, want);
    case "each":
      throw new RangeError("each is only allowed inside any");
    case "if":
      return bindIf(term, scope, want);
    case "pick":
      return bindPick(term, scope, want);
    case "any":
      return bindAny(term, scope);
    case "disobeys": {
      const [output] = scope.outputs(wordOf(term.of), ["output"]);
      return output && { expression: { kind: "disobeys", output: output.name }, type: truth };
    }
    case "clock": {
      const from = bindValue(term.from, scope, timeOfDay);
      const to = bindValue(term.to, scope, timeOfDay);
      return from && to && { expression: { kind: "clock between", from: dayTimeOf(from), to: dayTimeOf(to) }, type: truth };
    }
    case "group":
      return bindTerm(term.of, scope, want);
    case "sign":
      return bindSign(term, scope, want);
    case "binary":
      return bindBinary(term, scope, want);
    case "call":
      return bindCall(term, scope, want);
    case "bound":
      return bindBound(term, scope);
    case "between":
      return bindBetween(term, scope);
    case "is":
      return bindIs(term, scope);
    case "for":
    case "in the last":
      return bindLasting(term, scope);
    case "until":
      return bindUntil(term, scope);
    case "during":
      return bindDuring(term, scope);
    case "told":
    case "problem":
    case "sent":
      return bindSaid(term, scope);
    case "not": {
      const of = bindCondition(term.of, scope);
      return of && { expression: { kind: "not", of }, type: truth };
    }
    case "and":
    case "or": {
      const of = term.of.map((part, place) => bindCondition(stateOfSame(part, term.of[place - 1], scope), scope));
      return of.every((part) => part !== undefined) ? { expression: { kind: term.kind, of }, type: truth } : undefined;
    }
    default:
      throw new RangeError(`no such term: ${JSON.stringify(term satisfies never)}`);
  }
}

/** `shop is open or away`: another state of the same, told as what is meant and read on with. */
function stateOfSame(part: Term, before: Term | undefined, scope: Scope): Term {
  if (part.kind !== "name" || before?.kind !== "is" || before.negated || before.left.kind !== "name") return part;
  const known = (text: string) => scope.symbols.get(scope.whole(text)) ?? scope.symbols.get(text);
  const type = known(before.left.text)?.type;
  if (type?.kind !== "words" || !type.words.includes(part.text) || known(part.text)) return part;
  scope.faults.add(part.span, { kind: "habit", written: part.text, meant: `${before.left.text} is ${part.text}` });
  return { ...before, right: part, span: part.span };
}

type Of<Kind extends Term["kind"]> = Extract<Term, { kind: Kind }>;

function bindNumber({ value, unit, span }: Of<"number">, scope: Scope, want?: Type): MaybeBound {
  if (!isUnit(unit)) {
    scope.faults.add(span, { kind: "unitUnknown", unit, nearest: [] });
    return undefined;
  }
  if (unit === "" && want?.kind === "number" && want.dimension !== "plain") {
    scope.faults.add(span, { kind: "unitMissing", number: writeNumber(value), unit: want.unit });
    return undefined;
  }
  if (want?.kind === "number" && want.dimension === "temperature difference" && dimensionOf(unit) === "temperature") {
    return { expression: { kind: "number", value: differenceInBase({ value, unit }), unit: "K" }, type: numberType("K") };
  }
  return { expression: { kind: "number", value, unit }, type: numberType(unit) };
}

function bindInstant({ date: day, ms, span }: Of<"instant">, scope: Scope, want?: Type): MaybeBound {
  if (localDay(day) === undefined) {
    scope.faults.add(span, noSuchDate(day));
    return undefined;
  }
  if (ms === undefined && want?.kind === "date") return { expression: { kind: "date", date: day }, type: date };
  return { expression: { kind: "instant", date: day, ms: ms ?? 0 }, type: instant };
}

/** Of a date as written. */
export function noSuchDate(text: string): Fault {
  const [year = 0, month = 0] = text.split("-").map(Number);
  return { kind: "noSuchDate", text, year, month };
}

/** Days since 1970 of a date as written, or nothing where there is no such date. */
export function localDay(day: string): number | undefined {
  const [year = 0, month = 0, at = 0] = day.split("-").map(Number);
  return dayOfDate(year, month, at);
}

/** A bare word is looked up in the words its place expects, then among names, then among what is built in. */
function bindName(word: Word, scope: Scope, want?: Type): MaybeBound {
  if (want?.kind === "words" && want.words.includes(word.text)) return wordTerm(word.text, want);
  const found = scope.find(word);
  if (found && valueKinds.includes(found.kind)) return bindSymbol(found, word, scope);
  const built = found ? undefined : (bindBuiltIn(word.text, want) ?? bindOfThing(word, scope));
  if (built) {
    const { kind } = built.expression;
    if (!scope.placed && (kind === "sun" || kind === "sun time"))
      scope.faults.add(word.span, { kind: "noPlace", what: word.text });
    return built;
  }
  if (!found && want?.kind === "words") {
    const near = nearest(word.text, want.words);
    scope.faults.add(word.span, { kind: "unknownWord", word: word.text, words: want.words, nearest: near });
    return undefined;
  }
  const length = want?.kind === "number" && want.dimension === "duration" ? everyHabits[word.text] : undefined;
  if (!found && length !== undefined) {
    scope.faults.add(word.span, { kind: "habit", written: word.text, meant: length });
    return { expression: { kind: "number", value: 1, unit: length.slice(2) as Unit }, type: duration };
  }
  if (!found && want?.kind === "number" && scope.nearest(word.text, valueKinds).length === 0) {
    scope.faults.add(word.span, {
      kind: "wrongType",
      what: `the word "${word.text}"`,
      wanted: want.dimension === "plain" ? "a number" : sayType(want),
      remedy: numberFor(word.text, want.unit),
    });
    return undefined;
  }
  if (!found && !want && !word.text.includes(".")) return bindFreeWord(word, scope);
  scope.resolve(word, valueKinds);
  return undefined;
}

/** What to write where a word stands in the place of a number. */
function numberFor(word: string, unit: string): string {
  if (unit === "%" && (word === "on" || word === "off")) return `Write ${word === "on" ? 100 : 0} %.`;
  return numberHabits[word] ?? `Write a number, for example ${`20 ${unit}`.trim()}.`;
}

function wordTerm(word: string, type: Extract<Type, { kind: "words" }>): BoundTerm {
  return { expression: { kind: "word", word, of: type.words }, type };
}

function bindSymbol(symbol: HouseSymbol, word: Word, scope: Scope): MaybeBound {
  const typed = symbol.typed ? symbol.typed() : symbol;
  if (!typed?.type) return undefined;
  if (typed.type.kind === "press") {
    const remedy = `Write ${word.text} is pressed.`;
    scope.faults.add(word.span, { kind: "wrongType", what: `${word.text}, a press`, wanted: "something with a value", remedy });
    return undefined;
  }
  const type = typeOfValue(typed.type);
  const measured = symbol.kind === "sensor" && type.kind === "number";
  return { expression: { kind: "value", of: symbol.name }, type, measured, ...(typed.range && { range: typed.range }) };
}

const builtIn: Readonly<Record<(typeof builtInNames)[number], BoundTerm>> = {
  noon: { expression: { kind: "time", ms: 12 * 3600e3 }, type: timeOfDay },
  midnight: { expression: { kind: "time", ms: 0 }, type: timeOfDay },
  "sun.elevation": { expression: { kind: "sun", what: "elevation" }, type: numberType("°") },
  "sun.azimuth": { expression: { kind: "sun", what: "azimuth" }, type: numberType("°") },
  "clock.time": { expression: { kind: "clock", what: "time" }, type: timeOfDay },
  "clock.weekday": { expression: { kind: "clock", what: "weekday" }, type: weekday },
  "clock.date": { expression: { kind: "clock", what: "date" }, type: date },
};

function bindBuiltIn(name: string, want?: Type): MaybeBound {
  if (Object.hasOwn(builtIn, name)) return builtIn[name as keyof typeof builtIn];
  if ((SUN_EVENTS as readonly string[]).includes(name))
    return { expression: { kind: "sun time", event: name as SunEvent }, type: timeOfDay };
  const rgb = want === undefined || want.kind === "colour" ? colours.get(name) : undefined;
  return rgb === undefined ? undefined : { expression: { kind: "colour", colour: rgb }, type: colour };
}

/** `bench.door.age`, `shop_hours.begins_in`. */
function bindOfThing({ text, span }: Word, scope: Scope): MaybeBound {
  const dot = text.lastIndexOf(".");
  const symbol = dot < 0 ? undefined : scope.find({ text: text.slice(0, dot), span: { ...span, to: span.from + dot } });
  const what = text.slice(dot + 1);
  const known = symbol && facts[symbol.kind];
  const fact = known && Object.hasOwn(known, what) ? known[what] : undefined;
  if (!fact || !symbol) return undefined;
  const lacks = fact.lacks?.(symbol);
  if (lacks) scope.faults.add(span, { kind: "wrongType", what: symbol.name, ...lacks });
  return { expression: fact.expression(symbol.name), type: fact.type };
}

/** Where nothing is expected, a word must belong to one set of words of the house only. */
function bindFreeWord(word: Word, scope: Scope): MaybeBound {
  const sets = new Map<string, Extract<Type, { kind: "words" }>>();
  for (const { type } of scope.symbols.values())
    if (type?.kind === "words" && type.words.includes(word.text)) sets.set(type.words.join("/"), type);
  const [only] = sets.values();
  if (only && sets.size === 1) return wordTerm(word.text, only);
  if (sets.size > 1) scope.faults.add(word.span, { kind: "whichKind", word: word.text, kinds: [...sets.keys()] });
  else scope.resolve(word, valueKinds);
  return undefined;
}

/** The word a term is, for places that take a name. */
export function wordOf(term: Term): Word {
  return { text: term.kind === "name" ? term.text : writeTerm(term), span: term.span };
}

function bindIf(term: Of<"if">, scope: Scope, want?: Type): MaybeBound {
  const condition = bindCondition(term.condition, scope);
  const then = bindTerm(term.then, scope, want);
  const otherwise = bindTerm(term.else, scope, want ?? then?.type);
  if (!condition || !then || !otherwise) return undefined;
  const type = oneType([then, otherwise], [term.then, term.else], scope);
  return type && { expression: { kind: "if", condition, then: then.expression, else: otherwise.expression }, type };
}

/** The one type of several values; unknown goes with any. */
export function oneType(bound: readonly BoundTerm[], terms: readonly Term[], scope: Scope): Type | undefined {
  const type = bound.find((one) => one.type.kind !== "unknown")?.type ?? bound[0]?.type;
  if (!type) return undefined;
  const wrong = bound.findIndex((one) => !fits(one.type, type));
  if (wrong < 0) return type;
  mismatch(terms[wrong] as Term, (bound[wrong] as BoundTerm).type, type, scope);
  return undefined;
}

/** One condition for every thing of the name, joined by or. */
function bindAny({ name, zones, test }: Of<"any">, scope: Scope): MaybeBound {
  const symbols = everyOf(name, zones, scope);
  const of = symbols.map((symbol) => bindCondition(withEach(test, symbol.name), scope));
  if (symbols.length === 0 || of.some((part) => part === undefined)) return undefined;
  // One alone is not a choice: it is written as it is, too.
  return { expression: of.length === 1 ? (of[0] as Expression) : { kind: "or", of: of as Expression[] }, type: truth };
}

/** The things of one name in every zone, or some of them; a problem where there are none. */
export function everyOf(name: Word, zones: readonly Word[], scope: Scope): HouseSymbol[] {
  const named = zones.flatMap((zone) => scope.resolve(zone, ["zone"]) ?? []);
  if (named.length < zones.length) return [];
  const symbols = scope.every(
    name.text,
    named.map((zone) => zone.name),
  );
  if (symbols.length === 0) {
    const known = [...scope.symbols.keys()].filter((one) => one.includes(".")).map((one) => one.slice(one.indexOf(".") + 1));
    scope.faults.add(name.span, {
      kind: "unknownName",
      name: name.text,
      nearest: nearest(name.text, known),
      wanted: "thing of any zone",
    });
  }
  return symbols;
}

function withEach(test: Term, name: string): Term {
  const named = (term: Term): Term => (term.kind === "each" ? { kind: "name", text: name, span: term.span } : term);
  if (test.kind === "between") return { ...test, value: named(test.value) };
  if (test.kind === "bound" || test.kind === "is") return { ...test, left: named(test.left) };
  return test.kind === "disobeys" ? { ...test, of: named(test.of) } : named(test);
}

function bindSign({ sign, of, span }: Of<"sign">, scope: Scope, want?: Type): MaybeBound {
  const bound = bindTerm(of, scope, want);
  if (!bound) return undefined;
  if (bound.type.kind !== "number") {
    scope.faults.add(span, { kind: "wrongType", what: writeTerm(of), wanted: "a number" });
    return undefined;
  }
  if (sign === "+") return bound;
  const { expression } = bound;
  const negative: Expression =
    expression.kind === "number" ? { ...expression, value: -expression.value } : { kind: "negative", of: expression };
  return { expression: negative, type: bound.type };
}

const operations = { "+": "plus", "-": "minus", "*": "times", "/": "divided" } as const;

function bindBinary(term: Of<"binary">, scope: Scope, want?: Type): MaybeBound {
  const adds = term.sign === "+" || term.sign === "-";
  const left = bindTerm(term.left, scope, adds ? want : undefined);
  const literal = ["number", "duration", "sign"].includes(term.right.kind);
  const right = bindTerm(term.right, scope, adds && left ? (literal ? differenceOf(left.type) : left.type) : undefined);
  if (!left || !right) return undefined;
  const type = adds ? sumType(term, left.type, right.type, scope) : productType(term, left.type, right.type, scope);
  return type && { expression: { kind: operations[term.sign], left: left.expression, right: right.expression }, type };
}

function sumType(term: Of<"binary">, left: Type, right: Type, scope: Scope): Type | undefined {
  const difference = differenceOf(left);
  if (left.kind === "time" && right.kind === "number" && fits(right, duration)) return left;
  if (left.kind === "time" && right.kind === "time" && term.sign === "-") return duration;
  if (left.kind !== "number" || right.kind !== "number") {
    const wrong = left.kind === "number" ? term.right : term.left;
    scope.faults.add(wrong.span, { kind: "wrongType", what: writeTerm(wrong), wanted: "a number" });
    return undefined;
  }
  if (fits(difference, right)) return left;
  if (fits(left, right) && term.sign === "-") return difference;
  if (fits(left, right)) {
    const says = "Two temperatures cannot be added.";
    scope.faults.add(term.right.span, {
      kind: "absolute",
      says,
      remedy: `Add a difference, in K; for what lies between, write mean(${writeTerm(term.left)}, ${writeTerm(term.right)}).`,
    });
  } else mismatch(term.right, right, left, scope);
  return undefined;
}

function productType(term: Of<"binary">, left: Type, right: Type, scope: Scope): Type | undefined {
  for (const [type, part] of [
    [left, term.left],
    [right, term.right],
  ] as const) {
    if (type.kind !== "number") {
      scope.faults.add(part.span, { kind: "wrongType", what: writeTerm(part), wanted: "a number" });
      return undefined;
    }
    if (type.dimension === "temperature") {
      const remedy = "Multiply or divide a difference, in K, or take the mean.";
      scope.faults.add(part.span, { kind: "absolute", says: "A temperature cannot be multiplied or divided.", remedy });
      return undefined;
    }
  }
  if (right.kind === "number" && right.dimension === "plain") return left;
  if (left.kind === "number" && left.dimension === "plain" && term.sign === "*") return right;
  if (fits(left, right) && term.sign === "/") return numberType("");
  mismatch(term.right, right, numberType(""), scope);
  return undefined;
}

/** The two sides of a comparison; a bare number on the left takes its meaning from the right. */
function bindSides(leftTerm: Term, rightTerm: Term, scope: Scope): { left: BoundTerm; right: BoundTerm } | undefined {
  const left = bindTerm(leftTerm, scope);
  const right = bindTerm(rightTerm, scope, left?.type);
  if (!left || !right) return undefined;
  if (!fits(left.type, right.type)) {
    mismatch(rightTerm, right.type, left.type, scope, true);
    return undefined;
  }
  if (left.range && !scope.inTrial) checkRange(rightTerm, right.expression, left.type, left.range, scope);
  return { left, right };
}

function wantsOrder(term: Term, type: Type, scope: Scope): boolean {
  if (type.kind === "words" ? type.ordered : type.kind !== "truth") return true;
  const remedy =
    type.kind === "words"
      ? `Use is: ${writeTerm(term)} is ${type.words[0]}.`
      : "Only numbers, times and ordered words can be compared like this.";
  scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a value with an order", remedy });
  return false;
}

function bindBound(term: Of<"bound">, scope: Scope): MaybeBound {
  const sides = bindSides(term.left, term.right, scope);
  if (!sides || !wantsOrder(term.left, sides.left.type, scope)) return undefined;
  return { expression: compare(term.bound, sides.left.expression, sides.right.expression), type: truth };
}

function compare(kind: Bound, left: Expression, right: Expression): Expression {
  return { kind, left, right };
}

function bindBetween(term: Of<"between">, scope: Scope): MaybeBound {
  const sides = bindSides(term.value, withUnitOf(term.low, term.high), scope);
  const high = bindTerm(withUnitOf(term.high, term.low), scope, sides?.left.type);
  if (!sides || !high || !wantsOrder(term.value, sides.left.type, scope)) return undefined;
  const { left, right: low } = sides;
  if (!fits(high.type, left.type)) {
    mismatch(term.high, high.type, left.type, scope);
    return undefined;
  }
  const bottom = constantIn(low.expression);
  const top = constantIn(high.expression);
  if (bottom !== undefined && top !== undefined && bottom > top) {
    const says = `${writeTerm(term.low)} is above ${writeTerm(term.high)}.`;
    scope.faults.add(term.low.span, { kind: "backwards", says, remedy: "Write the lower limit first." });
  }
  return { expression: { kind: "between", value: left.expression, low: low.expression, high: high.expression }, type: truth };
}

/** A number without unit takes the unit of the other end of its range. */
export function withUnitOf(term: Term, other: Term): Term {
  if (term.kind === "sign") return { ...term, of: withUnitOf(term.of, other) };
  if (term.kind !== "number" || term.unit !== "") return term;
  if (other.kind === "sign") return withUnitOf(term, other.of);
  if (other.kind === "number") return { ...term, unit: other.unit };
  return other.kind === "duration" ? inDurationUnit(term.value, other.unit, term) : term;
}

function inDurationUnit(value: number, unit: string, { span }: Term): Term {
  const factor = isUnit(unit) ? units[unit].factor : 1;
  return { kind: "duration", ms: value * factor, unit, text: `${writeNumber(value)} ${unit}`, span };
}

function bindIs(term: Of<"is">, scope: Scope): MaybeBound {
  const special = bindSpecialIs(term, scope);
  if (special) return special.bound;
  // Of what nobody knows it is not told what it cannot be.
  const areNames = term.left.kind === "name" && term.right.kind === "name";
  if (areNames && !scope.find(term.left) && !scope.find(term.right) && !bindTerm(term.left, scope)) return undefined;
  const known = term.left.kind === "name" ? scope.find(term.left) : undefined;
  if (known && !valueKinds.includes(known.kind)) return bindTerm(term.left, scope);
  const sides = bindSides(term.left, term.right, scope);
  if (!sides) return undefined;
  const { left, right } = sides;
  if (left.measured && !scope.inTrial && right.type.kind === "number") {
    scope.faults.add(term.left.span, { kind: "measuredIs", what: writeTerm(term.left) });
    return undefined;
  }
  return negatedIf(term.negated, { kind: "is", left: left.expression, right: right.expression });
}

function negatedIf(negated: boolean, of: Expression): BoundTerm {
  return { expression: negated ? { kind: "not", of } : of, type: truth };
}

/** `bell_push is pressed`, `airing is running`, `fan is rest`. */
function bindSpecialIs({ left, right, negated }: Of<"is">, scope: Scope): { bound: MaybeBound } | undefined {
  if (left.kind !== "name" || right.kind !== "name") return undefined;
  const symbol = scope.find(left);
  if (right.text === "running" && symbol?.kind === "countdown")
    return { bound: negatedIf(negated, { kind: "running", countdown: symbol.name }) };
  if (
    right.text === "rest" &&
    symbol?.kind === "output" &&
    !(symbol.type?.kind === "words" && symbol.type.words.includes("rest"))
  ) {
    const is: Expression = { kind: "is", left: { kind: "value", of: symbol.name }, right: { kind: "rest", of: symbol.name } };
    return { bound: negatedIf(negated, is) };
  }
  if (symbol?.type?.kind !== "press") return undefined;
  if (right.text !== "pressed" || negated) {
    scope.faults.add(right.span, { kind: "unknownWord", word: right.text, words: ["pressed"], nearest: [] });
    return { bound: undefined };
  }
  if (!scope.moments) {
    const remedy = "A press is only true at its instant. Use when … is pressed, or was pressed in the last ….";
    scope.faults.add(left.span, { kind: "notHere", what: `${left.text} is pressed`, remedy });
    return { bound: undefined };
  }
  return { bound: { expression: { kind: "pressed", sensor: symbol.name }, type: truth } };
}

function bindLasting(term: Of<"for" | "in the last">, scope: Scope): MaybeBound {
  const condition = bindCondition(term.condition, term.kind === "in the last" ? scope.forMoments() : scope);
  const lasts = bindDuration(term.duration, scope);
  return condition && lasts && { expression: { kind: term.kind, condition, duration: lasts }, type: truth };
}

function bindUntil(term: Of<"until">, scope: Scope): MaybeBound {
  const { reset } = term;
  const condition = bindCondition(term.condition, scope);
  const atMost = reset.atMost && bindDuration(reset.atMost, scope);
  const pause = reset.pause && bindDuration(reset.pause, scope);
  const isBound = (!reset.atMost || atMost) && (!reset.pause || pause);
  const limit = isBound ? { ...(atMost && { atMost }), ...(pause && { pause }) } : undefined;
  if (reset.kind === "condition") {
    const ends = bindCondition(reset.condition, scope.forMoments());
    if (!condition || !ends || !limit) return undefined;
    return { expression: { kind: "until", condition, reset: ends, ...limit }, type: truth };
  }
  const compared = term.condition.kind === "for" ? term.condition.condition : term.condition;
  if (compared.kind !== "bound") {
    const remedy = "Put the condition that ends it in parentheses: until (…).";
    const what = "A short until must directly follow above, below, at least or at most.";
    scope.faults.add(term.span, { kind: "missing", what, remedy });
    return undefined;
  }
  const sides = bindSides(compared.left, reset.value, scope);
  const lasts = reset.for && bindDuration(reset.for, scope);
  if (!condition || !sides || !limit || (reset.for && !lasts)) return undefined;
  const begins = condition.kind === "for" ? condition.condition : condition;
  const bound = compare(reset.bound, sides.left.expression, sides.right.expression);
  if (crosses(begins, bound)) {
    const numbers = `${compared.bound} ${writeTerm(compared.right)} until ${reset.bound} ${writeTerm(reset.value)}`;
    scope.faults.add(reset.value.span, {
      kind: "crossingTargets",
      numbers,
      remedy: `It ends before it begins. Write ${compared.bound} ${writeTerm(reset.value)} until ${reset.bound} ${writeTerm(compared.right)}.`,
    });
  }
  const ends: Expression = lasts ? { kind: "for", condition: bound, duration: lasts } : bound;
  return { expression: { kind: "until", condition, reset: ends, ...limit }, type: truth };
}

function bindDuring(term: Of<"during">, scope: Scope): MaybeBound {
  const schedule = scope.resolve(term.schedule, ["schedule"]);
  if (!schedule) return undefined;
  const during: Expression = { kind: "during", schedule: schedule.name };
  return { expression: term.outside ? { kind: "not", of: during } : during, type: truth };
}

function bindSaid(term: Of<"told" | "problem" | "sent">, scope: Scope): MaybeBound {
  if (!scope.inTrial) {
    scope.faults.add(term.span, { kind: "onlyInTrials", what: term.kind });
    return undefined;
  }
  const plain = ({ parts }: typeof term.text) => parts.filter((part) => typeof part === "string").join("");
  if (term.kind === "sent") return { expression: { kind: "sent", text: plain(term.text), to: plain(term.to) }, type: truth };
  return { expression: { kind: term.kind, text: plain(term.text) }, type: truth };
}

/** Two sides that do not measure the same thing, or are not of one kind. */
export function mismatch(term: Term, found: Type, wanted: Type, scope: Scope, compared = false): void {
  const number = term.kind === "number" ? writeNumber(term.value) : undefined;
  if (found.kind === "number" && wanted.kind === "number") {
    // Humidity is measured in %RH, and everybody writes %.
    if (number !== undefined && found.dimension === "share" && wanted.dimension === "relative humidity")
      return scope.faults.add(term.span, { kind: "habit", written: `${number} %`, meant: `${number} %RH` });
    const remedy = number === undefined ? undefined : meantNumber(number, found.dimension, wanted.dimension);
    const both = { found: sayType(found), wanted: sayType(wanted), compared, ...(remedy && { remedy }) };
    return scope.faults.add(term.span, { kind: "unitMismatch", ...both });
  }
  // 7.30 has been read as 7.3.
  if (term.kind === "number" && term.unit === "" && wanted.kind === "time" && isClockNumber(term.value))
    return scope.faults.add(term.span, { kind: "timeByPoint", written: writeTerm(term) });
  const remedy = wanted.kind === "instant" ? "Write a date and a time: 2026-03-14 08:00." : meantTime(term, wanted);
  const what = `${writeTerm(term)}, ${sayType(found)}`;
  scope.faults.add(term.span, { kind: "wrongType", what, wanted: sayType(wanted), ...(remedy && { remedy }) });
}

/** `20°` of a temperature, `5m` of a time: how it is written. */
function meantNumber(number: string, found: Dimension, wanted: Dimension): string | undefined {
  if (wanted === "temperature" && found === "angle") return `Write ${number} °C.`;
  if (wanted === "temperature" && found === "temperature difference") return "K is for differences. Write °C or °F.";
  return wanted === "duration" && found === "length" ? `Write ${number} min.` : undefined;
}

/** `00:05` as a length of time, `7 h 30 min` as a time of day: how it is written. */
function meantTime(term: Term, wanted: Type): string | undefined {
  if (term.kind === "duration" && wanted.kind === "time" && term.ms <= DAY) return `Write ${writeTimeOfDay(term.ms)}.`;
  const isLength = wanted.kind === "number" && wanted.dimension === "duration";
  return term.kind === "time" && isLength ? `Write ${writeDuration(term.ms)}.` : undefined;
}

/** Hours, and minutes after the point. */
function isClockNumber(value: number): boolean {
  return value < 24 && Math.round((value % 1) * 100) < 60 && Math.abs(value * 100 - Math.round(value * 100)) < 1e-9;
}
