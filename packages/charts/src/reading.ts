// What a cursor reads of one thing: each value stands until the next.

export interface Reading {
  /** The zone it is in, by its title, or `House`. */
  readonly section: string;
  readonly name: string;
  /** Its whole name in the house, where it is a thing of it. */
  readonly thing?: string;
  readonly unit?: string;
  /** Its words, by their number. */
  readonly words?: readonly string[];
  readonly colour?: true;
  /** On the axis of the chart. */
  readonly times: readonly number[];
  /** In its own unit, or the number of a word; null where it is unknown. */
  readonly values: readonly (number | null)[];
  /** What was told, in place of values. */
  readonly texts?: readonly string[];
}

/** What a thing said at an instant of the axis, with its unit; nothing of what was told only later. */
export function sayReading({ times, values, texts, words, colour, unit }: Reading, at: number): string | undefined {
  const place = times.findLastIndex((time) => time <= at);
  if (texts) return texts[place];
  const value = values[place] ?? null;
  if (value === null) return "unknown";
  if (words) return words[value];
  if (colour) return `#${value.toString(16).padStart(6, "0")}`;
  const size = Math.abs(value);
  const shown = Number.isInteger(value) ? String(value) : value.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2);
  return unit ? `${shown} ${unit}` : shown;
}
