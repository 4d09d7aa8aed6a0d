// Trials: a beginning, what is given, what happens, what to expect.

import { readOne } from "../phrase.js";
import type {
  BeginningNode,
  ExpectationNode,
  HappeningNode,
  Quoted,
  SimulatedNode,
  TargetNode,
  Term,
  TrialNode,
  Word,
} from "../syntax.js";
import type { Span } from "../token.js";
import { occurrenceRows } from "../vocabulary/occurrences.js";
import { type Cursor, isPlain, Unparsed } from "./cursor.js";
import { heading } from "./heading.js";
import { type RepeatHead, repeatHead, unroll } from "./repeat.js";
import { anyWord, condition, isNumberToken, name, quoted, sum, value } from "./terms.js";

type Part =
  | { readonly kind: "note"; readonly text: Quoted }
  | { readonly kind: "repeat"; readonly head: RepeatHead; readonly from: number }
  | { readonly kind: "from"; readonly beginning: BeginningNode }
  | { readonly kind: "simulated"; readonly simulated: SimulatedNode }
  | { readonly kind: "given"; readonly settings: readonly TargetNode[] }
  | { readonly kind: "happening"; readonly happening: HappeningNode }
  | { readonly kind: "expectation"; readonly expectation: ExpectationNode };

const begins = new Set(["note", "for each", "from", "replay", "simulated", "given", "at", "expect"]);
const order = ["note", "repeat", "from", "simulated", "given", "happening", "expectation"] as const;

export function trial(c: Cursor): TrialNode {
  const first = c.opening("trial");
  const head = heading(c, "trial");
  const what = `trial ${head.name.text}`;
  let begun = false;
  let last = 0;
  const parts = c.block(what, begins, () => {
    const token = c.token;
    const found = part(c, begun);
    const place = order.indexOf(found.kind);
    if (place < last) {
      const remedy = "The order in a trial is: from, simulated, given, what happens, what to expect.";
      c.faults.add(token, { kind: "missing", what: `"${token.text}" comes too late in the trial.`, remedy });
    }
    if (found.kind === "from") begun = true;
    last = Math.max(last, place);
    return found;
  });
  const span = c.span(first);
  const repeat = parts.find((one): one is Extract<Part, { kind: "repeat" }> => one.kind === "repeat");
  const whole = { kind: "trial" as const, ...head, ...gather(c, parts, head.name, span), span };
  if (!repeat) return { ...whole, unrolled: [] };
  const { word, values } = repeat.head;
  const unrolled = unroll(c, repeat.head, repeat.from, Math.max(repeat.from, c.position - 1)).map((inner, index) => {
    const name = { ...head.name, text: `${head.name.text}_${index + 1}` };
    return { ...whole, ...gather(inner, partsOf(inner), name, span), name, unrolled: [] };
  });
  return { ...whole, repeat: { word, values }, unrolled };
}

/** All parts to the end, or to what is broken: that was noted when the trial was read as written. */
function partsOf(c: Cursor): Part[] {
  const parts: Part[] = [];
  try {
    while (c.token.kind !== "end")
      parts.push(
        part(
          c,
          parts.some(({ kind }) => kind === "from"),
        ),
      );
  } catch (error) {
    if (!(error instanceof Unparsed)) throw error;
  }
  return parts;
}

function gather(c: Cursor, parts: readonly Part[], declared: Word, span: Span) {
  const of = <Kind extends Part["kind"]>(kind: Kind) =>
    parts.filter((part): part is Extract<Part, { kind: Kind }> => part.kind === kind);
  const [begun] = of("from");
  if (!begun && !c.faults.within(span)) {
    const remedy = "Start it with: from 2026-03-14 07:00.";
    c.faults.add(declared.span, { kind: "missing", what: `Trial ${declared.text} does not say when it begins.`, remedy });
  }
  const [note] = of("note");
  const [simulated, again] = of("simulated");
  if (again) {
    const what = `Trial ${declared.text} is simulated twice.`;
    c.faults.add(again.simulated.span, { kind: "missing", what, remedy: "Remove one of the two." });
  }
  const unknown: BeginningNode = { from: { kind: "unknown", span } as Term, span };
  return {
    ...(note && { note: note.text }),
    beginning: begun?.beginning ?? unknown,
    ...(simulated && { simulated: simulated.simulated }),
    given: of("given").flatMap(({ settings }) => settings),
    happenings: of("happening").map(({ happening }) => happening),
    expectations: of("expectation").map(({ expectation }) => expectation),
  };
}

function part(c: Cursor, begun: boolean): Part {
  if (c.takeWord("note")) return { kind: "note", text: quoted(c) };
  if (c.isWord("for each")) {
    const head = repeatHead(c);
    return { kind: "repeat", head, from: c.position };
  }
  if (c.isWord("replay") || (c.isWord("from") && !begun)) return { kind: "from", beginning: beginning(c) };
  if (c.isWord("simulated")) return { kind: "simulated", simulated: simulated(c) };
  if (c.takeWord("given")) return { kind: "given", settings: c.list(() => setting(c)) };
  if (c.isWord("at") || c.isWord("from") || c.token.kind === "duration" || comesMoment(c))
    return { kind: "happening", happening: happening(c) };
  if (c.isWord("expect")) return { kind: "expectation", expectation: expectation(c) };
  const isTimeless = c.isName() && (c.comes("is", 1) || c.comes("=", 1));
  return c.fail(
    ['"from"', '"simulated"', '"given"', '"at"', "a time such as 20 min later", '"expect"'],
    isTimeless ? "Write when before it, such as at 08:10; what is so from the start comes after given." : undefined,
  );
}

