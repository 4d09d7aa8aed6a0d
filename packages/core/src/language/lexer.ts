// Text → tokens. Line ends are blanks, but for ending a comment, ending an unclosed text and parting a number from a unit.
import { readUnit, spellings, units } from "../units/index.js";
import { habits, meantDate, meantDegrees, meantTime, meantUnit, signHabits } from "./habits.js";
import type { Faults } from "./problem.js";
import type { Comment, Span, Token, TokenKind } from "./token.js";

export interface Lexed {
  readonly tokens: readonly Token[];
  readonly comments: readonly Comment[];
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&");
const longestFirst = (words: string[]) =>
  words
    .sort((a, b) => b.length - a.length)
    .map(escaped)
    .join("|");

const word = "(?:[\\p{L}_](?:[\\p{L}\\p{M}\\p{N}_]|(?<=_)\\{[\\p{L}_][\\p{L}\\p{M}\\p{N}_]*\\})*)";
const unitNames = [...Object.keys(units), ...Object.keys(spellings), "N", "E", "S"].filter((name) => name !== "");
const notWord = "(?![\\p{L}\\p{N}_])";

const patterns = {
  blank: /[\s\u00a0\ufeff]+/uy,
  comment: /#[^\n\r]*/y,
  date: /\d{4}-\d{2}-\d{2}(?!\d)/y,
  time: /\d{1,2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?!\d)/y,
  number: /\d+(?:\.\d+)?/y,
  unit: new RegExp(`[ \\t\\u00a0]*(${longestFirst(unitNames)})${notWord}`, "uy"),
  loneUnit: new RegExp(`(?:${longestFirst(unitNames.filter((name) => /[^\p{L}\p{N}]/u.test(name)))})${notWord}`, "uy"),
  durationPart: /[ \t\u00a0]*(\d+(?:\.\d+)?)[ \t\u00a0]*(ms|s|min|h|d)(?![\p{L}\p{N}_])/uy,
  name: new RegExp(`${word}(?:\\.${word})*`, "uy"),
  phrase: /(?:at\s+least|at\s+most|in\s+the\s+last|for\s+each)(?![\p{L}\p{N}_])/uy,
  sign: /\+-|\.\.|[{}(),:=±+\-−*/<]/y,
  text: /"(?:[^"\\\n\r]|\\[^\n\r])*"?/y,
  bad: /[^\s\p{L}\p{N}_"#{}(),:=±+\-−*/<]+|./uy,
};

/** Words before an article that somebody writes with the name of a thing. */
const articles: ReadonlySet<string> = new Set(
  "on off keep hold set turn switch open close toggle while when if and or not until then maintain".split(" "),
);
const durationUnits = new Set(["ms", "s", "min", "h", "d"]);

