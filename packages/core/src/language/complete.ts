// What may stand at a place of a text: names of the house, words of a thing, keywords.
import { colours, type House, type ValueType } from "../house/index.js";
import { units } from "../units/index.js";
import { functionNames } from "./binder/names.js";
import { writeType } from "./house-text.js";
import { lex } from "./lexer.js";
import { openBlocks } from "./name-at.js";
import { declarationWords } from "./parser/cursor.js";
import { firstWords } from "./phrase.js";
import { Faults } from "./problem.js";
import type { Token } from "./token.js";
import { stepRows } from "./vocabulary/steps.js";

/** Something that may stand at a place of a text. */
export interface Completion {
  readonly label: string;
  readonly kind: "thing" | "word" | "keyword" | "unit" | "function" | "name";
  /** `°C`, `open/closed`, `a schedule`. */
  readonly detail?: string;
}

/** What may stand at a place, and what of it has been begun. */
export interface Completions {
  /** Where what is being written begins: what is chosen stands from there to the position. */
  readonly from: number;
  readonly options: readonly Completion[];
}

type Named = { readonly name: string; readonly title?: string };
type Typed = Named & { readonly type: ValueType | { readonly kind: "truth" } };

const declarations = [...declarationWords].join(" ");
const steps = [...new Set(firstWords(stepRows).map((front) => front.split(" ")[0]))].join(" ");
const connecting = "and or for in until is has was above below between while hold keep when do provided";

/** Keywords that begin an entry of a block, by the word the block begins with. */
const beginnings: Readonly<Record<string, string>> = {
  "": declarations,
  house: "place clock hand note",
  zone: "sensor output dial let countdown rule guard note",
  rule: "while keep hold cycle when or provided do if note",
  do: steps,
  guard: "permit note",
  schedule: "daily Mon Sat Sun except only note",
  profile: "daily Mon Sat Sun note",
  trial: "from given at simulated expect for note",
};

/**
 * What may stand at a position of a text, the likeliest kinds only. Works on broken texts as well.
 * @param house what `parseHouse` could make of the house, this text included
 * @param position an index into `text`
 */
export function complete(house: House, text: string, position: number): Completions {
  const before = text.slice(0, position);
  const written = writing.exec(before)?.[0] ?? "";
  const from = position - written.length;
  const context = lex("", before.slice(0, from), new Faults({ "": text })).tokens.filter(({ kind }) => kind !== "end");
  const begun = written.toLowerCase();
  const fits = ({ label }: Completion) => label.toLowerCase().startsWith(begun) || label.toLowerCase().includes(`.${begun}`);
  return { from, options: unique(optionsAt(house, context)).filter((option) => begun === "" || fits(option)) };
}

/** A name or a unit that has been begun. */
const writing = /(?:[%°µ][\p{L}/³]*|[\p{L}_][\p{L}\p{N}_]*(?:\.[\p{L}\p{N}_]*)*)$/u;

function optionsAt(house: House, context: readonly Token[]): Completion[] {
  const last = context.at(-1);
  const word = last?.text ?? "";
  const outputs = [...things(house.outputs), ...names(house.groups, "a group")];
  if (last?.kind === "number")
    return Object.keys(units).flatMap((unit) => (unit === "" ? [] : [{ label: unit, kind: "unit" as const }]));
  if (word === "during" || word === "outside") return names(house.schedules, "a schedule");
  if (word === "apply" || word === "applies") return names(house.presets, "a preset");
  if (word === "start" || word === "stop") return names(house.countdowns, "a countdown");
  if (word === "raise" || word === "lower") return [...keywords("with"), ...outputs, ...things(house.dials)];
  if (word === "set" || word === "sets") return [...outputs, ...things(house.dials), ...things(house.modes)];
  if (["hold", "cycle", "permit", "release", "dose", "ramp", "toggle", "with"].includes(word)) return outputs;
  const words = wordsWanted(house, context);
  if (words) return words;
  const block = openBlocks(context).at(-1)?.head ?? "";
  const begins = [
    ...keywords(beginnings[block] ?? steps),
    ...(block === "" ? [{ label: "for each", kind: "keyword" as const }] : []),
  ];
  return last === undefined || word === "{" || word === "}" ? begins : [...values(house), ...keywords(connecting), ...begins];
}

/** Behind `NAME is`, `set NAME to`, `hold NAME at`, `permit NAME`: the words of that thing. */
function wordsWanted(house: House, context: readonly Token[]): Completion[] | undefined {
  const zone = openBlocks(context).find(({ head }) => head === "zone")?.name;
  const behind = [...context].reverse();
  const skipped = behind.findIndex(({ text }) => !["is", "not", "has", "been", "was", "becomes", "to", "at"].includes(text));
  const named = behind[skipped];
  const isAsked = skipped > 0 || behind[1]?.text === "permit";
  if (!named || !isAsked || (named.kind !== "word" && named.kind !== "dotted")) return undefined;
  const all: readonly Typed[] = [house.sensors, house.outputs, house.dials, house.modes, house.lets].flat();
  const found = all.find(({ name }) => name === named.text) ?? all.find(({ name }) => name === `${zone}.${named.text}`);
  if (found?.type.kind === "colour") return [...colours.keys()].map((label) => ({ label, kind: "word" }));
  if (found?.type.kind !== "words") return undefined;
  const { words } = found.type;
  return [...words, "unknown", "not"].map((label) => ({ label, kind: "word", detail: found.name }));
}

function values(house: House): Completion[] {
  return [
    ...[house.sensors, house.outputs, house.dials, house.modes, house.lets, house.profiles].flatMap((list) => things(list)),
    ...["sun.elevation", "sun.azimuth", "clock.time", "clock.weekday", "clock.date"].map((label) => ({
      label,
      kind: "thing" as const,
    })),
    ...functionNames.map((label) => ({ label, kind: "function" as const })),
    ...keywords("during outside not unknown"),
  ];
}

function things(list: readonly Typed[]): Completion[] {
  return list.map(({ name, title, type }) => ({
    label: name,
    kind: "thing",
    detail: [title, writeType(type)].filter((part) => part !== undefined && part !== "").join(", "),
  }));
}

function names(list: readonly Named[], what: string): Completion[] {
  return list.map(({ name, title }) => ({ label: name, kind: "name", detail: title ?? what }));
}

function keywords(list: string): Completion[] {
  return list.split(" ").map((label) => ({ label, kind: "keyword" }));
}

function unique(options: readonly Completion[]): Completion[] {
  return [...new Map(options.map((option) => [option.label, option])).values()];
}
