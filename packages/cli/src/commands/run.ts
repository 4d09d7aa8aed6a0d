import { setTimeout } from "node:timers/promises";
import type { Seen } from "@modrik/runtime";
import { isSound, type Output, titleOf } from "modrik";
import { CallError } from "../call-error.js";
import { fileBeside, readHouse, readSoundHouse } from "../house-files.js";
import type { Io } from "../io.js";
import { type LiveHouse, type LiveOptions, startLive, untilEnded } from "../live.js";
import { panelPage } from "../pages.js";
import { printProblems } from "../problems.js";
import { savedFiles } from "../watch-files.js";

/** Runs a house on its devices, until it is stopped. */
export async function runHouse(said: string | undefined, options: LiveOptions, io: Io): Promise<boolean> {
  const { ended } = io;
  const saves = savedFiles(said, io, ended);
  const house = readSoundHouse(said, io);
  if (!house) return false;
  // Where nobody looks on, what is said is for machines.
  const live = await startLive(
    house,
    { ...options, json: options.json || !io.out.isTTY },
    { db: fileBeside(said, io), pages: [panelPage()] },
    io,
  );
  if (options.tryOutputs) return tryAll(live, io);
  const { http, says } = live;
  says({
    weight: "info",
    about: "http",
    text: `the panel is at ${http.address}/panel/; the house answers at ${http.address} (described at ${http.address}/openapi.json)`,
  });
  if (http.token !== undefined)
    io.err.write(
      `The token of this house, shown this once: ${http.token}\n  Open the panel with it: ${http.address}/panel/#token=${http.token}\n  Programs send it as: Authorization: Bearer ${http.token}\n`,
    );
  void followEdits(saves, said, live, io);
  await untilEnded(live, ended);
  return true;
}

/** Every output, one at a time; who is at the terminal says what was seen. */
async function tryAll(live: LiveHouse, io: Io): Promise<boolean> {
  const { running, file } = live;
  try {
    for (const ends = Date.now() + BROKER_ANSWERS; !running.isUp; await setTimeout(50))
      if (Date.now() > ends) throw new CallError("The broker does not answer, so no output can be tried.", "Check --mqtt.");
    await setTimeout(1000);
    const { sayTried, tryOutputs } = await import("@modrik/runtime");
    const { person } = io;
    const { select } = person ? await import("@inquirer/prompts") : { select: undefined };
    const looksOn = async (output: Output, says: string): Promise<Seen> => {
      const others = running.house.outputs.filter(({ name }) => name !== output.name);
      const seen = await select?.<Seen>(
        {
          message: `${titleOf(output)} (${output.name}) was told to be ${says}. What did you see?`,
          choices: [
            { name: "It did so", value: { kind: "works" } },
            { name: "Nothing happened", value: { kind: "nothing" } },
            { name: "It did the opposite", value: { kind: "inverted" } },
            ...others.map((other) => ({
              name: `${titleOf(other)} (${other.name}) did it instead`,
              value: { kind: "another" as const, output: other.name },
            })),
          ],
        },
        person,
      );
      return seen ?? { kind: "nothing" };
    };
    const all = await tryOutputs({
      running,
      file,
      ...(select && { looksOn }),
      onTried: ({ output }) => void io.err.write(io.paint.dim(`tried ${output}\n`)),
    });
    const width = Math.max(...all.map(({ output }) => output.length));
    for (const { output, found, by } of all) {
      const says = sayTried(found, all, output);
      const paint = found.kind === "works" ? io.paint.green : io.paint.yellow;
      io.out.write(`${output.padEnd(width)}  ${paint(says)}${by === "nobody" ? "" : io.paint.dim(`, says ${by}`)}\n`);
    }
    const good = all.filter(({ found }) => found.kind === "works").length;
    io.out.write(`${good} of ${all.length} work. The list stays with the house, in ${file.path}.\n`);
    return good === all.length;
  } finally {
    await live.end();
  }
}

/** A broker has so many milliseconds to answer. */
const BROKER_ANSWERS = 15_000;

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
