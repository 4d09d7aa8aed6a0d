import { formatHouse, type House, type Hunted, hunt, writeTrial } from "modrik";
import type { Io } from "../io.js";
import { whileShown } from "../progress.js";

/** Looks for timelines that break what a house promises, and prints the shortest found; true when none was. */
export function huntFor(house: House, seed: number, tries: number, json: boolean, io: Io): boolean {
  const found = whileShown(io, "hunting", (progress) => hunt(house, { seed, tries, onProgress: (share) => progress.at(share) }));
  const broken = found.filter((one) => one.broken);
  if (json) io.out.write(`${JSON.stringify(found.map(asJson), null, 2)}\n`);
  else {
    for (const one of found) io.out.write(`${tell(one, seed, io)}\n`);
    io.out.write(`${sayEnd(found.length, broken.length, io)}\n`);
  }
  return broken.length === 0;
}

const textOf = ({ broken }: Hunted) => (broken ? formatHouse(writeTrial(broken)).text : undefined);

function asJson(one: Hunted) {
  const { broken: _, ...rest } = one;
  const trial = textOf(one);
  return { ...rest, ...(trial !== undefined && { trial }) };
}

function tell(one: Hunted, seed: number, io: Io): string {
  const { of, says, tries } = one;
  const text = textOf(one);
  if (text === undefined) return `${io.paint.green("holds")}   ${of}  ${io.paint.dim(says)}`;
  const head = `${io.paint.red("broken")}  ${of}  ${says} ${io.paint.dim(`(try ${tries}, seed ${seed})`)}`;
  return `${head}\n${text.replace(/^/gm, "    ").trimEnd()}`;
}

function sayEnd(promises: number, broken: number, io: Io): string {
  if (promises === 0)
    return "There is nothing to hunt for: the house has no guard, and no trial expects `never`, `always` or `whenever` without a time.";
  const counts = `${promises - broken} hold, ${broken} broken`;
  return broken === 0 ? io.paint.green(counts) : io.paint.red(counts);
}
