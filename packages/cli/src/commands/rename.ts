import { nearest, parseHouse, renameThing } from "modrik";
import pc from "picocolors";
import { CallError } from "../call-error.js";
import { readHouseWith, replaceFile } from "../house-files.js";

/** Renames a thing in all files of a house, and prints the lines it now stands in. */
export function rename(from: string, to: string, path: string | undefined): boolean {
  const read = readHouseWith(path, (files, options) => ({
    ...parseHouse(files, options),
    renamed: renameThing(files, from, to, options),
  }));
  const { renamed } = read;
  if ("refused" in renamed) {
    const near = read.places.has(from) ? [] : nearest(from, read.places.keys());
    throw new CallError(renamed.refused, near.length > 0 ? `Did you mean ${near.join(" or ")}?` : undefined);
  }
  const changed = new Set(renamed.places.map(({ file }) => file));
  for (const file of changed) replaceFile(read.path(file), renamed.files[file] as string);
  for (const { file, line } of uniqueLines(renamed.places)) {
    const text = (renamed.files[file] ?? "").split(/\r\n|\n|\r/)[line - 1] ?? "";
    process.stdout.write(`${pc.bold(`${file}:${line}`)}  ${text.trim()}\n`);
  }
  const count = (number: number, what: string) => `${number} ${what}${number === 1 ? "" : "s"}`;
  process.stdout.write(`${from} is now ${to}, in ${count(renamed.places.length, "place")} of ${count(changed.size, "file")}.\n`);
  return true;
}

function uniqueLines<Placed extends { file: string; line: number }>(places: readonly Placed[]): Placed[] {
  return [...new Map(places.map((place) => [`${place.file}:${place.line}`, place])).values()];
}
