// Texts of notices and messages, with the values that stand in them.

import type { Evaluator } from "../expression/index.js";
import { ownOf } from "../house/index.js";
import { writeDuration, writeQuantity, writeReading, writeTimeOfDay } from "../units/index.js";
import type { TextPart } from "./program.js";

export function fill(parts: readonly TextPart[], evaluator: Evaluator): string {
  return parts.map((part) => (typeof part === "string" ? part : say(part, evaluator.peek(part.node)))).join("");
}

function say({ type }: Exclude<TextPart, string>, base: number): string {
  const value = ownOf(base, type);
  if (value === undefined) return "unknown";
  if (typeof value === "string") return value;
  if (type.kind === "time") return writeTimeOfDay(value - (value % 1000));
  if (type.kind === "number" && (type.unit === "ms" || type.unit === "min")) return writeDuration(Math.round(base / 1000) * 1000);
  return type.kind === "number" ? writeReading(value, type.unit) : writeQuantity({ value, unit: "" });
}
