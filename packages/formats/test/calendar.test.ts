// Calendars as other programs write them, each against times worked out by hand.
import { FormatError, readCalendar } from "@modrik/formats";
import type { EventMoment } from "modrik";
import { describe, expect, test } from "vitest";

const calendar = (...events: string[]) =>
  ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//a//b//EN", ...events, "END:VCALENDAR"].join("\r\n");
const event = (...lines: string[]) =>
  ["BEGIN:VEVENT", "UID:one@house.example", "DTSTAMP:20260101T000000Z", ...lines, "END:VEVENT"].join("\r\n");

const HOUR = 3600e3;
/** "2026-04-04 08:00" for a local time, "2026-04-04T08:00Z" for an instant. */
const say = (moment: EventMoment) =>
  typeof moment === "number"
    ? new Date(moment).toISOString().replace(":00.000Z", "Z")
    : `${new Date(moment.day * 24 * HOUR).toISOString().slice(0, 10)} ${new Date(moment.ms).toISOString().slice(11, 16)}`;
const read = (text: string, years?: number) =>
  readCalendar(text, years === undefined ? {} : { years }).map(({ from, to }) => `${say(from)} to ${say(to)}`);

const zone = [
  "BEGIN:VTIMEZONE",
  "TZID:House",
  "BEGIN:STANDARD",
  "DTSTART:20251026T030000",
  "TZOFFSETFROM:+0200",
  "TZOFFSETTO:+0100",
  "END:STANDARD",
  "END:VTIMEZONE",
].join("\r\n");

