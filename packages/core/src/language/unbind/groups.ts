// Several outputs as they are written: by their group.
import type { Group } from "../../house/index.js";
import type { Word } from "../syntax.js";
import { word } from "./terms.js";

/** Several outputs by the name of their group; where there is none, as people list them. */
export function together(outputs: readonly string[], groups: readonly Group[]): Word {
  const all = outputs.join(", ");
  const group = outputs.length > 1 ? groups.find(({ members }) => members.join(", ") === all) : undefined;
  return word(group?.name ?? all);
}
