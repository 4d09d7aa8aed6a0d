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

  test("that recur for ever are followed for so many years", () => {
    expect(read(calendar(event("DTSTART;VALUE=DATE:20260404", "RRULE:FREQ=YEARLY")), 4)).toHaveLength(5);
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
    /"Tick" recurs more than/,
  ],
])("%s is refused", (_, text, says) => {
  expect(() => readCalendar(text)).toThrow(FormatError);
  expect(() => readCalendar(text)).toThrow(says);
});
