// What may stand at a place of a text: what the parser asks for there, with the names of the house that fit.
import { colours, type House, type ValueType } from "../house/index.js";
import { SUN_EVENTS } from "../time/index.js";
import { units } from "../units/index.js";
import { facts } from "./binder/facts.js";
import { builtInNames, functionNames, typeNames } from "./binder/names.js";
import { writeType } from "./house-text.js";
import type { Asked } from "./parser/asked.js";
import { askedAtEnd } from "./parser/file.js";
import { listsFor, type NameList } from "./wanted.js";

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

/** A name or a unit that has been begun. */
const writing = /(?:[%°µ][\p{L}/³]*|[\p{L}_][\p{L}\p{N}_]*(?:\.(?!\.)[\p{L}\p{N}_]*)*)$/u;

/**
 * What may stand at a position of a text. Works on broken texts as well.
 * @param house what could be read of the house, this text included
 * @param position an index into `text`
 */
export function complete(house: House, text: string, position: number): Completions {
  const before = text.slice(0, position);
  const written = writing.exec(before)?.[0] ?? "";
  const from = position - written.length;
  const asked = askedAtEnd(before.slice(0, from));
  if (!asked) return { from, options: [] };
  // Where the words of a thing may stand, they are likelier than another thing that has the same.
  const states = asked.slots.has("a state") ? statesOf(house, asked) : [];
  const slots = [...asked.slots].filter((what) => states.length === 0 || what !== "a value");
  const named = slots.flatMap((what) => listsFor(what)).flatMap((list) => lists[list](house, asked, written));
  const options = [...named, ...[...asked.words].map((label): Completion => ({ label, kind: "keyword" }))];
  const begun = written.toLowerCase();
  const fits = ({ label }: Completion) => label.toLowerCase().startsWith(begun) || label.toLowerCase().includes(`.${begun}`);
  return { from, options: unique(options).filter((option) => begun === "" || fits(option)) };
}

/** The names of each list. */
const lists: Readonly<Record<NameList, (house: House, asked: Asked, written: string) => Completion[]>> = {
  zones: ({ zones }) => names(zones, "a zone"),
  sensors: ({ sensors }) => things(sensors),
  outputs: ({ outputs }) => things(outputs),
  dials: ({ dials }) => things(dials),
  modes: ({ modes }) => things(modes),
  groups: ({ groups }) => names(groups, "a group"),
  lets: ({ lets }) => things(lets),
  countdowns: ({ countdowns }) => names(countdowns, "a countdown"),
  presets: ({ presets }) => names(presets, "a preset"),
  schedules: ({ schedules }) => names(schedules, "a schedule"),
  profiles: ({ profiles }) => things(profiles),
  rules: ({ rules }) => names(rules, "a rule"),
  weathers: ({ weathers }) => names(weathers, "a weather"),
  tails: (house) => [
    { label: "sensor", kind: "name", detail: "every sensor" },
    ...names(
      [...house.sensors, ...house.outputs, ...house.dials, ...house.lets].flatMap(({ name }) => lastOf(name) ?? []),
      "in each zone",
    ),
  ],
  ways: ({ wirings }) =>
    names(
      wirings.flatMap((wiring) => (wiring.kind === "notices" ? [{ name: wiring.way }] : [])),
      "a way to a person",
    ),
  states: statesOf,
  units: () => Object.keys(units).flatMap((unit) => (unit === "" ? [] : [{ label: unit, kind: "unit" as const }])),
  functions: () => functionNames.map((label) => ({ label, kind: "function" })),
  types: () => Object.keys(typeNames).map((label) => ({ label, kind: "word" })),
  // Only once the thing is written: there are several for each.
  facts: ({ sensors, schedules, outputs, countdowns }, _, written) =>
    [
      ...factsOf(sensors, "sensor"),
      ...factsOf(schedules, "schedule"),
      ...factsOf(
        outputs.filter(({ delivers }) => delivers),
        "output",
      ),
      ...factsOf(countdowns, "countdown"),
    ].filter(({ label }) => written.startsWith(upToLast(label))),
  "built in": () => [...builtInNames, ...SUN_EVENTS].map((label) => ({ label, kind: "thing" })),
};

/** The words of a thing, named by its whole or its short name. */
function statesOf(house: House, { subject, zone }: Asked): Completion[] {
  if (typeof subject === "object") return subject.map((label) => ({ label, kind: "word" }));
  const all: readonly Typed[] = [house.sensors, house.outputs, house.dials, house.modes, house.lets, house.profiles].flat();
  const called = (name: string) => all.find((one) => one.name === name);
  const member = house.groups.find(({ name }) => name === subject)?.members[0];
  const found = called(`${zone}.${subject}`) ?? called(subject ?? "") ?? called(member ?? "");
  if (found?.type.kind === "colour") return [...colours.keys()].map((label) => ({ label, kind: "word" }));
  if (found?.type.kind !== "words") return [];
  return found.type.words.map((label) => ({ label, kind: "word", detail: found.name }));
}

function factsOf(list: readonly Named[], kind: string): Completion[] {
  const known = Object.keys(facts[kind] ?? {});
  return list.flatMap(({ name }) =>
    known.map((fact): Completion => ({ label: `${name}.${fact}`, kind: "thing", detail: `of ${name}` })),
  );
}

const upToLast = (name: string) => name.slice(0, name.lastIndexOf(".") + 1);

function lastOf(name: string): Named | undefined {
  const dot = name.indexOf(".");
  return dot < 0 ? undefined : { name: name.slice(dot + 1) };
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

function unique(options: readonly Completion[]): Completion[] {
  return [...new Map(options.map((option) => [option.label, option])).values()];
}
