// Moments: what starts the steps of a rule, and what ends a wait.

import { writeDays } from "../../time/index.js";
import { byHabits, momentHabits } from "../habits.js";
import type { OccasionNode, OfKind, TriggerNode } from "../syntax.js";
import type { Token } from "../token.js";
import { writeTerm } from "../write/terms.js";
import { comesDeed, comesToBound, isBareTime } from "./ahead.js";
import type { Cursor } from "./cursor.js";
import { comesDays, days } from "./days.js";
import { condition, sum, value } from "./terms.js";
import { name } from "./words.js";

/** trigger { "or when" trigger } */
export function triggers(c: Cursor): TriggerNode[] {
  return c.knowing("comesMoment", comesMoment, () => {
    const found = [trigger(c)];
    const joins: Join[] = [];
    for (;;) {
      if (c.takeWords("or", "when")) found.push(trigger(c));
      else if (comesAnother(c, found.at(-1)?.kind !== "condition")) {
        const token = c.next();
        const isTime = isBareTime(c);
        joins.push({ token, isTime, place: found.length });
        found.push(isTime ? atTime(c, token) : trigger(c));
      } else break;
    }
    return tellJoins(c, found, joins);
  });
}

/** Where `or when` is meant, before which moment, and whether that is a bare time. */
interface Join {
  readonly token: Token;
  readonly isTime: boolean;
  readonly place: number;
}

/**
 * `, 19:00`, `or at 19:00`: whether another moment comes.
 * @param hasEnded whether what was read before it is over: then a condition is another moment too
 */
function comesAnother(c: Cursor, hasEnded: boolean): boolean {
  const joins = c.comes(",") || c.comes("or") || c.comes("and");
  return joins && (comesMoment(c, 1) || (hasEnded && c.comes("or")));
}

/** Tells of joins, from the last: the days behind several times are those of all of them. */
function tellJoins(c: Cursor, found: TriggerNode[], joins: readonly Join[]): TriggerNode[] {
  let days = "";
  for (const { token, isTime, place } of joins.toReversed()) {
    const before = found[place - 1] as TriggerNode;
    const behind = found[place] as TriggerNode;
    const isShared = isTime && before.kind === "at" && !before.days && behind.kind === "at" && behind.days;
    days = isShared ? (/\bon .*$/s.exec(c.textOf(behind.span))?.[0] ?? days) : "";
    if (isShared) found[place - 1] = { ...before, days: isShared };
    const meant = isTime ? "or when at" : "or when";
    c.faults.add(token, { kind: "habit", written: token.text, meant: days === "" ? meant : `${days} ${meant}` });
  }
  return found;
}

function trigger(c: Cursor): TriggerNode {
  const first = c.token;
  const edge = edgeByHabit(c);
  if (edge) return edge;
  if (c.takeWord("at")) return atTime(c, first);
  if (comesDaysFirst(c)) return daysFirst(c);
  if (c.isWord("every")) return every(c);
  if (c.takeWords("the", "house", "starts")) return { kind: "the house starts", span: c.span(first) };
  if (c.comesAll(["house", "starts"])) {
    c.takeAllMeant("the house starts", ["house", "starts"]);
    return { kind: "the house starts", span: c.span(first) };
  }
  if (!isBareTime(c)) return c.knowing("conditions", true, () => occasion(c));
  c.lacksWord("at");
  return atTime(c, first);
}

/** `at the start of shop_hours`: told as what is meant by it, and read on with. */
function edgeByHabit(c: Cursor): TriggerNode | undefined {
  const at = c.comes("at") ? 1 : 0;
  const word = c.comes("the", at) ? at + 1 : at;
  const { text } = c.peek(word);
  const meant = /^(start|beginning|begin)$/.test(text) ? "begins" : text === "end" ? "ends" : undefined;
  if (!meant || !c.comes("of", word + 1) || !c.isName(word + 2)) return undefined;
  const first = c.token;
  for (let taken = 0; taken < word + 2; taken++) c.next();
  const schedule = name(c, "a schedule");
  c.tellMeant(first, `${schedule.text} ${meant}`);
  return { kind: meant, name: schedule, span: c.span(first) };
}

