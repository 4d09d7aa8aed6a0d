// A house that is killed at random moments, under load, next to one that is not: what each of them knows in the end.
import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { HouseFile, MqttLink, startBroker } from "@modrik/runtime";
import { seeded } from "modrik/testing";
import { afterAll, beforeAll, expect, test } from "vitest";
import { forMany, later } from "../../../test/patience.js";

const KILLS = Number(process.env.MODRIK_KILLS ?? 10);
const SEED = Number(process.env.MODRIK_SEED ?? 1);
const bin = fileURLToPath(new URL("../bin/modrik.js", import.meta.url));

const HOUSE = `
house "Killed" { clock "UTC" readings last 1 h }
zone z {
  sensor x: °C
  sensor count: number
  sensor door: open/closed
  output heater: on/off
  output fan: on/off
  output lamp: 0..100 %
  dial target: 10..30 °C, at first 20 °C
}
mode season: winter/summer, at first winter
countdown airing = 2 h
rule warm { keep z.x at z.target ± 1 K raise with z.heater }
rule aired { when z.door becomes open do { start airing set z.fan to on for 90 min } }
rule shut { when z.door becomes closed do { stop airing } }
wire mqtt {
  z.x from "x"
  z.count from "count"
  z.door from "door" reading "1" as open, "0" as closed
  z.heater to "heater"
  z.fan to "fan"
  z.lamp to "lamp"
}
`;

let folder = "";
const ends: (() => unknown)[] = [];
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-kill-"));
  writeFileSync(join(folder, "house.modrik"), HOUSE);
});
afterAll(async () => {
  for (const end of ends.reverse()) await end();
  rmSync(folder, { recursive: true, force: true });
});

/** The command, on a broker of its own. */
class Running {
  #process: ChildProcess | undefined;
  address = "";
  readonly db: string;
  said = "";

  constructor(
    readonly name: string,
    readonly port: number,
  ) {
    this.db = join(folder, `${name}.db`);
  }

  async start(): Promise<void> {
    const words = ["run", folder, "--mqtt", `mqtt://127.0.0.1:${this.port}`, "--db", this.db, "--json"];
    const child = spawn(process.execPath, [bin, ...words], { stdio: ["ignore", "pipe", "pipe"] });
    this.#process = child;
    let said = "";
    child.stderr?.on("data", (bytes: Buffer) => {
      this.said += String(bytes);
    });
    await new Promise<void>((up, failed) => {
      child.once("exit", (code) => failed(new Error(`${this.name} ended with ${code}: ${said} ${this.said}`)));
      child.stdout?.on("data", (bytes: Buffer) => {
        said += String(bytes);
        const address = /answers at (http:\S+)/.exec(said)?.[1];
        if (!address || !said.includes("the broker is there")) return;
        this.address = address;
        up();
      });
    });
    child.removeAllListeners("exit");
  }

  async kill(): Promise<void> {
    const child = this.#process;
    if (!child || child.exitCode !== null) return;
    const gone = new Promise((done) => child.once("exit", done));
    child.kill("SIGKILL");
    await gone;
  }

  async stop(): Promise<void> {
    const child = this.#process;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((done) => child.once("exit", done));
    child.kill("SIGTERM");
    await gone;
  }

  /** What a person does; true when it was acknowledged. */
  async put(path: string, body: unknown): Promise<boolean> {
    try {
      const response = await fetch(`${this.address}${path}`, {
        method: "PUT",
        headers: { "content-type": "application/json" },
        body: JSON.stringify(body),
        signal: AbortSignal.timeout(5000),
      });
      return response.ok;
    } catch {
      return false;
    }
  }

  async get(path: string): Promise<unknown> {
    const response = await fetch(`${this.address}${path}`);
    return response.json();
  }
}

/** How high the count was that a house has heard of. */
async function countOf(house: Running): Promise<number> {
  const [zone] = (await house.get("/zones")) as [{ sensors: { name: string; value?: number }[] }];
  return zone.sensors.find(({ name }) => name === "z.count")?.value ?? 0;
}

