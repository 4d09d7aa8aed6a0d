// Schedules and profiles.
import type { Expression, Profile, Schedule } from "../../house/index.js";
import { fixedTimeOf } from "../../house/index.js";
import {
  type Clock,
  DAY,
  type DatesRange,
  type FixedTime,
  type LocalTime,
  monthNames,
  type Opening,
  type ProfileDay,
  type Weekday,
} from "../../time/index.js";
import type { DatesNode, ProfileNode, ScheduleNode, Term } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import type { Scope, Typed } from "./scope.js";
import { bindTerm, bindValue, localDay, noSuchDate } from "./terms.js";
import { headingOf, plainText } from "./text.js";
import { bindType } from "./things.js";
import { type Type, timeOfDay, typeOfValue, valueTypeOf } from "./type.js";

/** An instant, or a time as the clock of the house shows it. */
export type EventMoment = number | LocalTime;

/** An event of a calendar file, [from, to). */
export interface CalendarEvent {
  readonly from: EventMoment;
  readonly to: EventMoment;
}

/** Events of calendar files, by file. */
export type Calendars = Readonly<Record<string, readonly CalendarEvent[]>>;

export function bindSchedule(node: ScheduleNode, scope: Scope, calendars: Calendars, clock: Clock): Schedule {
  if (node.calendar) return bindCalendar(node, plainText(node.calendar), scope, calendars, clock);
  const openings: Opening[] = [];
  const dates = { except: [] as DatesRange[], only: [] as DatesRange[] };
  for (const entry of node.openings) {
    if (entry.kind === "days") {
      const spans = entry.spans.flatMap(({ from, to }) => {
        const begin = bindFixedTime(from, scope);
        const end = bindFixedTime(to, scope);
        return begin && end ? [{ from: begin, to: end }] : [];
      });
      openings.push({ days: entry.days as Weekday[], spans });
    } else dates[entry.kind].push(...entry.dates.flatMap((one) => bindDates(one, scope) ?? []));
  }
  const { except, only } = dates;
  return { ...headingOf(node), openings, ...(except.length > 0 && { except }), ...(only.length > 0 && { only }) };
}

function bindCalendar(node: ScheduleNode, file: string, scope: Scope, calendars: Calendars, clock: Clock): Schedule {
  const events = calendars[file];
  if (!events) scope.faults.add((node.calendar ?? node).span, { kind: "missingCalendar", file });
  const at = (moment: EventMoment) => (typeof moment === "number" ? moment : clock.instant(moment.day, moment.ms));
  const spans = (events ?? []).map(({ from, to }) => [at(from), at(to)] as const);
  return { ...headingOf(node), openings: [], file, events: spans.sort((a, b) => a[0] - b[0]) };
}

function bindDates(node: DatesNode, scope: Scope): DatesRange | undefined {
  if (node.kind === "yearly") {
    const wrong = [node.from, node.to].find(([month, day]) => localDay(`2028-${month}-${day}`) === undefined);
    if (!wrong) return { kind: "yearly", from: node.from, to: node.to };
    scope.faults.add(node.span, { kind: "noSuchDate", text: `${monthNames[wrong[0] - 1]} ${wrong[1]}`, month: wrong[0] });
    return undefined;
  }
  const from = localDay(node.from);
  const to = localDay(node.to);
  if (from === undefined || to === undefined) {
    scope.faults.add(node.span, noSuchDate(from === undefined ? node.from : node.to));
    return undefined;
  }
  if (from > to)
    scope.faults.add(node.span, {
      kind: "backwards",
      says: "These dates end before they begin.",
      remedy: "Write the earlier date first.",
    });
  return { kind: "dates", from, to };
}

/** A time that is the same every day, but for the sun. */
function bindFixedTime(term: Term, scope: Scope): FixedTime | undefined {
  const bound = bindValue(term, scope, timeOfDay);
  const time = bound && fixedTimeOf(bound);
  if (bound && !time) {
    const remedy = "Write a time such as 07:30, or sunset - 20 min; for a time that can be changed use: while clock from … to ….";
    scope.faults.add(term.span, { kind: "wrongType", what: writeTerm(term), wanted: "a time that does not change", remedy });
  }
  if (time && time.sun === undefined && (time.ms < 0 || time.ms > DAY)) {
    scope.faults.add(term.span, { kind: "noSuchTime", text: writeTerm(term) });
    return undefined;
  }
  return time;
}

/** Type and days of a profile, bound once; the type is said, or that of its first value. */
export function bindProfileValue(
  node: ProfileNode,
  scope: Scope,
): (Typed & { days: readonly ProfileDay<Expression>[] }) | undefined {
  const said = node.type && bindType(node.type, scope);
  const first = node.entries[0]?.points[0]?.value;
  if (!first) {
    // A line that could not be read was told.
    if (scope.faults.within(node.span)) return undefined;
    const remedy = "Add a line: daily 20 °C from 06:30.";
    scope.faults.add(node.name.span, { kind: "missing", what: `Profile ${node.name.text} has no values.`, remedy });
    return undefined;
  }
  const want: Type | undefined = said ? typeOfValue(said.type) : bindTerm(first, scope)?.type;
  const type = want && valueTypeOf(want);
  if (!want || !type) return undefined;
  const days = node.entries.map((entry) => ({
    days: entry.days as Weekday[],
    points: entry.points.flatMap(({ value, from }) => {
      const bound = bindValue(value, scope, want, said?.range);
      const at = bindFixedTime(from, scope);
      return bound && at ? [{ value: bound, from: at }] : [];
    }),
  }));
  for (const [index, entry] of node.entries.entries()) {
    const times = days[index]?.points.map(({ from }) => from) ?? [];
    const back = times.findIndex((time, at) => isFixed(time) && isFixed(times[at - 1]) && time.ms <= (times[at - 1]?.ms ?? 0));
    const point = back > 0 && times.length === entry.points.length ? entry.points[back] : undefined;
    if (point)
      scope.faults.add(point.from.span, {
        kind: "backwards",
        says: `${writeTerm(point.from)} is not later than the time before it.`,
        remedy: "Sort the times of the day.",
      });
  }
  if (node.ramped && type.kind !== "number") {
    scope.faults.add(node.name.span, { kind: "wrongType", what: "a ramped profile of words", wanted: "numbers" });
  }
  return { type, ...(said?.range && { range: said.range }), days };
}

function isFixed(time: FixedTime | undefined): boolean {
  return time !== undefined && time.sun === undefined;
}

export function bindProfile(node: ProfileNode, bound: Typed & { days: readonly ProfileDay<Expression>[] }): Profile | undefined {
  if (bound.type.kind === "truth") return undefined;
  return {
    ...headingOf(node),
    type: bound.type,
    ...(bound.range && { range: bound.range }),
    ramped: node.ramped,
    days: bound.days,
  };
}
