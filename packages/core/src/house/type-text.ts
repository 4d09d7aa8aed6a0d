// Types and ranges as the language writes them.
import { type Unit, writeDuration, writeNumber, writeQuantity } from "../units/index.js";
import type { Range, TruthType, ValueType } from "./types.js";

/** `°C`, `open/closed`, `poor < fair < good`, `time`; nothing for what is true or false. */
export function writeType(type: ValueType | TruthType): string {
  switch (type.kind) {
    case "words":
      return type.words.join(type.ordered ? " < " : "/");
    case "number":
      return type.unit === "ms" ? "duration" : type.unit || "number";
    case "time":
    case "colour":
    case "press":
      return type.kind;
    default:
      return "";
  }
}

/** `35..60 %RH`, `1 s..2 min`. */
export function writeRange([low, high]: Range, unit: Unit): string {
  if (unit === "ms") return `${writeDuration(low)}..${writeDuration(high)}`;
  return `${writeNumber(low)}..${writeQuantity({ value: high, unit })}`;
}
