// Texts in quotes, with values between braces.
import { lex } from "../lexer.js";
import type { Quoted, Term } from "../syntax.js";
import { Cursor, Unparsed, withoutRepeated } from "./cursor.js";
import { sum } from "./terms.js";
import { toQuote } from "./words.js";

/** Text in quotes, its `{…}` parts parsed on their own. */
export function quoted(c: Cursor): Quoted {
  if (c.token.kind !== "text") {
    const remedy = toQuote(c, 0);
    if (remedy !== undefined) c.fail(["a text in quotes"], remedy);
    c.failFor("a text in quotes");
  }
  const token = c.next();
  const closed = token.text.length > 1 && token.text.endsWith('"');
  if (!closed && !c.asked) return { parts: [token.text.slice(1)], span: token };
  const end = closed ? token.to - 1 : token.to;
  const parts: (string | Term)[] = [];
  let plain = "";
  for (let at = token.from + 1; at < end; at++) {
    const sign = c.source[at] as string;
    const after = at + 1 < end ? c.source[at + 1] : "";
    if (sign === "\\" && after !== "") {
      plain += after === "n" ? "\n" : after;
      at++;
    } else if ((sign === "{" || sign === "}") && after === sign) {
      plain += sign;
      at++;
    } else if (sign === "{") {
      const close = c.source.indexOf("}", at);
      const stop = close < 0 || close > end ? end : close;
      const repeated = c.repeated.get(c.source.slice(at + 1, stop));
      if (repeated) plain += repeated.tokens.map(({ text }) => text).join("");
      else {
        if (plain !== "") parts.push(plain);
        plain = "";
        const term = inText(c, at + 1, stop);
        if (term) parts.push(term);
      }
      at = stop;
    } else plain += sign;
  }
  if (plain !== "") parts.push(plain);
  // Who writes in a text is offered what stands between braces, and nothing after it.
  if (!closed) c.asked?.close();
  return { parts, span: token };
}

function inText(c: Cursor, from: number, to: number): Term | undefined {
  const { tokens } = lex(c.token.file, c.source, c.faults, from, to);
  const asked = to === c.source.length ? c.asked : undefined;
  const inner = new Cursor(c.source, withoutRepeated(tokens, c.repeated), c.faults, c.repeated, asked);
  inner.where = "between the braces of this text";
  try {
    const term = sum(inner);
    if (inner.token.kind !== "end") inner.fail(["}"]);
    return term;
  } catch (error) {
    if (!(error instanceof Unparsed)) throw error;
    return undefined;
  }
}
