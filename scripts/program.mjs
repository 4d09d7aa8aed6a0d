// Builds a program of examples/programs and runs it: `npm run program -- moist`; with `--browser` it writes a page that runs it.
import { spawnSync } from "node:child_process";
import { existsSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import { build } from "tsdown";
import { prepare, root } from "./lib/prepare.mjs";

const [name, ...words] = process.argv.slice(2);
const folder = `${root}examples/programs/`;
if (!name || !existsSync(`${folder}${name}.ts`)) {
  const names = readdirSync(folder).filter((file) => file.endsWith(".ts"));
  console.log(`Name one of: ${names.map((file) => file.replace(/\.ts$/, "")).join(", ")}`);
  process.exit(name ? 2 : 0);
}
prepare();
const inBrowser = words.includes("--browser");
await build({
  cwd: root,
  entry: `examples/programs/${name}.ts`,
  outDir: "out/programs",
  format: inBrowser ? "iife" : "esm",
  platform: inBrowser ? "browser" : "node",
  deps: { alwaysBundle: [/.*/] },
  dts: false,
  fixedExtension: false,
  logLevel: "error",
});
if (inBrowser) {
  // What it would print in a terminal stands on the page.
  const script = readFileSync(`${root}out/programs/${name}.iife.js`, "utf8").replaceAll("</script", "<\\/script");
  const shown = "console.log = (...all) => document.body.append(all.join(' '), document.createElement('br'));";
  const file = `out/programs/${name}.html`;
  writeFileSync(
    `${root}${file}`,
    `<!doctype html><meta charset="utf-8"><title>${name}</title><body><script>${shown}\n${script}</script>`,
  );
  console.log(`Open ${file} in a browser.`);
} else process.exit(spawnSync(process.execPath, [`out/programs/${name}.js`], { cwd: root, stdio: "inherit" }).status ?? 1);
