// Schedules, moments and profiles across both changes of the clock, against a calendar that reads a wall clock minute by minute.
import { createEngine, parseHouse } from "modrik";
import { describe, expect, test } from "vitest";

const MINUTE = 60_000;
const names = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** What a wall clock shows at each minute of a stretch. */
interface Shown {
  readonly at: number;
  /** Of the local day, as `2026-03-29`. */
  readonly date: string;
  readonly weekday: string;
  readonly minute: number;
}

function wallClock(zone: string, from: string, days: number): Shown[] {
  const format = new Intl.DateTimeFormat("en-CA", {
    timeZone: zone,
    weekday: "short",
    year: "numeric",
    month: "2-digit",
    day: "2-digit",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  });
  const begin = Date.parse(from);
  return Array.from({ length: days * 1440 }, (_, index) => {
    const at = begin + index * MINUTE;
    const parts = new Map<string, string>(format.formatToParts(at).map(({ type, value }) => [type, value]));
    const date = ["year", "month", "day"].map((part) => parts.get(part)).join("-");
    const minute = Number(parts.get("hour")) * 60 + Number(parts.get("minute"));
    return { at, date, weekday: parts.get("weekday") as string, minute };
  });
}

/** The first instant of each local day at which the clock shows a time or has passed it: in spring after the gap, in autumn the first time. */
function firstAt(shown: readonly Shown[], minute: number): Map<string, number> {
  const found = new Map<string, number>();
  for (const one of shown) if (one.minute >= minute && !found.has(one.date)) found.set(one.date, one.at);
  return found;
}

interface Span {
  readonly days: readonly string[];
  readonly from: number;
  readonly to: number;
}

/** Minutes at which a schedule is open, told from what the clock shows alone. */
function openMinutes(shown: readonly Shown[], spans: readonly Span[]): Set<number> {
  const dates = [...new Set(shown.map(({ date }) => date))];
  const weekdays = new Map(shown.map(({ date, weekday }) => [date, weekday]));
  const open = new Set<number>();
  for (const { days, from, to } of spans) {
    const [begins, ends] = [firstAt(shown, from), firstAt(shown, to)];
    dates.forEach((date, index) => {
      if (!days.includes(weekdays.get(date) as string)) return;
      const next = dates[index + 1];
      const nextDay = next === undefined ? undefined : firstAt(shown, 0).get(next);
      const begin = begins.get(date);
      const end = to > from ? (to === 1440 ? nextDay : ends.get(date)) : next === undefined ? undefined : ends.get(next);
      if (begin === undefined) return;
      for (const { at } of shown) if (at >= begin && (end === undefined || at < end)) open.add(at);
    });
  }
  return open;
}

const time = (minute: number) => `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

function engineWith(zone: string, declared: string, rule: string, at: number) {
  const text = `house "A" { clock "${zone}" } zone z { output o: on/off output v: % } ${declared} ${rule}`;
  const { house, problems } = parseHouse({ "a.modrik": text });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  return createEngine(house, { at });
}

/** A generator of whole numbers, the same for the same seed. */
function numbers(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

// Each begins at a midnight of its clock, some days before the clock is changed; the last never is.
const weeks = [
  ["Europe/Zurich", "2026-03-27T00:00+01:00"],
  ["Europe/Zurich", "2026-10-23T00:00+02:00"],
  ["America/New_York", "2026-03-06T00:00-05:00"],
  ["America/New_York", "2026-10-30T00:00-04:00"],
  ["Australia/Lord_Howe", "2026-04-03T00:00+11:00"],
  ["Australia/Lord_Howe", "2026-10-02T00:00+10:30"],
  ["Asia/Kolkata", "2026-03-27T00:00+05:30"],
] as const;
const DAYS = 5;

describe.each(weeks)("%s from %s", (zone, from) => {
  const shown = wallClock(zone, from, DAYS);
  const begin = (shown[0] as Shown).at;
  const end = begin + (DAYS - 1) * 1440 * MINUTE;

  test("the wall clock begins at midnight", () => expect(shown[0]?.minute).toBe(0));

  test("a schedule is open when the clock shows it", () => {
    const draw = numbers(7);
    for (let round = 0; round < 6; round++) {
      const spans = Array.from({ length: 1 + draw(3) }, (): Span => {
        const days = names.filter(() => draw(3) > 0);
        const opens = draw(96) * 15;
        const closes = (opens + 15 * (1 + draw(90))) % 1440;
        return { days: days.length === 0 ? ["Sun"] : days, from: opens, to: closes };
      });
      const lines = spans.map((span) => `${span.days.join(", ")} ${time(span.from)} to ${time(span.to)}`).join("\n");
      const engine = engineWith(zone, `schedule s {\n${lines}\n}`, "rule r { while during s hold z.o at on }", begin);
      // A span of the day before the first reaches into it: the comparison begins a day later.
      const open = openMinutes(shown, spans);
      for (const { at, date, minute } of shown) {
        if (at < begin + 1440 * MINUTE || at >= end) continue;
        engine.advanceTo(at);
        expect(engine.value("z.o"), `${lines} at ${date} ${time(minute)}`).toBe(open.has(at) ? "on" : "off");
      }
    }
  });

  test("a moment comes once a day, at its time or behind the gap", () => {
    for (const minute of [0, 90, 119, 120, 135, 150, 179, 180, 720, 1439]) {
      const engine = engineWith(zone, "", `rule r { when at ${time(minute)} do { tell "now" } }`, begin);
      engine.advanceTo(end - 1);
      const told = engine.takeNotices().map(({ at }) => at);
      const expected = [...firstAt(shown, minute).values()].filter((at) => at > begin && at < end);
      expect(told, time(minute)).toEqual(expected);
    }
  });

  test("a profile has the value of the last point the clock has passed", () => {
    const points = [0, 150, 480, 1320];
    const lines = points.map((minute, index) => `${10 * (index + 1)} % from ${time(minute)}`).join(", ");
    const engine = engineWith(zone, `profile p: % { daily ${lines} }`, "rule r { hold z.v at p }", begin);
    const passed = points.map((minute) => [...firstAt(shown, minute).values()]);
    for (const { at, date, minute } of shown) {
      if (at >= end) break;
      engine.advanceTo(at);
      const last = passed.map((instants) => instants.findLast((instant) => instant <= at) ?? -1);
      expect(engine.value("z.v"), `${date} ${time(minute)}`).toBe(10 * (last.indexOf(Math.max(...last)) + 1));
    }
  });
});
