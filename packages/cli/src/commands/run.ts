import { isSound } from "modrik";
import { CallError } from "../call-error.js";
import { fileBeside, readHouse, readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { type LiveHouse, type LiveOptions, startLive, untilEnded } from "../live.js";
import { printProblems } from "../problems.js";
import { savedFiles } from "../watch-files.js";

/** Runs a house on its devices, until it is stopped. */
export async function runHouse(said: string | undefined, options: LiveOptions, io: Io): Promise<boolean> {
  const { ended } = io;
  const saves = savedFiles(said, io, ended);
  const house = readSoundHouse(said, io);
  if (!house) return false;
  // Where nobody looks on, what is said is for machines.
  const live = await startLive(house, { ...options, json: options.json || !io.out.isTTY }, { db: fileBeside(said, io) }, io);
  const { http, says } = live;
  says({
    weight: "info",
    about: "http",
    text: `the house answers at ${http.address} (described at ${http.address}/openapi.json)`,
  });
  if (http.token !== undefined)
    io.err.write(`The token of this house, shown this once: ${http.token}\n  Send it as: Authorization: Bearer ${http.token}\n`);
  void followEdits(saves, said, live, io);
  await untilEnded(live, ended);
  return true;
}

/** Takes over each edit that is sound; what is not is said, and the house runs on. */
export async function followEdits(
  saves: AsyncIterable<string>,
  said: string | undefined,
  live: LiveHouse,
  io: Io,
): Promise<void> {
  for await (const saved of saves) {
    try {
      const { text } = readHouse(said, io);
      if (isSound(text)) await live.takeOver(text.house);
      else {
        live.says({ weight: "warn", about: "house", text: `${saved} was saved, and has problems: the house runs on as it was` });
        printProblems({ problems: text.problems.filter(({ severity }) => severity === "error"), files: text.files }, io.err, io);
      }
    } catch (error) {
      const why = error instanceof CallError ? `${error.message} ${error.remedy ?? ""}` : (error as Error).message;
      live.says({
        weight: "warn",
        about: "house",
        text: `${saved} was saved, and cannot be taken over: ${why}; the house runs on as it was`,
      });
    }
  }
}
