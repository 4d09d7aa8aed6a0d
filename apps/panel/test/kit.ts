// The panel in a real browser, and the house behind it: its process, its broker, and devices that say what a test wants.
import { once } from "node:events";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startBroker } from "@modrik/runtime";
import { connectAsync, type MqttClient } from "mqtt";
import { startHouse } from "../../../scripts/lib/demo-server.mjs";

/** A house whose devices are in the hands of a test. */
export const SHED = `house "Shed" { clock "UTC" readings last 1 h hand lasts 2 h }

zone shed "The shed" {
  sensor air "Air": °C, unknown after 12 s
  sensor gas "Gas": ppm
  sensor door: open/closed
  sensor battery "Battery": %, device health
  output heater "Heater": on/off
  output fan "Fan": on/off, on at least 10 min
  output lamp "Lamp": 0..100 %
  dial warmth "Warmth": 10..25 °C, at first 20 °C, step 0.5 K
}

zone attic "Attic" { sensor air "Attic air": °C }

mode season "Season": winter/summer, at first winter
countdown airing "Airing" = 20 min
let missing "Missing warmth" = shed.warmth - shed.air
preset evening "Evening" { shed.lamp at 30 %, shed.warmth at 18 °C }
schedule open "Open" { daily 00:00 to 23:59 }

rule warm "Warm hands" { keep shed.air at shed.warmth ± 1 K raise with shed.heater }
rule aired "Fresh air" { while airing is running hold shed.fan at on }
rule door "Somebody comes" {
  when shed.door becomes open
  do { tell "The shed is open, {shed.air}." through phone set shed.lamp to 80 % for 10 min }
}
guard no_fire "No fire beside gas" { permit shed.heater on only while shed.gas below 25 ppm }

wire mqtt {
  shed.air from "air" shed.gas from "gas" shed.door from "door" shed.battery from "battery" attic.air from "attic"
  shed.heater to "heater" shed.fan to "fan" shed.lamp to "lamp"
  notices phone to "phone"
}
`;

export async function freePort(): Promise<number> {
  const server = createServer().listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as { port: number };
  await new Promise((done) => server.close(done));
  return port;
}

interface House {
  readonly origin: string;
  readonly panel: string;
  readonly end: (signal?: NodeJS.Signals) => Promise<unknown>;
  /** What it said to people beside its log. */
  readonly told: () => string;
}

/** A house in a process of its own, on a broker that can be stopped, with devices that can be spoken for. */
export class LiveShed {
  readonly folder = mkdtempSync(join(tmpdir(), "modrik-panel-"));
  house: House | undefined;
  #broker: Awaited<ReturnType<typeof startBroker>> | undefined;
  #devices: MqttClient | undefined;
  #brokerPort = 0;
  #port = 0;

  constructor(readonly listen = "127.0.0.1") {}

  async start(): Promise<this> {
    this.#brokerPort = await freePort();
    this.#port = await freePort();
    await this.startBroker();
    await this.startHouse();
    return this;
  }

  async startBroker(): Promise<void> {
    this.#broker = await startBroker({ port: this.#brokerPort });
    this.#devices = await connectAsync(`mqtt://127.0.0.1:${this.#brokerPort}`);
  }

  async stopBroker(): Promise<void> {
    await this.#devices?.endAsync(true);
    await this.#broker?.end();
  }

  async startHouse(): Promise<void> {
    const file = join(this.folder, "shed.modrik");
    writeFileSync(file, SHED);
    const mqtt = `mqtt://127.0.0.1:${this.#brokerPort}`;
    const words = ["run", file, "--mqtt", mqtt, "--db", join(this.folder, "shed.db"), "--listen", `${this.listen}:${this.#port}`];
    this.house = (await startHouse([...words, "--json"], /the panel is at/)) as unknown as House;
  }

  /** Devices say something. */
  async says(all: Readonly<Record<string, string | number>>): Promise<void> {
    for (const [topic, text] of Object.entries(all)) await this.#devices?.publishAsync(topic, String(text), { qos: 1 });
  }

  /** Of one that listens to others: shown at its first start. */
  get token(): string {
    return /shown this once: ([\w-]+)/.exec(this.house?.told() ?? "")?.[1] ?? "";
  }

  get panel(): string {
    return `http://127.0.0.1:${this.#port}/panel/`;
  }

  async end(): Promise<void> {
    await this.house?.end();
    await this.stopBroker();
    rmSync(this.folder, { recursive: true, force: true });
  }
}
