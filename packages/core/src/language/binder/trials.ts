// Trials: moments, settings, happenings and expectations.
import type { Expectation, Expression, Happening, Occurrence, Recorded, Setting, Trial } from "../../house/index.js";
import type { ExpectationNode, HappeningNode, OccurrenceNode, OfKind, Quoted, Term, TrialNode, Word } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { constantIn } from "./constant.js";
import type { HouseSymbol, Scope, SymbolKind } from "./scope.js";
import { bindApart, bindCondition, bindDuration, bindTerm, bindValue } from "./terms.js";
import { headingOf, plainText } from "./text.js";
import { differenceOf, duration, instant, typeOfValue } from "./type.js";

/** What recordings say, by file. */
export type Recordings = Readonly<Record<string, readonly Recorded[]>>;

export function bindTrial(node: TrialNode, outer: Scope, recordings: Recordings): Trial | undefined {
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
    ...(beginning.replay && bindReplay(beginning.replay, scope, recordings)),
    ...(node.simulated && { simulated: weather ? { weather: weather.name } : {} }),
    given: given.filter((setting) => setting !== undefined),
    happenings: happenings.filter((happening) => happening !== undefined),
    expectations: expectations.filter((expectation) => expectation !== undefined),
  };
}

function bindReplay(quoted: Quoted, scope: Scope, recordings: Recordings): Pick<Trial, "replay" | "recorded"> {
  const replay = plainText(quoted);
  const recorded = recordings[replay];
  if (!recorded) scope.faults.add(quoted.span, { kind: "missingRecording", file: replay });
  return { replay, ...(recorded && { recorded }) };
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

/** A fixed value for a thing. What a sensor is told may be out of its range on purpose. */
function bindSetting(name: Word, value: Term, scope: Scope, kinds: readonly SymbolKind[]): Setting | undefined {
  const symbol = scope.resolve(name, kinds);
  const bound = bindOwn(symbol, value, scope);
  return symbol && bound && { name: symbol.name, value: bound };
}

function bindOwn(symbol: HouseSymbol | undefined, value: Term, scope: Scope): Expression | undefined {
  if (!symbol?.type) return bindApart(value, scope);
  const bound = bindValue(value, scope, typeOfValue(symbol.type), symbol.kind === "sensor" ? undefined : symbol.range);
  if (!bound) return undefined;
  if (!["word", "unknown", "colour"].includes(bound.kind) && constantIn(bound) === undefined) {
    scope.faults.add(value.span, { kind: "wrongType", what: writeTerm(value), wanted: "a fixed value" });
    return undefined;
  }
  return bound;
}

function bindHappening(node: HappeningNode, scope: Scope): Happening | undefined {
  const what = bindOccurrence(node.what, scope);
  const when = bindWhen(node.when, scope);
  if (what?.kind === "moves to" && when && !("to" in when)) {
    const remedy = "Say from when to when: from 07:40 to 08:10 … moves to ….";
    scope.faults.add(node.span, { kind: "missing", what: "A move takes its time.", remedy });
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

type Bind<Kind extends OccurrenceNode["kind"]> = (node: OfKind<OccurrenceNode, Kind>, scope: Scope) => Occurrence | undefined;

/** What is done to one thing, of some kinds. */
const done =
  (kinds: readonly SymbolKind[]) =>
  (node: { readonly kind: string; readonly name: Word }, scope: Scope): Occurrence | undefined => {
    const symbol = scope.resolve(node.name, kinds);
    return symbol && ({ kind: node.kind, name: symbol.name } as Occurrence);
  };

const lasting: Bind<"reports every" | "arrives late"> = (node, scope) => {
  const sensor = scope.resolve(node.name, ["sensor"]);
  const by = bindDuration(node.value, scope);
  return sensor && by && { kind: node.kind, name: sensor.name, by };
};

const bindSettingOf: Bind<"moves to"> = (node, scope) => {
  const setting = bindSetting(node.name, node.value, scope, ["sensor"]);
  return setting && { kind: "moves to", ...setting };
};

const occurrences: { [Kind in OccurrenceNode["kind"]]: Bind<Kind> } = {
  "the house restarts": (node) => node,
  "the house is down": (node, scope) => {
    const lasts = bindDuration(node.for, scope);
    return lasts && { kind: node.kind, for: lasts };
  },
  "the clock jumps": (node, scope) => {
    const by = bindValue(node.by, scope, duration);
    return by && { kind: node.kind, by };
  },
  "person sets": (node, scope) => {
    const symbol = scope.resolve(node.name, ["output", "group", "dial", "mode"]);
    const [first] = symbol?.members?.() ?? [symbol];
    const value = bindOwn(first, node.value, scope);
    const lasts = node.for && bindDuration(node.for, scope);
    return symbol && value && { kind: node.kind, name: symbol.name, value, ...(lasts && { for: lasts }) };
  },
  "person pauses": (node, scope) => {
    const rule = scope.resolve(node.name, ["rule"]);
    const lasts = node.for && bindDuration(node.for, scope);
    return rule && { kind: node.kind, name: rule.name, ...(lasts && { for: lasts }) };
  },
  "person releases": done(["output", "group"]),
  "person resumes": done(["rule"]),
  "person applies": done(["preset"]),
  "person starts": done(["countdown"]),
  "person stops": done(["countdown"]),
  "person runs": done(["rule"]),
  message: ({ topic, reads }) => ({ kind: "message", topic: plainText(topic), reads: plainText(reads) }),
  is: (node, scope) => {
    const symbol = scope.find(node.name);
    if (symbol?.type?.kind === "press" && node.value.kind === "name" && node.value.text === "pressed")
      return { kind: "is pressed", name: symbol.name };
    const setting = bindSetting(node.name, node.value, scope, ["sensor", "dial", "mode"]);
    return setting && { kind: "is", ...setting };
  },
  "moves to": bindSettingOf,
  "falls silent": done(["sensor"]),
  sticks: done(["sensor"]),
  refuses: done(["output"]),
  "jumps to": (node, scope) => {
    const setting = bindSetting(node.name, node.value, scope, ["sensor"]);
    const lasts = bindDuration(node.for, scope);
    return setting && lasts && { kind: node.kind, ...setting, for: lasts };
  },
  "reports every": lasting,
  "arrives late": lasting,
  "wobbles by": (node, scope) => {
    const sensor = scope.resolve(node.name, ["sensor"]);
    const by = sensor?.type && bindValue(node.value, scope, differenceOf(typeOfValue(sensor.type)));
    return sensor && by && { kind: node.kind, name: sensor.name, by };
  },
};

function bindOccurrence(node: OccurrenceNode, scope: Scope): Occurrence | undefined {
  const bind = occurrences[node.kind] as (node: OccurrenceNode, scope: Scope) => Occurrence | undefined;
  return bind(node, scope);
}