describe("events", () => {
  test.each<[string, string, string[]]>([
    ["none", calendar(), []],
    [
      "whole days, the last not included",
      calendar(event("DTSTART;VALUE=DATE:20260404", "DTEND;VALUE=DATE:20260413")),
      ["2026-04-04 00:00 to 2026-04-13 00:00"],
    ],
    ["a whole day without an end", calendar(event("DTSTART;VALUE=DATE:20260404")), ["2026-04-04 00:00 to 2026-04-05 00:00"]],
    ["in UTC", calendar(event("DTSTART:20260612T060000Z", "DTEND:20260612T080000Z")), ["2026-06-12T06:00Z to 2026-06-12T08:00Z"]],
    [
      "on the clock of the house",
      calendar(event("DTSTART:20260612T060000", "DURATION:PT90M")),
      ["2026-06-12 06:00 to 2026-06-12 07:30"],
    ],
    [
      "in a zone known by name",
      calendar(event("DTSTART;TZID=Europe/Zurich:20260612T060000", "DURATION:PT1H")),
      ["2026-06-12T04:00Z to 2026-06-12T05:00Z"],
    ],
    [
      "in a zone the file describes",
      calendar(zone, event("DTSTART;TZID=House:20260112T060000", "DURATION:PT1H")),
      ["2026-01-12T05:00Z to 2026-01-12T06:00Z"],
    ],
    [
      "recurring in a zone known by name, across its change of the clock",
      calendar(
        event(
          "DTSTART;TZID=Europe/Zurich:20260328T060000",
          "DTEND;TZID=Europe/London:20260328T060000",
          "RRULE:FREQ=DAILY;COUNT=2",
        ),
      ),
      ["2026-03-28T05:00Z to 2026-03-28T06:00Z", "2026-03-29T04:00Z to 2026-03-29T05:00Z"],
    ],
    [
      "recurring in a zone the file describes",
      calendar(zone, event("DTSTART;TZID=House:20260112T060000", "DURATION:PT1H", "RRULE:FREQ=DAILY;COUNT=2")),
      ["2026-01-12T05:00Z to 2026-01-12T06:00Z", "2026-01-13T05:00Z to 2026-01-13T06:00Z"],
    ],
    [
      "recurring, one time left out",
      calendar(event("DTSTART;VALUE=DATE:20260105", "RRULE:FREQ=WEEKLY;COUNT=3", "EXDATE;VALUE=DATE:20260112")),
      ["2026-01-05 00:00 to 2026-01-06 00:00", "2026-01-19 00:00 to 2026-01-20 00:00"],
    ],
    [
      "recurring, one time moved",
      calendar(
        event("DTSTART:20260105T080000", "DURATION:PT1H", "RRULE:FREQ=DAILY;COUNT=2"),
        event("RECURRENCE-ID:20260106T080000", "DTSTART:20260106T100000", "DURATION:PT1H"),
      ),
      ["2026-01-05 08:00 to 2026-01-05 09:00", "2026-01-06 10:00 to 2026-01-06 11:00"],
    ],
    ["called off", calendar(event("DTSTART;VALUE=DATE:20260404", "STATUS:CANCELLED")), []],
    [
      "in order of time",
      calendar(event("DTSTART;VALUE=DATE:20260404"), event("DTSTART;VALUE=DATE:20260104").replace("one@", "two@")),
      ["2026-01-04 00:00 to 2026-01-05 00:00", "2026-04-04 00:00 to 2026-04-05 00:00"],
    ],
  ])("%s", (_, text, times) => expect(read(text)).toEqual(times));

  const zurich = (time: string) => `DTSTART;TZID=Europe/Zurich:${time}`;
  test.each<[string, string, string[]]>([
    [
      "until a time in UTC, in a zone known by name",
      calendar(event(zurich("20260601T003000"), "RRULE:FREQ=DAILY;UNTIL=20260602T223000Z")),
      ["2026-05-31T22:30Z", "2026-06-01T22:30Z", "2026-06-02T22:30Z"],
    ],
    [
      "an exception in UTC",
      calendar(event(zurich("20260601T003000"), "RRULE:FREQ=DAILY;COUNT=3", "EXDATE:20260601T223000Z")),
      ["2026-05-31T22:30Z", "2026-06-02T22:30Z"],
    ],
    [
      "a change named by a time in UTC",
      calendar(
        event(zurich("20260601T003000"), "RRULE:FREQ=DAILY;COUNT=3"),
        event("RECURRENCE-ID:20260601T223000Z", zurich("20260602T100000")),
      ),
      ["2026-05-31T22:30Z", "2026-06-02T08:00Z", "2026-06-02T22:30Z"],
    ],
    [
      "a change of all that come later",
      calendar(
        event("DTSTART:20260101T080000", "RRULE:FREQ=DAILY;COUNT=3"),
        event("RECURRENCE-ID;RANGE=THISANDFUTURE:20260102T080000", "DTSTART:20260102T100000"),
      ),
      ["2026-01-01 08:00", "2026-01-02 10:00", "2026-01-03 10:00"],
    ],
    [
      "further dates keep the first",
      calendar(event("DTSTART:20260601T080000", "RDATE:20260605T080000,20260607T080000")),
      ["2026-06-01 08:00", "2026-06-05 08:00", "2026-06-07 08:00"],
    ],
    [
      "an exception that is a date leaves out its day",
      calendar(event("DTSTART:20260105T080000", "RRULE:FREQ=DAILY;COUNT=3", "EXDATE;VALUE=DATE:20260106")),
      ["2026-01-05 08:00", "2026-01-07 08:00"],
    ],
    ["a time that comes twice is the first", calendar(event(zurich("20261025T023000"))), ["2026-10-25T00:30Z"]],
    ["a time that does not exist comes after the gap", calendar(event(zurich("20260329T023000"))), ["2026-03-29T01:00Z"]],
    [
      "every 29 February",
      calendar(event("DTSTART;VALUE=DATE:20240229", "RRULE:FREQ=YEARLY;COUNT=3")),
      ["2024-02-29 00:00", "2028-02-29 00:00", "2032-02-29 00:00"],
    ],
    [
      "by weeks of the year (RFC 5545, 3.8.5.3)",
      calendar(event("DTSTART:19970512T090000", "RRULE:FREQ=YEARLY;BYWEEKNO=20;BYDAY=MO;COUNT=3")),
      ["1997-05-12 09:00", "1998-05-11 09:00", "1999-05-17 09:00"],
    ],
    [
      "in the week that few years have",
      calendar(event("DTSTART:20201230T090000", "RRULE:FREQ=YEARLY;BYWEEKNO=53;BYDAY=WE;COUNT=3")),
      ["2020-12-30 09:00", "2026-12-30 09:00", "2032-12-29 09:00"],
    ],
    [
      "every Friday the 13th (RFC 5545, 3.8.5.3)",
      calendar(event("DTSTART:19980213T090000", "RRULE:FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13;UNTIL=19990901T000000")),
      ["1998-02-13 09:00", "1998-03-13 09:00", "1998-11-13 09:00", "1999-08-13 09:00"],
    ],
    [
      "every other week, beginning on Sundays (RFC 5545, 3.8.5.3)",
      calendar(event("DTSTART:19970805T090000", "RRULE:FREQ=WEEKLY;INTERVAL=2;COUNT=4;BYDAY=TU,SU;WKST=SU")),
      ["1997-08-05 09:00", "1997-08-17 09:00", "1997-08-19 09:00", "1997-08-31 09:00"],
    ],
    [
      "a changed time of a series that is not there",
      calendar(event("RECURRENCE-ID:20260106T080000", "DTSTART:20260106T100000")),
      ["2026-01-06 10:00"],
    ],
  ])("%s", (_, text, begins) => expect(read(text).map((one) => one.split(" to ")[0])).toEqual(begins));

  test.each<[string, string[], string]>([
    ["hours are exact where the clock changes", ["DURATION:PT24H"], "2026-03-28T11:00Z to 2026-03-29T11:00Z"],
    ["a day is one of the clock", ["DURATION:P1D"], "2026-03-28T11:00Z to 2026-03-29T10:00Z"],
    ["a day and an hour", ["DURATION:P1DT1H"], "2026-03-28T11:00Z to 2026-03-29T11:00Z"],
    ["until its end", ["DTEND;TZID=Europe/Zurich:20260329T120000"], "2026-03-28T11:00Z to 2026-03-29T10:00Z"],
    ["without an end it has no length", [], "2026-03-28T11:00Z to 2026-03-28T11:00Z"],
    ["a period of its own", ["RDATE;VALUE=PERIOD:20260328T110000Z/PT2H"], "2026-03-28T11:00Z to 2026-03-28T13:00Z"],
  ])("lasts: %s", (_, lines, expected) => expect(read(calendar(event(zurich("20260328T120000"), ...lines)))).toEqual([expected]));

  test("recurring ones last exactly as long as the first, where that has an end", () => {
    const lines = [zurich("20260321T120000"), "DTEND;TZID=Europe/Zurich:20260322T120000", "RRULE:FREQ=WEEKLY;COUNT=2"];
    expect(read(calendar(event(...lines)))[1]).toBe("2026-03-28T11:00Z to 2026-03-29T11:00Z");
  });

  test("that recur for ever are followed for so many years, from their beginning or a later time", () => {
    const yearly = calendar(event("DTSTART;VALUE=DATE:19900404", "RRULE:FREQ=YEARLY"));
    expect(read(yearly, 4)).toHaveLength(5);
    const all = readCalendar(yearly, { from: Date.parse("2026-01-01"), years: 10 }).map(({ from }) => say(from));
    expect([all.length, all.at(-1)]).toEqual([46, "2035-04-04 00:00"]);
  });
});

