// What an output does next, if nothing changes: the house goes on by itself from what a run kept of it.

import { createEngine, Journal, type Run } from "../engine/index.js";
import { ownOf, sayValue, type Value, type ValueType } from "../house/index.js";
import { World } from "../physics/index.js";
import { clockOf, DAY, HOUR, MINUTE } from "../time/index.js";
import { type Explanation, explanation, Narrator } from "./condition.js";
import { sayInstant } from "./moments.js";

/**
 * When an output next turns, and because of what, if every sensor goes on saying what it says; looked for over a day.
 * @param run one that kept the house as it was at an instant: see `keepAt`
 * @throws RangeError when the run kept nothing, or the house has no such output
 */
export function whatNext(run: Run, output: string): Explanation {
  const { kept, past } = run;
  if (!kept) throw new RangeError("the run kept nothing to go on from; ask it to with keepAt");
  const { house } = past;
  const type = house.outputs.find(({ name }) => name === output)?.type;
  if (!type) throw new RangeError(`the house has no output called "${output}"`);
  const journal = new Journal();
  const engine = createEngine(house, { at: kept.at, restore: kept.snapshot, journal });
  const world = new World(engine, kept.at, MINUTE);
  for (const { name, type: said } of house.sensors) {
    if (said.kind === "press") continue;
    const value = engine.value(name);
    if (value !== undefined) world.tell(name, value, kept.at);
  }
  world.passTo(kept.at);
  const before = engine.value(output);
  for (let at = kept.at + HOUR; at <= kept.at + DAY; at += HOUR) {
    world.passTo(at);
    const change = changesOf(journal, output, kept.at, type).find(({ value }) => value !== before);
    if (!change) continue;
    const then: Run = { past: journal, from: kept.at, to: at };
    const { rule, guard, hand } = journal.reason(output, change.at);
    const narrator = new Narrator(then, change.at);
    const because =
      rule !== undefined
        ? `because rule ${rule} sets it`
        : guard !== undefined
          ? `because guard ${guard} does not permit more`
          : hand
            ? "because a person switched it by hand"
            : "because no rule is active then";
    return explanation(
      `without new readings it becomes ${sayValue(type, change.value)} at ${sayInstant(narrator.clock, change.at, kept.at)}`,
      [explanation(because)],
    );
  }
  const until = sayInstant(clockOf(house.clock), kept.at + DAY, kept.at);
  return explanation(
    `without new readings it stays ${engine.value(output) === undefined ? "unknown" : sayValue(type, engine.value(output) as Value)} (looked ahead until ${until})`,
  );
}

/** What an output became behind an instant. */
function changesOf(journal: Journal, output: string, after: number, type: ValueType): { at: number; value: Value | undefined }[] {
  const { times, values } = journal.line({ kind: "value", of: output });
  return times.flatMap((at, place) => (at > after ? [{ at, value: ownOf(values[place] as number, type) }] : []));
}
