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
  expect(told.sort()).toEqual(
    ["sunrise", "sunset"].map((event) => `there is no ${event} from day on; a trigger at it waits until it comes again`),
  );
  expect(engine.value("z.lamp")).toBe("off");
});

/** Height of the sun with refraction, in degrees: the formulas of NOAA's solar calculator (gml.noaa.gov/grad/solcalc). */
function noaaElevation(latitude: number, longitude: number, instant: number): number {
  const rad = Math.PI / 180;
  const sin = (degrees: number) => Math.sin(degrees * rad);
  const cos = (degrees: number) => Math.cos(degrees * rad);
  const century = (instant / 86_400e3 + 2_440_587.5 - 2_451_545) / 36_525;
  const mean = 280.46646 + century * (36_000.76983 + century * 0.0003032);
  const anomaly = 357.52911 + century * (35_999.05029 - 0.0001537 * century);
  const eccentricity = 0.016708634 - century * (0.000042037 + 0.0000001267 * century);
  const centre =
    sin(anomaly) * (1.914602 - century * (0.004817 + 0.000014 * century)) +
    sin(2 * anomaly) * (0.019993 - 0.000101 * century) +
    sin(3 * anomaly) * 0.000289;
  const node = 125.04 - 1934.136 * century;
  const seconds = 21.448 - century * (46.815 + century * (0.00059 - century * 0.001813));
  const tilt = 23 + (26 + seconds / 60) / 60 + 0.00256 * cos(node);
  const declination = Math.asin(sin(tilt) * sin(mean + centre - 0.00569 - 0.00478 * sin(node))) / rad;
  const y = Math.tan((tilt / 2) * rad) ** 2;
  const equation =
    (4 / rad) *
    (y * sin(2 * mean) -
      2 * eccentricity * sin(anomaly) +
      4 * eccentricity * y * sin(anomaly) * cos(2 * mean) -
      0.5 * y * y * sin(4 * mean) -
      1.25 * eccentricity * eccentricity * sin(2 * anomaly));
  const hour = (((instant / 60e3) % 1440) + equation + 4 * longitude) / 4 - 180;
  const height = Math.asin(sin(latitude) * sin(declination) + cos(latitude) * cos(declination) * cos(hour)) / rad;
  const tan = Math.tan(height * rad);
  if (height > 85) return height;
  if (height > 5) return height + (58.1 / tan - 0.07 / tan ** 3 + 0.000086 / tan ** 5) / 3600;
  if (height <= -0.575) return height - 20.774 / tan / 3600;
  return height + (1735 + height * (-518.2 + height * (103.4 + height * (-12.79 + height * 0.711)))) / 3600;
}

test("the height of the sun is that of NOAA's formulas within 0.05°, from -18° to 90°", () => {
  const bands = new Map<number, number>();
  for (let place = 0; place < 30; place++) {
    const [latitude, longitude] = [((place * 7.3) % 132) - 66, ((place * 53.7) % 360) - 180].map((one) => Math.round(one)) as [
      number,
      number,
    ];
    const said = `${Math.abs(latitude)} ${latitude < 0 ? "S" : "N"}, ${Math.abs(longitude)} ${longitude < 0 ? "W" : "E"}`;
    const journal = new Journal();
    createEngine(parseHouse({ "a.modrik": `house "A" { place ${said} clock "UTC" }` }).house, { at: 0, journal });
    for (let index = 0; index < 100; index++) {
      const instant = Date.UTC(2020, 0, 1) + Math.round((index * 100 + place) * 86_400e3 * 0.36137);
      const expected = noaaElevation(latitude, longitude, instant);
      if (expected < -18) continue;
      const error = Math.abs(journal.value({ kind: "sun", what: "elevation" }, instant) - expected);
      const band = Math.floor(expected / 6);
      bands.set(band, Math.max(bands.get(band) ?? 0, error));
    }
  }
  expect(bands.size).toBe(18);
  expect([...bands].filter(([, error]) => !(error <= 0.05))).toEqual([]);
});

