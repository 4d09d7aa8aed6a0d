// Who, besides the nodes themselves, wants to know of what becomes of them.

/** Who wants to know of a report. */
export interface Watchers {
  /** Somebody is told when a node changes. */
  isTold(node: number): boolean;
  /** The next report of a sensor makes a step, whatever it is. */
  isAwaited(node: number): boolean;
}

/** Who is told of what becomes of the nodes. */
export interface Audience extends Watchers {
  /** A node changed that somebody is told of or looks on at, or became unknown. */
  onChange(node: number): void;
  /** Somebody looks on at a node, which makes no difference to when it changes. */
  isWatched(node: number): boolean;
  /** Nobody looks at what is only a part: its changes may go unseen. */
  readonly foldsSides: boolean;
}
