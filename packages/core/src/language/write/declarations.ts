// Declarations as lines in the canonical layout.
import type {
  ActionNode,
  Attribute,
  Declaration,
  EventNode,
  ExpectationNode,
  FactNode,
  GuardNode,
  HappeningNode,
  HouseEntry,
  OpeningNode,
  PhysicsEntry,
  Quoted,
  RuleNode,
  StateNode,
  StepNode,
  Term,
  ThingNode,
  TrialNode,
  TriggerNode,
  TypeNode,
  Word,
} from "../syntax.js";
import { writeDays } from "./days.js";
import { flow, type Line, WIDTH } from "./layout.js";
import { writeQuoted, writeTerm } from "./terms.js";

export function writeDeclaration(node: Declaration): Line[] {
  const at = node.span.from;
  const one = (text: string): Line[] => [{ indent: 0, text, at }];
  switch (node.kind) {
    case "house":
      return block(0, `house ${writeQuoted(node.title)}`, node, node.entries.map(houseEntry));
    case "zone":
      return block(0, `zone ${heading(node)}`, node, [...note(node), ...node.entries.flatMap((entry) => zoneEntry(entry))]);
    case "sensor":
    case "output":
    case "dial":
      return thing(node, 0);
    case "mode": {
      const words = node.words.map(({ text }) => text).join(node.ordered ? " < " : "/");
      return one(`mode ${heading(node)}: ${words}, at first ${node.first.text}${trailingNote(node)}`);
    }
    case "schedule":
      return block(0, `schedule ${heading(node)}`, node, [...note(node), ...node.openings.map(opening)]);
    case "rule":
      return rule(node, 0);
    case "guard":
      return guard(node, 0);
    case "trial":
      return trial(node);
    case "physics":
      return block(0, "physics", node, node.entries.flatMap(physicsEntry));
    case "weather":
      return facts(0, `weather ${heading(node)}`, node.facts, node.span);
    case "people":
      return block(
        0,
        "people",
        node,
        node.entries.map(({ zone, schedule, every, span }) => {
          const habit = every ? `, comes and goes every ${writeTerm(every)}` : "";
          return { indent: 1, text: `${zone.text} during ${schedule.text}${habit}`, at: span.from };
        }),
      );
    default:
      throw new RangeError(`no such declaration: ${JSON.stringify(node satisfies never)}`);
  }
}

type Placed = { readonly span: { readonly from: number; readonly to: number } };

function block(indent: number, head: string, { span }: Placed, body: readonly Line[]): Line[] {
  return [{ indent, text: `${head} {`, at: span.from }, ...body, { indent, text: "}", at: span.to - 1 }];
}

function heading({ name, title }: { name: Word; title?: Quoted }): string {
  return title ? `${name.text} ${writeQuoted(title)}` : name.text;
}

function note({ note: said }: { note?: Quoted }, indent = 1): Line[] {
  return said ? [{ indent, text: `note ${writeQuoted(said)}`, at: said.span.from }] : [];
}

function trailingNote({ note: said }: { note?: Quoted }): string {
  return said ? `, note ${writeQuoted(said)}` : "";
}

function houseEntry(entry: HouseEntry): Line {
  const line = (text: string): Line => ({ indent: 1, text, at: entry.span.from });
  switch (entry.kind) {
    case "place":
      return line(`place ${writeTerm(entry.latitude)}, ${writeTerm(entry.longitude)}`);
    case "clock":
      return line(`clock ${writeQuoted(entry.zone)}`);
    case "hand lasts":
      return line(`hand lasts ${writeTerm(entry.duration)}`);
    case "note":
      return line(`note ${writeQuoted(entry.text)}`);
    default:
      throw new RangeError(`no such entry: ${JSON.stringify(entry satisfies never)}`);
  }
}

function zoneEntry(node: ThingNode | RuleNode | GuardNode): Line[] {
  if (node.kind === "rule") return rule(node, 1);
  return node.kind === "guard" ? guard(node, 1) : thing(node, 1);
}

function thing(node: ThingNode, indent: number): Line[] {
  const attributes = node.attributes.map((attribute) => `, ${writeAttribute(attribute)}`).join("");
  const text = `${node.kind} ${heading(node)}: ${writeType(node.type)}${attributes}${trailingNote(node)}`;
  return [{ indent, text, at: node.span.from }];
}

