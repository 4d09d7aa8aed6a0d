// Local time, schedules and moments, also where the clock changes.
import { clockOf, createEngine, DAY, dayOfDate, Journal, parseHouse } from "modrik";
import { describe, expect, test } from "vitest";

const at = (text: string) => Date.parse(text);
const day = (text: string) => dayOfDate(...(text.split("-").map(Number) as [number, number, number])) as number;
const wall = (hours: number, minutes = 0) => (hours * 60 + minutes) * 60e3;

describe("a local time is an instant", () => {
  test.each([
    ["in winter", "Europe/Zurich", "2026-01-15", wall(8), "2026-01-15T07:00Z"],
    ["in summer", "Europe/Zurich", "2026-07-15", wall(8), "2026-07-15T06:00Z"],
    ["left out in spring: the first instant after the gap", "Europe/Zurich", "2026-03-29", wall(2, 30), "2026-03-29T01:00Z"],
    ["right after the gap", "Europe/Zurich", "2026-03-29", wall(3), "2026-03-29T01:00Z"],
    ["twice in autumn: the first time", "Europe/Zurich", "2026-10-25", wall(2, 30), "2026-10-25T00:30Z"],
    ["after the second time", "Europe/Zurich", "2026-10-25", wall(3), "2026-10-25T02:00Z"],
    ["midnight at the end of a day", "Europe/Zurich", "2026-01-15", wall(24), "2026-01-15T23:00Z"],
    ["half an hour of daylight saving", "Australia/Lord_Howe", "2026-10-04", wall(2, 15), "2026-10-03T15:30Z"],
    ["a zone without changes", "Asia/Kathmandu", "2026-01-15", wall(8), "2026-01-15T02:15Z"],
    ["leap day", "Europe/Zurich", "2028-02-29", wall(12), "2028-02-29T11:00Z"],
  ])("%s", (_, zone, date, ms, instant) => {
    expect(new Date(clockOf(zone).instant(day(date), ms)).toISOString()).toBe(new Date(at(instant)).toISOString());
  });

  test("and back", () => {
    const clock = clockOf("Europe/Zurich");
    for (let instant = at("2026-03-28T00:10Z"); instant < at("2026-11-02T00:00Z"); instant += 7.3 * 3600e3) {
      const { day: on, ms } = clock.local(instant);
      const back = clock.instant(on, ms);
      // The hour that comes twice is the first of the two.
      expect([0, 3600e3]).toContain(instant - back);
    }
  });
});

describe("a schedule on the running house", () => {
  const house = (schedule: string) =>
    parseHouse({
      "a.modrik": `house "A" { clock "Europe/Zurich" } schedule s { ${schedule} } zone z { output o: on/off } rule r { while during s hold z.o at on }`,
    }).house;

  function switchings(schedule: string, from: string, days: number): string[] {
    const engine = createEngine(house(schedule), { at: at(from) });
    engine.advanceTo(at(from) + days * DAY);
    return engine.takeChanges().map((change) => `${new Date(change.at).toISOString().slice(5, 16)} ${change.value}`);
  }

  test.each([
    [
      "twice a day",
      "Mon..Fri 08:00 to 12:00, 13:00 to 17:30",
      "2026-01-15T00:00Z",
      1,
      ["01-15T07:00 on", "01-15T11:00 off", "01-15T12:00 on", "01-15T16:30 off"],
    ],
    [
      "past midnight, and it belongs to the day it begins on",
      "Fri 21:40 to 05:50",
      "2026-01-16T00:00Z",
      3,
      ["01-16T20:40 on", "01-17T04:50 off"],
    ],
    ["not on that day", "Sat 09:00 to 12:00", "2026-01-15T00:00Z", 1, []],
    ["from the middle", "daily 20:00 to 06:00", "2026-01-15T22:00Z", 1, ["01-15T22:00 on", "01-16T05:00 off", "01-16T19:00 on"]],
    ["over the gap of spring", "daily 01:30 to 02:30", "2026-03-28T23:00Z", 1, ["03-29T00:30 on", "03-29T01:00 off"]],
    [
      "spans that touch are one",
      "daily 08:00 to 10:00, 10:00 to 11:00",
      "2026-01-15T00:00Z",
      1,
      ["01-15T07:00 on", "01-15T10:00 off"],
    ],
    ["all day", "daily 00:00 to 24:00", "2026-01-15T00:00Z", 2, ["01-15T00:00 on"]],
  ])("%s", (_, schedule, from, days, expected) => {
    expect(switchings(schedule, from, days)).toEqual(expected);
  });
});

test("where the sun stays up for weeks, that is said once", () => {
  const text = `house "Far north" { place 78.2 N, 15.6 E clock "Arctic/Longyearbyen" }
    zone z { output lamp: on/off } schedule dark { daily sunset to sunrise } rule r { while during dark hold z.lamp at on }`;
  const { house, problems } = parseHouse({ "a.modrik": text });
  expect(problems).toEqual([]);
  const journal = new Journal();
  const engine = createEngine(house, { at: Date.parse("2026-04-10T12:00Z"), journal });
  engine.advanceTo(Date.parse("2026-09-10T12:00Z"));
  const told = journal.records.flatMap(({ event }) =>
    event.kind === "problem" ? [event.text.replace(/2026-0[48]-../, "day")] : [],
  );
  // The last sunset comes a night before the last sunrise; in August they come back, which needs no saying.
  expect(told.sort()).toEqual(["sunrise", "sunset"].map((event) => `there is no ${event} from day on; rules that use it wait`));
  expect(engine.value("z.lamp")).toBe("off");
});
