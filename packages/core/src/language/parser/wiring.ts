// Which topic each sensor and output is, and how its messages read.
import { otherWays, wireHabits } from "../habits.js";
import { firstWords, readOne } from "../phrase.js";
import type { WireNode } from "../syntax.js";
import { wiringRows } from "../vocabulary/wiring.js";
import type { Cursor } from "./cursor.js";
import { anyWord, toQuote } from "./words.js";

const begins: ReadonlySet<string> = new Set(firstWords(wiringRows));

export function wire(c: Cursor): WireNode {
  const first = c.word("wire");
  if (otherWays.has(c.token.text) && c.isSign("{", 1))
    c.missing(
      c.token,
      `A house does not speak ${c.token.text}.`,
      "Write wire mqtt; what speaks otherwise needs a bridge to MQTT.",
    );
  const declared = anyWord(c, "what it is wired by, e.g. mqtt");
  const entries = c.block(`wire ${declared.text}`, begins, () => {
    const { kind, text } = c.token;
    if (c.peek().kind === "dotted") c.takeMeant("", ["sensor", "output"]);
    if (kind === "text")
      c.missing(
        c.token,
        "The thing comes before its topic.",
        `Write z.thing from ${text} for a sensor, to ${text} for an output.`,
      );
    return readOne(c, wiringRows, { remedy: c.instead(wireHabits) ?? form(c) });
  });
  return { kind: "wire", name: declared, entries, span: c.span(first) };
}

/** How to write what seems to be meant. */
function form(c: Cursor): string | undefined {
  const { kind, text } = c.token;
  const next = c.peek();
  if (next.leads || (kind !== "word" && kind !== "dotted")) return undefined;
  if (/^(broker|host|server|url|user|password)$/.test(text))
    return "The broker is named when the house is run: modrik run --mqtt mqtt://….";
  if (next.text === "from" || next.text === "to") return toQuote(c, 2);
  if (kind === "dotted") return `Write ${text} from "…" for a sensor, ${text} to "…" for an output.`;
  return next.kind === "text"
    ? `Write writing ${text} as ${next.text}, … for an output, reading ${next.text} as ${text}, … for a sensor.`
    : undefined;
}
