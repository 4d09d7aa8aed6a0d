// The demo house as it is shipped: names of its files → their text.
import { readCalendar } from "@modrik/formats";

const texts = import.meta.glob<string>("../../../examples/linden-yard/**/*.modrik", {
  query: "?raw",
  import: "default",
  eager: true,
});

const calendars = import.meta.glob<string>("../../../examples/linden-yard/**/*.ics", {
  query: "?raw",
  import: "default",
  eager: true,
});

const withinHouse = (path: string) => path.replace(/^.*linden-yard\//, "");

/** The calendars beside it, read. */
export const lindenYardCalendars = Object.fromEntries(
  Object.entries(calendars).map(([path, text]) => [withinHouse(path), readCalendar(text, { from: Date.now() })]),
);

export const lindenYard: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries(texts).map(([path, text]) => [withinHouse(path), text]),
);

/** The file one sees first. */
export const firstFile = "rules.modrik";
