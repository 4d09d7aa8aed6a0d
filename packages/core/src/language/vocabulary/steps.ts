// Everything the language knows of the steps of a `do`, a row each.
import type { Expression, Group, Lasting, Range, Step } from "../../house/index.js";
import { differenceUnit, type Unit, writeNumber } from "../../units/index.js";
import { bindUntil } from "../binder/occasions.js";
import type { HouseSymbol, Scope } from "../binder/scope.js";
import { bindFor } from "../binder/targets.js";
import { bindApart, bindCondition, bindDuration, bindValue } from "../binder/terms.js";
import { bindText } from "../binder/text.js";
import { differenceOf, numberType, typeOfValue } from "../binder/type.js";
import { stepHabits } from "../habits.js";
import { comesSwitch } from "../parser/ahead.js";
import type { Cursor } from "../parser/cursor.js";
import { occasion as readOccasion } from "../parser/occasions.js";
import { switched } from "../parser/switched.js";
import { condition } from "../parser/terms.js";
import { either, firstWords, maybe, type Row, readOne, readPhrase, row, type Slot } from "../phrase.js";
import type { BranchNode, ChoiceNode, OccasionNode, OfKind, StepNode, Term, Word } from "../syntax.js";
import { together } from "../unbind/groups.js";
import { unbindUntil } from "../unbind/occasions.js";
import { nowhere, unbindTerm, unbindText, word as wordOf } from "../unbind/terms.js";
import { writeOccasion } from "../write/occasions.js";
import { writeTerm } from "../write/terms.js";
import { name, quoted, sum, value } from "./slots.js";

/** A step for a group makes one for each of its outputs. */
type StepRow<Of extends Step = Step> = Row<Of, Scope, readonly Group[], readonly Step[]>;
const step = <Kind extends Step["kind"]>() => row<OfKind<Step, Kind>, Scope, readonly Group[], readonly Step[]>();

const settable = name("an output, a dial or a mode");
const output = name("an output");
const countdown = name("a countdown");

/** What a button does instead with what has more than two states. */
function insteadOfToggle({ name: what, type, range }: HouseSymbol): { readonly remedy?: string } {
  const between = (one: string, is: string, other: string) => ({
    remedy: `Write if ${what} ${is} { set ${what} to ${other} } else { set ${what} to ${one} }.`,
  });
  if (type?.kind === "words") return between(type.words[0] as string, `is ${type.words[0]}`, type.words[1] as string);
  // The symbol of an output in % has its range.
  if (type?.kind !== "number" || !range) return {};
  const [low, high] = range.map((bound) => `${writeNumber(bound)} ${type.unit}`.trim()) as [string, string];
  return between(high, `above ${low}`, low);
}

const occasion: Slot<OccasionNode> = { says: "a moment", read: readOccasion, write: writeOccasion };

const choice: Slot<ChoiceNode> = {
  says: "a condition",
  read(c) {
    const branches: BranchNode[] = [branch(c)];
    while (c.takeWords("else", "if")) branches.push(branch(c));
    return { branches, ...(c.takeWord("else") && { else: readSteps(c, "else") }) };
  },
  // Laid out over several lines, see `write/rules`.
  write: ({ branches }) => branches.map((one) => writeTerm(one.condition)).join(" else if "),
};

function branch(c: Cursor): BranchNode {
  const when = condition(c);
  const { token } = c;
  const isNeedless = c.isSign("{", 1) && (c.comes("then") || c.comes("do"));
  if (isNeedless) c.takeMeant("", [token.text]);
  else if (c.comes("then") || begins.has(token.text)) {
    const step = c.comes("then") ? c.peek().text : token.text;
    c.missing(token, "Steps need braces.", `Write if … { ${step} … }.`);
  }
  return { condition: when, steps: readSteps(c, "if") };
}

/** Steps of its own. */
const block: Slot<readonly StepNode[]> = {
  says: "steps",
  read: (c) => readSteps(c, "otherwise"),
  // Laid out over several lines, see `write/rules`.
  write: () => "{ … }",
};

/** How long something is set; left out, permanently. */
const lasting = either(["for", { lasts: sum }], ["until", { until: occasion }, maybe(", at most", { most: sum })]);
type LastingParts = { readonly lasts?: Term; readonly until?: OccasionNode; readonly most?: Term };

