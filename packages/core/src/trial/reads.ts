// What a part of a house has to do with: things it reads, outputs, dials and modes it sets.
import { thingsIn, visitParts } from "../house/index.js";

/** Names of all things that a sentence, permit, let or trial reads, asks or sets, as far as they stand in it. */
export function thingsRead(holder: unknown): Set<string> {
  const names = new Set(thingsIn(holder));
  visitParts(holder, (part) => {
    for (const key of naming) if (typeof part[key] === "string") names.add(part[key]);
    if (Array.isArray(part.outputs)) for (const name of part.outputs) names.add(String(name));
  });
  return names;
}

const naming = ["output", "name", "sensor", "countdown", "preset", "schedule"] as const;
