// Trials: a beginning, what is given, what happens, what to expect.
import type { ExpectationNode, HappeningNode, Quoted, SimulatedNode, Term, TrialNode, Word } from "../syntax.js";
import type { Span } from "../token.js";
import type { Cursor } from "./cursor.js";
import { condition, name, quoted, sum, value } from "./terms.js";
import { heading } from "./things.js";

type Part =
  | { readonly kind: "note"; readonly text: Quoted }
  | { readonly kind: "from"; readonly from: Term; readonly lasts?: Term; readonly to?: Term }
  | { readonly kind: "simulated"; readonly simulated: SimulatedNode }
  | { readonly kind: "given"; readonly settings: readonly { name: Word; value: Term }[] }
  | { readonly kind: "happening"; readonly happening: HappeningNode }
  | { readonly kind: "expectation"; readonly expectation: ExpectationNode };

const begins = new Set(["note", "from", "simulated", "given", "at", "expect"]);

export function trial(c: Cursor): TrialNode {
  const first = c.word("trial");
  const head = heading(c, "trial");
  let last = 0;
  const parts = c.block(`trial ${head.name.text}`, begins, () => {
    const token = c.token;
    const found = part(c, last > 0);
    const order = ["note", "from", "simulated", "given", "happening", "expectation"].indexOf(found.kind);
    if (order < last) {
      const remedy = "A trial says, in this order: from, simulated, given, what happens, what to expect.";
      c.faults.add(token, { kind: "missing", what: `"${token.text}" stands too late in the trial.`, remedy });
    }
    last = Math.max(last, order);
    return found;
  });
  const span = c.span(first);
  return { kind: "trial", ...head, ...gather(c, parts, head.name, span), span };
}

function gather(c: Cursor, parts: readonly Part[], declared: Word, span: Span) {
  const of = <Kind extends Part["kind"]>(kind: Kind) =>
    parts.filter((part): part is Extract<Part, { kind: Kind }> => part.kind === kind);
  const [beginning] = of("from");
  if (!beginning) {
    const remedy = "Begin it with: from 2026-03-14 07:00.";
    c.faults.add(declared.span, { kind: "missing", what: `Trial ${declared.text} does not say when it begins.`, remedy });
  }
  const [note] = of("note");
  const [simulated] = of("simulated");
  return {
    ...(note && { note: note.text }),
    from: beginning?.from ?? ({ kind: "unknown", span } as Term),
    ...(beginning?.lasts && { lasts: beginning.lasts }),
    ...(beginning?.to && { to: beginning.to }),
    ...(simulated && { simulated: simulated.simulated }),
    given: of("given").flatMap(({ settings }) => settings),
    happenings: of("happening").map(({ happening }) => happening),
    expectations: of("expectation").map(({ expectation }) => expectation),
  };
}

function part(c: Cursor, begun: boolean): Part {
  if (c.takeWord("note")) return { kind: "note", text: quoted(c) };
  if (c.isWord("from") && !begun) return beginning(c);
  if (c.isWord("simulated")) return { kind: "simulated", simulated: simulated(c) };
  if (c.takeWord("given")) return { kind: "given", settings: settings(c) };
  if (c.isWord("at") || c.token.kind === "duration") return { kind: "happening", happening: happening(c) };
  if (c.isWord("expect")) return { kind: "expectation", expectation: expectation(c) };
  return c.fail(['"from"', '"simulated"', '"given"', '"at"', "a time such as 20 min later", '"expect"']);
}

function beginning(c: Cursor): Part {
  c.word("from");
  const from = sum(c);
  if (c.takeWord("for")) return { kind: "from", from, lasts: sum(c) };
  if (c.takeWord("to")) return { kind: "from", from, to: sum(c) };
  return { kind: "from", from };
}

function simulated(c: Cursor): SimulatedNode {
  const first = c.word("simulated");
  if (!c.isSign(",") || !c.isWord("weather", 1)) return { span: c.span(first) };
  c.next();
  c.next();
  return { weather: name(c, "a weather"), span: c.span(first) };
}

function settings(c: Cursor) {
  const list = [];
  do {
    const what = name(c, "a sensor, dial, mode or output");
    c.word("is");
    list.push({ name: what, value: value(c) });
  } while (c.takeSign(","));
  return list;
}

function happening(c: Cursor): HappeningNode {
  const first = c.token;
  const when = moment(c);
  const what = occurrence(c);
  return { when, what, span: c.span(first) };
}

function moment(c: Cursor): HappeningNode["when"] {
  if (c.takeWord("at")) return { at: sum(c) };
  const later = sum(c);
  c.word("later");
  return { later };
}

function occurrence(c: Cursor): HappeningNode["what"] {
  if (c.takeWord("the")) {
    c.word("house");
    c.word("restarts");
    return { kind: "the house restarts" };
  }
  const what = name(c, "what happens to: a sensor, a dial or a mode");
  if (c.takeWord("falls")) {
    c.word("silent");
    return { kind: "falls silent", name: what };
  }
  if (!c.takeWord("is")) c.fail(['"is"', '"falls silent"']);
  return { kind: "is", name: what, value: value(c) };
}

function expectation(c: Cursor): ExpectationNode {
  const first = c.word("expect");
  const claim = c.takeWord("never") ? "never" : c.takeWord("always") ? "always" : "holds";
  const claimed = condition(c);
  return { claim, condition: claimed, ...times(c), span: c.span(first) };
}

function times(c: Cursor): { by?: Term; at?: Term; from?: Term; to?: Term } {
  if (c.takeWord("by")) return { by: sum(c) };
  if (c.takeWord("at")) return { at: sum(c) };
  if (!c.takeWord("from")) return {};
  const from = sum(c);
  return c.takeWord("to") ? { from, to: sum(c) } : { from };
}
