// Who, besides the nodes themselves, wants to know of what becomes of them.

/** What does not say otherwise is the same for every engine of one graph. */
export interface Audience {
  /** Somebody is told when a node changes. */
  isTold(node: number): boolean;
  /** Somebody looks on at a node, which makes no difference to when it changes. */
  isWatched(node: number): boolean;
  /** Nobody looks at what is only a part: its changes may go unseen. Each graph is run by some of which this is so, and others. */
  readonly foldsSides: boolean;
  /** The next report of a sensor makes a step, whatever it is: now. */
  isAwaited(node: number): boolean;
  /** A node changed that somebody is told of or looks on at, or became unknown. */
  onChange(node: number): void;
}
