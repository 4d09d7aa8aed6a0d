import { existsSync, mkdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";
import {
  FormatError,
  houseJsonSchema,
  isThingDescription,
  type ReadThings,
  readHouseJson,
  readThings,
  writeHouseJson,
  writeRecording,
} from "@modrik/formats";
import { clockOf, formatHouse, type House, isSound, parseHouse, writeHouse } from "modrik";
import { writeInTypeScript } from "modrik/author";
import { CallError } from "../call-error.js";
import { isHouseFile } from "../house-file.js";
import { readHouse, readSoundHouse } from "../house-files.js";
import { type Io, pathIn } from "../io.js";
import { printProblems } from "../problems.js";
import { formOf, openRecordingFile } from "../recordings.js";

export interface ConvertOptions {
  readonly schema?: boolean;
  readonly force?: boolean;
  readonly clock?: string;
  readonly long?: boolean;
}

/** Writes a house as JSON or TypeScript, or one in JSON as text of the language. */
export async function convert(
  from: string | undefined,
  to: string | undefined,
  options: ConvertOptions,
  io: Io,
): Promise<boolean> {
  const { schema, force } = options;
  if (schema) {
    io.out.write(houseJsonSchema());
    return true;
  }
  if (from === undefined || to === undefined)
    throw new CallError("Name a source and a target.", "For example: modrik convert my-house my-house.json");
  const target = pathIn(io, to);
  if (existsSync(target) && !force)
    throw new CallError(`"${to}" already exists.`, "Name another file, or use --force to overwrite it.");
  const text = isRecording(from, to)
    ? await asRecording(from, to, options, io)
    : to.endsWith(".json")
      ? asJson(from, io)
      : to.endsWith(".modrik") && /\.json(ld)?$/.test(from)
        ? asText(from, io)
        : to.endsWith(".ts")
          ? asTypeScript(from, io)
          : undefined;
  if (text === undefined) return endsOtherwise(from, to);
  if (text === "") return false;
  mkdirSync(dirname(target), { recursive: true });
  writeFileSync(target, text);
  io.out.write(`created  ${to}\n`);
  return true;
}

function endsOtherwise(from: string, to: string): never {
  if (from.endsWith(".ts"))
    throw new CallError(
      `"${from}" is a program.`,
      "Run it: its default export is the house, and writeHouse(house) of the library is its text.",
    );
  throw new CallError(
    `Cannot convert "${from}" to "${to}".`,
    "A house folder or .modrik file can be converted to one .json or .ts file, and a .json file, of a house or of things as the W3C describes them, to one .modrik file; a recording to .csv, .jsonl or .senml.",
  );
}

/** A house in JSON is told from SenML by the ending of what it becomes. */
function isRecording(from: string, to: string): boolean {
  const known = (formOf(from) !== undefined || isHouseFile(from)) && formOf(to) !== undefined;
  return known && !(from.endsWith(".json") && to.endsWith(".json"));
}

async function asRecording(from: string, to: string, { clock, long }: ConvertOptions, io: Io): Promise<string> {
  if (clock !== undefined) zoneAsSaid(clock);
  const { records } = await openRecordingFile(from, clock, io);
  const form = (formOf(to) as NonNullable<ReturnType<typeof formOf>>).recording;
  if (long && form !== "wide CSV") throw new CallError("--long is for CSV.", "Name a target that ends in .csv.");
  return writeRecording(records, long ? "long CSV" : form);
}

function zoneAsSaid(zone: string): void {
  try {
    clockOf(zone);
  } catch {
    throw new CallError(`"${zone}" is not a time zone.`, "Name one as IANA does, e.g. --clock Europe/Zurich.");
  }
}

/** Things as the W3C describes them; nothing where it is something else. @throws CallError when none of them can be wired */
function thingsIn(path: string, from: string): ReadThings | undefined {
  const text = readFileSync(path, "utf8");
  if (!isThingDescription(text)) return undefined;
  try {
    return readThings(text);
  } catch (error) {
    if (error instanceof FormatError) throw new CallError(`${from} cannot become a house. ${error.message}`);
    throw error;
  }
}

/** Empty where the house has errors, which have then been printed. */
function asJson(from: string, io: Io): string {
  const house = withoutComments(from, "JSON", io);
  return house ? writeHouseJson(house) : "";
}

/** The same for a program. */
function asTypeScript(from: string, io: Io): string {
  const house = from.endsWith(".json") ? readJson(pathIn(io, from), from) : withoutComments(from, "TypeScript", io);
  if (!house) return "";
  const files = [
    ...house.schedules.map(({ file }) => file),
    ...house.weathers.map(({ recording }) => recording),
    ...house.trials.map(({ replay }) => replay),
  ].filter((file) => file !== undefined);
  if (files.length > 0) {
    const named = [...new Set(files)].map((file) => `"${file}"`).join(", ");
    io.err.write(`It is read together with ${named}: the program exports a function that takes what these say.\n`);
  }
  return writeInTypeScript(house);
}

/** A house as its files say it, but for what other forms have no place for. */
function withoutComments(from: string, form: string, io: Io): House | undefined {
  const house = readSoundHouse(from, io);
  if (!house) return undefined;
  const { text } = readHouse(from, io);
  const hasComments = Object.keys(text.files).some((file) => text.tokens(file).some(({ kind }) => kind === "comment"));
  if (hasComments)
    io.err.write(`Comments are not part of a house in ${form}: those of the text, \`# allow …\` too, are left out.\n`);
  return house;
}

function asText(from: string, io: Io): string {
  const path = pathIn(io, from);
  if (!statSync(path, { throwIfNoEntry: false })?.isFile()) throw new CallError(`There is no file "${from}".`);
  const things = thingsIn(path, from);
  if (things) {
    for (const note of things.notes) io.err.write(`${io.paint.yellow(note)}\n`);
    return things.text;
  }
  const house = readJson(path, from);
  const { text } = formatHouse(writeHouse(house));
  // Its calendars and recordings stay next to the house.
  const calendars = house.schedules.flatMap(({ file }) => (file === undefined ? [] : [[file, []] as const]));
  const replayed = house.trials.flatMap(({ replay, recorded = [] }) =>
    replay === undefined ? [] : [[replay, recorded] as const],
  );
  const read = house.weathers.flatMap(({ recording, recorded = [] }) =>
    recording === undefined ? [] : [[recording, recorded] as const],
  );
  const parsed = parseHouse(
    { [from]: text },
    { calendars: Object.fromEntries(calendars), recordings: Object.fromEntries([...replayed, ...read]) },
  );
  if (isSound(parsed)) return text;
  printProblems({ problems: parsed.problems, files: { [from]: text } }, io.err, io);
  return "";
}

function readJson(path: string, said: string) {
  try {
    return readHouseJson(readFileSync(path, "utf8"));
  } catch (error) {
    if (error instanceof FormatError)
      throw new CallError(`${said} cannot be read. ${error.message}`, "modrik convert --schema prints the shape of a house.");
    throw error;
  }
}