test.each<[string, string, RegExp]>([
  ["nothing", "", /not an iCalendar/],
  ["another format", "date,event\n2026-01-01,New year", /not an iCalendar/],
  ["a contact", "BEGIN:VCARD\r\nVERSION:4.0\r\nFN:A\r\nEND:VCARD", /not an iCalendar/],
  ["an event without a beginning", calendar(event("SUMMARY:When?")), /"When\?" has no start/],
  ["a calendar cut off", "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTST", /RFC 5545/],
  ["a beginning that is none", calendar(event("DTSTART:soon", "DURATION:PT1H")), /RFC 5545/],
  ["a recurrence that is none", calendar(event("DTSTART;VALUE=DATE:20260404", "RRULE:FREQ=NEVER")), /RFC 5545.*NEVER/],
  ["a zone nobody knows", calendar(event("DTSTART;TZID=Nowhere:20260612T060000", "DURATION:PT1H")), /"Nowhere" is not described/],
  [
    "every second for ever",
    calendar(event("SUMMARY:Tick", "DTSTART:20260101T000000Z", "RRULE:FREQ=SECONDLY")),
    /"Tick" recurs SECONDLY/,
  ],
])("%s is refused", (_, text, says) => {
  expect(() => readCalendar(text)).toThrow(FormatError);
  expect(() => readCalendar(text)).toThrow(says);
});