test(`${KILLS} kills lose at most the last second of readings, and nothing that a person did`, forMany(60 * KILLS), async () => {
  const random = seeded(SEED);
  const brokers = [await startBroker(), await startBroker()] as const;
  ends.push(...brokers.map((broker) => () => broker.end()));
  const killed = new Running("killed", brokers[0].port);
  const unbroken = new Running("unbroken", brokers[1].port);
  ends.push(
    () => killed.stop(),
    () => unbroken.stop(),
  );
  await unbroken.start();
  await killed.start();
  const says = () => {};
  const devices = brokers.map(
    ({ port }, place) => new MqttLink({ url: `mqtt://127.0.0.1:${port}`, clientId: `load-${place}`, says }),
  );
  ends.push(...devices.map((link) => () => link.end()));
  for (const link of devices) await new Promise<void>((up) => link.onTurn((isUp) => (isUp ? up() : undefined)));
  // The load: a count that goes up, a hundred times a second, and now and then what rules depend on.
  let sent = 0;
  let goes = true;
  const tell = (topic: string, text: string) => Promise.all(devices.map((link) => link.publish({ topic, text }).catch(() => {})));
  const load = (async () => {
    while (goes) {
      sent += 1;
      void tell("count", String(sent));
      if (sent % 20 === 0) void tell("x", String(15 + Math.round(random() * 100) / 10));
      if (sent % 150 === 0) void tell("door", random() < 0.5 ? "1" : "0");
      await later(10);
    }
  })();
  const acknowledged: { dial: number; season: string; lamp: number }[] = [{ dial: 20, season: "winter", lamp: 0 }];
  // Of each of its lives: the first count it said it had heard, and the last that it must have kept before it died.
  const lives: { readonly from: number; to: number }[] = [];
  for (let kill = 0; kill < KILLS; kill++) {
    // In every second one nobody does anything, so that time alone makes it write what it has heard.
    const isQuiet = kill % 2 === 1;
    const ends = Date.now() + 100 + random() * 900 + (isQuiet ? 1500 : 0);
    const said = [{ at: Date.now(), count: await countOf(killed) }];
    const life = { from: (said[0] as (typeof said)[number]).count, to: 0 };
    lives.push(life);
    while (Date.now() < ends) {
      const asked = Date.now();
      const count = await countOf(killed);
      if (isQuiet) {
        // Asked a second after it said so, and answered once more: what was due by then is done, however slow the machine.
        await killed.get("/modes/season");
        life.to = said.findLast(({ at }) => at + 1000 <= asked)?.count ?? 0;
        said.push({ at: Date.now(), count });
        await later(100);
        continue;
      }
      const last = acknowledged.at(-1) as (typeof acknowledged)[number];
      const next = {
        dial: 10 + Math.floor(random() * 40) / 2,
        season: random() < 0.5 ? "winter" : "summer",
        lamp: Math.floor(random() * 100),
      };
      // One that is not acknowledged may have happened, or not: it is done again below.
      if (await killed.put("/dials/z.target", { value: next.dial })) {
        last.dial = next.dial;
        life.to = count;
      }
      if (await killed.put("/modes/season", { value: next.season })) last.season = next.season;
      if (await killed.put("/outputs/z.lamp/hand", { value: next.lamp, lasts: "5 h" })) last.lamp = next.lamp;
      await later(random() * 60);
    }
    await killed.kill();
    await killed.start();
    const last = acknowledged.at(-1) as (typeof acknowledged)[number];
    const [{ value: dial }, { value: season }, lamp] = (await Promise.all([
      killed.get("/dials/z.target"),
      killed.get("/modes/season"),
      killed.get("/outputs/z.lamp"),
    ])) as [{ value: number }, { value: string }, { value: number; hand?: unknown }];
    expect({ kill, dial, season, lamp: lamp.value }).toEqual({ kill, ...last });
    expect(lamp.hand !== undefined || last.lamp === 0).toBe(true);
  }
  goes = false;
  await load;
  const last = acknowledged.at(-1) as (typeof acknowledged)[number];
  await unbroken.put("/dials/z.target", { value: last.dial });
  await unbroken.put("/modes/season", { value: last.season });
  await unbroken.put("/outputs/z.lamp/hand", { value: last.lamp, lasts: "5 h" });
  // Both hear the same at last, and have come to the same.
  await tell("door", "1");
  await tell("x", "5");
  await tell("count", "-1");
  const state = async (house: Running) => {
    for (let tries = 0; tries < 500; tries++) {
      const [zone] = (await house.get("/zones")) as [{ sensors: { name: string; value: unknown }[] }];
      if (zone.sensors.find(({ name }) => name === "z.count")?.value === -1) break;
      await later(20);
    }
    const outputs = (await house.get("/outputs")) as { name: string; value: unknown }[];
    const [countdown] = (await house.get("/countdowns")) as [{ running: boolean; until: string }];
    return { outputs: outputs.map(({ name, value }) => `${name} ${value}`), running: countdown.running, until: countdown.until };
  };
  const [one, other] = [await state(killed), await state(unbroken)];
  expect(one.outputs).toEqual(other.outputs);
  expect(one.running).toBe(other.running);
  await killed.stop();
  await unbroken.stop();
  const files = [new HouseFile(killed.db), new HouseFile(unbroken.db)] as const;
  const counts = files.map((file) => file.history(0, Number.MAX_SAFE_INTEGER, ["z.count"]).map(({ value }) => Number(value)));
  const [kept, all] = counts.map((list) => new Set(list)) as [Set<number>, Set<number>];
  const missing = [...all].filter((count) => count > 0 && !kept.has(count));
  // What it said it had heard is kept: at once when somebody was answered, else a second later.
  expect(lives.some(({ from, to }, place) => place % 2 === 1 && to > from)).toBe(true);
  expect(missing.filter((count) => lives.some(({ from, to }) => from <= count && count <= to))).toEqual([]);
  expect(all.size).toBeGreaterThan(KILLS);
  for (const file of files) {
    const records = file.recordsAfter(-1, 10_000_000);
    expect(records.every(([id], place) => id === place)).toBe(true);
    expect(records.every(([id, , , causes]) => causes.every((cause) => cause < id))).toBe(true);
    const times = records.map(([, at]) => at);
    expect(times.every((at, place) => place === 0 || at >= (times[place - 1] as number))).toBe(true);
    file.close();
  }
  process.stderr.write(`${KILLS} kills: ${all.size} readings of one sensor, ${missing.length} not kept\n`);
  expect(killed.said).toBe("");
});
