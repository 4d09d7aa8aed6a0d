// The steps of event sentences, branches included.
import type { Condition } from "./expression.js";
import type { Rule, Step } from "./house.js";

/** A step with the branches that lead to it. */
export interface PlacedStep {
  readonly step: Step;
  /** What must hold for it to be reached; `otherwise` where all branches before it must not. */
  readonly within: readonly { readonly step: Extract<Step, { kind: "if" }>; readonly branch: number }[];
}

/** Every step with the branches it stands in, in the order written; an `if` stands before what is in it. */
export function stepsIn(steps: readonly Step[], within: PlacedStep["within"] = []): PlacedStep[] {
  return steps.flatMap((step): PlacedStep[] => {
    if (step.kind === "dose") return [{ step, within }, ...stepsIn(step.otherwise ?? [], within)];
    if (step.kind !== "if") return [{ step, within }];
    const branches = [...step.branches.map((branch) => branch.do), step.else];
    return [{ step, within }, ...branches.flatMap((list, branch) => stepsIn(list, [...within, { step, branch }]))];
  });
}

/** The choices among steps, an outer one before what is in it. */
export function ifsIn(steps: readonly Step[]): Extract<Step, { kind: "if" }>[] {
  return stepsIn(steps).flatMap(({ step }) => (step.kind === "if" ? [step] : []));
}

/** What must hold in a branch: its condition and that none before it does; of the last, the `else`, only the latter. */
export function branchCondition(step: Extract<Step, { kind: "if" }>, branch: number): Condition {
  const before = step.branches.slice(0, branch).map((one): Condition => ({ kind: "not", of: one.if }));
  const own = step.branches[branch];
  const all = own ? [...before, own.if] : before;
  return all.length === 1 ? (all[0] as Condition) : { kind: "and", of: all };
}

/** What the steps of a rule set by name: outputs, dials, modes. */
export function setsIn(rule: Rule): ReadonlySet<string> {
  const steps = rule.sentences.flatMap((sentence) => ("do" in sentence ? stepsIn(sentence.do) : []));
  return new Set(steps.flatMap(({ step }) => ("name" in step ? [step.name] : [])));
}
