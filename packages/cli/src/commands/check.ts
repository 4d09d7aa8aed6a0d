import { createInterface } from "node:readline/promises";
import { type House, isSound, mendHouse } from "modrik";
import pc from "picocolors";
import { CallError } from "../call-error.js";
import { readHouse, readHouseWith, replaceFile } from "../house-files.js";
import { printProblems } from "../problems.js";

export interface CheckOptions {
  readonly json?: boolean;
  readonly mend?: boolean;
  readonly yes?: boolean;
}

/** Prints what is wrong with a house; true when it may run. */
export async function check(path: string | undefined, { json, mend, yes }: CheckOptions): Promise<boolean> {
  if (mend && json) throw new CallError("--mend and --json do not go together.", "Mend first, then check with --json.");
  const read = mend ? await mendFiles(path, yes === true) : readHouse(path);
  const fine = isSound(read) && read.unreadable.length === 0;
  if (json) process.stdout.write(`${JSON.stringify({ house: read.house.name, problems: read.problems }, null, 2)}\n`);
  else {
    printProblems(read);
    process.stdout.write(`${fine ? pc.green("Nothing wrong") : pc.red(sayCount(read.problems.length + read.unreadable.length))}`);
    process.stdout.write(fine ? ` in ${read.house.name}: ${sayHouse(read.house)}.\n` : "\n");
  }
  return fine;
}

/** Shows the lines it would change, and changes them when that is wanted; what is then left is told as ever. */
async function mendFiles(path: string | undefined, yes: boolean) {
  const mended = readHouseWith(path, mendHouse);
  const { changed } = mended;
  for (const { file, line, before, after } of changed) {
    process.stdout.write(`${pc.bold(`${file}:${line}`)}\n${pc.red(`- ${before.trim()}`)}\n${pc.green(`+ ${after.trim()}`)}\n\n`);
  }
  if (changed.length === 0) {
    process.stdout.write("There is nothing that mends itself.\n\n");
    return mended;
  }
  const lines = `${changed.length} ${changed.length === 1 ? "line" : "lines"}`;
  if (!yes && !(await agrees(`Change ${lines}?`))) {
    process.stdout.write(`Nothing is changed. Say --yes to change ${lines} unasked.\n\n`);
    return readHouse(path);
  }
  for (const file of new Set(changed.map((one) => one.file))) replaceFile(mended.path(file), mended.files[file] as string);
  process.stdout.write(`Changed ${lines}.\n\n`);
  return mended;
}

/** Asks on a terminal; where nobody can answer, the answer is no. */
async function agrees(question: string): Promise<boolean> {
  if (!process.stdin.isTTY || !process.stdout.isTTY) return false;
  const asking = createInterface({ input: process.stdin, output: process.stdout });
  try {
    return /^y(es)?$/i.test((await asking.question(`${question} [y/N] `)).trim());
  } finally {
    asking.close();
  }
}

function sayCount(count: number): string {
  return count === 1 ? "1 problem" : `${count} problems`;
}

function sayHouse({ zones, sensors, outputs, dials, rules, guards, trials }: House): string {
  const parts: [readonly unknown[], string][] = [
    [zones, "zone"],
    [sensors, "sensor"],
    [outputs, "output"],
    [dials, "dial"],
    [rules, "rule"],
    [guards, "guard"],
    [trials, "trial"],
  ];
  return parts.map(([things, name]) => `${things.length} ${name}${things.length === 1 ? "" : "s"}`).join(", ");
}
