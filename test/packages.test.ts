// The packages as their users get them: packed, unpacked into an empty folder, imported by each of their doors, and with types
// that compile there.
import { execFileSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { build } from "tsdown";
import { afterAll, beforeAll, expect, test } from "vitest";
import { root } from "../packages/cli/test/modrik.js";
import { PATIENCE } from "./patience.js";

const packages = ["core", "formats", "charts", "runtime", "cli"];
let folder = "";

const run = (command: string, ...words: string[]) =>
  execFileSync(command, words, { cwd: folder, encoding: "utf8", timeout: PATIENCE });

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-packed-"));
  writeFileSync(join(folder, "package.json"), '{ "type": "module" }');
  for (const name of packages) {
    const packed = execFileSync("npm", ["pack", "--json", "--ignore-scripts", "--pack-destination", folder], {
      cwd: join(root, "packages", name),
      encoding: "utf8",
      stdio: ["ignore", "pipe", "ignore"],
    });
    const [{ filename, name: full }] = JSON.parse(packed) as [{ filename: string; name: string }];
    const place = join(folder, "node_modules", full);
    mkdirSync(place, { recursive: true });
    run("tar", "xzf", filename.replace("@", "").replace("/", "-"), "-C", place, "--strip-components=1");
    // What they depend on is as installed here; each other they find in the folder.
    const { dependencies = {} } = JSON.parse(readFileSync(join(place, "package.json"), "utf8")) as { dependencies?: object };
    for (const needed of Object.keys(dependencies)) {
      const link = join(folder, "node_modules", needed);
      mkdirSync(dirname(link), { recursive: true });
      if (!needed.startsWith("@modrik/") && needed !== "modrik" && !hasIn(dirname(link), needed.split("/").at(-1) as string))
        symlinkSync(join(root, "node_modules", needed), link);
    }
  }
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const hasIn = (place: string, name: string) => readdirSync(place).includes(name);

test("every door of every package leads in, and the command says its version", () => {
  writeFileSync(
    join(folder, "doors.js"),
    `const doors = ["modrik", "modrik/author", "modrik/language", "modrik/testing", "@modrik/formats", "@modrik/charts", "@modrik/runtime"];
    for (const door of doors) console.log(door, Object.keys(await import(door)).length > 0);`,
  );
  expect(run(process.execPath, "doors.js").trim().split("\n")).toEqual([
    "modrik true",
    "modrik/author true",
    "modrik/language true",
    "modrik/testing true",
    "@modrik/formats true",
    "@modrik/charts true",
    "@modrik/runtime true",
  ]);
  const { version } = JSON.parse(readFileSync(join(root, "packages/cli/package.json"), "utf8")) as { version: string };
  expect(run(process.execPath, "node_modules/@modrik/cli/bin/modrik.js", "--version").trim()).toBe(version);
});

test("nothing is packed that is no part of them, and nothing names a place of this machine", () => {
  for (const name of ["modrik", "@modrik/formats", "@modrik/charts", "@modrik/runtime", "@modrik/cli"]) {
    const place = join(folder, "node_modules", name);
    expect([
      name,
      readdirSync(place).filter(
        (one) => !["bin", "dist", "panel", "playground", "package.json", "README.md", "LICENSE"].includes(one),
      ),
    ]).toEqual([name, []]);
    expect(readdirSync(place)).toEqual(expect.arrayContaining(["README.md", "LICENSE", "package.json"]));
    for (const file of readdirSync(join(place, "dist"), { recursive: true, encoding: "utf8" }))
      if (/\.(js|ts|mts)$/.test(file))
        expect([file, readFileSync(join(place, "dist", file), "utf8").includes(root)]).toEqual([file, false]);
  }
});

test("their types compile where they are used, and what does not fit does not", () => {
  writeFileSync(
    join(folder, "uses.ts"),
    `import { createEngine, measureSimulation, parseHouse, type Value } from "modrik";
    import { readRecording } from "@modrik/formats";
    import { chartOf } from "@modrik/charts";
    import { openHouse } from "modrik/language";
    const { house } = parseHouse({ "a.modrik": "" });
    const value: Value | undefined = createEngine(house, { at: 0 }).value("z.t");
    const kept: number = measureSimulation(house).measures.kept.length;
    console.log(value, kept, readRecording("time,a\\n").length, chartOf.name, openHouse.name);
    // @ts-expect-error an instant is a number
    createEngine(house, { at: "now" });
    // @ts-expect-error a house is not written into
    house.rules.push();
    `,
  );
  for (const [module, moduleResolution] of [
    ["nodenext", "nodenext"],
    ["node16", "node16"],
    ["esnext", "bundler"],
  ]) {
    const compilerOptions = {
      strict: true,
      noEmit: true,
      module,
      moduleResolution,
      target: "es2022",
      lib: ["es2024", "dom"],
      types: [],
    };
    writeFileSync(join(folder, "tsconfig.json"), JSON.stringify({ compilerOptions, files: ["uses.ts"] }));
    expect([module, run(process.execPath, join(root, "node_modules/typescript/bin/tsc"), "-p", ".")]).toEqual([module, ""]);
  }
});

test("what is for the browser is bundled for it, from the packages as they are packed", async () => {
  writeFileSync(
    join(folder, "page.js"),
    `import { measureSimulation, parseHouse } from "modrik";
    import { minutes, zone } from "modrik/author";
    import { openHouse } from "modrik/language";
    import { readRecording } from "@modrik/formats";
    import { chartOf, toSvg } from "@modrik/charts";
    document.title = [measureSimulation, parseHouse, minutes, zone, openHouse, readRecording, chartOf, toSvg].map((one) => typeof one).join();`,
  );
  await build({
    cwd: folder,
    entry: "page.js",
    outDir: "page",
    format: "iife",
    platform: "browser",
    deps: { alwaysBundle: [/.*/] },
    dts: false,
    fixedExtension: false,
    logLevel: "error",
  });
  const script = readFileSync(join(folder, "page", "page.iife.js"), "utf8");
  expect(script).not.toMatch(/from\s*"node:|require\("/);
  const page = { title: "" };
  new Function("document", script)(page);
  expect(page.title).toBe(Array(8).fill("function").join());
});

test("none has outgrown what it may be", () => {
  const said = execFileSync(process.execPath, [join(root, "scripts/sizes.mjs")], { encoding: "utf8" });
  expect(said.trim().split("\n").length).toBe(7);
});
