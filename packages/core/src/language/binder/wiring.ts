// Wiring: topics of sensors and outputs, and what their messages say. A wiring names every word of its thing.
import type { Value, ValueType, Wiring } from "../../house/index.js";
import type { Quoted, ReadingPart, Term, WireNode, WiringNode, WritingPart } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import { constantIn } from "./constant.js";
import type { HouseSymbol, Scope } from "./scope.js";
import { bindDuration } from "./terms.js";
import { plainText } from "./text.js";
import { bindConstantValue } from "./things.js";

export function bindWire(node: WireNode, scope: Scope): Wiring[] {
  return node.entries.flatMap((entry) => bindEntry(entry, node.name.text, scope) ?? []);
}

function bindEntry(node: WiringNode, by: string, scope: Scope): Wiring | undefined {
  const topic = plainText(node.topic);
  switch (node.kind) {
    case "alive": {
      const zone = scope.resolve(node.zone, ["zone"]);
      return zone && { kind: "alive", by, zone: zone.name, topic, reads: plainText(node.reads) };
    }
    case "notices":
      return { kind: "notices", by, way: node.way.text, topic };
    case "reading": {
      const sensor = scope.resolve(node.name, ["sensor"]);
      return sensor && { kind: "reading", by, sensor: sensor.name, topic, ...bindReading(node.parts, sensor, scope) };
    }
    case "writing": {
      const output = scope.resolve(node.name, ["output"]);
      return output && { kind: "writing", by, output: output.name, topic, ...bindWriting(node.parts, output, scope) };
    }
    default:
      throw new RangeError(`no such wiring: ${JSON.stringify(node satisfies never)}`);
  }
}

function bindReading(parts: readonly ReadingPart[], sensor: HouseSymbol, scope: Scope) {
  const found: { at?: string; record?: string; texts?: { text: string; as: Value }[] } = {};
  for (const part of parts) {
    if (part.kind === "at") found.at = plainText(part.text);
    else if (part.kind === "record") found.record = plainText(part.text);
    else if (part.kind === "reading")
      found.texts = part.words.flatMap(({ text, as }) =>
        asText(as, text, sensor, scope).map(({ value, said }) => ({ text: said, as: value })),
      );
  }
  if (found.texts)
    checkWords(
      found.texts.map(({ as }) => as),
      sensor,
      parts,
      scope,
    );
  return found;
}

function bindWriting(parts: readonly WritingPart[], output: HouseSymbol, scope: Scope) {
  const found: { text?: string; texts?: { word: Value; text: string }[]; confirmedBy?: string; againEvery?: number } = {};
  for (const part of parts) {
    if (part.kind === "writing") found.text = templateOf(part.text);
    else if (part.kind === "confirmed by") found.confirmedBy = plainText(part.text);
    else if (part.kind === "again every") {
      const every = bindDuration(part.every, scope);
      const ms = every && constantIn(every);
      if (ms !== undefined) found.againEvery = ms;
    } else
      found.texts = part.words.flatMap(({ word, text }) =>
        asText(word, text, output, scope).map(({ value, said }) => ({ word: value, text: said })),
      );
  }
  if (found.texts)
    checkWords(
      found.texts.map(({ word }) => word),
      output,
      parts,
      scope,
    );
  return found;
}

/** Text in which `{value}` stays to be replaced. */
function templateOf({ parts }: Quoted): string {
  return parts.map((part) => (typeof part === "string" ? part : `{${writeTerm(part)}}`)).join("");
}

function asText(word: Term, text: Quoted, { type }: HouseSymbol, scope: Scope): { value: Value; said: string }[] {
  const value = type && type.kind !== "truth" ? bindConstantValue(word, scope, type as ValueType) : undefined;
  return value === undefined ? [] : [{ value, said: plainText(text) }];
}

function checkWords(
  named: readonly Value[],
  { type, name }: HouseSymbol,
  parts: readonly (ReadingPart | WritingPart)[],
  scope: Scope,
): void {
  if (type?.kind !== "words") return;
  const missing = type.words.filter((word) => !named.includes(word));
  const place = parts.flatMap((part) => ("words" in part ? part.words.map(({ text }) => text.span) : []))[0];
  if (missing.length === 0 || !place) return;
  const remedy = `Add what it is for ${missing.join(", ")}.`;
  scope.faults.add(place, { kind: "missing", what: `The wiring of ${name} does not name every word.`, remedy });
}
