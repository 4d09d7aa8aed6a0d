// Declarations as lines in the canonical layout.
import { writeDays } from "../../time/index.js";
import type {
  Attribute,
  Declaration,
  FactNode,
  HouseEntry,
  OpeningNode,
  PhysicsEntry,
  ProfileEntry,
  Quoted,
  TargetNode,
  Term,
  ThingNode,
  TypeNode,
  WiringNode,
  Word,
  ZoneEntry,
} from "../syntax.js";
import { writeDates } from "./dates.js";
import { type Line, WIDTH } from "./layout.js";
import { guard, rule } from "./rules.js";
import { writeQuoted, writeTerm } from "./terms.js";
import { trial } from "./trials.js";

export function writeDeclaration(node: Declaration, indent = 0): Line[] {
  const at = node.span.from;
  const one = (text: string): Line[] => [{ indent, text, at }];
  switch (node.kind) {
    case "house":
      return block(
        indent,
        `house ${writeQuoted(node.title)}`,
        node,
        node.entries.map((entry) => houseEntry(entry, indent + 1)),
      );
    case "zone": {
      const entries = node.entries.flatMap((entry: ZoneEntry) => writeDeclaration(entry, indent + 1));
      return block(indent, `zone ${heading(node)}`, node, [...note(node, indent + 1), ...entries]);
    }
    case "sensor":
    case "output":
    case "dial":
      return one(thing(node));
    case "mode": {
      const words = node.words.map(({ text }) => text).join(node.ordered ? " < " : "/");
      return one(`mode ${heading(node)}: ${words}, at first ${node.first.text}${trailingNote(node)}`);
    }
    case "group":
      return one(`group ${heading(node)} = ${node.members.map(({ text }) => text).join(", ")}${trailingNote(node)}`);
    case "let": {
      const type = node.type ? `: ${writeType(node.type)}` : "";
      return one(`let ${heading(node)}${type} = ${writeTerm(node.value)}${trailingNote(node)}`);
    }
    case "countdown":
      return one(`countdown ${heading(node)} = ${writeTerm(node.lasts)}${trailingNote(node)}`);
    case "preset":
      return preset(node, indent);
    case "schedule": {
      if (node.calendar) return one(`schedule ${heading(node)} from calendar ${writeQuoted(node.calendar)}${trailingNote(node)}`);
      const openings = node.openings.map((entry) => opening(entry, indent + 1));
      return block(indent, `schedule ${heading(node)}`, node, [...note(node, indent + 1), ...openings]);
    }
    case "profile": {
      const type = node.type ? `: ${writeType(node.type)}` : "";
      const head = `profile ${heading(node)}${type}${node.ramped ? " ramped" : ""}`;
      return block(indent, head, node, [
        ...note(node, indent + 1),
        ...node.entries.map((entry) => profileEntry(entry, indent + 1)),
      ]);
    }
    case "rule":
      return rule(node, indent);
    case "guard":
      return guard(node, indent);
    case "trial":
      return trial(node, indent);
    case "physics":
      return block(
        indent,
        "physics",
        node,
        node.entries.flatMap((entry) => physicsEntry(entry, indent + 1)),
      );
    case "weather":
      if (node.recording) return one(`weather ${heading(node)} from ${writeQuoted(node.recording)}`);
      return facts(indent, `weather ${heading(node)}`, node.facts, node.span);
    case "people":
      return block(
        indent,
        "people",
        node,
        node.entries.map(({ zone, schedule, every, breathes, span }) => {
          const habits = [every && `comes and goes every ${writeTerm(every)}`, breathes && `breathes ${writeTerm(breathes)}`];
          const text = [`${zone.text} during ${schedule.text}`, ...habits.filter((habit) => habit !== undefined)].join(", ");
          return { indent: indent + 1, text, at: span.from };
        }),
      );
    case "wire":
      return block(
        indent,
        `wire ${node.name.text}`,
        node,
        node.entries.map((entry) => ({ indent: indent + 1, text: wiring(entry), at: entry.span.from })),
      );
    case "repeat": {
      const values = node.values.map(writeTerm).join(", ");
      const body = node.body.flatMap((entry) => writeDeclaration(entry, indent + 1));
      return block(indent, `for each ${node.word.text} in ${values}`, node, body);
    }
    default:
      throw new RangeError(`no such declaration: ${JSON.stringify(node satisfies never)}`);
  }
}

