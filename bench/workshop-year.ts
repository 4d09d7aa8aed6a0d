// The workload "workshop-year": Modrik's engine against a program written by hand for the same house, in one run.
// `npm run bench -- workshop-year [zones minutes]`; without figures, the year of five zones and its kin.
import { createEngine, type Engine, parseHouse } from "modrik";
import { runByHand } from "./workload/by-hand.js";
import { workshopText } from "./workload/house.js";
import { Checksum, makeTrace, outputs, type Trace, traceHash } from "./workload/trace.js";

/** Zones, minutes, and the checksum of the reference. */
const known: readonly (readonly [zones: number, minutes: number, checksum: string])[] = [
  [5, 1440, "61e644c0"],
  [5, 43200, "3c44e2a2"],
  [5, 525600, "73ad743d"],
  [1, 2628000, "d9d9a8a7"],
  [50, 52560, "2dc8a1c0"],
  [500, 5256, "97adeae4"],
];

/** A Monday, 00:00 UTC. */
const START = Date.parse("2024-01-01T00:00Z");
const sensorNames = ["temperature", "humidity", "daylight", "motion", "door"];
const outputNames: Readonly<Record<string, number>> = outputs;

const PORTION = 4096;

function runModrik(engine: Engine, trace: Trace): Checksum {
  const { count, zones, end } = trace;
  const sensors = Array.from({ length: 5 * zones }, (_, signal) =>
    engine.sensorNumber(`z${(signal - (signal % 5)) / 5}.${sensorNames[signal % 5]}`),
  );
  const numbers = new Map(
    engine.house.outputs.map(({ name: whole }) => {
      const [zone = "", name = ""] = whole.split(".");
      return [whole, Number(zone.slice(1)) * 5 + (outputNames[name] as number)];
    }),
  );
  const sum = new Checksum(zones);
  const drain = () => {
    for (const { at, output, value } of engine.takeChanges())
      sum.change(at - START, numbers.get(output) as number, value === "on" ? 1 : 0);
    for (const { at, text } of engine.takeNotices()) sum.change(at - START, Number(text.slice(1)) * 5 + outputs.notice, 1);
  };
  // In portions, as reports come to a house.
  for (let from = 0; from < count; from += PORTION) {
    feed(engine, sensors, trace, from, Math.min(count, from + PORTION));
    drain();
  }
  engine.advanceTo(START + end);
  drain();
  return sum;
}

function feed(engine: Engine, sensors: readonly number[], { times, signals, values }: Trace, from: number, to: number): void {
  for (let index = from; index < to; index++) {
    const signal = signals[index] as number;
    const value = values[index] as number;
    // Words stand by their place: moving and open come first.
    engine.reportNumber(sensors[signal] as number, signal % 5 < 3 ? value : 1 - value, START + (times[index] as number));
  }
}

function timed<Result>(work: () => Result): { result: Result; ms: number } {
  const begun = performance.now();
  const result = work();
  return { result, ms: performance.now() - begun };
}

const median = (figures: readonly number[]) => [...figures].sort((a, b) => a - b)[figures.length >> 1] as number;

const [zones, minutes] = process.argv.slice(2).map(Number);
const chosen = zones && minutes ? [[zones, minutes, ""] as const] : known;
const RUNS = 3;

for (const [zoneCount, minuteCount, checksum] of chosen) {
  const trace = makeTrace(zoneCount, minuteCount);
  const { house } = parseHouse({ "workshop.modrik": workshopText(zoneCount) });
  const hand: number[] = [];
  const ours: number[] = [];
  let sums = ["", ""];
  for (let run = 0; run < RUNS; run++) {
    const one = timed(() => runByHand(trace));
    const engine = createEngine(house, { at: START });
    const other = timed(() => runModrik(engine, trace));
    hand.push(one.ms);
    ours.push(other.ms);
    sums = [String(one.result), String(other.result)];
  }
  const perEvent = (ms: number) => ((ms * 1e6) / trace.count).toFixed(0);
  const verdict =
    sums[0] === sums[1] && (checksum === "" || sums[1]?.startsWith(checksum)) ? "agree" : `DIFFER, wanted ${checksum}`;
  console.log(`${zoneCount} zones, ${minuteCount} minutes: ${trace.count} events, trace ${traceHash(trace)}`);
  console.log(`  by hand ${sums[0]}\n  Modrik  ${sums[1]}: ${verdict}`);
  console.log(
    `  ${perEvent(median(hand))} and ${perEvent(median(ours))} ns an event: ${(median(ours) / median(hand)).toFixed(2)} ×`,
  );
}
