import { type House, isSound } from "modrik";
import pc from "picocolors";
import { readHouse } from "../house-files.js";
import { printProblems } from "../problems.js";

/** Prints what is wrong with a house; true when it may run. */
export function check(path: string | undefined, { json }: { json?: boolean }): boolean {
  const read = readHouse(path);
  const fine = isSound(read) && read.unreadable.length === 0;
  if (json) process.stdout.write(`${JSON.stringify({ house: read.house.name, problems: read.problems }, null, 2)}\n`);
  else {
    printProblems(read);
    process.stdout.write(`${fine ? pc.green("Nothing wrong") : pc.red(sayCount(read.problems.length + read.unreadable.length))}`);
    process.stdout.write(fine ? ` in ${read.house.name}: ${sayHouse(read.house)}.\n` : "\n");
  }
  return fine;
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
