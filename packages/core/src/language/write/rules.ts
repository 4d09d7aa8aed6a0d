// Rules and guards as lines.
import { writeDays } from "../../time/index.js";
import type {
  ActionNode,
  DriveNode,
  EventNode,
  GuardNode,
  OccasionNode,
  RuleNode,
  StateNode,
  StepNode,
  Term,
  TriggerNode,
} from "../syntax.js";
import { block, heading, note, writeTargets } from "./declarations.js";
import { flow, type Line, WIDTH } from "./layout.js";
import { writeQuoted, writeTerm } from "./terms.js";

export function rule(node: RuleNode, indent: number): Line[] {
  const standing = node.standing ? ` as ${node.standing.text}` : "";
  const title = node.title ? ` ${writeQuoted(node.title)}` : "";
  const body = node.sentences.flatMap((sentence) =>
    sentence.kind === "event" ? event(sentence, indent + 1) : state(sentence, indent + 1),
  );
  return block(indent, `rule ${node.name.text}${standing}${title}`, node, [...note(node, indent + 1), ...body]);
}

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
  const triggers = node.triggers.flatMap((trigger, index) =>
    writeTrigger(trigger, index === 0 ? "when" : "or when", indent, index === 0 ? node.span.from : trigger.span.from),
  );
  const provided = node.provided ? condition(indent, "provided", node.provided, node.provided.span.from) : [];
  const again = node.again ? [{ indent, text: `if triggered again, ${node.again}`, at: node.span.to - 1 }] : [];
  return [...triggers, ...provided, ...steps("do", node.steps, node.doSpan, indent), ...again];
}

function writeTrigger(node: TriggerNode, word: string, indent: number, at: number): Line[] {
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

function writeOccasion(node: OccasionNode): string {
  switch (node.kind) {
    case "condition":
      return writeTerm(node.condition);
    case "begins":
    case "ends":
      return `${node.name.text} ${node.kind}`;
    case "changes":
      return `${node.name.text} changes${node.by ? ` by ${writeTerm(node.by)}` : ""}`;
    case "becomes":
      return `${node.name.text} becomes ${writeTerm(node.value)}`;
    default:
      throw new RangeError(`no such occasion: ${JSON.stringify(node satisfies never)}`);
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
  return [{ indent, text: writePlainStep(node), at: node.span.from }];
}

function choice(node: Extract<StepNode, { kind: "if" }>, indent: number): Line[] {
  const lines = node.branches.flatMap(({ condition: when, steps: list }, index) => {
    const head = `${index === 0 ? "" : "else "}if ${writeTerm(when)}`;
    const from = index === 0 ? node.span.from : when.span.from;
    return steps(head, list, { from, to: endOf(list, when.span.to) }, indent);
  });
  if (!node.else) return lines;
  const from = node.else[0]?.span.from ?? node.span.to;
  return [...lines, ...steps("else", node.else, { from, to: node.span.to }, indent)];
}

function endOf(list: readonly StepNode[], fallback: number): number {
  return (list.at(-1)?.span.to ?? fallback) + 1;
}

function writePlainStep(node: Exclude<StepNode, { kind: "if" }>): string {
  switch (node.kind) {
    case "set": {
      const ends = node.for ? ` for ${writeTerm(node.for)}` : node.until ? ` until ${writeOccasion(node.until)}` : "";
      return `set ${node.name.text} to ${writeTerm(node.to)}${ends}`;
    }
    case "toggle":
    case "release":
    case "apply":
    case "stop":
      return `${node.kind} ${node.name.text}`;
    case "raise":
    case "lower":
      return `${node.kind} ${node.name.text} by ${writeTerm(node.by)}`;
    case "ramp":
      return `ramp ${node.name.text} from ${writeTerm(node.from)} to ${writeTerm(node.to)} over ${writeTerm(node.over)}`;
    case "dose":
      return `dose ${node.name.text} ${writeTerm(node.amount)}`;
    case "start":
      return `start ${node.name.text}${node.with ? ` with ${writeTerm(node.with)}` : ""}`;
    case "tell": {
      const through = node.through ? ` through ${node.through.text}` : "";
      return `tell ${writeQuoted(node.text)}${through}${node.onceIn ? `, at most once in ${writeTerm(node.onceIn)}` : ""}`;
    }
    case "send":
      return `send ${writeQuoted(node.text)} to ${writeQuoted(node.to)}`;
    case "wait":
      return `wait ${writeTerm(node.duration)}`;
    case "wait until":
      return `wait until ${writeOccasion(node.occasion)}${node.atMost ? `, at most ${writeTerm(node.atMost)}` : ""}`;
    case "end here":
      return "end here";
    default:
      throw new RangeError(`no such step: ${JSON.stringify(node satisfies never)}`);
  }
}

export function guard(node: GuardNode, indent: number): Line[] {
  const permits = node.permits.flatMap(({ output, bound, value, condition: term, span }) => {
    const head = `permit ${output.text} ${bound ? `${bound} ` : ""}${writeTerm(value)} only while`;
    return condition(indent + 1, head, term, span.from);
  });
  return block(indent, `guard ${heading(node)}`, node, [...note(node, indent + 1), ...permits]);
}
