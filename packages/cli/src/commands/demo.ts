import { existsSync, mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import sirv from "sirv";
import { CallError } from "../call-error.js";
import { readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { type LiveOptions, startLive, untilEnded } from "../live.js";
import { savedFiles } from "../watch-files.js";
import { followEdits } from "./run.js";

export interface DemoOptions extends Pick<LiveOptions, "speed" | "weather" | "seed" | "fault" | "db" | "json"> {
  readonly port: string;
}

/** Where MQTT is spoken. */
const BROKER_PORT = 1883;

/** A broker, a simulated house, its rules and the playground, at once, until it is told to stop. */
export async function demo(said: string | undefined, { port, ...options }: DemoOptions, io: Io): Promise<boolean> {
  const wanted = Number(port);
  if (!Number.isInteger(wanted) || wanted < 0 || wanted > 65535)
    throw new CallError(`"${port}" is not a port number.`, "Write a number up to 65535; 0 takes any free one.");
  const playground = builtPlace("The playground", "../playground", "../../playground");
  const path = said ?? lindenYard();
  const { ended } = io;
  const saves = savedFiles(path, io, ended);
  const house = readSoundHouse(path, io);
  if (!house) return false;
  // Nothing of a demo is kept, unless it is said where.
  const own = options.db === undefined ? mkdtempSync(join(tmpdir(), "modrik-demo-")) : undefined;
  try {
    const files = sirv(playground, { dev: false });
    const places = {
      db: join(own ?? "", "house.db"),
      brokerPort: wanted === 0 ? 0 : BROKER_PORT,
      listen: String(wanted),
      otherwise: (
        request: { raw: Parameters<typeof files>[0] },
        reply: { hijack(): unknown; raw: Parameters<typeof files>[1] },
      ) => {
        reply.hijack();
        files(request.raw, reply.raw, () => void reply.raw.writeHead(404).end("Not found"));
      },
    };
    const live = await startLive(house, { ...options, devices: "simulated" }, places, io).catch((error: unknown) => {
      if (!(error instanceof CallError && error.message.includes("EADDRINUSE"))) throw error;
      io.err.write(`Port ${wanted} is in use; taking a free one.\n`);
      return startLive(house, { ...options, devices: "simulated" }, { ...places, listen: "0" }, io);
    });
    const { address } = live.http;
    io.out.write(`The playground with Linden Yard is at ${address}/  (press Ctrl-C to stop)\n`);
    io.out.write(
      `${house.name} runs ${options.speed ?? "1"} times as fast as real: ${address}/outputs, ${address}/openapi.json; MQTT at ${live.broker}\n`,
    );
    if (said !== undefined) void followEdits(saves, said, live, io);
    await untilEnded(live, ended);
    return true;
  } finally {
    if (own !== undefined) rmSync(own, { recursive: true, force: true });
  }
}

/** The house that comes with the command: in a clone, that of the examples. */
const lindenYard = () => builtPlace("The demo house", "linden-yard", "../../../../examples/linden-yard");

/** Where something is that comes with the command, seen from what was built or from the sources. */
function builtPlace(what: string, ...places: readonly string[]): string {
  const found = places.map((place) => fileURLToPath(new URL(place, import.meta.url))).find((place) => existsSync(place));
  if (found === undefined) throw new CallError(`${what} is not built.`, "In a clone, run `npm run build` first.");
  return found;
}
