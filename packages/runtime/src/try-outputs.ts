// Every output of a house tried, one at a time: what its device says, or who looks on, tells whether it is the right one and
// the right way round. What was found stays with the house.
import { type Output, reachOf, sayValue, type Value, whyInShort } from "modrik";
import type { Confirmed, Doer, RunningHouse } from "./running-house.js";
import type { HouseFile } from "./storage/house-file.js";

/** What was seen when an output was told to do something. */
export type Seen =
  | { readonly kind: "works" }
  | { readonly kind: "nothing" }
  /** It does the opposite. */
  | { readonly kind: "inverted" }
  /** Another one did it. */
  | { readonly kind: "another"; readonly output: string };

/** What was found of an output. */
export interface TriedOutput {
  readonly output: string;
  readonly found: Seen | { readonly kind: "not tried"; readonly because: string };
  /** Whether its device said so, or somebody who looked on. */
  readonly by: "its device" | "somebody" | "nobody";
}

/** Who looks on: is told what was switched, and says what happened. */
export type LooksOn = (output: Output, says: string) => Promise<Seen>;

export interface TryOptions {
  readonly running: RunningHouse;
  readonly file: HouseFile;
  /** Left out where nobody can be asked: then only devices that confirm tell something. */
  readonly looksOn?: LooksOn;
  /** Told of each as it is done. */
  readonly onTried?: (tried: TriedOutput) => void;
  /** How long a device has to say what it does, in milliseconds. @default 8000 */
  readonly patience?: number;
}

const by: Doer = { who: "trying outputs", origin: "this machine" };
/** By hand for so long at most, should this end in the middle. */
const LASTS = 120_000;

/** Goes through all outputs in their order, never against a guard, and leaves each to its rules again. */
export async function tryOutputs(options: TryOptions): Promise<TriedOutput[]> {
  const { running, file, onTried } = options;
  const all: TriedOutput[] = [];
  for (const output of running.house.outputs) {
    const tried = await tryOutput(output, options);
    all.push(tried);
    onTried?.(tried);
  }
  for (const { output, found } of all) file.addTried(output, running.now, sayTried(found, all, output));
  return all;
}

/** In words, with the pairs that are swapped. */
export function sayTried(found: TriedOutput["found"], all: readonly TriedOutput[], output: string): string {
  switch (found.kind) {
    case "works":
      return "works";
    case "nothing":
      return "nothing happened";
    case "inverted":
      return "does the opposite: its two texts are to be swapped in the wiring";
    case "not tried":
      return `not tried: ${found.because}`;
    case "another": {
      const other = all.find((one) => one.output === found.output)?.found;
      const isSwapped = other?.kind === "another" && other.output === output;
      return isSwapped
        ? `swapped with ${found.output}: their topics are to be exchanged in the wiring`
        : `${found.output} did it instead`;
    }
  }
}

async function tryOutput(output: Output, { running, looksOn, patience = 8000 }: TryOptions): Promise<TriedOutput> {
  const { name } = output;
  const not = (because: string): TriedOutput => ({ output: name, found: { kind: "not tried", because }, by: "nobody" });
  const wired = running.house.wirings.find((one) => one.kind === "writing" && one.output === name);
  if (wired?.kind !== "writing") return not("it is wired to nothing");
  const value = otherValue(output, running.value(name));
  if (value === undefined)
    return not(output.type.kind === "number" ? "it has no range: nothing says what it may be set to" : "it has only one state");
  const before = confirmations(running);
  await running.person(
    { kind: "switches", output: name, value, lasts: LASTS },
    `try ${name}: set it to ${sayValue(output.type, value)}`,
    by,
  );
  try {
    if (running.value(name) !== value) {
      const { run } = running;
      return not(whyInShort(run, name, run.to) ?? "it may not be switched now");
    }
    const told = await heardOf(running, output, value, before, wired.confirmedBy === undefined ? 0 : patience);
    if (told) return { output: name, found: told, by: "its device" };
    if (!looksOn)
      return wired.confirmedBy === undefined
        ? not("its device does not confirm, and nobody could be asked")
        : { output: name, found: { kind: "nothing" }, by: "its device" };
    return { output: name, found: await looksOn(output, sayValue(output.type, value)), by: "somebody" };
  } finally {
    await running.person({ kind: "releases", output: name }, `try ${name}: release it`, by);
  }
}

/** Another state than it has, with which something should be seen. */
function otherValue(output: Output, now: Value | undefined): Value | undefined {
  const { type, atRest } = output;
  if (type.kind === "words")
    return type.words.find((word) => word !== now && word !== atRest) ?? type.words.find((word) => word !== now);
  if (type.kind === "colour") return now === "#0000ff" ? "#ff0000" : "#0000ff";
  const reach = reachOf(output);
  if (!reach) return undefined;
  const [low, high] = reach;
  const half = low + (high - low) / 2;
  return now === half ? high : half;
}

function confirmations(running: RunningHouse): ReadonlyMap<string, Confirmed | undefined> {
  return new Map(running.house.outputs.map(({ name }) => [name, running.confirmed(name)]));
}

/** What devices say came of it; nothing where none says anything. */
async function heardOf(
  running: RunningHouse,
  { name, type }: Output,
  wanted: Value,
  before: ReadonlyMap<string, Confirmed | undefined>,
  patience: number,
): Promise<Seen | undefined> {
  /** What was said since it was told. */
  const news = (output: string) => {
    const said = running.confirmed(output);
    return said && said.times > (before.get(output)?.times ?? 0) ? said.value : undefined;
  };
  for (const ends = Date.now() + patience; Date.now() <= ends; await new Promise((done) => setTimeout(done, 20))) {
    const said = news(name);
    if (said === wanted) return { kind: "works" };
    // Nobody told another to turn to that.
    const other = running.house.outputs.find(
      (one) => one.name !== name && news(one.name) === wanted && before.get(one.name)?.value !== wanted,
    );
    if (other) return { kind: "another", output: other.name };
    if (said !== undefined && type.kind === "words" && type.words.length === 2) return { kind: "inverted" };
  }
  return undefined;
}
