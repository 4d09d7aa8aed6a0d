// Rules and guards of a house as nodes of a tree. A `while` that says several things is a sentence for each of them.
import type { Drive, Group, Guard, Keep, Named, NeverTogether, Permit, Rule, Sentence, Target } from "../../house/index.js";
import type {
  ActionNode,
  ApartNode,
  DriveNode,
  GuardNode,
  PermitNode,
  RuleNode,
  SentenceNode,
  TargetNode,
  Term,
} from "../syntax.js";
import { unbindSteps } from "../vocabulary/steps.js";
import { together } from "./groups.js";
import { unbindTrigger } from "./occasions.js";
import { quoted, nowhere as span, unbindTerm, word } from "./terms.js";

/** The name, title and note of a declaration. */
export function unbindHeading({ name, title, note }: Named, called = name) {
  return {
    name: word(called),
    ...(title !== undefined && { title: quoted(title) }),
    ...(note !== undefined && { note: quoted(note) }),
  };
}

/** @param groups of the house: several outputs of a sentence are one of them */
export function unbindRule({ standing, sentences, ...named }: Rule, groups: readonly Group[]): RuleNode {
  return {
    kind: "rule",
    ...unbindHeading(named),
    ...(standing !== "plain" && { standing: word(standing) }),
    sentences: sentences.map((sentence) => unbindSentence(sentence, groups)),
    span,
  };
}

export function unbindSentence(sentence: Sentence, groups: readonly Group[] = []): SentenceNode {
  if ("do" in sentence) {
    const { when, provided, do: steps, ifTriggeredAgain } = sentence;
    return {
      kind: "event",
      triggers: when.map(unbindTrigger),
      ...(provided && { provided: unbindTerm(provided) }),
      steps: unbindSteps(steps, groups),
      doSpan: span,
      ...(ifTriggeredAgain !== "start over" && { again: ifTriggeredAgain }),
      span,
    };
  }
  const condition = sentence.while && { while: unbindTerm(sentence.while) };
  return { kind: "state", ...condition, actions: [unbindAction(sentence, groups)], span };
}

function unbindAction(sentence: Exclude<Sentence, { readonly do: unknown }>, groups: readonly Group[]): ActionNode {
  if ("hold" in sentence) return { kind: "hold", targets: unbindTargets(sentence.hold), span };
  if ("keep" in sentence) return unbindKeep(sentence.keep, groups);
  const { outputs, on, off } = sentence.cycle;
  return { kind: "cycle", output: together(outputs, groups), on: unbindTerm(on), off: unbindTerm(off), span };
}

export function unbindTargets(targets: readonly Target[]): TargetNode[] {
  return targets.map(({ output, value }) => ({ name: word(output), value: unbindTerm(value) }));
}

function unbindKeep({ value, at, tolerance, raiseWith, lowerWith }: Keep, groups: readonly Group[]): ActionNode {
  return {
    kind: "keep",
    value: unbindTerm(value),
    at: "low" in at ? { low: unbindTerm(at.low), high: unbindTerm(at.high) } : { target: unbindTerm(at) },
    ...(tolerance && { tolerance: unbindTolerance(tolerance) }),
    drives: [...unbindDrive("raise", raiseWith, groups), ...unbindDrive("lower", lowerWith, groups)],
    span,
  };
}

function unbindTolerance({ below, above }: NonNullable<Keep["tolerance"]>) {
  const [low, high] = [unbindTerm(below), unbindTerm(above)];
  if (JSON.stringify(low) === JSON.stringify(high)) return { below: low, span };
  const signed = (sign: "-" | "+", of: Term): Term => ({ kind: "sign", sign, of, span });
  return { below: signed("-", low), above: signed("+", high), span };
}

function unbindDrive(way: "raise" | "lower", drive: Drive | undefined, groups: readonly Group[]): DriveNode[] {
  if (!drive) return [];
  const { outputs, proportion } = drive;
  const cycle = proportion?.cycle && { cycle: unbindTerm(proportion.cycle) };
  return [
    {
      way,
      output: together(outputs, groups),
      ...(proportion && { proportion: { over: unbindTerm(proportion.over), ...cycle } }),
      span,
    },
  ];
}

export function unbindGuard({ permits, neverTogether = [], ...named }: Guard): GuardNode {
  const apart = neverTogether.map(unbindApart);
  return { kind: "guard", ...unbindHeading(named), permits: permits.map(unbindPermit), apart, span };
}

export function unbindApart({ outputs, apart }: NeverTogether): ApartNode {
  return { outputs: outputs.map((output) => word(output)), ...(apart && { apart: unbindTerm(apart) }), span };
}

export function unbindPermit({ output, what, onlyWhile }: Permit): PermitNode {
  const permitted =
    "word" in what
      ? { value: { kind: "name" as const, text: what.word, span } }
      : "above" in what
        ? { bound: "above" as const, value: unbindTerm(what.above) }
        : { bound: "below" as const, value: unbindTerm(what.below) };
  return { output: word(output), ...permitted, condition: unbindTerm(onlyWhile), span };
}
