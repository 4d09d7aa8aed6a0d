// Numbers, durations and quantities as people read them.
import type { Unit } from "./catalogue.js";
import { equalNumbers, type Quantity } from "./quantity.js";

/** Shortest decimal that is equal within 1e-9, so that 20 - 0.4 reads 19.6. */
export function writeNumber(value: number): string {
  if (!Number.isFinite(value)) return String(value);
  const rounded = Number(value.toPrecision(9));
  return Math.abs(rounded) < 1e-9 ? "0" : String(rounded).replace(/e\+?/, "e");
}

const parts: readonly (readonly [number, string])[] = [
  [86400e3, "d"],
  [3600e3, "h"],
  [60e3, "min"],
  [1e3, "s"],
];

/** Milliseconds in the language's own form: `1 h 30 min`, `90.5 s` is `1 min 30.5 s`. */
export function writeDuration(ms: number): string {
  if (ms < 0) return `-${writeDuration(-ms)}`;
  if (ms < 1e3) return `${writeNumber(ms)} ms`;
  const words: string[] = [];
  let rest = ms;
  for (const [size, name] of parts) {
    const whole = name === "s" ? rest / size : Math.floor(rest / size);
    if (whole > 0) words.push(`${writeNumber(whole)} ${name}`);
    rest -= whole * size;
  }
  return words.join(" ");
}

/** `45 %RH`, `0.5 °C`; a duration as in {@link writeDuration}; a bare number without unit. */
export function writeQuantity({ value, unit }: Quantity): string {
  if (unit === "ms") return writeDuration(value);
  return unit === "" ? writeNumber(value) : `${writeNumber(value)} ${unit}`;
}

/**
 * A measured value with the digits that matter for its unit, for sentences and axes. Beside another number that it is not
 * equal to, it has as many digits as tell them apart: what is below 50 %RH never reads 50 %RH.
 */
export function writeReading(value: number, unit: Unit, beside = value): string {
  const different = Number.isFinite(beside) && !equalNumbers(value, beside);
  let digits = usualDigits(value, unit);
  while (different && digits < MOST_DIGITS && round(value, digits) === round(beside, digits)) digits++;
  return writeQuantity({ value: round(value, digits), unit });
}

/** A number that somebody wrote, or that follows from such: with all its digits, up to two more than a measured one has. */
export function writeFigure(value: number, unit: Unit): string {
  const usual = usualDigits(value, unit);
  let digits = usual;
  while (digits < usual + 2 && !equalNumbers(round(value, digits), value)) digits++;
  return writeQuantity({ value: round(value, digits), unit });
}

const MOST_DIGITS = 9;

const round = (number: number, digits: number) => Math.round(number * 10 ** digits) / 10 ** digits;

/** By how much of itself a number may be rounded. */
const ROUNDED = 0.05;

/** Behind the point: what matters for the unit, and more of what is small. */
function usualDigits(value: number, unit: Unit): number {
  let digits = unit === "lx" || unit === "ppm" || unit === "%" ? 0 : 1;
  while (digits < MOST_DIGITS && Math.abs(round(value, digits) - value) > ROUNDED * Math.abs(value)) digits++;
  return digits;
}

/** Milliseconds since midnight as `07:30`, `22:15:30` or `22:15:30.5`. */
export function writeTimeOfDay(ms: number): string {
  const two = (n: number) => String(n).padStart(2, "0");
  const minutes = Math.floor(ms / 60e3);
  const seconds = (ms - minutes * 60e3) / 1e3;
  const clock = `${two(Math.floor(minutes / 60))}:${two(minutes % 60)}`;
  if (seconds === 0) return clock;
  const whole = Math.floor(seconds);
  return `${clock}:${two(whole)}${writeNumber(seconds - whole).slice(1)}`;
}