function beginning(c: Cursor): BeginningNode {
  const first = c.token;
  const replay = c.takeWord("replay") ? quoted(c) : undefined;
  c.word("from");
  const from = sum(c);
  if (replay) {
    c.word("to");
    return { from, to: sum(c), replay, span: c.span(first) };
  }
  const ends = c.takeWord("for") ? { lasts: sum(c) } : c.takeWord("to") ? { to: sum(c) } : {};
  const cold = c.takeWord("cold") ? { cold: true as const } : {};
  return { from, ...ends, ...cold, span: c.span(first) };
}

function simulated(c: Cursor): SimulatedNode {
  const first = c.word("simulated");
  if (!c.takeCommaWord("weather")) return { span: c.span(first) };
  return { weather: anyWord(c, "a weather"), span: c.span(first) };
}

function setting(c: Cursor): TargetNode {
  const what = name(c, "a sensor, dial, mode or output");
  const { token } = c;
  const isBare = !token.leads && (isNumberToken(token) || (token.kind === "word" && isPlain(token.text)));
  if (!c.takeMeant("is", ["=", ":", "at", "to", "becomes", "turns", "equals", "reads"])) {
    if (isBare && !c.isWord("is")) c.faults.add(token, { kind: "missingVerb", word: token.text, verb: "is" });
    else c.word("is");
  }
  return { name: what, value: value(c) };
}

function happening(c: Cursor): HappeningNode {
  const first = c.token;
  const when = moment(c);
  const what = pressed(c) ?? readOne(c, occurrenceRows);
  return { when, what, span: c.span(first) };
}

/** `press z.bell`, `set z.t to 21 °C`: what is done comes after its name. */
function pressed(c: Cursor): HappeningNode["what"] | undefined {
  const first = c.token;
  if (!c.isName(1)) return undefined;
  const what = c.peek();
  if (c.comes("set") || c.comes("change") || c.comes("turn") || c.comes("switch"))
    c.missing(
      first,
      `Who or what sets ${what.text} is not said.`,
      `Write ${what.text} is … for what it reads, or person sets ${what.text} to ….`,
    );
  if (!c.comes("press")) return undefined;
  c.next();
  const parts = { name: name(c, "what happens to: a sensor, a dial or a mode") };
  c.tellMeant(first, `${what.text} is pressed`);
  return { kind: "is pressed", parts, span: c.span(first) };
}

/** `08:10`, `after 10 min`: a moment, with another word or none. */
function comesMoment(c: Cursor): boolean {
  return c.token.kind === "time" || ((c.comes("after") || c.comes("in")) && c.peek().kind === "duration");
}

function moment(c: Cursor): HappeningNode["when"] {
  const first = c.token;
  if (first.kind === "time") {
    const what = `"${first.text}" needs a word before it.`;
    c.faults.add(first, { kind: "missing", what, remedy: `Write at ${first.text}.`, before: "at" });
    return { at: sum(c) };
  }
  if (c.comes("after") || c.comes("in")) {
    c.next();
    const later = sum(c);
    c.tellMeant(first, `${c.textOf(later.span)} later`);
    return { later };
  }
  if (c.takeWord("at")) {
    const at = sum(c);
    if (!c.comes("to")) return { at };
    c.faults.add(first, { kind: "habit", written: "at", meant: "from" });
    c.next();
    return { from: at, to: sum(c) };
  }
  if (c.takeWord("from")) {
    const from = sum(c);
    c.word("to");
    return { from, to: sum(c) };
  }
  const later = sum(c);
  c.word("later");
  return { later };
}

function expectation(c: Cursor): ExpectationNode {
  const first = c.word("expect");
  const claim = (["never", "always", "whenever"] as const).find((word) => c.takeWord(word)) ?? "holds";
  const claimed = claimable(c);
  if (claim !== "whenever") return { claim, condition: claimed, ...times(c), span: c.span(first) };
  c.word("then");
  const then = claimable(c);
  const within = c.takeWord("within") ? sum(c) : undefined;
  return { claim, condition: claimed, then, ...(within && { within }), ...times(c), span: c.span(first) };
}

/** A condition that may also be about what was told. */
const claimable = (c: Cursor): Term => c.knowing("claims", true, () => condition(c));

function times(c: Cursor): { by?: Term; at?: Term; from?: Term; to?: Term } {
  if (c.comes("within") || c.comes("until")) {
    const { text } = c.token;
    const { text: length } = c.peek();
    const remedy =
      text === "within"
        ? `Write by and a time, or whenever … then … within ${length}.`
        : `Write from … to ${length}, or by ${length}.`;
    c.missing(c.token, `"${text}" does not say from when.`, remedy);
  }
  if (c.takeWord("by") || c.takeMeant("by", ["before"])) return { by: sum(c) };
  if (c.takeWord("at")) return { at: sum(c) };
  if (!c.takeWord("from") && !c.takeMeant("from", ["between", "after", "since"])) return {};
  const from = sum(c);
  return c.takeWord("to") || c.takeMeant("to", ["and", "-"]) ? { from, to: sum(c) } : { from };
}
