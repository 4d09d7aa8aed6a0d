// What comes in the tokens, looked at before anything is taken: whether a number, a time, a bound in somebody's own words, the
// end of a condition.
import {
  boundHabits,
  boundVerbs,
  comparativeHabits,
  lastHabits,
  openingVerbs,
  runningVerbs,
  shouldBe,
  soLongHabits,
  wordings,
} from "../habits.js";
import type { BoundWord } from "../syntax.js";
import type { Token } from "../token.js";
import { type Cursor, isPlain } from "./cursor.js";

export const bounds: ReadonlySet<string> = new Set<BoundWord>(["above", "below", "at least", "at most"]);

/** What stands between something and what it is compared with. */
export const relations: ReadonlySet<string> = new Set([...bounds, "between", "is", "was", "has"]);

/** Of several wordings, the one that comes: most words begin none of them. */
function wordingOf(c: Cursor, wordings: readonly (readonly string[])[], fits: (length: number) => boolean) {
  const { text } = c.token;
  return wordings.find((words) => words[0] === text && c.comesAll(words) && fits(words.length));
}

/** `within the last 10 min` */
export const lastByHabit = (c: Cursor) => wordingOf(c, lastHabits, (length) => isNumberToken(c.peek(length)) || c.isName(length));

/** `since 5 min` */
export const soLongByHabit = (c: Cursor) =>
  c.claims ? undefined : wordingOf(c, soLongHabits, (length) => c.peek(length).kind === "duration");

/** The bound that holds where another does not. */
const opposite: Readonly<Record<BoundWord, BoundWord>> = {
  above: "at most",
  below: "at least",
  "at least": "below",
  "at most": "above",
};

/** `< 20 °C`, `is not above z.most`, `rises above z.most`, `greater than 20 °C`: what is meant is clear. How many tokens it is. */
export function boundByHabit(c: Cursor): { readonly meant: BoundWord; readonly takes: number } | undefined {
  if (c.isSign("<")) return { meant: "below", takes: 1 };
  const { text } = c.token;
  const is = c.isWord("is") || c.isWord("was") ? 1 : 0;
  const not = is === 1 && c.comes("not", 1) ? 1 : 0;
  const verb = is + not;
  const found = (bound: BoundWord, takes: number) => ({ meant: not ? opposite[bound] : bound, takes });
  const comparative = comparativeAt(c, verb);
  if (comparative) return found(comparative, verb + 2);
  if (text === "exceeds") return { meant: "above", takes: 1 };
  const isVerb = boundVerbs.has(text) || (is === 1 && isValueAt(c, verb + 1));
  const bound = isVerb ? boundAfterVerb(c.peek(Math.max(1, verb)).text) : undefined;
  return bound && found(bound, Math.max(1, verb) + 1);
}

/** `greater than`. */
const comparativeAt = (c: Cursor, ahead: number) =>
  c.peek(ahead + 1).text === "than" ? comparativeHabits[c.peek(ahead).text] : undefined;

/** `all door is open`, `none of them is on`: several things at once; each of these words may be a name. */
export function comesSeveral(c: Cursor): boolean {
  const named = c.comes("of", 1) ? 2 : 1;
  const { text } = c.peek(named + 1);
  return c.isName(named) && (relations.has(text) || /^(are|and|or|nor|in)$/.test(text));
}

/** `for at least 10 min`: what goes without saying before a length of time; some of these words may be names. */
export const comesNeedless = (c: Cursor, words: readonly string[]) =>
  c.comesAll(words) && (words[0] === "at least" || isNumberToken(c.peek(words.length)));

/** `3 K below`, `3 K colder than`: on which side of what comes then, and how many tokens say so. */
export function sideAt(c: Cursor, ahead: number): { readonly side: "above" | "below"; readonly takes: number } | undefined {
  if (!isNumberToken(c.peek(ahead))) return undefined;
  const { text } = c.peek(ahead + 1);
  if (text === "above" || text === "below") return { side: text, takes: 1 };
  const isOfTime = text === "longer" || text === "shorter";
  const side = isOfTime && c.peek(ahead).kind !== "duration" ? undefined : comparativeAt(c, ahead + 1);
  return side && { side, takes: 2 };
}

const boundAfterVerb = (text: string) => (bounds.has(text as BoundWord) ? (text as BoundWord) : boundHabits[text]);

/** Whether a verb and a bound, with its value, stand so far ahead, where people say that a condition comes to be true. */
export const comesToBound = (c: Cursor, ahead: number) =>
  boundVerbs.has(c.peek(ahead).text) && boundAfterVerb(c.peek(ahead + 1).text) !== undefined && isValueAt(c, ahead + 2);

/** A state may be called as a bound is; then the steps come. */
const isValueAt = (c: Cursor, ahead: number) =>
  isNumberToken(c.peek(ahead)) ||
  c.isSign("(", ahead) ||
  c.isSign("-", ahead) ||
  (c.isName(ahead) && !actionWords.has(c.peek(ahead).text) && !ends.has(c.peek(ahead).text));

export const isNumberToken = ({ kind }: Token) => kind === "number" || kind === "quantity" || kind === "duration";

