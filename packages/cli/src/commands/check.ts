import { createInterface } from "node:readline/promises";
import { checkHouse, type Finding, type House, isSound } from "modrik";
import { fixHouse, type HouseText } from "modrik/language";
import { CallError } from "../call-error.js";
import { type HouseFiles, readHouse, replaceFile } from "../house-files.js";
import type { Io } from "../io.js";
import { printProblems, writeFinding } from "../problems.js";
import { whileShown } from "../progress.js";

export interface CheckOptions {
  readonly json?: boolean;
  readonly fix?: boolean;
  readonly yes?: boolean;
  readonly show?: boolean;
  readonly strict?: boolean;
}

/** Prints what is wrong with a house; true when it may run, and with `strict` only when nothing is found at all. */
export async function check(path: string | undefined, options: CheckOptions, io: Io): Promise<boolean> {
  const { json, fix, yes, show, strict } = options;
  if (fix && json) throw new CallError("--fix and --json do not go together.", "Fix first, then check with --json.");
  const read = readHouse(path, io);
  const { unreadable } = read;
  const text = fix ? await fixFiles(read, yes === true, io) : read.text;
  const { house, files } = text;
  const problems = text.problems.filter((problem) => problem.allowed === undefined);
  const sound = isSound(text) && unreadable.length === 0;
  // What cannot be bound cannot be reasoned about.
  const all = sound
    ? whileShown(io, "reasoning", (progress) => checkHouse(house, text, { onProgress: (share) => progress.at(share) }))
    : [];
  const findings = all.filter(({ allowed }) => allowed === undefined);
  const allowed = [...text.problems, ...all].filter((one) => one.allowed !== undefined);
  if (json) io.out.write(`${JSON.stringify({ house: house.name, problems, findings, allowed }, null, 2)}\n`);
  else {
    printProblems({ problems, files }, io.out, io);
    const unused = findings.filter(({ code }) => code === "unused");
    const isYoung = unused.length > FEW;
    for (const finding of findings)
      if (!isYoung || finding.code !== "unused") io.out.write(`${writeFinding(finding, files, show === true, io)}\n\n`);
    if (isYoung) io.out.write(`${sayUnused(unused, io)}\n\n`);
    io.out.write(`${sayEnd(house, problems.length + unreadable.length, findings, sound, show === true, io)}\n`);
    for (const one of allowed) io.out.write(`${io.paint.dim(sayAllowed(one))}\n`);
  }
  return sound && !(strict && problems.length + findings.length > 0);
}

/** More than so many unused things are told of in one line: the house is still being made. */
const FEW = 3;

function sayUnused(unused: readonly Finding[], io: Io): string {
  const names = unused.map(({ about }) => (about?.kind === "thing" ? about.name : ""));
  const all = names.length > 5 ? `${names.slice(0, 4).join(", ")} and ${names.length - 4} more` : names.join(", ");
  return `${io.paint.yellow("unused")}  Not used by any rule, guard or let: ${all}. Use them, remove them, or write \`# allow unused: reason\` on the line before.`;
}

function sayEnd(house: House, problems: number, findings: readonly Finding[], sound: boolean, show: boolean, io: Io): string {
  if (!sound) return io.paint.red(sayCount(problems));
  const warnings = problems + findings.length;
  if (warnings === 0) return `${io.paint.green("Nothing wrong")} in ${house.name}: ${sayHouse(house)}.`;
  const certain = findings.filter((finding) => finding.certain).length;
  const which = certain < warnings ? `, ${certain} of them` : ",";
  const timelines = show ? "" : " `modrik check --show` prints how.";
  const shown = certain > 0 ? `${which} confirmed by running the house.${timelines}` : ".";
  return `${io.paint.yellow(`${warnings} ${warnings === 1 ? "warning" : "warnings"}`)} in ${house.name}${shown}`;
}

function sayAllowed({ code, place, allowed }: Pick<Finding, "place" | "allowed"> & { readonly code: string }): string {
  return `Allowed: ${code} at ${place?.file}:${place?.line}, ${allowed}.`;
}

/** Shows the lines it would change, and changes them when that is wanted; what is then left is told as ever. */
async function fixFiles({ text: before, path }: HouseFiles, yes: boolean, io: Io): Promise<HouseText> {
  const { text, changed } = fixHouse(before);
  for (const { file, line, before, after } of changed) {
    io.out.write(
      `${io.paint.bold(`${file}:${line}`)}\n${io.paint.red(`- ${before.trim()}`)}\n${io.paint.green(`+ ${after.trim()}`)}\n\n`,
    );
  }
  if (changed.length === 0) {
    io.out.write("Nothing can be fixed automatically.\n\n");
    return text;
  }
  const lines = `${changed.length} ${changed.length === 1 ? "line" : "lines"}`;
  if (!yes && !(await agrees(`Change ${lines}?`, io))) {
    io.out.write(`Nothing was changed. Use --yes to change ${lines} without asking.\n\n`);
    return before;
  }
  for (const file of new Set(changed.map((one) => one.file))) replaceFile(path(file), text.files[file] as string);
  io.out.write(`Changed ${lines}.\n\n`);
  return text;
}

/** Asks on a terminal; where nobody can answer, the answer is no. */
async function agrees(question: string, io: Io): Promise<boolean> {
  const { person } = io;
  if (!person) return false;
  const asking = createInterface(person);
  try {
    return /^y(es)?$/i.test((await asking.question(`${question} [y/N] `)).trim());
  } catch (error) {
    // Broken off with Ctrl+D or Ctrl+C.
    if (!(error instanceof Error && error.name === "AbortError")) throw error;
    io.out.write("\n");
    return false;
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
