// The house as a worker keeps it open: of a file that is written on, only that file is read again.
import { FormatError, readCalendar, readRecording } from "@modrik/formats";
import { type CalendarEvent, type House, misfit, type Recorded, type Value } from "modrik";
import { type HouseText, openHouse } from "modrik/language";
import type { Files } from "./messages.js";

const HOUSE = ".modrik";
const CALENDAR = ".ics";

/** What is read once, as long as its text is the same. */
function remembered<Result>(read: (text: string) => Result): (name: string, text: string) => Result {
  const known = new Map<string, { readonly text: string; readonly result: Result }>();
  return (name, text) => {
    const before = known.get(name);
    if (before?.text === text) return before.result;
    const result = read(text);
    known.set(name, { text, result });
    return result;
  };
}

/** What cannot be read is as good as not there: the house then says what it misses. */
function orNothing<Result>(read: () => Result): Result | undefined {
  try {
    return read();
  } catch (error) {
    if (error instanceof FormatError) return undefined;
    throw error;
  }
}

/** Follows the files of one setup after another. */
export function followFiles(): (files: Files) => HouseText {
  const calendarOf = remembered((text) => orNothing((): CalendarEvent[] => readCalendar(text, { from: Date.now() })));
  let clock = "UTC";
  const recordingOf = remembered((text) => orNothing((): Recorded[] => readRecording(text, { clock })));
  let text = openHouse({});
  let beside: Files = {};
  let calendars: Readonly<Record<string, CalendarEvent[]>> = {};
  return (files) => {
    const own = Object.entries(files).filter(([name]) => name.endsWith(HOUSE));
    const others = Object.entries(files).filter(([name]) => !name.endsWith(HOUSE));
    if (others.length !== Object.keys(beside).length || others.some(([name, one]) => beside[name] !== one)) {
      beside = Object.fromEntries(others);
      calendars = readAll(
        others.map(([name]) => name).filter((name) => name.endsWith(CALENDAR)),
        calendarOf,
      );
      text = text.beside({ calendars });
    }
    const gone = Object.keys(text.files).filter((file) => !own.some(([name]) => name === file));
    for (const file of gone) text = text.with(file, undefined);
    for (const [file, written] of own) text = text.with(file, written);
    const { replays } = text;
    if (replays.length === 0) return text;
    clock = text.house.clock;
    return text.beside({ calendars, recordings: readAll(replays, recordingOf) });
  };

  /** Those of them that are there and can be read. */
  function readAll<Result>(names: readonly string[], read: (name: string, text: string) => Result | undefined) {
    return Object.fromEntries(
      names.flatMap((name) => {
        const written = beside[name];
        const found = written === undefined ? undefined : read(name, written);
        return found === undefined ? [] : [[name, found] as const];
      }),
    );
  }
}

/** Values that still fit the house, whose dials may have been changed in the text. */
export function fitting(house: House, set: Readonly<Record<string, Value>>): Readonly<Record<string, Value>> {
  return Object.fromEntries(
    Object.entries(set).filter(([name, value]) => {
      const dial = [...house.dials, ...house.modes].find((one) => one.name === name);
      return dial !== undefined && misfit(dial, value) === undefined;
    }),
  );
}