/** `from 18 °C to 20 °C`, `outside 18..20 °C` */
export const comesRange = (c: Cursor) =>
  ["from", "outside", "within", "in"].some((word) => c.comes(word)) && isNumberToken(c.peek(1));

/** `z.fan is never on`: how often comes before what. */
export function claimFirst(c: Cursor, left: string): void {
  const at = c.isWord("is") ? 1 : 0;
  const { text, kind } = c.peek(at);
  if ((text !== "never" && text !== "always") || c.peek(at).leads || c.peek(at + 1).kind !== "word" || kind !== "word") return;
  c.missing(c.peek(at), `"${text}" comes before the condition.`, `Write ${text} ${left} is ${c.peek(at + 1).text}.`);
}

const sentenceWords: ReadonlySet<string> = new Set("hold keep cycle while".split(" "));
/** Words that begin a step and nothing else. */
const stepWords: ReadonlySet<string> = new Set("set tell toggle dose send apply start wait ramp release stop flip".split(" "));
const tells: ReadonlySet<string> = new Set(["tell", ...(wordings.tell ?? [])]);

export const switchVerbs: ReadonlySet<string> = new Set(["turn", "switch", "put"]);
/** `raise z.lamp to 80 %` sets it. */
export const moveVerbs: ReadonlySet<string> = new Set(["raise", "lower", "increase", "decrease"]);

/** Whether somebody turns something on or off so far ahead. */
export const comesSwitch = (c: Cursor, ahead = 0) =>
  comesOpening(c, ahead) ||
  (switchVerbs.has(c.peek(ahead).text) && (c.isName(ahead + 1) || c.isName(ahead + 2)) && !c.peek(ahead + 1).leads);

export const comesOpening = (c: Cursor, ahead = 0) =>
  (openingVerbs[c.peek(ahead).text] !== undefined ||
    (runningVerbs[c.peek(ahead).text] !== undefined && c.peek(ahead + 1).kind === "dotted")) &&
  c.isName(ahead + 1) &&
  !c.peek(ahead + 1).leads &&
  !sentenceWords.has(c.peek(ahead + 1).text);

/** `z.fan on`, `z.lamp = 50 %`, `z.valve to open`: whether something and what it is switched to stand there, without a verb. */
export function comesTarget(c: Cursor, ahead = 0): boolean {
  const { text } = c.peek(ahead);
  const isVerb = [stepWords, switchVerbs, moveVerbs, sentenceWords].some((words) => words.has(text));
  if (isVerb || !c.isName(ahead)) return false;
  const joins = joinsAt(c, ahead + 1);
  const after = c.peek(ahead + joins + 1);
  if (after.leads) return false;
  if (after.text === "on" || after.text === "off") return true;
  const isDotted = c.peek(ahead).kind === "dotted";
  const isNumber = isNumberToken(after) && after.kind !== "duration";
  return isDotted && (isNumber || (joins > 0 && after.kind === "word" && isPlain(after.text)));
}

/** How many words stand between a thing and its state, as people say them. */
export const joinsAt = (c: Cursor, ahead: number): number =>
  ["=", ":", "to", "at"].some((word) => c.comes(word, ahead))
    ? 1
    : (shouldBe.find((words) => c.comesAll(words, ahead))?.length ?? 0);

/** Whether something is done so far ahead: a step, or what is switched as people say it. */
export const comesDeed = (c: Cursor, ahead = 0): boolean => !isBegun(c, ahead) && comesAct(c, ahead);

/** Whether what begins a sentence stands before it, though it may have been taken for a name. */
const isBegun = (c: Cursor, ahead: number) => sentenceWords.has((ahead === 0 ? c.taken : c.peek(ahead - 1)).text);

const comesAct = (c: Cursor, ahead: number): boolean =>
  comesSwitch(c, ahead) ||
  comesTarget(c, ahead) ||
  (stepWords.has(c.peek(ahead).text) && !relations.has(c.peek(ahead + 1).text) && c.peek(ahead + 1).kind !== "sign") ||
  (tells.has(c.peek(ahead).text) && c.peek(ahead + 1).kind === "text");

/** Whether a time of day comes so far ahead, with nothing that it is compared with. */
export function isBareTime(c: Cursor, ahead = 0): boolean {
  if (!isTimeAt(c, ahead)) return false;
  const behind = ahead + (c.isSign("+", ahead + 1) || c.isSign("-", ahead + 1) ? 3 : 1);
  return !relations.has(c.peek(behind).text);
}

export const isTimeAt = (c: Cursor, ahead: number) =>
  c.peek(ahead).kind === "time" || /^(sunrise|sunset|dawn|dusk|noon|midnight)$/.test(c.peek(ahead).text);

/** What a sentence goes on with, where a condition that it waits for is over. */
export const ends: ReadonlySet<string> = new Set("and or until do provided if then )".split(" "));
export const actionWords: ReadonlySet<string> = new Set("hold keep cycle set do".split(" "));
export const comesAction = (c: Cursor, ahead: number) => actionWords.has(c.peek(ahead).text) && c.isName(ahead + 1);
