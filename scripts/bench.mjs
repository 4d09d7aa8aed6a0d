// Builds and runs a program of bench/: `npm run bench -- first-light`. Without a name it lists them.
import { spawnSync } from "node:child_process";
import { existsSync, readdirSync } from "node:fs";
import { build } from "tsdown";
import { prepare, root } from "./lib/prepare.mjs";

const [name, ...words] = process.argv.slice(2);
const file = `${root}bench/${name}.ts`;
if (!name || !existsSync(file)) {
  const names = readdirSync(`${root}bench`).filter((entry) => entry.endsWith(".ts"));
  console.log(`Name one of: ${names.map((entry) => entry.replace(/\.ts$/, "")).join(", ")}`);
  process.exit(name ? 2 : 0);
}
prepare();
await build({
  cwd: root,
  entry: file,
  outDir: "bench/dist",
  format: "esm",
  platform: "node",
  fixedExtension: false,
  deps: {
    alwaysBundle: [/^modrik$/, /^suncalc$/, /^temporal-polyfill/],
    neverBundle: [/^playwright-core/, /^@modrik\/runtime/, /^mqtt$/],
  },
  inputOptions: { resolve: { conditionNames: ["modrik-source", "node", "import", "default"] } },
  dts: false,
  logLevel: "error",
});
process.exit(spawnSync(process.execPath, [`bench/dist/${name}.js`, ...words], { cwd: root, stdio: "inherit" }).status ?? 1);
