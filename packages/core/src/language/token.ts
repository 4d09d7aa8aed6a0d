// The tokens of the language and where they stand.

/** A stretch of one file, in UTF-16 units; `to` is after the last. */
export interface Span {
  readonly file: string;
  readonly from: number;
  readonly to: number;
}

export type TokenKind =
  | "text"
  | "date"
  | "time"
  | "duration"
  | "quantity"
  | "number"
  | "unit"
  | "dotted"
  | "word"
  | "sign"
  | "bad"
  | "end";

export interface Token extends Span {
  readonly kind: TokenKind;
  /** The text as written, but `at least`, `in the last` … with single blanks, and `+-` as `±`. */
  readonly text: string;
  /** Whether it is the first on its line: where a broken text is picked up again. */
  readonly leads: boolean;
  /** The number of a number or quantity, the milliseconds of a time or duration. */
  readonly value: number;
  /** The canonical unit of a quantity or unit, the last of a duration; for `place` also N, E, S, W. */
  readonly unit: string;
}

export interface Comment extends Span {
  /** From `#` to the end of the line, without trailing blanks. */
  readonly text: string;
  /** Whether nothing but blanks stands before it on its line. */
  readonly leads: boolean;
}

/** Never a name or a state. */
export const reserved: ReadonlySet<string> = new Set(
  "and or not is if then else pick until for when unknown otherwise note".split(" "),
);

/** Begin a condition, a trigger, a claim or a bound; no name of a thing without a dot. */
export const starters: ReadonlySet<string> = new Set([
  ..."during outside clock any at every the never always whenever above below".split(" "),
]);
