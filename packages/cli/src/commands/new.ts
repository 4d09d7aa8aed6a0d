import { existsSync, mkdirSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { basename, dirname, join } from "node:path";
import { parseHouse } from "modrik";
import { type FirstAnswers, type FirstHouse, firstHouses, misfitsOfNumbers, nearest, writeFirstHouse } from "modrik/language";
import { CallError } from "../call-error.js";
import { type Io, pathIn } from "../io.js";

export interface NewOptions {
  readonly from?: string;
  readonly room?: string;
  readonly clock?: string;
  /** `wanted=50`: numbers of the starting point, instead of usual ones. */
  readonly set: readonly string[];
}

/** Makes the files of a first house, asking what is not said where somebody can answer. */
export async function newHouse(folder: string, options: NewOptions, io: Io): Promise<boolean> {
  const place = pathIn(io, folder);
  if (existsSync(place) && (!statSync(place).isDirectory() || readdirSync(place).length > 0))
    throw new CallError(`"${folder}" already exists and is not empty.`, "Name a new folder, e.g. modrik new my-house.");
  const recipe = options.from === undefined ? await askRecipe(io) : recipeNamed(options.from);
  const files = writeFirstHouse(recipe, await askRest(recipe, folder, options, io));
  const [problem] = parseHouse(files).problems;
  if (problem) throw new CallError(problem.reason, problem.remedy);
  for (const [name, text] of Object.entries(files)) {
    const path = join(place, name);
    mkdirSync(dirname(path), { recursive: true });
    writeFileSync(path, text);
    io.out.write(`created  ${join(folder, name)}\n`);
  }
  const commands = [`modrik test ${folder}`, `modrik show ${folder}`].map((command) => io.paint.bold(`npx ${command}`));
  io.out.write(`\n${recipe.annoyance}: the rule is in ${join(folder, "rules.modrik")}.\n`);
  io.out.write(`Run its trial with         ${commands[0]}\nRead it in sentences with  ${commands[1]}\n`);
  return true;
}

function recipeNamed(name: string): FirstHouse {
  const found = firstHouses.find((recipe) => recipe.name === name);
  if (found) return found;
  const names = firstHouses.map((recipe) => recipe.name);
  const near = nearest(name, names);
  throw new CallError(`Unknown starting point "${name}".`, near.length > 0 ? `Did you mean ${near.join(" or ")}?` : sayNames());
}

const sayNames = () => `Possible names: ${firstHouses.map(({ name }) => name).join(", ")}.`;

async function askRecipe({ person }: Io): Promise<FirstHouse> {
  if (!person)
    throw new CallError(
      "Cannot ask questions here: there is no terminal.",
      `Choose a starting point with --from NAME. ${sayNames()}`,
    );
  const { select } = await import("@inquirer/prompts");
  return answered(
    select(
      { message: "What annoys you most?", choices: firstHouses.map((recipe) => ({ name: recipe.annoyance, value: recipe })) },
      person,
    ),
  );
}

async function askRest(
  start: FirstHouse,
  folder: string,
  { from, room, clock, set }: NewOptions,
  { person }: Io,
): Promise<FirstAnswers> {
  const usual = {
    house: basename(folder),
    clock: clock ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
    room: room ?? "Room",
    numbers: numbersIn(start, set),
  };
  if (from !== undefined || !person) return usual;
  const { input } = await import("@inquirer/prompts");
  const ask = (message: string, before: string, validate?: (typed: string) => true | string) =>
    answered(input({ message, default: before, ...(validate && { validate }) }, person));
  const answers = {
    house: await ask("What is the house called?", usual.house),
    room: room ?? (await ask("Which room is it about?", usual.room)),
    clock: clock ?? (await ask("Its time zone?", usual.clock)),
  };
  let { numbers } = usual;
  for (const { name, asks, unit, usual: value } of start.numbers) {
    if (numbers[name] !== undefined) continue;
    const typed = await ask(`${asks}, in ${unit}?`, String(value), (text) => {
      const number = numberOf(text, unit);
      if (number === undefined) return `Write a number, e.g. ${value}.`;
      // Of numbers that are not asked for yet the usual ones count.
      return misfitsOfNumbers(start, { ...numbers, [name]: number })[0] ?? true;
    });
    numbers = { ...numbers, [name]: numberOf(typed, unit) as number };
  }
  return { ...answers, numbers };
}

/** @throws CallError when one is not a number of this starting point, or does not fit */
function numbersIn(start: FirstHouse, said: readonly string[]): Readonly<Record<string, number>> {
  const possible = start.numbers.map(({ name, low, high, unit }) => `${name} (${low}..${high} ${unit})`).join(", ");
  const entries = said.map((text): [string, number] => {
    const [name = "", value = ""] = text.split("=").map((part) => part.trim());
    const unit = start.numbers.find((one) => one.name === name)?.unit;
    const number = unit === undefined ? undefined : numberOf(value, unit);
    if (number === undefined)
      throw new CallError(
        `--set ${text} is no number of ${start.name}.`,
        `Write e.g. --set ${start.numbers[0]?.name}=${start.numbers[0]?.usual}. There are: ${possible}.`,
      );
    return [name, number];
  });
  const numbers = Object.fromEntries(entries);
  const [misfit] = misfitsOfNumbers(start, numbers);
  if (misfit !== undefined) throw new CallError(misfit, `There are: ${possible}.`);
  return numbers;
}

/** `45`, `45.5`, `45,5`, `45 %RH`. */
function numberOf(text: string, unit: string): number | undefined {
  const [, number, written = unit] = /^(-?\d+(?:[.,]\d+)?)\s*(\S+)?$/.exec(text.trim()) ?? [];
  return number === undefined || written !== unit ? undefined : Number(number.replace(",", "."));
}

/** Whoever cancels a question wants no files. */
async function answered<Answer>(question: Promise<Answer>): Promise<Answer> {
  try {
    return await question;
  } catch (error) {
    if (error instanceof Error && error.name === "ExitPromptError") throw new CallError("Cancelled. No files were created.");
    throw error;
  }
}
