import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { CallError } from "../call-error.js";
import { readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { type LiveOptions, startLive, untilEnded } from "../live.js";
import { lindenYard, panelPage, playgroundPage } from "../pages.js";
import { textsOf } from "../texts.js";
import { savedFiles } from "../watch-files.js";
import { followEdits } from "./run.js";

export interface DemoOptions extends Pick<LiveOptions, "speed" | "weather" | "seed" | "fault" | "db" | "json"> {
  readonly port: string;
}

/** Where MQTT is spoken. */
const BROKER_PORT = 1883;

/** A broker, a simulated house, its rules, its panel and the playground, at once, until it is told to stop. */
export async function demo(said: string | undefined, { port, ...options }: DemoOptions, io: Io): Promise<boolean> {
  const wanted = Number(port);
  if (!Number.isInteger(wanted) || wanted < 0 || wanted > 65535)
    throw new CallError(`"${port}" is not a port number.`, "Write a number up to 65535; 0 takes any free one.");
  const pages = [panelPage(), playgroundPage()];
  const path = said ?? lindenYard();
  const { ended } = io;
  const saves = savedFiles(path, io, ended);
  const house = readSoundHouse(path, io);
  if (!house) return false;
  // Nothing of a demo is kept, unless it is said where.
  const own = options.db === undefined ? mkdtempSync(join(tmpdir(), "modrik-demo-")) : undefined;
  try {
    const places = {
      db: join(own ?? "", "house.db"),
      brokerPort: wanted === 0 ? 0 : BROKER_PORT,
      listen: String(wanted),
      pages,
      // The house that ships stays as it is.
      texts: said === undefined ? undefined : textsOf(said, io),
    };
    const live = await startLive(house, { ...options, devices: "simulated" }, places, io).catch((error: unknown) => {
      if (!(error instanceof CallError && error.message.includes("EADDRINUSE"))) throw error;
      io.err.write(`Port ${wanted} is in use; taking a free one.\n`);
      return startLive(house, { ...options, devices: "simulated" }, { ...places, listen: "0" }, io);
    });
    const { address } = live.http;
    const speed = options.speed ?? "1";
    const addresses = [
      [`The panel of ${house.name}`, `${address}/panel/  (press Ctrl-C to stop)`],
      ["The playground", `${address}/playground/`],
      ["HTTP, as described", `${address}/openapi.json`],
    ] as const;
    const width = Math.max(...addresses.map(([what]) => what.length));
    for (const [what, place] of addresses) io.out.write(`${`${what}:`.padEnd(width + 2)} ${place}\n`);
    io.out.write(`It runs ${speed === "1" ? "" : `${speed} times `}as fast as real, MQTT at ${live.broker}\n`);
    if (said !== undefined) void followEdits(saves, said, live, io);
    await untilEnded(live, ended);
    return true;
  } finally {
    if (own !== undefined) rmSync(own, { recursive: true, force: true });
  }
}
