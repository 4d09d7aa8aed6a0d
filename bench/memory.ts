// Whether memory grows with the time simulated: the workshop of five zones, with windows next to it, quarter by quarter of
// three years. `npm run bench -- memory`.
import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";
import { createEngine, parseHouse } from "modrik";
import { workshopText } from "./workload/house.js";
import { makeTrace } from "./workload/trace.js";

setFlagsFromString("--expose-gc");
const collect = runInNewContext("gc") as () => void;

const ZONES = 5;
const YEARS = 3;
const QUARTER = 131_400;
const START = Date.parse("2024-01-01T00:00Z");
const names = ["temperature", "humidity", "daylight", "motion", "door"];

const windows = `let steady = mean(z0.temperature over 6 h)
let comings = count(z0.motion is moving over 1 d)
rule told { when steady above 21 °C or when comings above 40 do { tell "much" } }`;
const { house, problems } = parseHouse({ "workshop.modrik": `${workshopText(ZONES)}\n${windows}` });
if (problems.length > 0) throw new Error(problems[0]?.reason);

const { times, signals, values, count } = makeTrace(ZONES, QUARTER);
const engine = createEngine(house, { at: START });
const sensors = Array.from({ length: 5 * ZONES }, (_, signal) =>
  engine.sensorNumber(`z${Math.floor(signal / 5)}.${names[signal % 5]}`),
);

const used: number[] = [];
for (let quarter = 0; quarter < 4 * YEARS; quarter++) {
  const begins = START + quarter * QUARTER * 60_000;
  for (let index = 0; index < count; index++) {
    const signal = signals[index] as number;
    const value = values[index] as number;
    engine.reportNumber(sensors[signal] as number, signal % 5 < 3 ? value : 1 - value, begins + (times[index] as number));
    if (index % 4096 === 0) {
      engine.takeChanges();
      engine.takeNotices();
    }
  }
  engine.takeChanges();
  engine.takeNotices();
  collect();
  used.push(process.memoryUsage().heapUsed);
  console.log(`after quarter ${quarter + 1}: ${((used.at(-1) as number) / 1e6).toFixed(2)} MB`);
}
// The first quarters compile and warm up.
const [middle, last] = [used[3] as number, used.at(-1) as number];
console.log(`from the end of the first year to that of the last: ${(last / middle).toFixed(3)} ×`);
