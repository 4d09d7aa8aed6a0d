// Declarations as lines in the canonical layout.
import { writeDays } from "../../time/index.js";
import { type PhraseNode, type Table, writeOne } from "../phrase.js";
import type {
  Declaration,
  HouseEntry,
  OpeningNode,
  PhysicsEntry,
  ProfileEntry,
  ThingNode,
  TypeNode,
  ZoneEntry,
} from "../syntax.js";
import { dialAttributes } from "../vocabulary/dial.js";
import { outputAttributes } from "../vocabulary/output.js";
import { airFigures, effectRows, habitFigures, roomRows } from "../vocabulary/physics.js";
import { sensorAttributes } from "../vocabulary/sensor.js";
import { wiringRows } from "../vocabulary/wiring.js";
import { writeDates } from "./dates.js";
import { fill, type Line, WIDTH } from "./layout.js";
import { block, heading, note, type Placed, trailingNote, writeTargets } from "./parts.js";
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
      return group(node, indent);
    case "let": {
      const type = node.type ? `: ${writeTypeNode(node.type)}` : "";
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
      const type = node.type ? `: ${writeTypeNode(node.type)}` : "";
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
      return figures(indent, `weather ${heading(node)}`, airFigures, node.facts, node.span);
    case "people":
      return block(
        indent,
        "people",
        node,
        node.entries.map(({ zone, schedule, habits, span }) => {
          const written = habits.map((habit) => writeOne(habitFigures, habit));
          const text = [`${zone.text} during ${schedule.text}`, ...written].join(", ");
          return { indent: indent + 1, text, at: span.from };
        }),
      );
    case "wire":
      return block(
        indent,
        `wire ${node.name.text}`,
        node,
        node.entries.map((entry) => ({ indent: indent + 1, text: writeOne(wiringRows, entry), at: entry.span.from })),
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

function houseEntry(entry: HouseEntry, indent: number): Line {
  const line = (text: string): Line => ({ indent, text, at: entry.span.from });
  switch (entry.kind) {
    case "place":
      return line(`place ${writeTerm(entry.latitude)}, ${writeTerm(entry.longitude)}`);
    case "clock":
      return line(`clock ${writeQuoted(entry.zone)}`);
    case "hand lasts":
    case "readings last":
      return line(`${entry.kind} ${writeTerm(entry.duration)}`);
    case "note":
      return line(`note ${writeQuoted(entry.text)}`);
    default:
      throw new RangeError(`no such entry: ${JSON.stringify(entry satisfies never)}`);
  }
}

const attributesOf: Readonly<Record<ThingNode["kind"], Table>> = {
  sensor: sensorAttributes,
  output: outputAttributes,
  dial: dialAttributes,
};

function thing(node: ThingNode): string {
  const attributes = node.attributes.map((attribute) => `, ${writeOne(attributesOf[node.kind], attribute)}`).join("");
  return `${node.kind} ${heading(node)}: ${writeTypeNode(node.type)}${attributes}${trailingNote(node)}`;
}

export function writeTypeNode(node: TypeNode): string {
  if (node.kind === "range") return `${writeTerm(node.low)}..${writeTerm(node.high)}`;
  if (node.kind === "words") return node.words.map(({ text }) => text).join(node.ordered ? " < " : "/");
  return node.kind === "colour of" ? `colour of ${node.of.text}` : node.word;
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

function group(node: Extract<Declaration, { kind: "group" }>, indent: number): Line[] {
  const parts = node.members.map(({ text, span }, place) => {
    const isLast = place === node.members.length - 1;
    return { text: isLast ? `${text}${trailingNote(node)}` : `${text},`, at: span.from };
  });
  return fill(indent, `group ${heading(node)} =`, parts, node.span.from);
}

function profileEntry({ days, points, span }: ProfileEntry, indent: number): Line {
  const written = points.map(({ value, from }) => `${writeTerm(value)} from ${writeTerm(from)}`).join(", ");
  return { indent, text: `${writeDays(days)} ${written}`, at: span.from };
}

// ── Physics and wiring ────────────────────────────────────────────────────────────────────────────────────────────────

function physicsEntry(entry: PhysicsEntry, indent: number): Line[] {
  if (entry.kind === "zone") return figures(indent, `zone ${entry.zone.text}`, roomRows, entry.facts, entry.span);
  return [{ indent, text: writeOne(effectRows, entry.effect), at: entry.span.from }];
}

/** Figures on the line of their heading, where they fit; else each on its own. */
function figures(indent: number, head: string, table: Table, list: readonly PhraseNode[], span: Placed["span"]): Line[] {
  const written = list.map((one) => writeOne(table, one));
  const line = `${head} { ${written.join(", ")} }`;
  if (2 * indent + line.length <= WIDTH) return [{ indent, text: line, at: span.from }];
  const lines = list.map((one, index) => {
    const comma = index < list.length - 1 ? "," : "";
    return { indent: indent + 1, text: `${written[index]}${comma}`, at: one.span.from };
  });
  return block(indent, head, { span }, lines);
}
