// All that happened in a run, as a list: what changed, what was told, what went wrong, and because of what.
import type { Run } from "../engine/index.js";
import { lastsOf, ownOf, type Recorded, type Sensor, typeOf, type Value } from "../house/index.js";
import type { Unit } from "../units/index.js";
import { inOneLine } from "./one-line.js";
import { why } from "./why.js";

/** What happened at one instant. */
export interface LogEntry {
  /** The trial it happened in, where a list is of several. */
  readonly trial?: string;
  readonly at: number;
  /** A `silence` is not a report: a sensor has not been heard for too long. */
  readonly kind: "reading" | "silence" | "dial" | "mode" | "output" | "notice" | "message" | "problem";
  /** What changed; of a message, where it went; of a problem, its code. */
  readonly thing?: string;
  /** In its own unit, undefined when unknown; of what was told, its text. */
  readonly value?: Value;
  readonly unit?: Unit;
  /** The rule, or the guard, behind it. */
  readonly rule?: string;
  /** Why, in a few words. */
  readonly cause?: string;
}

/** The order within an instant: first what came in, last what came of it. */
const kinds: readonly LogEntry["kind"][] = ["reading", "silence", "dial", "mode", "output", "notice", "message", "problem"];

/**
 * What happened within a run, in order of time. A reading stands in it when it changed, and again before it would be too
 * old; what everything was at the beginning stands at `from`.
 */
export function logOf(run: Run): LogEntry[] {
  const { past, from, to } = run;
  const { house } = past;
  const entries = [
    ...house.sensors.flatMap(({ name, type }) => (type.kind === "press" ? presses(run, name) : readings(run, name))),
    ...house.dials.flatMap(({ name }) => changes(run, name, "dial")),
    ...house.modes.flatMap(({ name }) => changes(run, name, "mode")),
    ...house.outputs.flatMap(({ name }) => changes(run, name, "output").map((entry) => ({ ...entry, ...causeOf(run, entry) }))),
    ...past
      .notices(from, to)
      .map(({ at, text, by }): LogEntry => ({ at, kind: "notice", value: text, ...(by && { rule: by.rule }) })),
    ...past.messages(from, to).map(({ at, text, to: thing }): LogEntry => ({ at, kind: "message", thing, value: text })),
    ...past.problems(from, to).map(({ at, code, text }): LogEntry => ({ at, kind: "problem", thing: code, value: text })),
  ];
  return entries
    .map((entry, place) => ({ entry, place }))
    .sort((a, b) => a.entry.at - b.entry.at || kinds.indexOf(a.entry.kind) - kinds.indexOf(b.entry.kind) || a.place - b.place)
    .map(({ entry }) => entry);
}

/** What of it can be read back as a recording. */
export function recordingOf(log: readonly LogEntry[]): Recorded[] {
  return log.flatMap(({ at, kind, thing, value, unit }) =>
    thing === undefined || kind === "message" || kind === "problem" || kind === "silence"
      ? []
      : [
          {
            at,
            name: thing,
            ...(value !== undefined && { value }),
            ...(unit !== undefined && typeof value === "number" && { unit }),
          },
        ],
  );
}

/**
 * What a sensor read, as it changed, and again before it would have been too old: a journal does not say when the same was
 * heard again, but that it was is known by its not having fallen silent. So the list, taken as a recording, knows the same.
 */
function readings(run: Run, name: string): LogEntry[] {
  const { house } = run.past;
  const until = lastsOf(house, house.sensors.find((sensor) => sensor.name === name) as Sensor);
  const changed = changes(run, name, "reading");
  if (!until) return changed;
  return changed.flatMap((entry, place) => {
    const next = changed[place + 1];
    const lasts = run.past.value(until, entry.at);
    // A reading that can be too old becomes unknown in no other way.
    if (entry.value === undefined) return [{ ...entry, kind: "silence" }];
    if (!(lasts > 0)) return [entry];
    // Where it then fell silent, it was heard for the last time so long before.
    const latest = next === undefined ? run.to : next.value === undefined ? next.at - lasts : next.at - 1;
    const again: LogEntry[] = [entry];
    for (let at = entry.at + lasts / 2; at <= latest; at += lasts / 2) again.push({ ...entry, at: Math.floor(at) });
    if (next && next.value === undefined && latest > entry.at) again.push({ ...entry, at: latest });
    return again;
  });
}

function changes({ past, from, to }: Run, thing: string, kind: LogEntry["kind"]): LogEntry[] {
  const type = typeOf(past.house, thing);
  const line = past.line({ kind: "value", of: thing });
  const unit = type.kind === "number" && type.unit !== "" ? type.unit : undefined;
  const entry = (at: number, base: number): LogEntry => {
    const value = Number.isNaN(base) ? undefined : ownOf(base, type);
    return { at, kind, thing, ...(value !== undefined && { value }), ...(unit !== undefined && { unit }) };
  };
  const begins = line.times.findLastIndex((at) => at <= from);
  const first = begins < 0 ? [] : [entry(from, line.values[begins] as number)];
  return [
    ...first,
    ...line.times.flatMap((at, place) => {
      if (at <= from || at > to) return [];
      const [value, before] = [line.values[place] as number, line.values[place - 1] ?? Number.NaN];
      // Before anything was known of it, unknown is nothing new.
      return place > 0 && Object.is(value, before) ? [] : [entry(at, value)];
    }),
  ];
}

function causeOf(run: Run, { at, thing = "" }: LogEntry): Pick<LogEntry, "rule" | "cause"> {
  const { rule, guard } = run.past.reason(thing, at);
  const cause = whyInShort(run, thing, at);
  return { ...((guard ?? rule) !== undefined && { rule: guard ?? rule }), ...(cause !== undefined && { cause }) };
}

/** Each time a button was pressed: it was so for an instant only, and its line shows what was after it. */
function presses({ past, from, to }: Run, thing: string): LogEntry[] {
  const { times } = past.line({ kind: "pressed", sensor: thing });
  return times.flatMap((at) =>
    at > past.beginning && at >= from && at <= to ? [{ at, kind: "reading", thing, value: "pressed" }] : [],
  );
}

/**
 * Why an output has the value it has at an instant of a run, in one line: the reason, and the first of what it rests on; of
 * one that nothing asks for, also what the first rule that would ask for something lacks.
 * @throws RangeError as `why`
 */
export function whyInShort(run: Run, output: string, at: number): string | undefined {
  const [reason, other] = why(run, output, at).because;
  if (!reason) return undefined;
  const asksNothing = reason.because.length === 0 && other !== undefined;
  return asksNothing ? `${reason.says}; ${inOneLine(other)}` : inOneLine(reason);
}