/** sum [ "on" days ] */
function atTime(c: Cursor, first: Token): TriggerNode {
  const time = sum(c);
  return { kind: "at", time, ...onDays(c), span: c.span(first) };
}

function every(c: Cursor): TriggerNode {
  const first = c.word("every");
  const time = sum(c);
  return { kind: "every", every: time, ...onDays(c), span: c.span(first) };
}

function onDays(c: Cursor): { readonly days?: number[] } {
  if (c.takeWord("on")) return { days: days(c) };
  if (!comesDays(c)) return {};
  c.lacksWord("on");
  return { days: days(c) };
}

/** `Mon..Fri at 07:30` */
function comesDaysFirst(c: Cursor): boolean {
  let ahead = c.comes("on") ? 1 : 0;
  if (!comesDays(c, ahead)) return false;
  // Between days there are signs, and words that mean them; `day` is a part of `every day`.
  while (comesDays(c, ahead) || ["..", ",", "-", "to", "and", "day", "days"].some((word) => c.comes(word, ahead))) ahead++;
  return c.comes("at", ahead);
}

function daysFirst(c: Cursor): TriggerNode {
  const first = c.token;
  return c.faults.whole(
    first,
    (): OfKind<TriggerNode, "at"> => {
      c.takeWord("on");
      const on = days(c);
      c.word("at");
      const time = sum(c);
      return { kind: "at", time, ...(on.length < 7 && { days: on }), span: c.span(first) };
    },
    ({ time, days: on }) => {
      const right = `at ${writeTerm(time)}${on ? ` on ${writeDays(on)}` : ""}`;
      return [c.span(first), { kind: "wording", what: "The days come after the time.", right: [right] }];
    },
  );
}

const moments = ["changes", "becomes", "begins", "ends"];

/** Whether a moment comes so far ahead that is no condition. */
function comesMoment(c: Cursor, ahead: number): boolean {
  const isOfThing = c.isName(ahead) && moments.some((word) => c.comes(word, ahead + 1)) && !comesToBound(c, ahead + 1);
  return (
    c.comes("at", ahead) ||
    c.comes("every", ahead) ||
    c.comesAll(["the", "house", "starts"], ahead) ||
    isBareTime(c, ahead) ||
    isOfThing
  );
}

/** `shop_hours starts`, `airing runs out`: what is written, and what is meant by it. */
function momentByHabit(c: Cursor): (typeof momentHabits)[number] | undefined {
  if (c.token.kind !== "word" || !c.isName() || c.peek().kind !== "word" || c.peek().leads) return undefined;
  return momentHabits.find(
    ([written]) =>
      c.comesAll(written, 1) &&
      (["do", "provided", "or", ",", "and", "then", "if", "while"].some((word) => c.comes(word, 1 + written.length)) ||
        comesDeed(c, 1 + written.length)),
  );
}

/** `by`, or what people say with it: told, and read on with. */
function takesBy(c: Cursor): boolean {
  const written = byHabits.find((words) => c.comesAll(words));
  if (written) c.takeAllMeant("by", written);
  return written !== undefined || c.takeWord("by");
}

/** occasion = name moment | condition */
export function occasion(c: Cursor): OccasionNode {
  const first = c.token;
  c.want("a thing or a schedule");
  const byHabit = momentByHabit(c);
  if (byHabit) {
    const [written, meant] = byHabit;
    const of = name(c, "a thing or a schedule");
    c.takeAllMeant(meant, written);
    return { kind: meant, name: of, span: c.span(first) };
  }
  if (!c.isName() || !c.isAmong(moments, 1) || comesToBound(c, 1))
    return { kind: "condition", condition: condition(c), span: c.span(first) };
  const of = name(c, "a thing or a schedule");
  if (c.comesAll(["changes", "to"])) {
    c.takeAllMeant("becomes", ["changes", "to"]);
    return { kind: "becomes", name: of, value: value(c), span: c.span(first) };
  }
  const moment = c.next().text;
  if (moment === "begins" || moment === "ends") return { kind: moment, name: of, span: c.span(first) };
  if (moment === "becomes") return { kind: "becomes", name: of, value: value(c), span: c.span(first) };
  return { kind: "changes", name: of, ...(takesBy(c) && { by: sum(c) }), span: c.span(first) };
}
