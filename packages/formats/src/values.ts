// Values as recordings write them.
import { readUnit, type Unit, type Value } from "modrik";
import type { Notes } from "./notes.js";

/** What others write where there is no number. */
const MISSING: ReadonlySet<string> = new Set([
  "nan",
  "null",
  "na",
  "n/a",
  "--",
  "unknown",
  "unavailable",
  "missing",
  "inf",
  "-inf",
]);

/** A field: a number, one with its unit after it, a word, or a value that is not known. */
export function readField(text: string, notes: Notes, where: string): { readonly value?: Value; readonly unit?: Unit } {
  if (MISSING.has(text.toLowerCase())) {
    notes.count("without a number", "the value is then unknown", where);
    return {};
  }
  const [, written, behind = ""] = /^([-+]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:e[-+]?\d+)?)\s*(.*)$/i.exec(text) ?? [];
  if (written === undefined) return { value: text };
  const unit = behind === "" ? undefined : readUnit(behind);
  if (behind !== "" && unit === undefined) return { value: text };
  if (written.includes(",")) notes.count("with a decimal comma", "read as a decimal point", where);
  if (unit !== undefined) notes.count("with the unit behind the number", "read in that unit", where);
  const value = Number(written.replace(",", "."));
  return { value, ...(unit !== undefined && { unit }) };
}

/** A value as text that is read back as it is. */
export const writeField = (value: Value | undefined): string => (value === undefined ? "nan" : String(value));
