// Builds the packages and the pages into their dist folders. With --fresh-only, only what is older than its sources.
import { cpSync, existsSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { gzipSync } from "node:zlib";
import { Resvg } from "@resvg/resvg-js";
import { build } from "tsdown";
import { build as buildApp } from "vite";

const root = fileURLToPath(new URL("..", import.meta.url));
const freshOnly = process.argv.includes("--fresh-only");

/** Type checking is a step of its own, so that a build stays quick. */
const library = (folder, entry = { index: "src/index.ts" }) => ({
  cwd: `${root}${folder}`,
  entry,
  format: "esm",
  platform: "neutral",
  dts: true,
  sourcemap: true,
  logLevel: "warn",
  // A door of the library may go through another.
  deps: { neverBundle: [/^modrik(\/|$)/] },
  // How long types take to be written is nothing to do anything about.
  inputOptions: { checks: { pluginTimings: false } },
});

/** The library has a door for each kind of use. */
const doors = { index: "src/index.ts", author: "src/author.ts", language: "src/language.ts", testing: "test/kit/index.ts" };

const steps = [
  { folder: "packages/core", run: () => build(library("packages/core", doors)) },
  { folder: "packages/formats", uses: ["packages/core"], run: () => build(library("packages/formats")) },
  { folder: "packages/charts", run: () => build(library("packages/charts")) },
  {
    folder: "packages/runtime",
    uses: ["packages/core", "packages/formats", "packages/charts"],
    run: () =>
      build({
        ...library("packages/runtime", { index: "src/index.ts", "archive-worker": "src/archive/worker.ts" }),
        platform: "node",
        fixedExtension: false,
      }),
  },
  {
    folder: "packages/cli",
    uses: ["packages/core", "packages/formats", "packages/charts", "packages/runtime", "examples"],
    // All but what runs a house, and native code, is bundled: a command then starts in little more than Node's own time.
    run: async () => {
      await build({
        cwd: `${root}packages/cli`,
        entry: { main: "src/main.ts", worker: "src/worker.ts" },
        format: "esm",
        platform: "node",
        deps: { alwaysBundle: [/^(?!@resvg\/|piscina|@napi-rs\/|@modrik\/runtime)/], neverBundle: ["@modrik/runtime"] },
        inputOptions: { resolve: { conditionNames: ["modrik-source", "module", "node", "import", "default"] } },
        dts: false,
        fixedExtension: false,
        logLevel: "warn",
      });
      cpSync(`${root}examples/linden-yard`, `${root}packages/cli/dist/linden-yard`, { recursive: true });
    },
  },
  {
    folder: "apps/playground",
    output: "packages/cli/playground",
    uses: ["apps/look", "packages/core", "packages/formats", "packages/charts", "examples"],
    run: () => buildPage("playground"),
  },
  {
    folder: "apps/panel",
    output: "packages/cli/panel",
    uses: ["apps/look", "packages/charts"],
    run: async () => {
      await buildPage("panel");
      drawIcons();
    },
  },
];

/** The icon in the sizes in which telephones want it. */
function drawIcons() {
  const svg = readFileSync(`${root}apps/panel/public/icon.svg`, "utf8");
  for (const size of [192, 512])
    writeFileSync(
      `${root}packages/cli/panel/icon-${size}.png`,
      new Resvg(svg, { fitTo: { mode: "width", value: size } }).render().asPng(),
    );
}

/** A page for the command to serve: what is large is there packed too, for slow networks. */
async function buildPage(name) {
  await buildApp({ root: `${root}apps/${name}`, logLevel: "warn" });
  const folder = `${root}packages/cli/${name}`;
  for (const file of readdirSync(folder, { recursive: true })) {
    const path = `${folder}/${file}`;
    if (/\.(js|css|html|svg|json|webmanifest)$/.test(file))
      writeFileSync(`${path}.gz`, gzipSync(readFileSync(path), { level: 9 }));
  }
}

/** What every output depends on too: how it is built, and with which packages. */
const tools = ["scripts", "package.json", "package-lock.json", "tsconfig.json", "tsconfig.base.json"];

function newest(path) {
  if (!existsSync(path)) return 0;
  const stat = statSync(path);
  if (!stat.isDirectory()) return stat.mtimeMs;
  const within = readdirSync(path).filter((name) => !["node_modules", "dist", "test", "playground", "panel"].includes(name));
  return Math.max(0, ...within.map((name) => newest(`${path}/${name}`)));
}

for (const { folder, output = `${folder}/dist`, uses = [], run } of steps) {
  if (!existsSync(`${root}${folder}/package.json`)) continue;
  const sources = Math.max(...[folder, ...uses, ...tools].map((path) => newest(`${root}${path}`)));
  if (freshOnly && builtAt(`${root}${output}`) > sources) continue;
  process.stderr.write(`building ${folder}\n`);
  await run();
}

/** When a folder was last written, or 0 where it is not there. */
function builtAt(path) {
  return existsSync(path) ? Math.max(0, ...readdirSync(path).map((name) => statSync(`${path}/${name}`).mtimeMs)) : 0;
}
