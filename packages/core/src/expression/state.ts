// What a graph holds while it runs, by the numbers of its nodes: shared by the parts of the evaluator.
//
// What nodes remember, as of `now`, side by side, as a report of a large house finds nothing of it in the cache:
//   sensor         since = last good report; held = its value; low and high = between which a report is quiet, see there
//   for            since = when the condition became true, NaN while it is not; held = `since` before a break at `mark`
//   in the last    since = when the condition last ended; mark = when it rose, NaN while it is not true; held = `since` then
//   until          held = the memory, 1 or 0
//   until at most  since = when it began, NaN while it has not; held = 1 while it waits for its condition to be false
//   limited until  since = when it began, NaN while it has not; mark = when its pause is over, NaN without one
//   cycle          since = when it began, NaN while it does not apply
//   share cycle    since = when the present cycle began; held = the share taken then
// A change taken back within its instant leaves no trace, hence `held` and `mark`.
import type { Sky } from "../time/index.js";
import type { Agenda } from "./agenda.js";

/** Where what a node remembers stands among its four. */
export const SINCE = 0;
export const HELD = 1;
export const MARK = 2;
/** Of sensors alone; of another node HIGH says nothing. */
export const LOW = 2;
export const HIGH = 3;

export class State {
  readonly values: Float64Array;
  /** Of node n `kept[4n]` and the three after it: see above. */
  readonly kept: Float64Array;
  /** Without a sky, schedules and the sun are unknown. */
  sky: Sky | undefined;
  /** The moments of an instant are ending: what they held counts from now. */
  ending = false;

  constructor(
    size: number,
    readonly agenda: Agenda,
    /** Number of the timer of node 0; the others follow. */
    readonly firstTimer: number,
    public now: number,
  ) {
    this.values = new Float64Array(size).fill(Number.NaN);
    this.kept = new Float64Array(4 * size).fill(Number.NaN);
  }

  /** A node should be looked at again at an instant. */
  plan(node: number, at: number): void {
    this.agenda.set(this.firstTimer + node, at);
  }

  unplan(node: number): void {
    this.agenda.clear(this.firstTimer + node);
  }

  due(node: number): number {
    return this.agenda.due(this.firstTimer + node);
  }
}
