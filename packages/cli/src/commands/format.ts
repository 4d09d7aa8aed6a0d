import { formatHouse } from "modrik";
import { readHouseFiles, replaceFile } from "../house-files.js";
import type { Io } from "../io.js";
import { printProblems } from "../problems.js";

/** Lays out the files of a house; a file with errors stays as it is. True when all is, or was with `--check`, in order. */
export function format(path: string | undefined, { check }: { check?: boolean }, io: Io): boolean {
  const house = readHouseFiles(path, io);
  let fine = house.unreadable.length === 0;
  for (const name of house.unreadable) io.err.write(`${name}  is not UTF-8 text; it was left unchanged.\n`);
  let changed = 0;
  for (const [name, text] of Object.entries(house.files)) {
    const formatted = formatHouse(text, name);
    printProblems({ problems: formatted.problems, files: house.files }, io.err, io);
    if (formatted.problems.length > 0) fine = false;
    if (formatted.text === text) continue;
    changed++;
    if (check) fine = false;
    else replaceFile(house.path(name), formatted.text);
    io.out.write(`${check ? "not formatted" : "formatted"}  ${name}\n`);
  }
  if (changed === 0 && fine) io.out.write("All files are formatted.\n");
  return fine;
}
