// A chart in words: for who cannot see it, or wants its figures.
import { type Reading, sayReading } from "./reading.js";

/** One thing of a chart, told. */
export interface ToldReading {
  readonly section: string;
  readonly name: string;
  readonly says: string;
}

/** So many changes are told one by one. */
const CHANGES = 8;

/**
 * What a chart shows, in words: of a number where it began, its lowest and highest with their times, and where it ended; of
 * all else when it was what.
 * @param from its first instant, and `to` its last, on the axis of the chart
 */
export function tellReadings(readings: readonly Reading[], from: number, to: number): ToldReading[] {
  const say = (at: number) =>
    new Date(at)
      .toISOString()
      .slice(to - from > DAY ? 5 : 11, 16)
      .replace("T", " ");
  return readings.map((reading) => ({ section: reading.section, name: reading.name, says: tell(reading, from, to, say) }));
}

const DAY = 86_400_000;

function tell(reading: Reading, from: number, to: number, say: (at: number) => string): string {
  const { times, values, texts, words, colour } = reading;
  const within = times.map((at, place) => ({ at, place })).filter(({ at }) => at <= to);
  if (texts) return some(within.filter(({ at }) => at >= from).map(({ at, place }) => `${say(at)} ${texts[place] ?? ""}`));
  const begin = sayReading(reading, from) ?? "unknown";
  const changes = within.filter(({ at }) => at > from);
  if (words || colour)
    return changes.length === 0
      ? `${begin} all the time`
      : some([begin, ...changes.map(({ at }) => `${sayReading(reading, at)} from ${say(at)}`)]);
  const known = within.filter(({ place }) => typeof values[place] === "number" && (times[place + 1] ?? to) >= from);
  const [first] = known;
  if (!first) return "unknown all the time";
  const value = ({ place }: { place: number }) => values[place] as number;
  const lowest = known.reduce((a, b) => (value(b) < value(a) ? b : a), first);
  const highest = known.reduce((a, b) => (value(b) > value(a) ? b : a), first);
  const at = (one: { at: number }) => `${sayReading(reading, one.at)} at ${say(Math.max(from, one.at))}`;
  if (value(lowest) === value(highest)) return `${sayReading(reading, lowest.at)} all the time`;
  return `${begin} at first, lowest ${at(lowest)}, highest ${at(highest)}, ${sayReading(reading, to)} at the end`;
}

function some(parts: readonly string[]): string {
  if (parts.length === 0) return "nothing";
  const rest = parts.length - CHANGES;
  return `${parts.slice(0, CHANGES).join("; ")}${rest > 0 ? `; and ${rest} more` : ""}`;
}
