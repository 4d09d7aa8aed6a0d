// The core reads no clock, draws no random number without a seed, and knows neither Node nor a page.
import { existsSync, readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { expect, test } from "vitest";

const source = fileURLToPath(new URL("../src/", import.meta.url));
const files = (readdirSync(source, { recursive: true }) as string[]).filter((file) => file.endsWith(".ts"));

/** What is imported as `modrik`, `modrik/author`, `modrik/language`. */
const isDoor = (name: string) => name.endsWith(".ts");

/** The table of folders on the page that tells how it is built: from the lowest; a folder imports only from those before it. */
const page = readFileSync(new URL("../../../docs/architecture.md", import.meta.url), "utf8");
const rows = [...page.matchAll(/^\| `(\w+)` +\|[^|]*\|([^|]*)\|$/gm)];
const order = rows.map(([, folder = ""]) => folder);

test("the page names the folders there are, and files to begin with", () => {
  const folders = files.map((file) => file.split(/[\\/]/)[0] as string).filter((name) => !isDoor(name));
  expect(new Set(order)).toEqual(new Set(folders));
  for (const [, folder, begin = ""] of rows)
    for (const [, path = ""] of begin.matchAll(/`([^`]+)`/g))
      expect(existsSync(`${source}${folder}/${path}`), `${folder}/${path}`).toBe(true);
});

test("the page names tests that there are", () => {
  const named = [...page.matchAll(/`(\w+\.test\.ts)`/g)].map(([, name = ""]) => name);
  expect(named.length).toBeGreaterThan(8);
  const isThere = (name: string) =>
    ["./", "../../formats/test/", "../../runtime/test/", "../../cli/test/"].some((folder) =>
      existsSync(new URL(folder + name, import.meta.url)),
    );
  expect(named.filter((name) => !isThere(name))).toEqual([]);
});

test("the page names what its files let out", () => {
  const named = [...page.matchAll(/`([A-Z]\w+)` \(`([\w/-]+\.ts)`\)/g)].map(([, name = "", path = ""]) => ({ name, path }));
  expect(named.length).toBeGreaterThan(8);
  const isLetOut = ({ name, path }: { name: string; path: string }) =>
    existsSync(source + path) &&
    new RegExp(`^export (class|interface|type|function) ${name}\\b`, "m").test(readFileSync(source + path, "utf8"));
  expect(named.filter((one) => !isLetOut(one))).toEqual([]);
});

test("nothing impure is called", () => {
  expect(files.length).toBeGreaterThan(40);
  for (const file of files) {
    const text = readFileSync(source + file, "utf8");
    for (const impure of ["Date.now", "new Date()", "Math.random", "performance.", "process.", "setTimeout", 'from "node:']) {
      expect(text.includes(impure), `${file} has ${impure}`).toBe(false);
    }
  }
});

test("folders import only from those below, and through their doors", () => {
  for (const file of files) {
    const folder = file.split(/[\\/]/)[0] as string;
    for (const [, path = ""] of readFileSync(source + file, "utf8").matchAll(/from "(\.[^"]+)"/g)) {
      const parts = new URL(path, `file:///${file.replaceAll("\\", "/")}`).pathname.slice(1).split("/");
      const other = parts[0] as string;
      if (other === folder || isDoor(folder)) continue;
      expect(parts[1], `${file} imports ${path}`).toBe("index.js");
      expect(order.indexOf(other), `${file} imports ${path}`).toBeLessThan(order.indexOf(folder));
    }
  }
});

/** Values need conditions and conditions values, and texts have values in them: each of these is one idea in three files. */
const oneIdea = new Set([
  ...["terms", "functions", "pick"].map((name) => `language/binder/${name}.ts`),
  ...["terms", "relation", "quoted"].map((name) => `language/parser/${name}.ts`),
]);

test("no file imports itself, by whatever way", () => {
  const imports = new Map(
    files.map((file) => {
      const text = readFileSync(source + file, "utf8").replace(/import type [^;]*;|export type [^;]*;/g, "");
      const found = [...text.matchAll(/from "(\.[^"]+)"/g)].map(([, path = ""]) =>
        new URL(path, `file:///${file.replaceAll("\\", "/")}`).pathname.slice(1).replace(/\.js$/, ".ts"),
      );
      return [file.replaceAll("\\", "/"), found] as const;
    }),
  );
  const reaches = (from: string, seen = new Set<string>()): Set<string> => {
    for (const next of imports.get(from) ?? []) {
      if (seen.has(next)) continue;
      seen.add(next);
      reaches(next, seen);
    }
    return seen;
  };
  const rings = [...imports.keys()].filter((file) => reaches(file).has(file));
  expect(rings.filter((file) => !oneIdea.has(file))).toEqual([]);
});
