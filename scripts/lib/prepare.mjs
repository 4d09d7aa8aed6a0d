// What a fresh clone needs before anything else: its packages, and the built command. Uses nothing but Node and npm.
import { execFileSync, spawnSync } from "node:child_process";
import { existsSync, statSync } from "node:fs";
import { fileURLToPath } from "node:url";

export const root = fileURLToPath(new URL("../..", import.meta.url));

/** Runs a command of the workspace with its output shown; throws where it fails. */
export function run(command, ...words) {
  execFileSync(command, words, { cwd: root, stdio: "inherit" });
}

export function prepare() {
  const marker = `${root}node_modules/.package-lock.json`;
  const lock = `${root}package-lock.json`;
  // Installing builds as well (the `prepare` script).
  if (!existsSync(marker) || statSync(marker).mtimeMs < statSync(lock).mtimeMs) run("npm", "ci", "--no-audit", "--no-fund");
  run(process.execPath, "scripts/build.mjs", "--fresh-only");
}

/** Debian packages the tests drive; installed where that is allowed, else the tests say how. */
export function prepareDebian() {
  const missing = [
    ["chromium", "/usr/bin/chromium"],
    ["mosquitto", "/usr/sbin/mosquitto"],
    ["mosquitto-clients", "/usr/bin/mosquitto_pub"],
  ].filter(([, path]) => !existsSync(path));
  if (missing.length === 0 || process.getuid?.() !== 0) return;
  const names = missing.map(([name]) => name);
  const apt = (...words) =>
    spawnSync("apt-get", words, { stdio: "inherit", env: { ...process.env, DEBIAN_FRONTEND: "noninteractive" } });
  if (apt("update", "-qq").status === 0) apt("install", "-y", "-qq", "--no-install-recommends", ...names);
}
