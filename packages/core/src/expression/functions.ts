// Functions of values that remember nothing; unknown is NaN.
import { equalNumbers } from "../units/index.js";
import { type Op, ops } from "./ops.js";
import { absoluteHumidity, dewPoint, feelsLike, vapourPressureDeficit } from "./psychrometrics.js";

/** Values of functions that remember nothing. */
export function compute(op: Op, parts: readonly number[], constant: number): number {
  const [first = Number.NaN, second = Number.NaN, third = Number.NaN] = parts;
  switch (op) {
    case "plus":
      return first + second;
    case "minus":
      return first - second;
    case "times":
      return first * second;
    case "divided":
      return second === 0 ? Number.NaN : first / second;
    case "negative":
      return -first;
    case "abs":
      return Math.abs(first);
    case "round":
      return Math.round(first);
    case "clamp":
      return second <= third ? Math.min(third, Math.max(second, first)) : Math.min(second, Math.max(third, first));
    case "scale":
      return scaled(first, second, third, parts[3] as number, parts[4] as number);
    case "dew_point":
      return dewPoint(first, second);
    case "absolute_humidity":
      return absoluteHumidity(first, second);
    case "vapour_pressure_deficit":
      return vapourPressureDeficit(first, second);
    case "felt_temperature":
      return feelsLike(first, second);
    default:
      return several(op, parts, constant);
  }
}

/** A straight line through two points, clamped at both ends. */
function scaled(value: number, a: number, b: number, c: number, d: number): number {
  if (a === b) return Number.NaN;
  const share = Math.min(1, Math.max(0, (value - a) / (b - a)));
  return Number.isNaN(value) ? Number.NaN : c + share * (d - c);
}

function several(op: Op, parts: readonly number[], least: number): number {
  const known = parts.filter((part) => !Number.isNaN(part));
  if (known.length < Math.max(1, least || 1)) return Number.NaN;
  switch (op) {
    case "mean":
      return known.reduce((sum, part) => sum + part, 0) / known.length;
    case "sum":
      return known.reduce((sum, part) => sum + part, 0);
    case "min":
      return Math.min(...known);
    case "max":
      return Math.max(...known);
    case "spread":
      return Math.max(...known) - Math.min(...known);
    case "first_known":
      return known[0] as number;
    case "median": {
      const sorted = [...known].sort((a, b) => a - b);
      const middle = sorted.length >> 1;
      const upper = sorted[middle] as number;
      return sorted.length % 2 === 1 ? upper : ((sorted[middle - 1] as number) + upper) / 2;
    }
    default:
      throw new RangeError(`no such operation: ${op}`);
  }
}

/** Whether a comparison holds, with the equality of `units`: 1, 0, or NaN where a side is unknown. */
export function compares(op: Op, left: number, right: number): number {
  if (Number.isNaN(left) || Number.isNaN(right)) return Number.NaN;
  switch (op) {
    case "above":
      return left > right && !equalNumbers(left, right) ? 1 : 0;
    case "below":
      return left < right && !equalNumbers(left, right) ? 1 : 0;
    case "at least":
      return left > right || equalNumbers(left, right) ? 1 : 0;
    case "at most":
      return left < right || equalNumbers(left, right) ? 1 : 0;
    default:
      return equalNumbers(left, right) ? 1 : 0;
  }
}

/** The value of an op that follows from the values of its parts alone. */
export function pure(op: Op, parts: readonly number[], constant: number): number {
  const [first = Number.NaN, second = Number.NaN, third = Number.NaN] = parts;
  if (ops[op].compares) return compares(op, first, second);
  switch (op) {
    case "is unknown":
      return Number.isNaN(first) ? 1 : 0;
    case "not":
      return 1 - first;
    case "and":
    case "or": {
      const decisive = op === "and" ? 0 : 1;
      if (parts.includes(decisive)) return decisive;
      return parts.some(Number.isNaN) ? Number.NaN : 1 - decisive;
    }
    case "if":
      return Number.isNaN(first) ? Number.NaN : first === 1 ? second : third;
    default:
      return compute(op, parts, constant);
  }
}
