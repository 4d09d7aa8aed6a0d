// Rules and guards as lines.
import { writeDays } from "../../time/index.js";
import { writeOne } from "../phrase.js";
import type {
  ActionNode,
  ChoiceNode,
  DriveNode,
  EventNode,
  GuardNode,
  RuleNode,
  SentenceNode,
  StateNode,
  StepNode,
  Term,
  TriggerNode,
} from "../syntax.js";
import { stepRows } from "../vocabulary/steps.js";
import { flow, type Line, WIDTH } from "./layout.js";
import { writeOccasion } from "./occasions.js";
import { block, heading, note, writeTargets } from "./parts.js";
import { writeQuoted, writeTerm } from "./terms.js";

export function rule(node: RuleNode, indent: number): Line[] {
  const standing = node.standing ? ` as ${node.standing.text}` : "";
  const title = node.title ? ` ${writeQuoted(node.title)}` : "";
  const body = node.sentences.flatMap((one) => sentence(one, indent + 1));
  return block(indent, `rule ${node.name.text}${standing}${title}`, node, [...note(node, indent + 1), ...body]);
}

export function sentence(node: SentenceNode, indent: number): Line[] {
  return node.kind === "event" ? event(node, indent) : state(node, indent);
}

/** A sentence in lines that may stand behind one another. */
export function saySentence(node: SentenceNode): string[] {
  if (node.kind === "state") return textsOf(state(node, 0));
  const provided = node.provided ? textsOf(condition(0, "provided", node.provided, 0)) : [];
  return [...sayTriggers(node.triggers), ...provided, ...saySteps(node.steps)];
}

/** The same of what starts steps. */
export const sayTriggers = (list: readonly TriggerNode[]): string[] => textsOf(triggersOf(list, 0, 0));

/** The same of steps in their braces. */
export function saySteps(list: readonly StepNode[]): string[] {
  const lines = textsOf(list.flatMap((one) => writeStep(one, 0)));
  const last = lines.length - 1;
  return lines.map((line, place) => `${place === 0 ? "do { " : ""}${line}${place === last ? " }" : ""}`);
}

const textsOf = (lines: readonly Line[]) => lines.map(({ text }) => text);

/** A condition, broken before each of its `and` or `or` where it is too long for one line. */
function condition(indent: number, head: string, term: Term, at: number): Line[] {
  if (term.kind !== "and" && term.kind !== "or") return flow(indent, head, [{ text: writeTerm(term), at }], at);
  const parts = term.of.map((part, index) => {
    const text = index === 0 ? writeTerm(part) : `${term.kind} ${writeTerm(part)}`;
    return { text, at: part.span.from };
  });
  return flow(indent, head, parts, at);
}

function state(node: StateNode, indent: number): Line[] {
  const head = node.while ? condition(indent, "while", node.while, node.span.from) : [];
  return [...head, ...node.actions.flatMap((action) => writeAction(action, indent))];
}

function writeAction(node: ActionNode, indent: number): Line[] {
  const at = node.span.from;
  if (node.kind === "hold") return flow(indent, "hold", writeTargets(node.targets, "at"), at);
  if (node.kind === "cycle") {
    return [{ indent, text: `cycle ${node.output.text} on ${writeTerm(node.on)} off ${writeTerm(node.off)}`, at }];
  }
  const target =
    "target" in node.at ? `at ${writeTerm(node.at.target)}` : `between ${writeTerm(node.at.low)} and ${writeTerm(node.at.high)}`;
  const { tolerance } = node;
  const upper = tolerance?.above ? `..${writeTerm(tolerance.above)}` : "";
  const band = tolerance ? ` ± ${writeTerm(tolerance.below)}${upper}` : "";
  const drives = node.drives.map((drive) => ({ indent: indent + 1, text: writeDrive(drive), at: drive.span.from }));
  return [{ indent, text: `keep ${writeTerm(node.value)} ${target}${band}`, at }, ...drives];
}

function writeDrive({ way, output, proportion }: DriveNode): string {
  const cycle = proportion?.cycle ? `, cycle ${writeTerm(proportion.cycle)}` : "";
  return `${way} with ${output.text}${proportion ? ` in proportion over ${writeTerm(proportion.over)}${cycle}` : ""}`;
}

