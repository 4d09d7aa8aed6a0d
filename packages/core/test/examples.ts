// The example houses as tests read them.
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { readCalendar } from "@modrik/formats";
import { type HouseText, openHouse } from "modrik/language";

const examples = fileURLToPath(new URL("../../../examples/", import.meta.url));

/** Names of files → their text. */
function readFiles(name: string, ending: string): Record<string, string> {
  const folder = `${examples}${name}`;
  const files = (readdirSync(folder, { recursive: true }) as string[]).filter((file) => file.endsWith(ending));
  return Object.fromEntries(files.map((file) => [file.replaceAll("\\", "/"), readFileSync(`${folder}/${file}`, "utf8")]));
}

export const lindenYard = readFiles("linden-yard", ".modrik");

/** Small situations that people fall into, as they are written so that nobody does. */
export const traps = readFiles("traps/right", ".modrik");

/** The same situations with rules that fall into them. */
export const fallen = readFiles("traps/wrong", ".modrik");

/** An example house with the calendars next to it. */
export function openExample(name: string, files: Readonly<Record<string, string>> = readFiles(name, ".modrik")): HouseText {
  const calendars = Object.entries(readFiles(name, ".ics")).map(([file, text]) => [
    file,
    readCalendar(text, { from: Date.UTC(2026, 0, 1) }),
  ]);
  return openHouse(files, { calendars: Object.fromEntries(calendars) });
}

export const parseLindenYard = (files: Readonly<Record<string, string>> = lindenYard): HouseText =>
  openExample("linden-yard", files);
