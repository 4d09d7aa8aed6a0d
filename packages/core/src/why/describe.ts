// What the name at a place of a text stands for.
import type { House } from "../house/index.js";
import { nameAt } from "../language/index.js";
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
 * @param house what `parseHouse` made of the house that the text is of, without errors
 * @param position an index into `text`
 */
export function describe(house: House, text: string, position: number, options: TellOptions): Description | undefined {
  const found = nameAt(text, position);
  if (!found) return undefined;
  const teller = new Teller(house, options.at, options.values ?? {});
  const own = found.zone === undefined ? undefined : teller.entry(`${found.zone}.${found.name}`);
  const says = own ?? teller.entry(found.name);
  return says && { from: found.from, to: found.to, says };
}
