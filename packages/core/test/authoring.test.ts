// The tables of the page on authoring: both columns of each row mean the same.
import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import type { House } from "modrik";
import * as modrik from "modrik";
import * as author from "modrik/author";
import { describe, expect, test } from "vitest";
import { runSource } from "./authored.js";

const page = readFileSync(fileURLToPath(new URL("../../../docs/authoring.md", import.meta.url)), "utf8");
const base = /```modrik\n([\s\S]*?)```/.exec(page)?.[1] ?? "";

/** The rows of a table, by the heading it stands under. */
function rowsUnder(heading: string): [text: string, source: string][] {
  const [, table = ""] = page.split(`### ${heading}\n`);
  const rows = (table.split("\n##")[0] ?? "").matchAll(/^\| `(.*?)` \| `(.*?)` \|$/gm);
  return [...rows].map(([, text = "", source = ""]) => [text, source]);
}

/** The things of the house that the page shows, each by its name, as it is made in TypeScript. */
const things = (() => {
  const { house } = modrik.parseHouse({ "a.modrik": base });
  const names = ["room", "stay", "airing", "shop", "cosy"];
  const source = author
    .writeInTypeScript(house)
    .replace("export default", `export default { ${names.join(", ")} } as never; void`);
  return runSource(source) as unknown as Record<string, unknown>;
})();

function made(source: string): unknown {
  const scope: Record<string, unknown> = { ...modrik, ...author, ...things };
  const named = Object.keys(scope).filter((name) => source.includes(name));
  return new Function(...named, `return (${source});`)(...named.map((name) => scope[name]));
}

function read(text: string): House {
  const { house, problems } = modrik.parseHouse({ "a.modrik": `${base}${text}` });
  expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
  return house;
}

const sentenceOf = (text: string) => read(`rule r { ${text} }`).rules.at(-1)?.sentences;

const tables: readonly [string, (text: string) => unknown, (made: never) => unknown][] = [
  [
    "Conditions and values",
    (text) => sentenceOf(`while ${text} hold room.fan at on`)?.[0],
    (made: author.AuthoredCondition) =>
      author.rule("r", [{ while: made, hold: [[{ output: "room.fan", value: onWord }]] }]).sentences[0],
  ],
  ["Sentences of a rule", sentenceOf, (made: author.SentenceData) => author.rule("r", [made]).sentences],
  [
    "Steps",
    (text) => sentenceOf(`when room.bell is pressed do { ${text} }`),
    (made: author.Steps[number]) => author.rule("r", [{ when: [author.isPressed(bell)], do: [made] }]).sentences,
  ],
  [
    "Guards, trials",
    (text) => {
      const { guards, trials } = read(text);
      return [...guards, ...trials][0];
    },
    (made: object) => made,
  ],
  [
    "What has a name",
    (text) => {
      const { lets, groups, schedules, profiles, presets, countdowns } = read(text);
      const known = ["shop", "cosy", "airing"];
      const [found] = [lets, groups, schedules, profiles, presets, countdowns].flat().filter(({ name }) => !known.includes(name));
      return found;
    },
    (made: object) => {
      const [named] = ["reckoned", "group", "schedule", "profile", "preset", "countdown"].flatMap((name) =>
        name in made ? [(made as Record<string, unknown>)[name]] : [],
      );
      // Of which type a let is, its text says once it is read.
      return "reckoned" in made ? { ...(named as object), type: { kind: "number", unit: "K" } } : named;
    },
  ],
];

const onWord = { kind: "word", word: "on", of: ["on", "off"] } as const;
const { bell } = things.room as { readonly bell: author.AuthoredThing<"sensor", { readonly pressed: true }> };

describe.each(tables)("%s", (heading, text, data) => {
  test("has rows", () => expect(rowsUnder(heading).length).toBeGreaterThan(3));

  test.each(rowsUnder(heading))("%s", (written, source) => {
    expect(data(made(source) as never)).toEqual(text(written));
  });
});