function event(node: EventNode, indent: number): Line[] {
  const triggers = triggersOf(node.triggers, indent, node.span.from);
  const provided = node.provided ? condition(indent, "provided", node.provided, node.provided.span.from) : [];
  const again = node.again ? [{ indent, text: `if triggered again, ${node.again}`, at: node.span.to - 1 }] : [];
  return [...triggers, ...provided, ...steps("do", node.steps, node.doSpan, indent), ...again];
}

function triggersOf(list: readonly TriggerNode[], indent: number, at: number): Line[] {
  return list.flatMap((one, index) => trigger(one, index === 0 ? "when" : "or when", indent, index === 0 ? at : one.span.from));
}

export function trigger(node: TriggerNode, word: string, indent: number, at: number): Line[] {
  const days = "days" in node && node.days ? ` on ${writeDays(node.days)}` : "";
  switch (node.kind) {
    case "condition":
      return condition(indent, word, node.condition, at);
    case "at":
      return [{ indent, text: `${word} at ${writeTerm(node.time)}${days}`, at }];
    case "every":
      return [{ indent, text: `${word} every ${writeTerm(node.every)}${days}`, at }];
    case "the house starts":
      return [{ indent, text: `${word} the house starts`, at }];
    default:
      return [{ indent, text: `${word} ${writeOccasion(node)}`, at }];
  }
}

/** Steps in a block; a single short one stands on the line of its head. */
function steps(head: string, list: readonly StepNode[], span: { from: number; to: number }, indent: number): Line[] {
  const lines = list.flatMap((step) => writeStep(step, indent + 1));
  const [only] = lines;
  const line = `${head} { ${only?.text ?? ""} }`;
  if (only && lines.length === 1 && 2 * indent + line.length <= WIDTH) return [{ indent, text: line, at: span.from }];
  return block(indent, head, { span }, lines);
}

function writeStep(node: StepNode, indent: number): Line[] {
  if (node.kind === "if") return choice(node, indent);
  const { otherwise, ...parts } = node.parts as { readonly otherwise?: readonly StepNode[] };
  if (otherwise) {
    const head = `${writeOne(stepRows, { kind: node.kind, parts })} otherwise`;
    return steps(head, otherwise, node.span, indent);
  }
  return [{ indent, text: writeOne(stepRows, node), at: node.span.from }];
}

function choice(node: StepNode, indent: number): Line[] {
  const { branches, else: otherwise } = node.parts.choice as ChoiceNode;
  const lines = branches.flatMap(({ condition: when, steps: list }, index) => {
    const head = `${index === 0 ? "" : "else "}if ${writeTerm(when)}`;
    const from = index === 0 ? node.span.from : when.span.from;
    return steps(head, list, { from, to: endOf(list, when.span.to) }, indent);
  });
  if (!otherwise) return lines;
  const from = otherwise[0]?.span.from ?? node.span.to;
  return [...lines, ...steps("else", otherwise, { from, to: node.span.to }, indent)];
}

function endOf(list: readonly StepNode[], fallback: number): number {
  return (list.at(-1)?.span.to ?? fallback) + 1;
}

export function guard(node: GuardNode, indent: number): Line[] {
  const entries = [...node.permits, ...node.apart].sort((a, b) => a.span.from - b.span.from);
  const lines = entries.flatMap((entry): Line[] => {
    const at = entry.span.from;
    if ("outputs" in entry) {
      const apart = entry.apart ? [{ text: `${writeTerm(entry.apart)} apart`, at }] : [];
      const names = [...entry.outputs.map(({ text }) => ({ text, at })), ...apart];
      const last = names.length - 1;
      return flow(
        indent + 1,
        "never together",
        names.map((one, index) => ({ ...one, text: index < last ? `${one.text},` : one.text })),
        at,
      );
    }
    const { output, bound, value, condition: term } = entry;
    return condition(indent + 1, `permit ${output.text} ${bound ? `${bound} ` : ""}${writeTerm(value)} only while`, term, at);
  });
  return block(indent, `guard ${heading(node)}`, node, [...note(node, indent + 1), ...lines]);
}