function bindLasting(parts: LastingParts, scope: Scope): Lasting {
  const lasts = parts.lasts && bindDuration(parts.lasts, scope);
  const until = parts.until && bindUntil(parts.until, scope);
  const atMost = parts.most && bindDuration(parts.most, scope);
  return { ...(lasts && { for: lasts }), ...(until && { until }), ...(atMost && { atMost }) };
}

function unbindLasting({ for: lasts, until, atMost }: Lasting): LastingParts {
  return {
    ...(lasts && { lasts: unbindTerm(lasts) }),
    ...(until && { until: unbindUntil(until) }),
    ...(atMost && { most: unbindTerm(atMost) }),
  };
}

export const stepRows: { readonly [Kind in Step["kind"]]: StepRow<OfKind<Step, Kind>> } = {
  set: step<"set">()(["set", { name: settable }, "to", { to: value }, lasting], {
    bind(parts, scope) {
      const symbols = symbolsOf(parts.name, scope);
      const lasts = bindLasting(parts, scope);
      if (symbols.length === 0) bindApart(parts.to, scope);
      return symbols.flatMap((symbol): Step[] => {
        const to = bindFor(symbol, parts.to, scope);
        return to ? [{ kind: "set", name: symbol.name, to, ...lasts }] : [];
      });
    },
    unbind: ({ name: what, to, ...lasts }) => ({ name: wordOf(what), to: unbindTerm(to), ...unbindLasting(lasts) }),
  }),
  toggle: step<"toggle">()(["toggle", { name: settable }], {
    bind: (parts, scope) =>
      symbolsOf(parts.name, scope).flatMap((symbol): Step[] => {
        const { name: what, type } = symbol;
        if (type?.kind === "words" && type.words.length === 2) return [{ kind: "toggle", name: what }];
        const wanted = "something with exactly two states";
        scope.faults.add(parts.name.span, { kind: "wrongType", what, wanted, ...insteadOfToggle(symbol) });
        return [];
      }),
    unbind: ({ name: what }) => ({ name: wordOf(what) }),
  }),
  raise: step<"raise">()(["raise", { name: settable }, "by", { by: sum }], {
    bind: (parts, scope) => relative("raise", parts, scope),
    unbind: ({ name: what, by }) => ({ name: wordOf(what), by: unbindTerm(by) }),
  }),
  lower: step<"lower">()(["lower", { name: settable }, "by", { by: sum }], {
    bind: (parts, scope) => relative("lower", parts, scope),
    unbind: ({ name: what, by }) => ({ name: wordOf(what), by: unbindTerm(by) }),
  }),
  ramp: step<"ramp">()(["ramp", { output }, "from", { from: sum }, "to", { to: sum }, "over", { over: sum }], {
    bind(parts, scope) {
      const found = scope.outputs(parts.output);
      const wrong = found.find(({ type }) => type?.kind !== "number");
      if (wrong) {
        scope.faults.add(parts.output.span, { kind: "wrongType", what: wrong.name, wanted: "an output with a number" });
        return [];
      }
      const [first] = found;
      const [from, to] = [parts.from, parts.to].map((term) => first && bindFor(first, term, scope));
      const over = bindDuration(parts.over, scope);
      return from && to && over ? [{ kind: "ramp", outputs: found.map(({ name: one }) => one), from, to, over }] : [];
    },
    unbind: ({ outputs, from, to, over }, groups) => ({
      output: together(outputs, groups),
      from: unbindTerm(from),
      to: unbindTerm(to),
      over: unbindTerm(over),
    }),
  }),
  dose: step<"dose">()(["dose", { output }, { amount: sum }, maybe("otherwise", { otherwise: block })], {
    bind(parts, scope) {
      const found = scope.resolve(parts.output, ["output"]);
      const amount = bindValue(parts.amount, scope, numberType("ml"));
      if (found && !found.doses) {
        const remedy = "Calibrate it, for example: delivers 12 ml/s after 0.4 s.";
        scope.faults.add(parts.output.span, { kind: "wrongType", what: found.name, wanted: "an output that delivers", remedy });
        return [];
      }
      const otherwise = parts.otherwise && bindSteps(parts.otherwise, scope);
      return found && amount ? [{ kind: "dose", output: found.name, amount, ...(otherwise && { otherwise }) }] : [];
    },
    unbind: ({ output: what, amount, otherwise }, groups) => ({
      output: wordOf(what),
      amount: unbindTerm(amount),
      ...(otherwise && { otherwise: unbindSteps(otherwise, groups) }),
    }),
  }),
  release: step<"release">()(["release", { output }], {
    bind: (parts, scope) => scope.outputs(parts.output).map((found) => ({ kind: "release", output: found.name })),
    unbind: ({ output: what }) => ({ output: wordOf(what) }),
  }),
  apply: step<"apply">()(["apply", { preset: name("a preset") }, lasting], {
    bind(parts, scope) {
      const preset = scope.resolve(parts.preset, ["preset"]);
      const lasts = bindLasting(parts, scope);
      return preset ? [{ kind: "apply", preset: preset.name, ...lasts }] : [];
    },
    unbind: ({ preset, ...lasts }) => ({ preset: wordOf(preset), ...unbindLasting(lasts) }),
  }),
  start: step<"start">()(["start", { countdown }, maybe("with", { lasts: sum })], {
    bind(parts, scope) {
      const found = scope.resolve(parts.countdown, ["countdown"]);
      const lasts = parts.lasts && bindDuration(parts.lasts, scope);
      return found ? [{ kind: "start", countdown: found.name, ...(lasts && { with: lasts }) }] : [];
    },
    unbind: ({ countdown: what, with: lasts }) => ({ countdown: wordOf(what), ...(lasts && { lasts: unbindTerm(lasts) }) }),
  }),
  stop: step<"stop">()(["stop", { countdown }], {
    bind(parts, scope) {
      const found = scope.resolve(parts.countdown, ["countdown"]);
      return found ? [{ kind: "stop", countdown: found.name }] : [];
    },
    unbind: ({ countdown: what }) => ({ countdown: wordOf(what) }),
  }),
  wait: step<"wait">()(["wait", { lasts: sum }], {
    bind(parts, scope) {
      const lasts = bindDuration(parts.lasts, scope);
      return lasts ? [{ kind: "wait", for: lasts }] : [];
    },
    unbind: ({ for: lasts }) => ({ lasts: unbindTerm(lasts) }),
  }),
  "wait until": step<"wait until">()(["wait until", { until: occasion }, maybe(", at most", { most: sum })], {
    bind(parts, scope) {
      const until = bindUntil(parts.until, scope);
      const atMost = parts.most && bindDuration(parts.most, scope);
      return until ? [{ kind: "wait until", until, ...(atMost && { atMost }) }] : [];
    },
    unbind: ({ until, atMost }) => ({ until: unbindUntil(until), ...(atMost && { most: unbindTerm(atMost) }) }),
  }),
  if: step<"if">()(["if", { choice }], {
    bind({ choice: { branches, else: otherwise } }, scope) {
      const bound = branches.map((one) => ({ if: bindCondition(one.condition, scope), do: bindSteps(one.steps, scope) }));
      const last = otherwise ? bindSteps(otherwise, scope) : [];
      if (bound.some((one) => one.if === undefined)) return [];
      return [{ kind: "if", branches: bound as { if: Expression; do: Step[] }[], else: last }];
    },
    unbind({ branches, else: otherwise }, groups) {
      const nodes = branches.map((one) => ({ condition: unbindTerm(one.if), steps: unbindSteps(one.do, groups) }));
      return { choice: { branches: nodes, ...(otherwise.length > 0 && { else: unbindSteps(otherwise, groups) }) } };
    },
  }),
  tell: step<"tell">()(
    [
      "tell",
      { text: quoted },
      maybe("through", { through: name("a way to a person") }),
      maybe(", at most once in", { onceIn: sum }),
    ],
    {
      bind(parts, scope) {
        const onceIn = parts.onceIn && bindDuration(parts.onceIn, scope);
        const through = parts.through && { through: parts.through.text };
        return [{ kind: "tell", text: bindText(parts.text, scope), ...through, ...(onceIn && { onceIn }) }];
      },
      unbind: ({ text, through, onceIn }) => ({
        text: unbindText(text),
        ...(through !== undefined && { through: wordOf(through) }),
        ...(onceIn && { onceIn: unbindTerm(onceIn) }),
      }),
    },
  ),
  send: step<"send">()(["send", { text: quoted }, "to", { to: quoted }], {
    bind: (parts, scope) => [{ kind: "send", text: bindText(parts.text, scope), to: bindText(parts.to, scope) }],
    unbind: ({ text, to }) => ({ text: unbindText(text), to: unbindText(to) }),
  }),
  "end here": step<"end here">()(["end here"], { bind: () => [{ kind: "end here" }], unbind: () => ({}) }),
};

