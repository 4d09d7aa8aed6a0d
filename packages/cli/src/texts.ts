// The texts of a house in its folder, as a page reads and writes them.
import { existsSync, mkdirSync, readFileSync, statSync } from "node:fs";
import { basename, dirname, join } from "node:path";
import { type HouseTexts, TextsRefused } from "@modrik/runtime";
import { readHouseFiles, replaceFile } from "./house-files.js";
import { type Io, pathIn } from "./io.js";

/** Letters, digits, and folders below: nothing that leads elsewhere. */
const NAME = /^[\p{L}\p{N}_][\p{L}\p{N}_ .-]*(\/[\p{L}\p{N}_][\p{L}\p{N}_ .-]*)*\.(modrik|ics)$/u;

export function textsOf(said: string, io: Io): HouseTexts {
  const house = pathIn(io, said);
  const isFolder = statSync(house).isDirectory();
  const folder = isFolder ? house : dirname(house);
  return {
    read() {
      const { files, calendars } = readHouseFiles(said, io);
      return { name: basename(house).replace(/\.modrik$/, ""), files: { ...files, ...calendars } };
    },
    write(name, text, before) {
      if (!NAME.test(name) || name.split("/").includes("node_modules"))
        throw new TextsRefused(`"${name}" is no name for a file of this house.`);
      if (!isFolder && name !== basename(house))
        throw new TextsRefused(`This house is one file, ${basename(house)}: ${name} is not of it.`);
      const path = join(folder, name);
      const now = existsSync(path) ? readFileSync(path, "utf8") : undefined;
      if (now !== before)
        throw new TextsRefused(
          `${name} was changed elsewhere meanwhile: it was not overwritten. Open the house again, or download yours.`,
        );
      mkdirSync(dirname(path), { recursive: true });
      replaceFile(path, text);
    },
  };
}
