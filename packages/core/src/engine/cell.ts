// What may be put into a thing that holds a value.
import type { Value } from "../house/index.js";
import { writeQuantity } from "../units/index.js";
import { baseOf, type Cell } from "./program.js";

/** Why a value is not one of a thing's own, if it is not. */
export function misfit({ type, range }: Cell, value: Value): string | undefined {
  if (type.kind === "words") {
    return typeof value === "string" && type.words.includes(value) ? undefined : `it is one of ${type.words.join("/")}`;
  }
  if (type.kind === "colour")
    return typeof value === "string" && /^#[0-9a-f]{6}$/.test(value) ? undefined : "it is a colour such as #ffbf00";
  if (typeof value !== "number" || !Number.isFinite(value)) return "it is a number";
  const unit = type.kind === "number" ? type.unit : "";
  if (range && (value < range[0] || value > range[1]))
    return `its range is ${range[0]}..${writeQuantity({ value: range[1], unit })}`;
  return undefined;
}

/** What a step computed is kept within a dial's range. */
export function clampTo({ type, range }: Cell, base: number): number {
  if (!range || Number.isNaN(base)) return base;
  return Math.min(baseOf(range[1], type), Math.max(baseOf(range[0], type), base));
}

/** Whether what a snapshot holds may be taken up, in the base unit; of a sensor anything may. */
export function fitsCell({ type, range, kind }: Cell, base: number | null): boolean {
  if (base === null || kind === "sensor") return true;
  if (type.kind === "words") return Number.isInteger(base) && base >= 0 && base < type.words.length;
  if (!range) return true;
  return base >= baseOf(range[0], type) - 1e-9 && base <= baseOf(range[1], type) + 1e-9;
}
