// Many houses on one broker: a hundred simulated ones in four processes, each with a file of its own. What they say, what
// they need. `npm run bench -- houses`.
import { spawn } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { client, later, someBroker } from "./lib/live.js";

const PORT = 21_884;
const HOUSES = Number(process.argv[2] ?? 100);
const PROCESSES = 4;
/** Sensors report once a minute: less is not a measure. */
const SECONDS = Math.max(60, Number(process.argv[3] ?? 120));

const folder = mkdtempSync(join(tmpdir(), "modrik-houses-"));
const broker = await someBroker(folder, PORT);

/** A process that runs its share of the houses, with their devices, as fast as real. */
const program = `
  import { fullyWired, HouseFile, machineClock, MqttLink, RunningHouse, SimulatedDevices } from "@modrik/runtime";
  import { readFileSync } from "node:fs";
  import { parseHouse } from "modrik";
  const [, first, count, port, folder] = process.argv;
  const files = Object.fromEntries(["house", "physics", "rules", "wiring"].map((name) => [name, readFileSync("examples/linden-yard/" + name + ".modrik", "utf8")]));
  const { house: linden } = parseHouse(files, { calendars: { "holidays.ics": [] } });
  const before = process.memoryUsage().rss;
  for (let number = Number(first); number < Number(first) + Number(count); number++) {
    const own = fullyWired({ ...linden, name: "House " + number });
    const house = { ...own, wirings: own.wirings.map((one) => ({ ...one, topic: number + "/" + one.topic, ...(one.confirmedBy && { confirmedBy: number + "/" + one.confirmedBy }) })) };
    const link = (who) => new MqttLink({ url: "mqtt://127.0.0.1:" + port, clientId: who + number, says: () => {} });
    const devices = new SimulatedDevices(house, { from: Date.now(), link: link("devices"), seed: number });
    const running = new RunningHouse(house, { clock: machineClock(), link: link("house"), file: new HouseFile(folder + "/" + number + ".db"), says: () => {} });
    await devices.start(machineClock());
    await running.start();
    if (number % 5 === 0) process.stderr.write(".");
  }
  console.log("up");
  setInterval(() => console.log(JSON.stringify({ rss: process.memoryUsage().rss - before, cpu: process.cpuUsage() })), 1000);
`;

const each = HOUSES / PROCESSES;
const began = performance.now();
const processes = Array.from({ length: PROCESSES }, (_, place) => {
  const child = spawn(
    process.execPath,
    ["--input-type=module", "-e", program, String(place * each), String(each), String(PORT), folder],
    { stdio: ["ignore", "pipe", "inherit"] },
  );
  const it = { child, up: false, rss: 0, cpu: { user: 0, system: 0 }, first: { user: 0, system: 0 } };
  child.stdout.on("data", (bytes: Buffer) => {
    for (const line of String(bytes).trim().split("\n")) {
      if (line === "up") it.up = true;
      else Object.assign(it, JSON.parse(line));
    }
  });
  return it;
});
while (!processes.every(({ up }) => up)) await later(100);
const upAfter = (performance.now() - began) / 1000;
let messages = 0;
const watch = await client(PORT, "watch");
watch.on("message", () => {
  messages += 1;
});
await watch.subscribeAsync("#", { qos: 0 });
await later(3000);
messages = 0;
for (const one of processes) one.first = one.cpu;
const from = performance.now();
await later(SECONDS * 1000);
const lasted = (performance.now() - from) / 1000;
const rate = messages / lasted;
const busy = processes.reduce((sum, { cpu, first }) => sum + cpu.user + cpu.system - first.user - first.system, 0) / 1e6 / lasted;
const rss = processes.reduce((sum, one) => sum + one.rss, 0);
for (const { child } of processes) child.kill();
await watch.endAsync();
broker.end();
rmSync(folder, { recursive: true, force: true });
const cores = (readFileSync("/proc/cpuinfo", "utf8").match(/^processor/gm) ?? []).length;
console.log(
  `\n${HOUSES} houses like Linden Yard in ${PROCESSES} processes on ${broker.says}, up after ${Math.round(upAfter)} s, ${cores} cores`,
);
console.log(`${rate.toFixed(0)} messages a second over the broker, ${(rate / HOUSES).toFixed(2)} a house`);
console.log(
  `${(rss / HOUSES / 2 ** 20).toFixed(1)} MB a house, its simulated devices included; ${((busy / HOUSES) * 1000).toFixed(1)} ms of processor time a second and house`,
);
