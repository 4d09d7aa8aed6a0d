// A house's memory in parts, so that only what turned is written.
import type { Snapshot } from "modrik";

/** Parts of a snapshot that are kept entry by entry: all other parts are kept whole. */
const byName = ["nodes", "outputs", "claims", "events", "countdowns", "paused"] as const;

/** Between the name of a part and that of an entry: no part has it in its own. */
const within = "/";

/** Each part by its path, as JSON. */
export function partsOf(snapshot: Snapshot): Map<string, string> {
  const parts = new Map<string, string>();
  for (const [field, value] of Object.entries(snapshot)) {
    if (!byName.includes(field as (typeof byName)[number])) parts.set(field, JSON.stringify(value));
    else for (const [name, entry] of Object.entries(value)) parts.set(`${field}${within}${name}`, JSON.stringify(entry));
  }
  return parts;
}

/** The snapshot as plain JSON, to be read by `readSnapshot`. */
export function snapshotOf(parts: ReadonlyMap<string, string>): unknown {
  const whole: Record<string, unknown> = {};
  const maps = new Map<string, [string, unknown][]>(byName.map((field) => [field, []]));
  for (const [path, json] of parts) {
    const cut = path.indexOf(within);
    if (cut < 0) whole[path] = JSON.parse(json);
    else maps.get(path.slice(0, cut))?.push([path.slice(cut + 1), JSON.parse(json)]);
  }
  for (const [field, entries] of maps) whole[field] = Object.fromEntries(entries);
  return whole;
}
