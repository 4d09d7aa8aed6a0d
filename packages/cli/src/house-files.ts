// The files of a house, from a file or a folder.
import { readdirSync, readFileSync, renameSync, statSync, writeFileSync } from "node:fs";
import { basename, dirname, join, relative, sep } from "node:path";
import { FormatError, readCalendar, readRecording } from "@modrik/formats";
import { type CalendarEvent, type House, isSound, type ParsedHouse, type ParseOptions, parseHouse, type Recorded } from "modrik";
import { CallError } from "./call-error.js";
import { printProblems } from "./problems.js";

export interface HouseFiles {
  /** Text by name; names are relative to the folder, with `/`. */
  readonly files: Readonly<Record<string, string>>;
  /** Where a file of that name is. */
  path(name: string): string;
  /** Texts of the calendar files beside them, by name. */
  readonly calendars: Readonly<Record<string, string>>;
  /** Names of files that are no text. */
  readonly unreadable: readonly string[];
}

const ENDING = ".modrik";
const CALENDAR = ".ics";

/** @throws CallError when there is no such file or folder, or none of a house in it */
export function readHouseFiles(house = "."): HouseFiles {
  const stat = statSync(house, { throwIfNoEntry: false });
  if (!stat)
    throw new CallError(`There is no file or folder "${house}".`, "Name the folder of a house, or one of its .modrik files.");
  const folder = stat.isDirectory();
  const beside = folder ? house : dirname(house);
  const names = folder ? filesIn(house, house, ENDING) : [basename(house)];
  if (names.length === 0)
    throw new CallError(`There is no ${ENDING} file in "${house}".`, "A house is a folder with files such as house.modrik.");
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
export function timesOf(house = "."): ReadonlyMap<string, string> {
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

export function readHouse(house?: string): ReturnType<typeof readHouseWith<ParsedHouse>> {
  return readHouseWith(house, parseHouse);
}

/** Reads and binds, in the way that `parse` does; what is no text is a problem, and said at once. */
export function readHouseWith<Parsed extends ParsedHouse>(
  house: string | undefined,
  parse: (files: HouseFiles["files"], options: ParseOptions) => Parsed,
): Omit<HouseFiles, "calendars"> & Parsed {
  const read = readHouseFiles(house);
  for (const name of read.unreadable) {
    process.stderr.write(`${name}  is no text in UTF-8.\n  Save it as UTF-8, or move it out of the house's folder.\n`);
  }
  const { calendars, broken } = readCalendars(read.calendars);
  const recordings = readRecordings(read);
  const parsed = parse(read.files, { calendars, recordings });
  // A calendar that no schedule is read from does not matter.
  for (const { file = "" } of parsed.house.schedules) {
    const says = broken.get(file);
    if (says) throw new CallError(`${file} cannot be read. ${says}`, "Correct it, or export it anew.");
  }
  return { ...read, ...parsed };
}

/** Recordings that trials replay, as far as they are there. @throws CallError when one cannot be read */
function readRecordings({ files, path }: HouseFiles): Record<string, Recorded[]> {
  const names = new Set(
    Object.values(files).flatMap((text) => [...text.matchAll(/\breplay\s+"([^"]+)"/g)].map(([, name]) => name as string)),
  );
  const recordings: Record<string, Recorded[]> = {};
  for (const name of names) {
    if (!statSync(path(name), { throwIfNoEntry: false })?.isFile()) continue;
    try {
      recordings[name] = readRecording(readFileSync(path(name), "utf8"));
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      throw new CallError(`${name} cannot be read. ${error.message}`, "Correct it, or record it anew.");
    }
  }
  return recordings;
}

function readCalendars(texts: HouseFiles["calendars"]) {
  const calendars: Record<string, CalendarEvent[]> = {};
  const broken = new Map<string, string>();
  for (const [name, text] of Object.entries(texts)) {
    try {
      calendars[name] = readCalendar(text);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      calendars[name] = [];
      broken.set(name, error.message);
    }
  }
  return { calendars, broken };
}

/** Written beside and moved over, so that a file is never half there. */
export function replaceFile(path: string, text: string): void {
  const beside = `${path}.new`;
  writeFileSync(beside, text);
  renameSync(beside, path);
}

/** The house, or nothing when it may not run; its problems are then printed. */
export function readSoundHouse(path?: string): House | undefined {
  const read = readHouse(path);
  if (isSound(read) && read.unreadable.length === 0) return read.house;
  printProblems(read, process.stderr);
  return undefined;
}
