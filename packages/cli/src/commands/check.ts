import { createInterface } from "node:readline/promises";
import { checkHouse, type Finding, type House, isSound, mendHouse } from "modrik";
import pc from "picocolors";
import { CallError } from "../call-error.js";
import { readHouse, readHouseWith, replaceFile } from "../house-files.js";
import { printProblems, writeFinding } from "../problems.js";
import { whileShown } from "../progress.js";

export interface CheckOptions {
  readonly json?: boolean;
  readonly mend?: boolean;
  readonly yes?: boolean;
  readonly show?: boolean;
  readonly strict?: boolean;
}

/** Prints what is wrong with a house; true when it may run, and with `strict` only when nothing is found at all. */
export async function check(path: string | undefined, options: CheckOptions): Promise<boolean> {
  const { json, mend, yes, show, strict } = options;
  if (mend && json) throw new CallError("--mend and --json do not go together.", "Mend first, then check with --json.");
  const read = mend ? await mendFiles(path, yes === true) : readHouse(path);
  const { house, files, unreadable } = read;
  const problems = read.problems.filter((problem) => problem.allowed === undefined);
  const sound = isSound(read) && unreadable.length === 0;
  // What cannot be bound cannot be reasoned about.
  const all = sound
    ? whileShown("reasoning", (progress) => checkHouse(house, files, { onProgress: (share) => progress.at(share) }))
    : [];
  const findings = all.filter(({ allowed }) => allowed === undefined);
  const allowed = [...read.problems, ...all].filter((one) => one.allowed !== undefined);
  if (json) process.stdout.write(`${JSON.stringify({ house: house.name, problems, findings, allowed }, null, 2)}\n`);
  else {
    printProblems({ problems, files });
    for (const finding of findings) process.stdout.write(`${writeFinding(finding, files, show === true)}\n\n`);
    process.stdout.write(`${sayEnd(house, problems.length + unreadable.length, findings, sound, show === true)}\n`);
    for (const one of allowed) process.stdout.write(`${pc.dim(sayAllowed(one))}\n`);
  }
  return sound && !(strict && problems.length + findings.length > 0);
}

function sayEnd(house: House, problems: number, findings: readonly Finding[], sound: boolean, show: boolean): string {
  if (!sound) return pc.red(sayCount(problems));
  const warnings = problems + findings.length;
  if (warnings === 0) return `${pc.green("Nothing wrong")} in ${house.name}: ${sayHouse(house)}.`;
  const certain = findings.filter((finding) => finding.certain).length;
  const timelines = show ? "" : ": `modrik check --show` prints a timeline of each";
  const shown = certain > 0 ? `; ${certain} of them certain${timelines}` : "";
  return `${pc.yellow(`${warnings} ${warnings === 1 ? "warning" : "warnings"}`)}, no error in ${house.name}${shown}.`;
}

function sayAllowed({ code, place, allowed }: Pick<Finding, "place" | "allowed"> & { readonly code: string }): string {
  return `Allowed: ${code} at ${place?.file}:${place?.line}, ${allowed}.`;
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