describe("where the sun stays up or down, a span is all of the day or none of it", () => {
  // Longyearbyen: down from 26 October to 16 February, up from 18 April to 24 August.
  const days = ["2026-12-21", "2026-03-21", "2026-06-21"];
  test.each<[string, string[]]>([
    ["sunset to sunrise", ["00:00..24:00", "00:00..05:44 18:29..24:00", ""]],
    ["sunrise to sunset", ["", "05:44..18:29", "00:00..24:00"]],
    ["sunset + 20 min to sunrise - 20 min", ["00:00..24:00", "00:00..05:24 18:49..24:00", ""]],
    ["sunrise + 2 h to sunset - 2 h", ["", "07:44..16:29", "00:00..24:00"]],
    ["sunrise + 7 h to sunset - 7 h", ["", "", "00:00..24:00"]],
    ["dusk to dawn", ["00:00..24:00", "00:00..03:57 20:18..24:00", ""]],
    ["sunset to dusk", ["", "18:29..20:18", ""]],
    ["sunset to 23:00", ["12:00..23:00", "18:29..23:00", ""]],
    ["06:00 to sunset", ["06:00..12:00", "06:00..18:29", "06:00..24:00"]],
  ])("%s", (span, expected) => {
    const text = `house "Far north" { place 78.2 N, 15.6 E clock "Arctic/Longyearbyen" }
      zone z { output lamp: on/off } schedule s { daily ${span} } rule r { while during s hold z.lamp at on }`;
    const { house, problems } = parseHouse({ "a.modrik": text });
    expect(problems).toEqual([]);
    const said = days.map((date) => {
      const midnight = clockOf(house.clock).instant(day(date), 0);
      const engine = createEngine(house, { at: midnight - DAY });
      const lit = Array.from({ length: 1440 }, (_, minute) => {
        engine.advanceTo(midnight + minute * 60e3 + 59e3);
        return engine.value("z.lamp") === "on";
      });
      const show = (minute: number) =>
        `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
      const begins = lit.flatMap((on, minute) => (on && !lit[minute - 1] ? [minute] : []));
      return begins
        .map((from) => `${show(from)}..${show(lit.indexOf(false, from) < 0 ? 1440 : lit.indexOf(false, from))}`)
        .join(" ");
    });
    expect(said).toEqual(expected);
  });
});

test("a sunset after midnight belongs to the day before: the clock is never above it until then", () => {
  // Trondheim, 20 June 2026: the sun sets at 23:37; by a clock an hour ahead, at 00:37.
  const { house } = parseHouse({
    "a.modrik": `house "A" { place 63.4 N, 10.4 E clock "Europe/Helsinki" } zone z { output o: on/off }
    rule r { while clock.time above sunset hold z.o at on }`,
  });
  const midnight = clockOf(house.clock).instant(day("2026-06-20"), 0);
  const engine = createEngine(house, { at: midnight });
  for (let hour = 0; hour <= 23; hour++) {
    engine.advanceTo(midnight + hour * 3600e3);
    expect([hour, engine.value("z.o")]).toEqual([hour, "off"]);
  }
});

describe("what comes every so often goes by the clock on the wall, on days too on which that is changed", () => {
  /** The times at which it comes on a day, as a clock in the house shows them. */
  function timesOf(every: string, date: string): string[] {
    const { house } = parseHouse({
      "a.modrik": `house "A" { clock "Europe/Zurich" } zone z { output o: on/off } rule r { when every ${every} do { tell "x" } }`,
    });
    const clock = clockOf("Europe/Zurich");
    const engine = createEngine(house, { at: clock.instant(day(date), 0) - 1 });
    engine.advanceTo(clock.instant(day(date) + 1, 0) - 1);
    return engine.takeNotices().map(({ at }) => {
      const { ms } = clock.local(at);
      return new Date(ms).toISOString().slice(11, 16);
    });
  }

  const evenHours = ["00:00", "04:00", "06:00", "08:00", "10:00", "12:00", "14:00", "16:00", "18:00", "20:00", "22:00"];
  test.each([
    ["an usual day", "2 h", "2026-03-28", [...evenHours, "02:00"]],
    ["the day in spring that has no 02:00", "2 h", "2026-03-29", [...evenHours, "03:00"]],
    ["the day in autumn that has two", "2 h", "2026-10-25", [...evenHours, "02:00"]],
    ["lengths that do not divide a day, in spring", "5 h", "2026-03-29", ["00:00", "05:00", "10:00", "15:00", "20:00"]],
    ["several in the gap", "40 min", "2026-03-29", undefined],
  ])("%s", (_, every, date, times) => {
    const found = timesOf(every, date);
    expect([...found].sort()).toEqual([...new Set(found)].sort());
    if (times) expect([...found].sort()).toEqual([...times].sort());
    // 02:00 and 02:40 are not: one comes at 03:00, before the next at 03:20.
    else expect(found.slice(0, 5)).toEqual(["00:00", "00:40", "01:20", "03:00", "03:20"]);
  });

  test.each([
    ["2026-03-28", 96],
    ["2026-03-29", 92],
    ["2026-10-25", 96],
  ])("every 15 min on %s: %i times", (date, count) => expect(timesOf("15 min", date).length).toBe(count));
});
