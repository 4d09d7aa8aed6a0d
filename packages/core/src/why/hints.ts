// What a reader of a house's text would otherwise have to work out, to be shown at the end of the line.
import type { House, Sentence } from "../house/index.js";
import type { HouseText, SpokenPlace } from "../language/index.js";
import { Teller, type TellOptions } from "./tell.js";

/** Something to show at the end of a line. */
export interface Hint {
  readonly file: string;
  /** The end of the line it belongs to: an index into the text of the file. */
  readonly at: number;
  /** `on below 42 %RH, off at 45 %RH`. */
  readonly says: string;
}

/**
 * Hints next to the sentences of a house: switch points as numbers, what bounds are now, when moments and schedules next
 * come. Of a sentence that stands for several zones, one after another.
 * @param text the texts of a house without errors
 */
export function hints({ house, files, spoken }: HouseText, options: TellOptions): Hint[] {
  const teller = new Teller(house, options.at, options.values ?? {});
  const found = new Map<string, Hint>();
  for (const place of spoken) {
    const says = saysOf(place, house, teller);
    if (says === "") continue;
    const at = lineEnd(files[place.span.file] ?? "", place.span.to);
    const key = `${place.span.file}:${at}`;
    const before = found.get(key)?.says;
    if (before?.split(" · ").includes(says)) continue;
    found.set(key, { file: place.span.file, at, says: before === undefined ? says : `${before} · ${says}` });
  }
  return [...found.values()];
}

function saysOf({ what }: SpokenPlace, house: House, teller: Teller): string {
  if (what.kind === "schedule") {
    const schedule = house.schedules.find(({ name }) => name === what.name);
    return schedule ? teller.next(schedule) : "";
  }
  if (what.kind !== "sentence" && what.kind !== "trigger" && what.kind !== "drive") return "";
  const sentence: Sentence | undefined = house.rules.find(({ name }) => name === what.rule)?.sentences[what.sentence];
  if (!sentence) return "";
  if (what.kind === "drive") return "keep" in sentence ? teller.switchPoints(sentence.keep, what.way) : "";
  if (what.kind === "sentence") return "do" in sentence ? "" : teller.figures(sentence).join(", ");
  const trigger = "do" in sentence ? sentence.when[what.trigger] : undefined;
  return trigger ? teller.trigger(trigger).join(", ") : "";
}

function lineEnd(text: string, from: number): number {
  const found = text.slice(from).search(/[\r\n]/);
  return found < 0 ? text.length : from + found;
}