function symbolsOf(what: Word, scope: Scope): readonly HouseSymbol[] {
  return scope.outputs(what, ["output", "group", "dial", "mode"]);
}

function relative(kind: "raise" | "lower", parts: { readonly name: Word; readonly by: StepParts }, scope: Scope): Step[] {
  return symbolsOf(parts.name, scope).flatMap(({ name: what, type, range }): Step[] => {
    if (type?.kind !== "number") {
      scope.faults.add(parts.name.span, { kind: "wrongType", what, wanted: "an output or a dial with a number" });
      return [];
    }
    const by = bindPointsOf(range, type.unit, parts.by, scope) ?? bindValue(parts.by, scope, differenceOf(typeOfValue(type)));
    return by ? [{ kind, name: what, by }] : [];
  });
}

/** `by 10 %` of what is measured in something else: that share of its range. */
function bindPointsOf(range: Range | undefined, unit: Unit, by: Term, scope: Scope): Expression | undefined {
  if (!range || unit === "%" || by.kind !== "number" || by.unit !== "%") return undefined;
  const difference = differenceUnit(unit);
  const value = ((range[1] - range[0]) * by.value) / 100;
  return bindValue({ ...by, value, unit: difference }, scope, numberType(difference));
}

type StepParts = Parameters<typeof bindValue>[0];

