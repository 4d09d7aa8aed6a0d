// What a part of a house has to do with: things it reads, outputs, dials and modes it sets.
import { thingsIn } from "../house/index.js";

/** Names of all things that a sentence, permit, let or trial reads, asks or sets, as far as they stand in it. */
export function thingsRead(holder: unknown): Set<string> {
  const names = new Set(thingsIn(holder));
  const visit = (value: unknown): void => {
    if (Array.isArray(value)) value.forEach(visit);
    else if (typeof value === "object" && value !== null) {
      for (const [key, inner] of Object.entries(value)) {
        if (naming.has(key) && typeof inner === "string") names.add(inner);
        if (key === "outputs" && Array.isArray(inner)) for (const name of inner) names.add(String(name));
        visit(inner);
      }
    }
  };
  visit(holder);
  return names;
}

const naming: ReadonlySet<string> = new Set(["output", "name", "sensor", "countdown", "preset", "schedule"]);
