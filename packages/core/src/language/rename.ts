// Renames a thing everywhere in the texts of a house, and makes sure that the house then means what it meant.
import { type House, replaceParts } from "../house/index.js";
import type { HouseText } from "./open.js";
import type { SourcePlace } from "./problem.js";
import { reserved, starters } from "./token.js";

/** The texts with the new name, or why it cannot be. */
export type Renamed =
  /** `places` are where the new name stands now, in the order of the text. */
  | { readonly text: HouseText; readonly places: readonly SourcePlace[] }
  /** Why it cannot be: said in one sentence. Nothing is changed. */
  | { readonly refused: string };

interface Edit {
  readonly place: SourcePlace;
  readonly text: string;
}

/** Renames what has a name to another whole name, in the texts of a house without errors. */
export function rename(before: HouseText, from: string, to: string): Renamed {
  if (before.problems.some(({ severity }) => severity === "error"))
    return { refused: "The house has errors. Fix them first, or a name might be missed." };
  const declared = before.places.get(from);
  if (!declared) return { refused: `The house has nothing called "${from}".` };
  const why = unfit(from, to, before.places);
  if (why) return { refused: why };
  const uses = [{ name: from, place: declared }, ...before.uses].filter(
    ({ name }) => name === from || name.startsWith(`${from}.`),
  );
  const edits = new Map<string, Edit>();
  for (const { name, place } of uses) {
    const written = before.files[place.file]?.slice(place.from, place.to) ?? "";
    const text = rewritten(written, name, from, to);
    if (text === undefined)
      return { refused: `${place.file}:${place.line} builds the name in a repeat, as "${written}". Change it by hand.` };
    if (text !== written) edits.set(`${place.file}:${place.from}`, { place, text });
  }
  const after = Object.keys(before.files).reduce(
    (text, file) => text.with(file, apply(before.files[file] as string, file, [...edits.values()])),
    before,
  );
  const [problem] = after.problems.filter(({ severity }) => severity === "error");
  if (problem) return { refused: `Then ${problem.place.file}:${problem.place.line} would be wrong: ${problem.reason}` };
  if (meaning(after.house) !== meaning(before.house, from, to))
    return { refused: `A repeat, "every" or "any" uses the name, and would no longer find ${to}. Change it by hand.` };
  const places = [...edits.values()].map(({ place }) => place);
  return { text: after, places: places.sort((a, b) => (a.file === b.file ? a.from - b.from : a.file < b.file ? -1 : 1)) };
}

function unfit(from: string, to: string, places: ReadonlyMap<string, SourcePlace>): string | undefined {
  const parts = to.split(".");
  if (parts.length !== from.split(".").length || parts.length > 2)
    return `"${to}" cannot replace "${from}": a thing in a zone keeps a zone, e.g. bench.door.`;
  if (parts.length === 2 && parts[0] !== from.split(".")[0])
    return `"${to}" is in another zone. Move the declaration, then rename its uses.`;
  if (!parts.every((part) => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(part))) return `"${to}" is not a name. Use letters, digits and _.`;
  if (parts.some((part) => reserved.has(part)) || (parts.length === 1 && starters.has(to)))
    return `"${to}" cannot be a name: it is a word of the language.`;
  return places.has(to) ? `"${to}" is already the name of something else.` : undefined;
}

/** What stands in the place of a use of `name`, that is `from` or a thing of the zone `from`. */
function rewritten(written: string, name: string, from: string, to: string): string | undefined {
  const last = (whole: string) => whole.slice(whole.lastIndexOf(".") + 1);
  if (written === from || written.startsWith(`${from}.`)) return to + written.slice(from.length);
  if (name !== from) return written === last(name) ? written : undefined;
  return written === last(from) ? last(to) : undefined;
}

function apply(text: string, file: string, edits: readonly Edit[]): string {
  const fromEnd = edits.filter(({ place }) => place.file === file).sort((a, b) => b.place.from - a.place.from);
  return fromEnd.reduce((whole, { place, text: by }) => whole.slice(0, place.from) + by + whole.slice(place.to), text);
}

/** A house as text, with one name in the place of another. */
function meaning(house: House, from?: string, to?: string): string {
  if (from === undefined || to === undefined) return JSON.stringify(house);
  const rename = (part: unknown, key: string) => {
    // The file of a calendar keeps its name.
    if (typeof part !== "string" || key === "file") return part;
    return part === from || part.startsWith(`${from}.`) ? to + part.slice(from.length) : part;
  };
  return JSON.stringify(replaceParts(house, rename));
}