// ── Blocks of steps ─────────────────────────────────────────────────────────────────────────────────────────────────────

const begins: ReadonlySet<string> = new Set(firstWords(stepRows));

export function readSteps(c: Cursor, what: string): StepNode[] {
  return c.block(what, begins, () => {
    while ((c.isSign(",") || c.comes("and") || c.comes("then")) && (begins.has(c.peek().text) || comesSwitch(c, 1)))
      c.takeMeant("", [c.token.text]);
    if ((c.isSign(",") || c.comes("and")) && c.isName(1) && c.comes("to", 2)) c.takeMeant("", [c.token.text]);
    return readStep(c);
  });
}

/** One step, as it is written or as people say it. */
export function readStep(c: Cursor): StepNode {
  const first = c.token;
  const target = switched(c, "set", "to");
  if (c.comesAll(["wait", "for"]) && !c.comes("to", 2)) return waitFor(c);
  if (!target) return readOne(c, stepRows, { besides: ["the closing }"], remedy: c.instead(stepHabits) });
  const isOver = c.comes("during") && c.isName(1);
  const parts = { name: target.name, to: target.value, ...(!isOver && readPhrase(c, [lasting])) };
  return { kind: "set", parts, span: c.span(first) };
}

/** `wait for 5 min`: told, and read on with. */
function waitFor(c: Cursor): StepNode {
  const first = c.token;
  c.takeAllMeant("wait", ["wait", "for"]);
  return { kind: "wait", parts: { lasts: sum.read(c) }, span: c.span(first) };
}

export function bindSteps(nodes: readonly StepNode[], scope: Scope): Step[] {
  const end = nodes.findIndex(({ kind }) => kind === "end here");
  const behind = end < 0 ? undefined : nodes[end + 1];
  if (behind)
    scope.faults.add(behind.span, {
      kind: "missing",
      what: "Steps after end here never run.",
      remedy: "Remove them, or end later.",
    });
  return nodes.flatMap(({ kind, parts }) => stepRows[kind].bind(parts, scope));
}

/** @param groups of the house */
export function unbindSteps(steps: readonly Step[], groups: readonly Group[]): StepNode[] {
  return steps.map((one) => ({ kind: one.kind, parts: (stepRows[one.kind] as StepRow).unbind(one, groups), span: nowhere }));
}
