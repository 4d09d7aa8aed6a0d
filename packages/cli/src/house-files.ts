// The files of a house, from a file or a folder.
import { readdirSync, readFileSync, renameSync, statSync, writeFileSync } from "node:fs";
import { basename, dirname, join, relative, sep } from "node:path";
import { FormatError, readCalendar, readRecording } from "@modrik/formats";
import { type CalendarEvent, type House, isSound, type Recorded } from "modrik";
import { type HouseText, openHouse } from "modrik/language";
import { CallError } from "./call-error.js";
import { type Io, pathIn } from "./io.js";
import { printProblems } from "./problems.js";

/** A house as it is in a file or folder. */
export interface HouseFiles {
  readonly text: HouseText;
  /** Where a file of that name is. */
  path(name: string): string;
  /** Names of files that are no text. */
  readonly unreadable: readonly string[];
}

interface FoundFiles extends Omit<HouseFiles, "text"> {
  /** Text by name; names are relative to the folder, with `/`. */
  readonly files: Readonly<Record<string, string>>;
  /** Texts of the calendar files along with them, by name. */
  readonly calendars: Readonly<Record<string, string>>;
}

const ENDING = ".modrik";
const CALENDAR = ".ics";

/** @throws CallError when there is no such file or folder, or none of a house in it */
export function readHouseFiles(said = ".", io: Io): FoundFiles {
  const house = pathIn(io, said);
  const stat = statSync(house, { throwIfNoEntry: false });
  if (!stat)
    throw new CallError(`There is no file or folder "${said}".`, "Name the folder of a house, or one of its .modrik files.");
  const folder = stat.isDirectory();
  const beside = folder ? house : dirname(house);
  const names = folder ? filesIn(house, house, ENDING) : [basename(house)];
  if (names.length === 0)
    throw new CallError(`There is no ${ENDING} file in "${said}".`, "A house is a folder with files such as house.modrik.");
  const path = (name: string) => join(beside, name);
  const unreadable: string[] = [];
  const files: Record<string, string> = {};
  for (const name of names) {
    const text = decode(readFileSync(path(name)));
    if (text === undefined) unreadable.push(name);
    else files[name] = text;
  }
  const calendars = filesIn(beside, beside, CALENDAR, folder).map(
    (name) => [name, decode(readFileSync(path(name))) ?? ""] as const,
  );
  return { files, calendars: Object.fromEntries(calendars), path, unreadable };
}

/** When each file of a house was last written, by name; nothing where the house is away for a moment, as while it is saved. */
export function timesOf(said = ".", io: Io): ReadonlyMap<string, string> {
  const house = pathIn(io, said);
  const there = statSync(house, { throwIfNoEntry: false });
  if (!there) return new Map();
  const folder = there.isDirectory();
  const beside = folder ? house : dirname(house);
  const names = [...(folder ? filesIn(house, house, ENDING) : [basename(house)]), ...filesIn(beside, beside, CALENDAR, folder)];
  return new Map(
    names.flatMap((name) => {
      const stat = statSync(join(beside, name), { throwIfNoEntry: false });
      return stat ? [[name, `${stat.mtimeMs} ${stat.size}`] as const] : [];
    }),
  );
}

function filesIn(root: string, folder: string, ending: string, deep = true): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    if (entry.isDirectory())
      return !deep || entry.name === "node_modules" || entry.name.startsWith(".") ? [] : filesIn(root, path, ending);
    return entry.name.endsWith(ending) ? [relative(root, path).split(sep).join("/")] : [];
  });
}

function decode(bytes: Buffer): string | undefined {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return undefined;
  }
}

/** Reads and opens a house; what is not a text is said at once. @throws CallError when something next to it cannot be read */
export function readHouse(house: string | undefined, io: Io): HouseFiles {
  const { files, calendars: texts, path, unreadable } = readHouseFiles(house, io);
  for (const name of unreadable) {
    io.err.write(`${name}  is not UTF-8 text.\n  Save it as UTF-8, or move it out of the house's folder.\n`);
  }
  const { calendars, broken } = readCalendars(texts, io.now());
  const alone = openHouse(files, { calendars });
  // A calendar that no schedule is read from does not matter.
  for (const { file = "" } of alone.house.schedules) {
    const says = broken.get(file);
    if (says) throw new CallError(`${file} cannot be read. ${says}`, "Correct it, or export it again.");
  }
  const { replays } = alone;
  if (replays.length === 0) return { text: alone, path, unreadable };
  return { text: alone.beside({ calendars, recordings: readRecordings(replays, path, alone.house.clock) }), path, unreadable };
}

/** Recordings that trials replay, as far as they are there. @throws CallError when one cannot be read */
function readRecordings(names: readonly string[], path: (name: string) => string, clock: string): Record<string, Recorded[]> {
  const recordings: Record<string, Recorded[]> = {};
  for (const name of names) {
    if (!statSync(path(name), { throwIfNoEntry: false })?.isFile()) continue;
    try {
      recordings[name] = readRecording(readFileSync(path(name), "utf8"), { clock });
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      throw new CallError(`${name} cannot be read. ${error.message}`, "Correct it, or record it again.");
    }
  }
  return recordings;
}

function readCalendars(texts: FoundFiles["calendars"], now: number) {
  const calendars: Record<string, CalendarEvent[]> = {};
  const broken = new Map<string, string>();
  for (const [name, text] of Object.entries(texts)) {
    try {
      calendars[name] = readCalendar(text, { from: now });
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      calendars[name] = [];
      broken.set(name, error.message);
    }
  }
  return { calendars, broken };
}

/** Written next to the file and moved over it, so that a file is never half there. */
export function replaceFile(path: string, text: string): void {
  const beside = `${path}.new`;
  writeFileSync(beside, text);
  renameSync(beside, path);
}

/** The house, or nothing when it may not run; its problems are then printed. */
export function readSoundHouse(path: string | undefined, io: Io): House | undefined {
  const { text, unreadable } = readHouse(path, io);
  if (isSound(text) && unreadable.length === 0) return text.house;
  printProblems(text, io.err, io);
  return undefined;
}

/** What a running house keeps is next to it. */
export function fileBeside(said = ".", io: Io): string {
  const path = pathIn(io, said);
  const isFolder = statSync(path, { throwIfNoEntry: false })?.isDirectory() === true;
  return isFolder ? join(path, "house.db") : join(dirname(path), `${basename(path).replace(/\.modrik$/, "")}.db`);
}
