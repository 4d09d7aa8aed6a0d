import { formatHouse, type House, type Hunted, hunt, writeTrial } from "modrik";
import pc from "picocolors";
import { whileShown } from "../progress.js";

/** Looks for timelines that break what a house promises, and prints the shortest found; true when none was. */
export function huntFor(house: House, seed: number, tries: number, json: boolean): boolean {
  const found = whileShown("hunting", (progress) => hunt(house, { seed, tries, onProgress: (share) => progress.at(share) }));
  const broken = found.filter((one) => one.broken);
  if (json) process.stdout.write(`${JSON.stringify(found.map(asJson), null, 2)}\n`);
  else {
    for (const one of found) process.stdout.write(`${tell(one, seed)}\n`);
    process.stdout.write(`${sayEnd(found.length, broken.length)}\n`);
  }
  return broken.length === 0;
}

const textOf = ({ broken }: Hunted) => (broken ? formatHouse(writeTrial(broken)).text : undefined);

function asJson(one: Hunted) {
  const { broken: _, ...rest } = one;
  const trial = textOf(one);
  return { ...rest, ...(trial !== undefined && { trial }) };
}

function tell(one: Hunted, seed: number): string {
  const { of, says, tries } = one;
  const text = textOf(one);
  if (text === undefined) return `${pc.green("holds")}   ${of}  ${pc.dim(says)}`;
  const head = `${pc.red("broken")}  ${of}  ${says} ${pc.dim(`(try ${tries}, seed ${seed})`)}`;
  return `${head}\n${text.replace(/^/gm, "    ").trimEnd()}`;
}

function sayEnd(promises: number, broken: number): string {
  if (promises === 0)
    return "There is nothing to hunt for: no `never`, `always` or `whenever` that speaks of a whole trial, and no guard.";
  const counts = `${promises - broken} hold, ${broken} broken`;
  return broken === 0 ? pc.green(counts) : pc.red(counts);
}
