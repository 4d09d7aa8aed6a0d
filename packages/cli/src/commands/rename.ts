import { nearest } from "modrik/language";
import { CallError } from "../call-error.js";
import { readHouse, replaceFile } from "../house-files.js";
import type { Io } from "../io.js";

/** Renames a thing in all files of a house, and prints the lines it now stands in. */
export function rename(from: string, to: string, path: string | undefined, io: Io): boolean {
  const read = readHouse(path, io);
  const renamed = read.text.rename(from, to);
  if ("refused" in renamed) {
    const near = read.text.places.has(from) ? [] : nearest(from, read.text.places.keys());
    throw new CallError(renamed.refused, near.length > 0 ? `Did you mean ${near.join(" or ")}?` : undefined);
  }
  const changed = new Set(renamed.places.map(({ file }) => file));
  for (const file of changed) replaceFile(read.path(file), renamed.text.files[file] as string);
  for (const { file, line } of uniqueLines(renamed.places)) {
    const text = (renamed.text.files[file] ?? "").split(/\r\n|\n|\r/)[line - 1] ?? "";
    io.out.write(`${io.paint.bold(`${file}:${line}`)}  ${text.trim()}\n`);
  }
  const count = (number: number, what: string) => `${number} ${what}${number === 1 ? "" : "s"}`;
  io.out.write(`${from} is now ${to}, in ${count(renamed.places.length, "place")} of ${count(changed.size, "file")}.\n`);
  return true;
}

function uniqueLines<Placed extends { file: string; line: number }>(places: readonly Placed[]): Placed[] {
  return [...new Map(places.map((place) => [`${place.file}:${place.line}`, place])).values()];
}