function writeType(node: TypeNode): string {
  if (node.kind === "range") return `${writeTerm(node.low)}..${writeTerm(node.high)}`;
  if (node.kind === "words") return node.words.map(({ text }) => text).join(node.ordered ? " < " : "/");
  return node.word;
}

function writeAttribute(attribute: Attribute): string {
  switch (attribute.kind) {
    case "range":
      return `${writeTerm(attribute.low)}..${writeTerm(attribute.high)}`;
    case "unknown after":
      return `unknown after ${writeTerm(attribute.duration)}`;
    case "at least":
      return `${attribute.word.text} at least ${writeTerm(attribute.duration)}`;
    case "at rest":
    case "at first":
    case "step":
      return `${attribute.kind} ${writeTerm(attribute.value)}`;
    default:
      throw new RangeError(`no such attribute: ${JSON.stringify(attribute satisfies never)}`);
  }
}

function opening({ days, spans, span }: OpeningNode): Line {
  const written = spans.map(({ from, to }) => `${writeTerm(from)} to ${writeTerm(to)}`).join(", ");
  return { indent: 1, text: `${writeDays(days)} ${written}`, at: span.from };
}

// ── Rules ─────────────────────────────────────────────────────────────────────────────────────────────────────────────

function rule(node: RuleNode, indent: number): Line[] {
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
  if (node.kind === "hold") {
    const targets = node.targets.map(({ name, value }, index) => {
      const comma = index < node.targets.length - 1 ? "," : "";
      return { text: `${name.text} at ${writeTerm(value)}${comma}`, at: name.span.from };
    });
    return flow(indent, "hold", targets, at);
  }
  const target =
    "target" in node.at ? `at ${writeTerm(node.at.target)}` : `between ${writeTerm(node.at.low)} and ${writeTerm(node.at.high)}`;
  const { tolerance } = node;
  const upper = tolerance?.above ? `..${writeTerm(tolerance.above)}` : "";
  const band = tolerance ? ` ± ${writeTerm(tolerance.below)}${upper}` : "";
  const drives = node.drives.map(({ way, output, span }) => ({
    indent: indent + 1,
    text: `${way} with ${output.text}`,
    at: span.from,
  }));
  return [{ indent, text: `keep ${writeTerm(node.value)} ${target}${band}`, at }, ...drives];
}

function event(node: EventNode, indent: number): Line[] {
  const triggers = node.triggers.flatMap((trigger, index) =>
    writeTrigger(trigger, index === 0 ? "when" : "or when", indent, index === 0 ? node.span.from : trigger.span.from),
  );
  const provided = node.provided ? condition(indent, "provided", node.provided, node.provided.span.from) : [];
  const again = node.again ? [{ indent, text: `if triggered again, ${node.again}`, at: node.span.to - 1 }] : [];
  return [...triggers, ...provided, ...steps(node, indent), ...again];
}

function writeTrigger(node: TriggerNode, word: string, indent: number, at: number): Line[] {
  if (node.kind === "condition") return condition(indent, word, node.condition, at);
  if (node.kind !== "at") return [{ indent, text: `${word} ${node.name.text} ${node.kind}`, at }];
  const days = node.days ? ` on ${writeDays(node.days)}` : "";
  return [{ indent, text: `${word} at ${writeTerm(node.time)}${days}`, at }];
}

/** A single step stands on the line of its `do`, where it fits. */
function steps({ steps: list, doSpan }: EventNode, indent: number): Line[] {
  const texts = list.map((step) => ({ indent: indent + 1, text: writeStep(step), at: step.span.from }));
  const [only] = texts;
  const line = `do { ${only?.text ?? ""} }`;
  if (only && texts.length === 1 && 2 * indent + line.length <= WIDTH) return [{ indent, text: line, at: doSpan.from }];
  return block(indent, "do", { span: doSpan }, texts);
}

function writeStep(node: StepNode): string {
  switch (node.kind) {
    case "set": {
      const ends = node.for ? ` for ${writeTerm(node.for)}` : node.until ? ` until ${writeTerm(node.until)}` : "";
      return `set ${node.name.text} to ${writeTerm(node.to)}${ends}`;
    }
    case "tell":
      return `tell ${writeQuoted(node.text)}${node.through ? ` through ${node.through.text}` : ""}`;
    case "wait":
      return `wait ${writeTerm(node.duration)}`;
    case "wait until":
      return `wait until ${writeTerm(node.condition)}${node.atMost ? `, at most ${writeTerm(node.atMost)}` : ""}`;
    default:
      throw new RangeError(`no such step: ${JSON.stringify(node satisfies never)}`);
  }
}

