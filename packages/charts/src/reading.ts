// What a cursor reads of one thing: each value stands until the next.

export interface Reading {
  /** The zone it is in, by its title, or `House`. */
  readonly section: string;
  readonly name: string;
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
