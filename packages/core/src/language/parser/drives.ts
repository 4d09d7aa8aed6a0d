// What a sentence drives by itself: a `keep` with its target, tolerance and outputs, and a `cycle`.
import { writeDuration } from "../../units/index.js";
import { driveHabits, drivenHabits } from "../habits.js";
import type { ActionNode, DriveNode, Term } from "../syntax.js";
import type { Token } from "../token.js";
import { isNumberToken } from "./ahead.js";
import type { Cursor } from "./cursor.js";
import { sum } from "./terms.js";
import { name } from "./words.js";

/** `cycle z.fan on 10 min off 20 min` */
export function cycle(c: Cursor, first: Token): ActionNode {
  const output = name(c, "an output");
  const said = roundByHabit(c);
  if (said) return { kind: "cycle", output, ...said, span: c.span(first) };
  if (!c.comes("on") && !c.asked) c.fail(['"on"'], `Write cycle ${output.text} on 5 min off 10 min.`);
  c.word("on");
  c.takeMeant("", ["for"]);
  const on = sum(c);
  const { token } = c;
  if (c.comes("every") && c.peek().kind === "duration") {
    c.next();
    return { kind: "cycle", output, on, off: whatIsLeft(c, token, on, sum(c)), span: c.span(first) };
  }
  if (c.isWord("off", 1)) c.takeMeant("", [",", "and"]);
  c.word("off");
  c.takeMeant("", ["for"]);
  return { kind: "cycle", output, on, off: sum(c), span: c.span(first) };
}

/** `10 min on 20 min off`, `every 30 min for 10 min`: told, and read on with. */
function roundByHabit(c: Cursor): { readonly on: Term; readonly off: Term } | undefined {
  const first = c.token;
  const isTurned = first.kind === "duration" && c.isWord("on", 1) && c.peek(2).kind === "duration" && c.isWord("off", 3);
  if (isTurned) {
    const on = sum(c);
    c.next();
    const off = sum(c);
    c.next();
    c.tellMeant(first, `on ${c.textOf(on.span)} off ${c.textOf(off.span)}`);
    return { on, off };
  }
  const isOften = c.comes("every") && c.peek().kind === "duration" && c.isWord("for", 2) && c.peek(3).kind === "duration";
  if (!isOften) return undefined;
  c.next();
  const every = sum(c);
  c.next();
  const on = sum(c);
  return { on, off: whatIsLeft(c, first, on, every, `on ${c.textOf(on.span)} `) };
}

/** How long it is off, of a whole: told in its place. */
function whatIsLeft(c: Cursor, first: Token, on: Term, whole: Term, says = ""): Term {
  const [part, all] = [on, whole].map((term) => (term.kind === "duration" ? term.ms : Number.NaN)) as [number, number];
  if (!(all > part)) c.missing(first, "A cycle has a time on and a time off.", "Write both: on 10 min off 20 min.");
  const text = writeDuration(all - part);
  c.tellMeant(first, `${says}off ${text}`);
  return { kind: "duration", ms: all - part, unit: "ms", text, span: whole.span };
}

/** `keep z.t at 20 °C ± 0.5 K raise with z.heater` */
export function keep(c: Cursor, first: Token): ActionNode {
  const kept = sum(c);
  const { text } = c.token;
  if (text === "on" || text === "off" || text === "open" || text === "closed")
    c.missing(
      c.token,
      "A keep moves what is measured.",
      `To keep ${c.textOf(kept.span)} ${text}, write hold ${c.textOf(kept.span)} at ${text}.`,
    );
  const at = keptAt(c, kept);
  if (c.comes("to") || c.comes(".."))
    c.missing(
      c.token,
      "A keep has one target.",
      "Write the middle and how far it may drift: at 21 °C ± 1 K; or between 20 °C and 22 °C, with one output to raise and one to lower.",
    );
  const isTolerant =
    c.isSign("±") || c.comesAll(plusMinus) || tolerances.some((word) => c.comes(word) && isNumberToken(c.peek()));
  const tolerance = isTolerant ? toleranceNode(c) : undefined;
  if (!tolerance && "target" in at && (c.isWord("while") || c.isSign("}"))) {
    const [what, to] = [kept, at.target].map((term) => c.textOf(term.span));
    const remedy = `Write raise with … or lower with …: the output that it switches. What is only set is held: hold ${what} at ${to}.`;
    c.missing(c.token, "A keep needs something that it switches.", remedy);
  }
  const drives = [drive(c)];
  while (comesDrive(c, 0) || ((c.comes(",") || c.comes("and")) && comesDrive(c, 1))) {
    c.takeMeant("", [",", "and"]);
    drives.push(drive(c));
  }
  return { kind: "keep", value: kept, at, ...(tolerance && { tolerance }), drives, span: c.span(first) };
}

