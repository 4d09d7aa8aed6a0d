// What a recording has to do with a house.
import { dimensionOf } from "../units/index.js";
import { recordedValue, unitOf } from "./given.js";
import type { House, Recorded } from "./house.js";
import { misfit } from "./slot.js";
import type { Value } from "./types.js";

/** What of a recording does not fit a house, in the order of the recording. */
export interface Misfit {
  readonly name: string;
  /** As a sentence goes on after the name. */
  readonly says: string;
  /** How many of its reports. */
  readonly count: number;
}

/** Names that the house has not, units that do not measure the same, values a thing cannot have: those reports say nothing. */
export function misfitsOf(house: House, recorded: readonly Recorded[]): Misfit[] {
  const things = [...house.sensors, ...house.outputs, ...house.dials, ...house.modes];
  const slots = new Map(things.map((thing) => [thing.name, thing]));
  const found = new Map<string, { name: string; says: string; count: number }>();
  for (const record of recorded) {
    const says = misfitOf(record);
    if (says === undefined) continue;
    const key = `${record.name} ${says}`;
    const known = found.get(key) ?? { name: record.name, says, count: 0 };
    known.count++;
    found.set(key, known);
  }
  return [...found.values()];

  function misfitOf(record: Recorded): string | undefined {
    const slot = slots.get(record.name);
    if (!slot) return "is nothing of this house";
    if (record.value === undefined || slot.type.kind === "press") return undefined;
    const own = unitOf(house, record.name);
    if (record.unit !== undefined && (own === undefined || dimensionOf(own) !== dimensionOf(record.unit)))
      return `is recorded in ${record.unit}${own === undefined ? "" : `, which does not fit ${own}`}`;
    const value = recordedValue(house, record) as Value;
    const why = misfit(slot, value);
    return why === undefined ? undefined : `cannot be ${value}: ${why}`;
  }
}
