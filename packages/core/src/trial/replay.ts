// The rules of a house over what was recorded of it: open loop, as what they would have switched moves nothing.
import { Journal, type Run } from "../engine/index.js";
import type { House, Recorded, Value } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { Play } from "./play.js";

/** Which part of a recording is replayed, and under which settings. */
export interface ReplayOptions {
  /** Milliseconds since 1970 UTC; what was reported before is known then. @default the first report */
  readonly from?: number;
  /** @default a minute after the last report */
  readonly to?: number;
  /** Values of dials and modes, from the beginning on and whatever the recording says of them; in their own unit. */
  readonly set?: Readonly<Record<string, Value>>;
  /** Keep the house as it is at this instant, to go on from. */
  readonly keepAt?: number;
}

/**
 * Runs the rules over a recording, in order of time: sensors say what they said, dials and modes are set as they were. What
 * outputs did is for the rules to do; see `differences`. Names that the house has not are passed over; see `misfitsOf`.
 * @throws RangeError when the recording is empty, or it would end before it begins
 */
export function replay(house: House, recorded: readonly Recorded[], options: ReplayOptions = {}): Run {
  const { from = recorded[0]?.at, to = (recorded.at(-1)?.at ?? 0) + MINUTE, set = {}, keepAt } = options;
  if (from === undefined) throw new RangeError("the recording has no reports");
  if (!(to > from)) throw new RangeError("a recording is replayed from one instant to a later one");
  const journal = new Journal();
  const own = recorded.filter(({ name }) => !Object.hasOwn(set, name));
  const timeline = { from, to, happenings: [], happened: [], windows: [] };
  const play = new Play(house, { recorded: own, given: [], set }, timeline, { journal });
  const { kept } = play.run(keepAt);
  return { past: journal, from, to, ...(kept && { kept }) };
}
