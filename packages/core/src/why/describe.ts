// What the name at a place of a text stands for.
import type { HouseText } from "../language/index.js";
import type { Explanation } from "./condition.js";
import { Teller, type TellOptions } from "./tell.js";

/** What is known of the name at a place. */
export interface Description {
  /** Where the name stands in the text. */
  readonly from: number;
  readonly to: number;
  /** The thing, who may claim it or what uses it, its numbers. */
  readonly says: Explanation;
}

/**
 * What is known of the thing, rule, guard or schedule named at a position of a text; undefined where none is.
 * @param text the texts of a house without errors
 * @param position an index into the text of `file`
 */
export function describe(text: HouseText, file: string, position: number, options: TellOptions): Description | undefined {
  const { house } = text;
  const found = text.nameAt(file, position);
  if (!found) return undefined;
  const teller = new Teller(house, options.at, options.values ?? {});
  const own = found.zone === undefined ? undefined : teller.entry(`${found.zone}.${found.name}`);
  const says = own ?? teller.entry(found.name);
  return says && { from: found.from, to: found.to, says };
}
