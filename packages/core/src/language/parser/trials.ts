// Trials: a beginning, what is given, what happens, what to expect.

import { beginHabits, expectHabits, openingVerbs, silenceHabits, stateVerbs } from "../habits.js";
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
import type { Span, Token } from "../token.js";
import { occurrenceRows } from "../vocabulary/occurrences.js";
import { comesOpening, isNumberToken, isTimeAt } from "./ahead.js";
import { type Cursor, isPlain, Unparsed } from "./cursor.js";
import { heading } from "./heading.js";
import { quoted } from "./quoted.js";
import { type RepeatHead, repeatHead, unroll } from "./repeat.js";
import { condition, sum, value } from "./terms.js";
import { anyWord, name } from "./words.js";

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
  const before: Part[] = [];
  let last = 0;
  const parts = c.block(what, begins, () => {
    const token = c.token;
    const found = part(c, before);
    const place = order.indexOf(found.kind);
    if (place < last) {
      const remedy = "The order in a trial is: from, simulated, given, what happens, what to expect.";
      c.faults.add(token, { kind: "missing", what: `"${token.text}" comes too late in the trial.`, remedy });
    }
    before.push(found);
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
    while (c.token.kind !== "end") parts.push(part(c, parts));
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

function part(c: Cursor, before: readonly Part[]): Part {
  const begun = before.some(({ kind }) => kind === "from");
  const last = before.at(-1);
  const goesOn = (c.comes("and") || c.isSign(",")) && c.isName(1) && !comesPart(c);
  if (goesOn && last?.kind === "happening") return { kind: "happening", happening: another(c, last.happening.when) };
  if (goesOn && last?.kind === "expectation") {
    const what = `Each expectation has an expect of its own, also ${c.peek().text}.`;
    c.faults.add(c.next(), { kind: "missing", what, remedy: "Write expect before it.", after: "expect" });
    return { kind: "expectation", expectation: expected(c, c.token) };
  }
  if ((c.comes("then") || c.comes("and") || c.isSign(",")) && comesPart(c)) c.takeMeant("", [c.token.text]);
  if (c.takeWord("note")) return { kind: "note", text: quoted(c) };
  if (c.isWord("for each")) {
    const head = repeatHead(c);
    return { kind: "repeat", head, from: c.position };
  }
  if (c.isWord("replay") || ((c.isWord("from") || comesBeginning(c)) && !begun)) return { kind: "from", beginning: beginning(c) };
  if (c.isWord("simulated")) return { kind: "simulated", simulated: simulated(c) };
  if (c.takeWord("given")) return { kind: "given", settings: settings(c) };
  if (c.isWord("at") || c.isWord("from") || c.token.kind === "duration" || comesMoment(c))
    return { kind: "happening", happening: happening(c) };
  if (c.isWord("expect") || (expectHabits.includes(c.token.text) && c.peek().kind !== "sign"))
    return { kind: "expectation", expectation: expectation(c) };
  if (c.comes("when") || c.comes("if"))
    c.missing(c.token, "A trial says what is so, and what comes of it.", "Write given … is …, then expect … is ….");
  if (c.isName() && (c.comes("should", 1) || c.comes("must", 1)))
    c.missing(c.token, "What should come of it comes after expect.", `Write expect ${c.token.text} is ….`);
  const isTimeless = c.isName() && (c.comes("is", 1) || c.comes("=", 1));
  return c.fail(
    ['"from"', '"simulated"', '"given"', '"at"', "a time such as 20 min later", '"expect"'],
    isTimeless ? "Write when before it, such as at 08:10; what is so from the start comes after given." : undefined,
  );
}

/** Whether what comes behind a word goes on with the trial. */
const comesPart = (c: Cursor) =>
  ["at", "from", "expect", "given"].some((word) => c.comes(word, 1)) || c.peek().kind === "duration" || c.peek().kind === "time";

/** `2026-03-14 08:00`, with another word or none before it. */
const comesBeginning = (c: Cursor) => c.token.kind === "date" || (beginHabits.includes(c.token.text) && c.peek().kind === "date");

/** `from`, or what is meant for it: told, and read on with. */
function takeFrom(c: Cursor): void {
  const { token } = c;
  if (token.kind !== "date") {
    if (!c.takeMeant("from", beginHabits)) c.word("from");
    return;
  }
  c.lacksWord("from", true);
}

function beginning(c: Cursor): BeginningNode {
  const first = c.token;
  const replay = c.takeWord("replay") ? quoted(c) : undefined;
  takeFrom(c);
  const from = instantOf(c);
  if (replay) {
    c.word("to");
    return { from, to: sum(c), replay, span: c.span(first) };
  }
  const isTo = () => c.takeWord("to") || c.takeMeant("to", ["until", "till", "-"]);
  const ends = c.takeWord("for") ? { lasts: sum(c) } : isTo() ? { to: sum(c) } : {};
  const cold = c.takeWord("cold") ? { cold: true as const } : {};
  return { from, ...ends, ...cold, span: c.span(first) };
}

/** `2026-03-14 at 08:00`, where nothing happens at that time: a trial may begin at midnight. */
function instantOf(c: Cursor): Term {
  const from = sum(c);
  const isApart = from.kind === "instant" && from.ms === undefined && (c.comes("from") || c.comes("at"));
  const goesOn = ["for", "cold", "given", "simulated", "at", "expect"].some((word) => c.comes(word, 2));
  if (!isApart || c.peek().kind !== "time" || !goesOn) return from;
  c.takeMeant("", [c.token.text]);
  return { ...from, ms: c.next().value, span: c.span(from.span) };
}

/** Several are parted by commas, and everybody may write `and`. */
function settings(c: Cursor): TargetNode[] {
  const list = [setting(c)];
  while (c.takeSign(",") || (c.isName(1) && c.takeMeant(",", ["and"]))) list.push(setting(c));
  return list;
}

function simulated(c: Cursor): SimulatedNode {
  const first = c.word("simulated");
  // `simulated weather frost`, `simulated, frost`
  if (c.isWord("weather") && c.peek().kind === "word") c.separator(",");
  else if (!c.takeCommaWord("weather")) {
    if (!c.isSign(",") || c.peek().kind !== "word") return { span: c.span(first) };
    c.next();
    c.lacksWord("weather");
    return { weather: anyWord(c, "a weather"), span: c.span(first) };
  }
  c.takeWord("weather");
  return { weather: anyWord(c, "a weather"), span: c.span(first) };
}

function setting(c: Cursor): TargetNode {
  const what = name(c, "a sensor, dial, mode or output");
  const { token } = c;
  const isBare = !token.leads && (isNumberToken(token) || (token.kind === "word" && isPlain(token.text)));
  const comings = ["falls", "drops", "rises", "climbs", "goes", "changes", "sinks"].find((word) => c.comesAll([word, "to"]));
  if (comings) c.takeAllMeant("is", [comings, "to"]);
  else if (!c.takeMeant("is", ["=", ":", "at", "to", "becomes", "turns", "equals", "reads"])) {
    if (isBare && !c.isWord("is")) c.faults.add(token, { kind: "missingVerb", word: token.text, verb: "is" });
    else c.word("is");
  }
  return { name: what, value: value(c) };
}

const occurrence = (c: Cursor): HappeningNode["what"] => happensByHabit(c) ?? pressed(c) ?? readOne(c, occurrenceRows);

function happening(c: Cursor): HappeningNode {
  const first = c.token;
  const when = moment(c);
  const what = occurrence(c);
  if (what.kind === "is" && c.comes("for"))
    c.missing(c.token, "What happens stays so until something else does.", "Write what ends it, such as 10 min later ….");
  const isLong =
    (c.comes("in") || c.comes("over") || c.comes("within")) &&
    c.peek().kind === "duration" &&
    (!c.isName(2) || begins.has(c.peek(2).text));
  if (what.kind === "moves to" && isLong)
    c.missing(first, "A move has a start and an end.", `Write from and to: from 08:00 to 08:10 … moves to ….`);
  return { when, what, span: c.span(first) };
}

/** `at 08:10 z.door is open, z.t is 18 °C`: told that each has a time of its own, and read with that of the one before. */
function another(c: Cursor, when: HappeningNode["when"]): HappeningNode {
  const joint = c.next();
  const text = (term: Term) => c.textOf(term.span);
  const time = "at" in when ? `at ${text(when.at)}` : "from" in when ? `from ${text(when.from)} to ${text(when.to)}` : undefined;
  const what = `Each thing that happens has a time of its own, also ${c.token.text}.`;
  const remedy = `Write its time before it: ${time ?? "at …"} ${c.token.text} …`;
  c.faults.add(joint, { kind: "missing", what, remedy: `${remedy}.`, ...(time && { after: time }) });
  return { when, what: occurrence(c), span: c.span(joint) };
}

/** How something is said to come to a value. */
const comings: ReadonlySet<string> = new Set(["goes", "changes", "turns", "switches"]);

/** `z.door opens`, `z.temperature stops reporting`, `person turns on z.fan`: told with the right form, and read on with. */
function happensByHabit(c: Cursor): HappeningNode["what"] | undefined {
  const first = c.token;
  const state = c.isName() ? stateVerbs[c.peek().text] : undefined;
  if (state !== undefined) {
    const what = name(c, "what happens to: a sensor, a dial or a mode");
    const verb = c.next();
    c.faults.add(verb, { kind: "habit", written: verb.text, meant: `is ${state}` });
    const to: Term = { kind: "name", text: state, span: verb };
    return { kind: "is", parts: { name: what, value: to }, span: c.span(first) };
  }
  const opened = comesOpening(c) && c.peek().kind === "dotted" ? openingVerbs[first.text] : undefined;
  if (opened !== undefined) {
    c.next();
    const what = name(c, "what happens to: a sensor, a dial or a mode");
    c.tellMeant(first, `${what.text} is ${opened}`);
    return { kind: "is", parts: { name: what, value: { kind: "name", text: opened, span: first } }, span: c.span(first) };
  }
  const comesTo = c.isName() && comings.has(c.peek().text) && c.comes("to", 2);
  if (comesTo && !c.comes("person")) {
    const what = name(c, "what happens to: a sensor, a dial or a mode");
    c.takeAllMeant("is", [c.token.text, "to"]);
    return { kind: "is", parts: { name: what, value: value(c) }, span: c.span(first) };
  }
  if (c.isName() && c.comes("pressed", 1) && !c.comes("person")) {
    const what = name(c, "what happens to: a sensor, a dial or a mode");
    c.takeMeant("is pressed", ["pressed"]);
    return { kind: "is pressed", parts: { name: what }, span: c.span(first) };
  }
  const { text } = c.peek();
  const silent = c.isName() ? silenceHabits.find((words) => words[0] === text && c.comesAll(words, 1)) : undefined;
  if (silent && !c.comes("person") && !c.comes("for", 1 + silent.length)) {
    const what = name(c, "what happens to: a sensor, a dial or a mode");
    c.takeAllMeant("falls silent", silent);
    return { kind: "falls silent", parts: { name: what }, span: c.span(first) };
  }
  const isSwitch = c.comes("person") && (c.comes("turns", 1) || c.comes("switches", 1));
  const [on, off] = [2, 3].map((ahead) => c.comes("on", ahead) || c.comes("off", ahead));
  if (!isSwitch || !(on ? c.isName(3) : off && c.isName(2))) return undefined;
  c.next();
  c.next();
  const before = on ? value(c) : undefined;
  const what = name(c, "an output, a dial or a mode");
  const to = before ?? value(c);
  c.tellMeant(first, `person sets ${what.text} to ${c.textOf(to.span)}`);
  const lasts = c.takeWord("for") ? { lasts: sum(c) } : {};
  return { kind: "person sets", parts: { name: what, value: to, ...lasts }, span: c.span(first) };
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
    c.lacksWord("at");
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
    if (!c.comes("to") || !isTimeAt(c, 1)) return { at };
    c.faults.add(first, { kind: "habit", written: "at", meant: "from" });
    c.next();
    return { from: at, to: sum(c) };
  }
  if (c.takeWord("from")) {
    const from = sum(c);
    if (!c.isWord("to")) c.fail(['"to"'], "What moves has a start and an end: from 08:00 to 08:10 … moves to ….");
    c.next();
    return { from, to: sum(c) };
  }
  const later = sum(c);
  c.word("later");
  return { later };
}

function expectation(c: Cursor): ExpectationNode {
  const first = c.takeMeant("expect", expectHabits) ? c.taken : c.word("expect");
  if (c.peek().kind === "dotted") c.takeMeant("", ["that"]);
  if (c.comes("at") && c.peek().kind === "time") {
    const { text } = c.peek();
    c.missing(c.token, "When it is so comes last.", `Write expect … at ${text}.`);
  }
  return expected(c, first);
}

function expected(c: Cursor, first: Span): ExpectationNode {
  const claim = (["never", "always", "whenever"] as const).find((word) => c.takeWord(word)) ?? "holds";
  const begins = c.token;
  explainNothing(c);
  const claimed = claimable(c);
  explainShare(c, begins);
  if (claim !== "whenever") return { claim, condition: claimed, ...times(c), span: c.span(first) };
  c.word("then");
  const then = claimable(c);
  const within = c.takeWord("within") ? sum(c) : undefined;
  return { claim, condition: claimed, then, ...(within && { within }), ...times(c), span: c.span(first) };
}

/** `expect no problem`, `expect told nothing`: what never is has a text to look for. */
function explainNothing(c: Cursor): void {
  const written = nothings.find((words) => c.comesAll(words));
  if (!written) return;
  const remedy = written.includes("problem")
    ? 'Write never problem "silent", with the code of each that must not come.'
    : 'Write never told "": no text at all.';
  c.missing(c.token, `"${written.join(" ")}" is not part of the language.`, remedy);
}

const nothings = ["no problem", "no problems", "no notice", "no notices", "told nothing", "nothing told"].map((words) =>
  words.split(" "),
);

/** `z.fan is on at least 10 min`, `… 90 % of the time`: how long, and how much of the time, have words of their own. */
function explainShare(c: Cursor, begins: Token): void {
  const says = () => c.textOf({ ...begins, to: c.taken.to });
  const isLong = ["at least", "at most", "above", "below"].some((word) => c.comes(word)) && c.peek().kind === "duration";
  if (isLong)
    c.missing(c.token, "How long something is so is counted.", `Write time(${says()}) ${c.token.text} ${c.peek().text}.`);
  if (c.token.unit === "%" && c.comes("of", 1))
    c.missing(c.token, "How much of the time something is so is a share.", `Write share(${says()}) at least ${c.token.text}.`);
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
  if (c.comes("after") && c.peek().kind === "duration") {
    const remedy = `Write the time, such as at 08:05, or whenever … then … within ${c.peek().text}.`;
    c.missing(c.token, '"after" does not say from when.', remedy);
  }
  if (c.takeWord("by") || c.takeMeant("by", ["before"])) return { by: sum(c) };
  if (c.takeWord("at")) return { at: sum(c) };
  if (!c.takeWord("from") && !c.takeMeant("from", ["between", "after", "since"])) return {};
  const from = sum(c);
  return c.takeWord("to") || c.takeMeant("to", ["and", "-", "until", "till"]) ? { from, to: sum(c) } : { from };
}
