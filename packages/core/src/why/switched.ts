// What an output is while a `keep` drives it, and while it does not, in words: `on` and `off`, `open` and `closed`, `28 °C`.
import { fullOf, type Keep, type Output, offPartOf, restOf, sayValue } from "../house/index.js";

/** The words for both. */
export interface Switched {
  readonly on: string;
  readonly off: string;
}

/** Where nothing else asks for it: what it is not asked for, it leaves to its rest. */
export function switchedBy(keep: Keep, output: Output): Switched {
  const off = offPartOf(keep, output) ?? restOf(output);
  return { on: sayValue(output.type, fullOf(output)), off: off === undefined ? "unchanged" : sayValue(output.type, off) };
}

/** The words that several outputs share, else those of a switch. */
export function switchedAll(keep: Keep, outputs: readonly Output[]): Switched {
  const [first, ...others] = outputs.map((output) => switchedBy(keep, output));
  const areAlike = first && others.every(({ on, off }) => on === first.on && off === first.off);
  return areAlike ? first : { on: "on", off: "off" };
}

/** `turns on`, `becomes open`, `stays unchanged`. */
export function turnsTo(word: string): string {
  if (word === "on" || word === "off") return `turns ${word}`;
  return word === "unchanged" ? "stays unchanged" : `becomes ${word}`;
}