function guard(node: GuardNode, indent: number): Line[] {
  const permits = node.permits.flatMap(({ output, bound, value, condition: term, span }) => {
    const head = `permit ${output.text} ${bound ? `${bound} ` : ""}${writeTerm(value)} only while`;
    return condition(indent + 1, head, term, span.from);
  });
  return block(indent, `guard ${heading(node)}`, node, [...note(node, indent + 1), ...permits]);
}

// ── Trials ────────────────────────────────────────────────────────────────────────────────────────────────────────────

function trial(node: TrialNode): Line[] {
  const lasts = node.lasts ? ` for ${writeTerm(node.lasts)}` : node.to ? ` to ${writeTerm(node.to)}` : "";
  const from: Line = { indent: 1, text: `from ${writeTerm(node.from)}${lasts}`, at: node.from.span.from };
  const weather = node.simulated?.weather ? `, weather ${node.simulated.weather.text}` : "";
  const simulated = node.simulated ? [{ indent: 1, text: `simulated${weather}`, at: node.simulated.span.from }] : [];
  const given = node.given.map(({ name, value }, index) => {
    const comma = index < node.given.length - 1 ? "," : "";
    return { text: `${name.text} is ${writeTerm(value)}${comma}`, at: name.span.from };
  });
  const body = [
    ...note(node),
    from,
    ...simulated,
    ...(given.length > 0 ? flow(1, "given", given, (given[0] as { at: number }).at) : []),
    ...node.happenings.map(happening),
    ...node.expectations.flatMap(expectation),
  ];
  return block(0, `trial ${heading(node)}`, node, body);
}

function happening({ when, what, span }: HappeningNode): Line {
  const moment = "at" in when ? `at ${writeTerm(when.at)}` : `${writeTerm(when.later)} later`;
  return { indent: 1, text: `${moment} ${writeOccurrence(what)}`, at: span.from };
}

function writeOccurrence(what: HappeningNode["what"]): string {
  if (what.kind === "the house restarts") return what.kind;
  return what.kind === "is" ? `${what.name.text} is ${writeTerm(what.value)}` : `${what.name.text} ${what.kind}`;
}

function expectation(node: ExpectationNode): Line[] {
  const claim = node.claim === "holds" ? "" : `${node.claim} `;
  const times = [
    node.by && `by ${writeTerm(node.by)}`,
    node.at && `at ${writeTerm(node.at)}`,
    node.from && `from ${writeTerm(node.from)}`,
    node.to && `to ${writeTerm(node.to)}`,
  ];
  const text = [`expect ${claim}${writeTerm(node.condition)}`, ...times.filter((time) => time !== undefined)].join(" ");
  return [{ indent: 1, text, at: node.span.from }];
}

// ── Physics ───────────────────────────────────────────────────────────────────────────────────────────────────────────

function physicsEntry(entry: PhysicsEntry): Line[] {
  const at = entry.span.from;
  switch (entry.kind) {
    case "zone":
      return facts(1, `zone ${entry.zone.text}`, entry.facts, entry.span);
    case "gives":
      return [{ indent: 1, text: `${entry.output.text} gives ${writeTerm(entry.amount)} of ${entry.what.text}`, at }];
    case "adds": {
      const text = `${entry.sensor.text} ${entry.word.text} adds ${writeTerm(entry.amount)} of leak to outdoors`;
      return [{ indent: 1, text, at }];
    }
    default:
      throw new RangeError(`no such entry: ${JSON.stringify(entry satisfies never)}`);
  }
}

/** Facts on the line of their heading, where they fit; else each on its own. */
function facts(indent: number, head: string, list: readonly FactNode[], span: Placed["span"]): Line[] {
  const written = list.map((fact) => `${fact.name} ${writeTerm(fact.value)}${fact.name === "window" ? " of daylight" : ""}`);
  const line = `${head} { ${written.join(", ")} }`;
  if (2 * indent + line.length <= WIDTH) return [{ indent, text: line, at: span.from }];
  const lines = list.map((fact, index) => {
    const comma = index < list.length - 1 ? "," : "";
    return { indent: indent + 1, text: `${written[index]}${comma}`, at: fact.span.from };
  });
  return block(indent, head, { span }, lines);
}