type Placed = { readonly span: { readonly from: number; readonly to: number } };

export function block(indent: number, head: string, { span }: Placed, body: readonly Line[]): Line[] {
  return [{ indent, text: `${head} {`, at: span.from }, ...body, { indent, text: "}", at: span.to - 1 }];
}

export function heading({ name, title }: { name: Word; title?: Quoted }): string {
  return title ? `${name.text} ${writeQuoted(title)}` : name.text;
}

export function note({ note: said }: { note?: Quoted }, indent: number): Line[] {
  return said ? [{ indent, text: `note ${writeQuoted(said)}`, at: said.span.from }] : [];
}

function trailingNote({ note: said }: { note?: Quoted }): string {
  return said ? `, note ${writeQuoted(said)}` : "";
}

function houseEntry(entry: HouseEntry, indent: number): Line {
  const line = (text: string): Line => ({ indent, text, at: entry.span.from });
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

function thing(node: ThingNode): string {
  const attributes = node.attributes.map((attribute) => `, ${writeAttribute(attribute)}`).join("");
  return `${node.kind} ${heading(node)}: ${writeType(node.type)}${attributes}${trailingNote(node)}`;
}

function writeType(node: TypeNode): string {
  if (node.kind === "range") return `${writeTerm(node.low)}..${writeTerm(node.high)}`;
  if (node.kind === "words") return node.words.map(({ text }) => text).join(node.ordered ? " < " : "/");
  return node.kind === "colour of" ? `colour of ${node.of.text}` : node.word;
}

function writeAttribute(attribute: Attribute): string {
  switch (attribute.kind) {
    case "range":
      return `${writeTerm(attribute.low)}..${writeTerm(attribute.high)}`;
    case "unknown after":
    case "smooth over":
    case "uses":
    case "scale":
    case "offset":
    case "at rest":
    case "at first":
    case "step":
      return `${attribute.kind} ${writeTerm(attribute.value)}`;
    case "reads":
      return `reads ${attribute.points.map(({ raw, value }) => `${writeTerm(raw)} as ${writeTerm(value)}`).join(" and ")}`;
    case "device health":
      return "device health";
    case "at least":
      return `${attribute.word.text} at least ${writeTerm(attribute.duration)}`;
    case "at most": {
      const rest = `${attribute.then.text} at least ${writeTerm(attribute.rest)}`;
      return `${attribute.word.text} at most ${writeTerm(attribute.duration)} then ${rest}`;
    }
    case "delivers":
      return `delivers ${writeTerm(attribute.rate)}${attribute.after ? ` after ${writeTerm(attribute.after)}` : ""}`;
    case "without control":
      return `${writeTerm(attribute.value)} without control`;
    case "serves":
      return `serves ${attribute.zones.map(({ text }) => text).join(" and ")}`;
    default:
      throw new RangeError(`no such attribute: ${JSON.stringify(attribute satisfies never)}`);
  }
}

/** `a at b, c at d`, to be laid out in a line or several. */
export function writeTargets(targets: readonly TargetNode[], joins: string): { text: string; at: number }[] {
  return targets.map(({ name, value }, index) => {
    const comma = index < targets.length - 1 ? "," : "";
    return { text: `${name.text} ${joins} ${writeTerm(value)}${comma}`, at: name.span.from };
  });
}

function preset(node: Extract<Declaration, { kind: "preset" }>, indent: number): Line[] {
  const parts = writeTargets(node.targets, "at");
  const line = `preset ${heading(node)} { ${parts.map(({ text }) => text).join(" ")} }`;
  if (!node.note && 2 * indent + line.length <= WIDTH) return [{ indent, text: line, at: node.span.from }];
  const lines = parts.map(({ text, at }) => ({ indent: indent + 1, text, at }));
  return block(indent, `preset ${heading(node)}`, node, [...note(node, indent + 1), ...lines]);
}

function opening(node: OpeningNode, indent: number): Line {
  const at = node.span.from;
  if (node.kind !== "days") return { indent, text: `${node.kind} ${node.dates.map(writeDates).join(", ")}`, at };
  const spans = node.spans.map(({ from, to }) => `${writeTerm(from)} to ${writeTerm(to)}`).join(", ");
  return { indent, text: `${writeDays(node.days)} ${spans}`, at };
}

function profileEntry({ days, points, span }: ProfileEntry, indent: number): Line {
  const written = points.map(({ value, from }) => `${writeTerm(value)} from ${writeTerm(from)}`).join(", ");
  return { indent, text: `${writeDays(days)} ${written}`, at: span.from };
}

// ── Physics and wiring ────────────────────────────────────────────────────────────────────────────────────────────────

function physicsEntry(entry: PhysicsEntry, indent: number): Line[] {
  const line = (text: string): Line[] => [{ indent, text, at: entry.span.from }];
  switch (entry.kind) {
    case "zone":
      return facts(indent, `zone ${entry.zone.text}`, entry.facts, entry.span);
    case "gives":
      return line(`${entry.output.text} gives ${writeTerm(entry.amount)} of ${entry.what.text}`);
    case "adds":
      return line(`${entry.sensor.text} ${entry.word.text} adds ${writeTerm(entry.amount)} of leak to ${entry.to.text}`);
    case "passes":
      return line(`${entry.zone.text} beside ${entry.other.text} passes ${writeTerm(entry.amount)}`);
    default:
      throw new RangeError(`no such entry: ${JSON.stringify(entry satisfies never)}`);
  }
}

/** Facts on the line of their heading, where they fit; else each on its own. */
function facts(indent: number, head: string, list: readonly FactNode[], span: Placed["span"]): Line[] {
  const written = list.map(writeFact);
  const line = `${head} { ${written.join(", ")} }`;
  if (2 * indent + line.length <= WIDTH) return [{ indent, text: line, at: span.from }];
  const lines = list.map((fact, index) => {
    const comma = index < list.length - 1 ? "," : "";
    return { indent: indent + 1, text: `${written[index]}${comma}`, at: fact.span.from };
  });
  return block(indent, head, { span }, lines);
}

function writeFact({ name, value }: FactNode): string {
  if (name === "window") return `window ${writeTerm(value)} of daylight`;
  return name === "fronts" ? `fronts every ${writeTerm(value)}` : `${name} ${writeTerm(value)}`;
}

function wiring(node: WiringNode): string {
  switch (node.kind) {
    case "alive":
      return `zone ${node.zone.text} alive while ${writeQuoted(node.topic)} reads ${writeQuoted(node.reads)}`;
    case "notices":
      return `notices ${node.way.text} to ${writeQuoted(node.topic)}`;
    case "reading": {
      const words = (list: readonly { text: Quoted; as: Term }[]) =>
        list.map(({ text, as }) => `${writeQuoted(text)} as ${writeTerm(as)}`).join(", ");
      const parts = node.parts.map((part) =>
        part.kind === "reading" ? ` reading ${words(part.words)}` : ` ${part.kind} ${writeQuoted(part.text)}`,
      );
      return `${node.name.text} from ${writeQuoted(node.topic)}${parts.join("")}`;
    }
    case "writing":
      return `${node.name.text} to ${writeQuoted(node.topic)}${node.parts.map(writingPart).join("")}`;
    default:
      throw new RangeError(`no such wiring: ${JSON.stringify(node satisfies never)}`);
  }
}

function writingPart(part: Extract<WiringNode, { kind: "writing" }>["parts"][number]): string {
  switch (part.kind) {
    case "writing":
      return ` writing ${writeQuoted(part.text)}`;
    case "writing words":
      return ` writing ${part.words.map(({ word, text }) => `${writeTerm(word)} as ${writeQuoted(text)}`).join(", ")}`;
    case "confirmed by":
      return ` confirmed by ${writeQuoted(part.text)}`;
    case "again every":
      return ` again every ${writeTerm(part.every)}`;
    default:
      throw new RangeError(`no such part: ${JSON.stringify(part satisfies never)}`);
  }
}
