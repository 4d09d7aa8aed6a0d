// What may be put into a thing that holds a value.
import type { Range, Value } from "../house/index.js";
import { equalNumbers, writeQuantity } from "../units/index.js";
import { baseOf, type Cell } from "./program.js";

/** Why a value is not one of a thing's own, if it is not. */
export function misfit({ type, range }: Cell, value: Value): string | undefined {
  if (type.kind === "words") {
    return typeof value === "string" && type.words.includes(value) ? undefined : `it is one of ${type.words.join("/")}`;
  }
  if (type.kind === "colour")
    return typeof value === "string" && /^#[0-9a-f]{6}$/.test(value) ? undefined : "it is a colour such as #ffbf00";
  if (typeof value !== "number" || !Number.isFinite(value)) return "it is a number";
  return range && beyond({ type, range }, baseOf(value, type));
}

/** The same of a number in the base unit, or of the place of a word. */
export function misfitNumber({ type, range }: Cell, base: number): string | undefined {
  if (type.kind === "words") return type.words[base] === undefined ? `it is one of ${type.words.join("/")}` : undefined;
  if (!Number.isFinite(base)) return "it is a number";
  if (type.kind === "colour") return Number.isInteger(base) && base >= 0 && base <= 0xffffff ? undefined : "it is a colour";
  return range && beyond({ type, range }, base);
}

/** One that is equal to an end of the range is in it. */
function beyond({ type, range }: Required<Pick<Cell, "type" | "range">>, base: number): string | undefined {
  const [low, high] = range as Range;
  const [lowest, highest] = [baseOf(low, type), baseOf(high, type)];
  const isIn = (base >= lowest && base <= highest) || equalNumbers(base, lowest) || equalNumbers(base, highest);
  const unit = type.kind === "number" ? type.unit : "";
  return isIn ? undefined : `its range is ${low}..${writeQuantity({ value: high, unit })}`;
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
