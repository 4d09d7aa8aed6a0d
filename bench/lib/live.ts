// What the programs that measure running houses share: a broker, processes, percentiles.
import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { startBroker } from "@modrik/runtime";
import mqtt, { type MqttClient } from "mqtt";

export const bin = "packages/cli/bin/modrik.js";

const MOSQUITTO = "/usr/sbin/mosquitto";

/** Debian's broker where it is installed, else the one that ships. */
export async function someBroker(folder: string, port: number): Promise<{ readonly says: string; readonly end: () => unknown }> {
  if (!existsSync(MOSQUITTO)) {
    const broker = await startBroker({ port });
    return { says: "the broker that ships", end: () => broker.end() };
  }
  const config = join(folder, "mosquitto.conf");
  writeFileSync(config, `listener ${port} 127.0.0.1\nuser root\nallow_anonymous true\nmax_queued_messages 0\n`);
  const broker = spawn(MOSQUITTO, ["-c", config], { stdio: ["ignore", "ignore", "pipe"] });
  await until(broker.stderr, /running/);
  return { says: "Debian's mosquitto", end: () => broker.kill() };
}

export async function until(stream: NodeJS.ReadableStream, said: RegExp): Promise<string> {
  let text = "";
  for await (const bytes of stream) {
    text += String(bytes);
    if (said.test(text)) break;
  }
  return text;
}

/** A house that runs as a process; resolves when it hears. */
export async function runHouse(words: readonly string[]): Promise<{ readonly child: ChildProcess; stop(): Promise<void> }> {
  const child = spawn(process.execPath, [bin, "run", ...words, "--json"], { stdio: ["ignore", "pipe", "inherit"] });
  let text = "";
  await new Promise<void>((up) =>
    child.stdout.on("data", (bytes: Buffer) => {
      if (text.length < 10_000) text += String(bytes);
      if (text.includes("the broker is there")) up();
    }),
  );
  return {
    child,
    async stop() {
      const gone = once(child, "exit");
      child.kill("SIGTERM");
      await gone;
    },
  };
}

export async function client(port: number, clientId: string): Promise<MqttClient> {
  return mqtt.connectAsync(`mqtt://127.0.0.1:${port}`, { clientId });
}

export function percentile(sorted: readonly number[], share: number): number {
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? Number.NaN;
}

export const later = (ms: number) => new Promise((done) => setTimeout(done, ms));
