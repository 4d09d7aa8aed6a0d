// Whether the memory of a running house is steady: Linden Yard on simulated devices, a month of it as fast as it goes, heap
// and file every three days. `npm run bench -- month`.
import { mkdtempSync, readFileSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { setFlagsFromString } from "node:v8";
import { runInNewContext } from "node:vm";
import { fullyWired, type HouseClock, HouseFile, LocalLink, RunningHouse, SimulatedDevices } from "@modrik/runtime";
import { LocalTransport, parseHouse } from "modrik";

setFlagsFromString("--expose-gc");
const collect = runInNewContext("gc") as () => void;

const DAYS = Number(process.argv[2] ?? 30);
const DAY = 86_400_000;
const SHOWN = 3 * DAY;
const from = Date.parse("2026-01-15T00:00Z");

/** A clock that goes on as soon as everything has happened. */
class FastClock implements HouseClock {
  #now = from;
  readonly speed = 1;
  readonly #wakes = new Set<{ readonly at: number; readonly then: () => void }>();

  now(): number {
    return this.#now;
  }

  ahead(): number {
    return 0;
  }

  wake(at: number, then: () => void): () => void {
    const one = { at, then };
    this.#wakes.add(one);
    return () => this.#wakes.delete(one);
  }

  async passTo(end: number): Promise<void> {
    while (this.#now < end) {
      let next: { readonly at: number; readonly then: () => void } | undefined;
      for (const one of this.#wakes) if (!next || one.at < next.at) next = one;
      if (!next || next.at > end) break;
      this.#wakes.delete(next);
      this.#now = Math.max(this.#now, next.at);
      next.then();
      await new Promise((done) => setImmediate(done));
    }
    this.#now = end;
  }
}

const files = Object.fromEntries(
  ["house", "physics", "rules", "wiring"].map((name) => [name, readFileSync(`examples/linden-yard/${name}.modrik`, "utf8")]),
);
const { house: linden } = parseHouse(files, { calendars: { "holidays.ics": [] } });
const house = fullyWired(linden);
const folder = mkdtempSync(join(tmpdir(), "modrik-month-"));
const path = join(folder, "house.db");
const transport = new LocalTransport();
const clock = new FastClock();
const says = () => {};
const file = new HouseFile(path);
const devices = new SimulatedDevices(house, { from, link: new LocalLink(transport) });
const running = new RunningHouse(house, { clock, link: new LocalLink(transport), file, says, keep: 10 * DAY });
await devices.start(clock);
await running.start();
const began = performance.now();
const used: number[] = [];
for (let at = from + SHOWN; at <= from + DAYS * DAY; at += SHOWN) {
  await clock.passTo(at);
  collect();
  used.push(process.memoryUsage().heapUsed / 2 ** 20);
  const { messages, commands, notices } = running.counts;
  console.log(
    `day ${Math.round((at - from) / DAY)}: heap ${used.at(-1)?.toFixed(1)} MB, file ${(statSync(path).size / 2 ** 20).toFixed(1)} MB; ${messages} messages, ${commands} commands, ${notices} notices`,
  );
}
await running.stop();
await devices.stop();
file.close();
rmSync(folder, { recursive: true, force: true });
console.log(`${DAYS} days in ${Math.round((performance.now() - began) / 1000)} s; kept whole for 10 days`);
const [early, late] = [used[1] as number, used.at(-1) as number];
console.log(`the last heap is ${(late / early).toFixed(2)} times that of day 6`);
if (late > early * 1.5) process.exitCode = 1;
