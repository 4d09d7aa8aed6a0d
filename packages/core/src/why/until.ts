// How long an output still stays as it is, where that is known for certain.
import { claimKeyOf, type Run, type Snapshot } from "../engine/index.js";

/** Until when, and what holds it. */
export interface Staying {
  /** Milliseconds since 1970 UTC. */
  readonly until: number;
  readonly says: string;
}

/**
 * Until when an output stays as it is at the end of a run: protected, at rest after its longest run, by hand, or asked for a
 * time. Undefined where it depends on conditions, which may change at any moment, or until somebody releases it.
 * @param snapshot of the same instant
 */
export function staysUntil({ past, to }: Run, snapshot: Snapshot, output: string): Staying | undefined {
  const { delayed, guard, rests, hand, rule, sentence } = past.reason(output, to);
  const kept = (until: number | null | undefined, says: string) => (until != null && until > to ? { until, says } : undefined);
  if (delayed) return kept(delayed.until, guard === undefined ? "minimum time" : "waits for others");
  if (rests) return kept(rests.until, "rests after its maximum time");
  if (hand) return kept(snapshot.outputs[output]?.handEnds, "by hand");
  if (rule === undefined || sentence === undefined || guard !== undefined) return undefined;
  const claim = snapshot.claims[claimKeyOf({ rule, sentence, output })];
  return claim?.timed ? kept(claim.ends, `for a time, by rule ${rule}`) : undefined;
}