const tolerances = ["within", "tolerance"];
const plusMinus = ["plus", "minus"];
const comesDrive = (c: Cursor, ahead: number) =>
  c.isWord("raise", ahead) || c.isWord("lower", ahead) || wayByHabit(c, ahead) !== undefined;

/** Where something is done about a limit, and until when. */
const beyondLimit: Readonly<Record<string, readonly [beyond: string, within: string]>> = {
  above: ["below", "above"],
  "at least": ["below", "above"],
  over: ["below", "above"],
  below: ["above", "below"],
  "at most": ["above", "below"],
  under: ["above", "below"],
};

function keptAt(c: Cursor, kept: Term) {
  if (c.takeWord("at") || c.takeMeant("at", ["to", "=", "around", "near", "about"])) return { target: sum(c) };
  if (isNumberToken(c.token)) {
    c.lacksWord("at");
    return { target: sum(c) };
  }
  const beyond = beyondLimit[c.token.text];
  if (beyond) {
    const limit = isNumberToken(c.peek()) ? c.peek().text : "…";
    const alone = `while ${c.textOf(kept.span)} ${beyond[0]} ${limit} until ${beyond[1]} … hold … at on`;
    c.fail(
      ['"at"', '"between"'],
      `Write at … ± …: a target, and how far it may drift from there; or for a limit alone, ${alone}.`,
    );
  }
  const within = c.comes("within") || c.comes("in") || c.comes("inside");
  if (within)
    c.fail(
      ['"at"', '"between"'],
      "Write at 20 °C ± 1 K; or between 18 °C and 22 °C ± 1 K, with one output to raise and one to lower.",
    );
  if (!c.takeWord("between")) c.fail(['"at"', '"between"']);
  const low = sum(c);
  c.word("and");
  return { low, high: sum(c) };
}

function toleranceNode(c: Cursor) {
  const first = c.token;
  if (c.comesAll(plusMinus)) c.takeAllMeant("±", plusMinus);
  else if (!c.takeMeant("±", tolerances)) c.sign("±");
  const below = sum(c);
  const above = c.takeSign("..") ? sum(c) : undefined;
  return { below, ...(above && { above }), span: c.span(first) };
}

function drive(c: Cursor): DriveNode {
  const first = c.token;
  const meant = wayByHabit(c);
  if (meant) c.takeMeant(meant, [first.text]);
  else if (!c.isWord("raise") && !c.isWord("lower")) c.fail(['"raise with"', '"lower with"'], c.instead(drivenHabits));
  const way = meant ?? (c.next().text as "raise" | "lower");
  const isDoing = c.comes("by") && c.peek().text.endsWith("ing") && c.isName(2);
  if (isDoing) c.takeAllMeant("with", ["by", c.peek().text]);
  else if (!c.takeMeant("with", ["by", "using", "through", "via"])) c.word("with");
  const output = name(c, "an output");
  if ((c.comes("at") && !c.peek().leads && c.peek().kind !== "time") || c.comes("to"))
    c.missing(c.token, "A keep switches its output, and sets none.", "For more the further it is, write in proportion over 2 K.");
  if ((c.isSign(",") || c.comes("and")) && c.isName(1) && !comesDrive(c, 1)) {
    const other = c.peek().text;
    const remedy = `Name them together: group g = ${output.text}, ${other}; and write ${way} with g.`;
    c.missing(c.token, "Each way of a keep drives one output.", remedy);
  }
  if (!takeProportion(c)) return { way, output, span: c.span(first) };
  const over = sum(c);
  const isEvery = c.isSign(",") && c.isWord("every", 1);
  if (isEvery) {
    c.next();
    c.takeMeant("cycle", ["every"]);
  }
  const period = isEvery || c.takeCommaWord("cycle") ? sum(c) : undefined;
  return { way, output, proportion: { over, ...(period && { cycle: period }) }, span: c.span(first) };
}

/** `in proportion over`, or what is said for it. */
function takeProportion(c: Cursor): boolean {
  const isIn = c.isWord("in") && c.isWord("proportion", 1);
  if (c.comesAll(["proportionally", "over"])) {
    c.takeAllMeant("in proportion over", ["proportionally", "over"]);
    return true;
  }
  if (!isIn) return false;
  if (c.takeWords("in", "proportion", "over")) return true;
  if (!c.comes("to", 2) && !c.comes("within", 2)) return false;
  c.next();
  c.next();
  return c.takeMeant("over", ["to", "within"]);
}

/** `heat with`: which way that is. */
function wayByHabit(c: Cursor, ahead = 0): "raise" | "lower" | undefined {
  return c.isWord("with", ahead + 1) ? driveHabits[c.peek(ahead).text] : undefined;
}