/** Splits a text into tokens, the last of kind `end`. */
export function lex(file: string, text: string, faults: Faults, start = 0, stop = text.length): Lexed {
  const tokens: Token[] = [];
  const comments: Comment[] = [];
  let at = start;
  let leads = true;

  function match(pattern: RegExp): RegExpExecArray | undefined {
    pattern.lastIndex = at;
    const found = pattern.exec(text);
    return found && found.index + found[0].length <= stop ? found : undefined;
  }

  function push(kind: TokenKind, to: number, more: Partial<Token> = {}): void {
    tokens.push({ kind, file, from: at, to, text: text.slice(at, to), leads, value: 0, unit: "", ...more });
    leads = false;
    at = to;
  }

  const here = (to: number): Span => ({ file, from: at, to });

  /** Tells of a habit, and what is meant by it. */
  function habit(to: number, meant: string): void {
    faults.add(here(to), { kind: "habit", written: text.slice(at, to), meant });
  }

  /** A date, or hours with minutes, that is not written as here; true where there is one. */
  function dateByHabit(): boolean {
    const instant = match(habits.instant);
    if (instant) {
      const [whole, date = "", clock = ""] = instant;
      habit(at + whole.length, `${date} ${clock}`);
      push("date", at + date.length);
      at++;
      time(clock);
      return true;
    }
    const hours = match(habits.hoursAndMinutes);
    if (hours) {
      const [whole, hour = "", minute = ""] = hours;
      const meant = `${Number(hour)} h ${Number(minute)} min`;
      habit(at + whole.length, meant);
      push("duration", at + whole.length, { value: (Number(hour) * 60 + Number(minute)) * 60e3, unit: "min", text: meant });
      return true;
    }
    const dayFirst = match(habits.dayFirst);
    if (dayFirst) {
      const meant = meantDate(dayFirst);
      habit(at + dayFirst[0].length, meant);
      push("date", at + dayFirst[0].length, { text: meant });
      return true;
    }
    return false;
  }

  /** A number, and its unit, that is not written as here; true where there is one. */
  function numberByHabit(): boolean {
    if (match(habits.oddNumber) && dateByHabit()) return true;
    const halfDay = match(habits.halfDay);
    if (halfDay) {
      const meant = meantTime(halfDay);
      habit(at + halfDay[0].length, meant);
      const [hours = 0, minutes = 0] = meant.split(":").map(Number);
      push("time", at + halfDay[0].length, { value: (hours * 60 + minutes) * 60e3 });
      return true;
    }
    const degrees = match(habits.degrees);
    if (degrees) {
      const to = at + degrees[0].length;
      const meant = meantDegrees(degrees);
      const [value, unit = ""] = meant.split(" ");
      habit(to, meant);
      push("quantity", to, { value: Number(value), unit });
      return true;
    }
    const digits = match(habits.decimalComma)?.[0] ?? match(patterns.number)?.[0] ?? "";
    const value = Number(digits.replace(",", "."));
    const end = at + digits.length;
    const [own, other] = [patterns.unit, habits.unit].map((pattern) => {
      pattern.lastIndex = end;
      return pattern.exec(text);
    });
    const isOwn = own && !(other && other[0].length > own[0].length);
    if (!digits.includes(",") && (isOwn || !other)) return false;
    const found = isOwn ? own : other;
    if (!found || end + found[0].length > stop) return false;
    const unit = isOwn ? (readUnit(found[1] as string) ?? (found[1] as "K")) : meantUnit(found[1] as string);
    const to = end + found[0].length;
    habit(to, `${digits.replace(",", ".")} ${unit}`);
    if (durationUnits.has(unit))
      push("duration", to, { value: Math.round(value * units[unit].factor), unit, text: `${value} ${unit}` });
    else push("quantity", to, { value, unit });
    return true;
  }

  /** Signs, comments and quotes of other languages; true where there is one. */
  function signByHabit(): boolean {
    const comment = match(habits.comment)?.[0];
    if (comment) {
      const isLine = comment.startsWith("//");
      const remedy = "A comment begins with # and ends with its line.";
      const fault = { kind: "habit" as const, written: comment.slice(0, 2), meant: "#", ...(!isLine && { remedy }) };
      faults.add(here(at + 2), fault);
      at += comment.length;
      return true;
    }
    const quotes = match(habits.text);
    if (quotes) {
      const meant = `"${quotes[1] ?? quotes[2] ?? ""}"`;
      habit(at + quotes[0].length, meant);
      push("text", at + quotes[0].length, { text: meant });
      return true;
    }
    const dash = match(habits.dash);
    const sign = dash ?? match(habits.sign);
    if (!sign) return false;
    const meant = dash ? ["-"] : (signHabits[sign[0]] ?? []);
    const to = at + sign[0].length;
    habit(to, meant.join(" "));
    for (const word of meant) push(/\p{L}/u.test(word) ? "word" : "sign", to, { text: word });
    at = to;
    return true;
  }

  function number(): void {
    const digits = match(patterns.number)?.[0] ?? "";
    const end = at + digits.length;
    patterns.unit.lastIndex = end;
    const unit = patterns.unit.exec(text);
    if (!unit || end + unit[0].length > stop) return push("number", end, { value: Number(digits) });
    const name = unit[1] as string;
    if (durationUnits.has(name)) return duration();
    push("quantity", end + unit[0].length, { value: Number(digits), unit: readUnit(name) ?? name });
  }

  function duration(): void {
    let end = at;
    let ms = 0;
    let last = Number.POSITIVE_INFINITY;
    let unit = "";
    const parts: string[] = [];
    for (;;) {
      patterns.durationPart.lastIndex = end;
      const part = patterns.durationPart.exec(text);
      if (!part || end + part[0].length > stop) break;
      unit = part[2] as string;
      parts.push(`${part[1]} ${unit}`);
      const size = units[unit as "s"].factor;
      end += part[0].length;
      if (size >= last) faults.add(here(end), { kind: "durationOrder", text: text.slice(at, end) });
      last = size;
      ms += Number(part[1]) * size;
    }
    push("duration", end, { value: Math.round(ms), unit, text: parts.join(" ") });
  }

  function time(found: string): void {
    const [hours = 0, minutes = 0, seconds = 0] = found.split(":").map(Number);
    const end = at + found.length;
    const ms = hours * 3600e3 + minutes * 60e3 + Math.round(seconds * 1e3);
    if (minutes >= 60 || seconds >= 60 || ms > 86400e3) faults.add(here(end), { kind: "noSuchTime", text: found });
    push("time", end, { value: Math.min(ms, 86400e3) });
  }

  while (at < stop) {
    const first = text.charCodeAt(at);
    const blank = match(patterns.blank);
    if (blank) {
      at += blank[0].length;
      leads ||= /[\n\r]/.test(blank[0]);
      continue;
    }
    if (first === 35 /* # */) {
      const found = match(patterns.comment)?.[0] ?? "#";
      comments.push({ file, from: at, to: at + found.length, text: found.trimEnd(), leads });
      at += found.length;
      continue;
    }
    if (first === 34 /* " */) {
      const found = match(patterns.text)?.[0] ?? '"';
      if (found.length < 2 || !found.endsWith('"') || /(?:^|[^\\])(?:\\\\)*\\"$/.test(found)) {
        faults.add(here(at + found.length), { kind: "unclosedText" });
      }
      push("text", at + found.length);
      continue;
    }
    if (first >= 48 && first <= 57) {
      if (numberByHabit()) continue;
      const date = match(patterns.date);
      if (date) push("date", at + date[0].length);
      else {
        const clock = match(patterns.time);
        if (clock) time(clock[0]);
        else number();
      }
      continue;
    }
    const phrase = match(patterns.phrase);
    if (phrase) {
      push("word", at + phrase[0].length, { text: phrase[0].replace(/\s+/g, " ") });
      continue;
    }
    const unit = match(patterns.loneUnit);
    if (unit) {
      push("unit", at + unit[0].length, { unit: readUnit(unit[0]) ?? unit[0] });
      continue;
    }
    const negation = first === 105 /* i */ || first === 119 /* w */ ? match(habits.negation) : undefined;
    if (negation) {
      const [whole, verb = ""] = negation;
      const to = at + whole.length;
      habit(to, `${verb} not`);
      for (const word of [verb, "not"]) push("word", to, { text: word });
      at = to;
      continue;
    }
    const article = first === 116 /* t */ && articles.has(tokens.at(-1)?.text ?? "") ? match(habits.article) : undefined;
    if (article) {
      const end = at + article[0].length;
      faults.add(here(end), { kind: "habit", written: "the", meant: "" });
      at = end;
      continue;
    }
    const name = match(patterns.name);
    if (name) {
      push(name[0].includes(".") ? "dotted" : "word", at + name[0].length);
      continue;
    }
    if (signByHabit()) continue;
    const sign = match(patterns.sign);
    if (sign) {
      push("sign", at + sign[0].length, { text: sign[0] === "+-" ? "±" : sign[0] === "−" ? "-" : sign[0] });
      continue;
    }
    const bad = match(patterns.bad)?.[0] ?? text[at] ?? "";
    faults.add(here(at + bad.length), { kind: "strangeSign", text: bad });
    push("bad", at + bad.length);
  }
  leads = true;
  push("end", at);
  return { tokens, comments };
}
