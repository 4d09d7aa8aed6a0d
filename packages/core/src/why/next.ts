// What a house does next, if nothing changes: it goes on by itself from what a run kept of it.

import { createEngine, Journal, type Run } from "../engine/index.js";
import { ownOf, sayValue, typeOf, type Value } from "../house/index.js";
import { World } from "../physics/index.js";
import { clockOf, DAY, HOUR, MINUTE } from "../time/index.js";
import { type Explanation, explanation } from "./condition.js";
import { sayInstant } from "./moments.js";

/** What an output or a mode becomes, if every sensor goes on saying what it says. */
export interface Coming {
  /** Milliseconds since 1970 UTC. */
  readonly at: number;
  readonly thing: string;
  /** In the thing's own unit; undefined when it becomes unknown. */
  readonly value: Value | undefined;
  /** Of an output, why it does; of a mode, nothing. */
  readonly because?: string;
}

/**
 * The next change of every output and mode within a day, if every sensor goes on saying what it says, in order of time.
 * @param run one that kept the house as it was at an instant: see `keepAt`
 * @throws RangeError when the run kept nothing
 */
export function whatComes(run: Run): Coming[] {
  const { outputs, modes } = run.past.house;
  const names = [...outputs, ...modes].map(({ name }) => name);
  const found = new Map<string, Coming>();
  lookAhead(run, (journal) => {
    for (const name of names) {
      const next = found.get(name) ?? nextOf(journal, run, name);
      if (next) found.set(name, next);
    }
    return found.size === names.length;
  });
  return [...found.values()].sort((a, b) => a.at - b.at);
}

/**
 * When an output next turns, and because of what, if every sensor goes on saying what it says; looked for over a day.
 * @param run one that kept the house as it was at an instant: see `keepAt`
 * @throws RangeError when the run kept nothing, or the house has no such output
 */
export function whatNext(run: Run, output: string): Explanation {
  const { kept, past } = run;
  const type = past.house.outputs.find(({ name }) => name === output)?.type;
  if (!type) throw new RangeError(`the house has no output called "${output}"`);
  let next: Coming | undefined;
  const value = lookAhead(run, (journal) => {
    next = nextOf(journal, run, output);
    return next !== undefined;
  })(output);
  const clock = clockOf(past.house.clock);
  const from = kept?.at ?? 0;
  if (!next) {
    const until = sayInstant(clock, from + DAY, from);
    return explanation(`without new readings it stays ${sayValue(type, value)} (looked ahead until ${until})`);
  }
  return explanation(`without new readings it becomes ${sayValue(type, next.value)} at ${sayInstant(clock, next.at, from)}`, [
    explanation(next.because ?? ""),
  ]);
}

/**
 * Lives on hour by hour for a day, or until enough was seen; gives what things are then.
 * @throws RangeError when the run kept nothing
 */
function lookAhead({ kept, past }: Run, seen: (journal: Journal) => boolean): (name: string) => Value | undefined {
  if (!kept) throw new RangeError("the run kept nothing to go on from; ask it to with keepAt");
  const { house } = past;
  const journal = new Journal();
  const engine = createEngine(house, { at: kept.at, restore: kept.snapshot, journal });
  const world = new World(engine, kept.at, MINUTE);
  for (const { name, type } of house.sensors) {
    if (type.kind === "press") continue;
    const value = engine.value(name);
    if (value !== undefined) world.tell(name, value, kept.at);
  }
  for (let at = kept.at; at <= kept.at + DAY; at += HOUR) {
    world.passTo(at);
    if (at > kept.at && seen(journal)) break;
  }
  return (name) => engine.value(name);
}

/** The first change of a thing after the instant at which a run kept its house. */
function nextOf(journal: Journal, { past, kept }: Run, thing: string): Coming | undefined {
  const type = typeOf(past.house, thing);
  const { times, values } = journal.line({ kind: "value", of: thing });
  const from = kept?.at ?? 0;
  const first = times.findLastIndex((at) => at <= from);
  const before = values[first];
  const place = times.findIndex((at, index) => at > from && !Object.is(values[index], before));
  if (place < 0) return undefined;
  const at = times[place] as number;
  const base = values[place] as number;
  const coming = { at, thing, value: Number.isNaN(base) ? undefined : ownOf(base, type) };
  return past.house.modes.some(({ name }) => name === thing) ? coming : { ...coming, because: reasonOf(journal, thing, at) };
}

function reasonOf(journal: Journal, output: string, at: number): string {
  const { rule, guard, hand } = journal.reason(output, at);
  if (rule !== undefined) return `because rule ${rule} sets it`;
  if (guard !== undefined) return `because guard ${guard} does not permit more`;
  return hand ? "because a person switched it by hand" : "because no rule is active then";
}
