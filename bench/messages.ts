// What a running house takes: five thousand messages a second, and how long it is from a message to the command that comes
// of it, next to a plain subscriber that echoes, in one run. `npm run bench -- messages`.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { HouseFile } from "@modrik/runtime";
import { client, later, percentile, runHouse, someBroker } from "./lib/live.js";

const PORT = 21_883;
const RATE = 5000;
const SECONDS = Number(process.argv[2] ?? 20);
const SENSORS = 50;
/** A sensor that a rule depends on turns so often. */
const TURNS = 20;

const sensors = Array.from({ length: SENSORS }, (_, place) => `s${place}`);
const folder = mkdtempSync(join(tmpdir(), "modrik-messages-"));
writeFileSync(
  join(folder, "house.modrik"),
  `house "Busy" { clock "UTC" readings last 1 h }
zone z {
  sensor go: on/off
  output out: on/off
${sensors.map((name) => `  sensor ${name}: number`).join("\n")}
}
rule follow { while z.go is on hold z.out at on }
wire mqtt {
  z.go from "go" reading "1" as on, "0" as off
  z.out to "out" writing on as "1", off as "0"
${sensors.map((name) => `  z.${name} from "${name}"`).join("\n")}
}
`,
);

const broker = await someBroker(folder, PORT);
const db = join(folder, "house.db");
const house = await runHouse([folder, "--mqtt", `mqtt://127.0.0.1:${PORT}`, "--db", db]);
const echo = spawn(
  process.execPath,
  [
    "--input-type=module",
    "-e",
    `
    import mqtt from "mqtt";
    const client = await mqtt.connectAsync("mqtt://127.0.0.1:${PORT}", { clientId: "echo" });
    client.on("message", (_, text) => client.publish("echo", text, { qos: 1 }));
    await client.subscribeAsync("go", { qos: 1 });
    console.log("up");`,
  ],
  { stdio: ["ignore", "pipe", "inherit"] },
);
await new Promise((up) => echo.stdout.once("data", up));

const watch = await client(PORT, "watch");
const load = await client(PORT, "load");
const took: Record<"out" | "echo", number[]> = { out: [], echo: [] };
/** What was told to turn when, and how far each of the two has answered. */
const turns: { readonly at: number; readonly to: string }[] = [];
const answered = { out: 0, echo: 0 };
watch.on("message", (topic, text) => {
  const who = topic as "out" | "echo";
  // One that turned back before it was looked at is passed over.
  while (turns[answered[who]] && turns[answered[who]]?.to !== String(text)) answered[who] += 1;
  const turn = turns[answered[who]++];
  if (turn) took[who].push(performance.now() - turn.at);
});
await watch.subscribeAsync(["out", "echo"], { qos: 1 });
await later(1000);

let sent = 0;
const began = performance.now();
for (let next = began; performance.now() < began + SECONDS * 1000; ) {
  const due = Math.floor(((performance.now() - began) / 1000) * RATE) - sent;
  for (let one = 0; one < due; one++) load.publish(sensors[sent % SENSORS] as string, String(sent++), { qos: 1 });
  if (performance.now() >= next) {
    next += 1000 / TURNS;
    const to = turns.length % 2 === 0 ? "1" : "0";
    turns.push({ at: performance.now(), to });
    load.publish("go", to, { qos: 1 });
  }
  await later(2);
}
const lasted = (performance.now() - began) / 1000;
await later(3000);
await house.stop();
echo.kill();
await Promise.all([watch.endAsync(), load.endAsync()]);
broker.end();

const file = new HouseFile(db, { readOnly: true });
const kept = new Set(
  file
    .history(
      0,
      Number.MAX_SAFE_INTEGER,
      sensors.map((name) => `z.${name}`),
    )
    .map(({ value }) => value),
);
file.close();
rmSync(folder, { recursive: true, force: true });

const line = (list: number[]) => {
  const sorted = [...list].sort((a, b) => a - b);
  return `p50 ${percentile(sorted, 0.5).toFixed(1)} ms, p99 ${percentile(sorted, 0.99).toFixed(1)} ms (${sorted.length})`;
};
console.log(`${broker.says}, ${Math.round(sent / lasted)} messages a second for ${Math.round(lasted)} s, two cores`);
console.log(`sent ${sent}, in the house's history ${kept.size}, lost ${sent - kept.size}`);
console.log(`from message to command, with it on the disk:  ${line(took.out)}`);
console.log(`a plain subscriber that echoes:                ${line(took.echo)}`);
const ratio =
  percentile(
    took.out.sort((a, b) => a - b),
    0.5,
  ) /
  percentile(
    took.echo.sort((a, b) => a - b),
    0.5,
  );
console.log(`ratio of the medians: ${ratio.toFixed(2)}`);
if (kept.size !== sent) process.exitCode = 1;
