// How large each package is as it is packed, and the pages as a browser fetches them: `npm run sizes`. Ends with 1 where one
// has outgrown what it may be.
import { execFileSync } from "node:child_process";
import { readdirSync, statSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

const root = fileURLToPath(new URL("..", import.meta.url));

/** Kilobytes, compressed, that each may have. */
const most = { core: 1180, formats: 150, charts: 80, runtime: 200, cli: 4500, panel: 700, playground: 1200 };

const packed = (name) => {
  const said = execFileSync("npm", ["pack", "--json", "--dry-run", "--ignore-scripts"], {
    cwd: join(root, "packages", name),
    encoding: "utf8",
    stdio: ["ignore", "pipe", "ignore"],
  });
  const [{ size, unpackedSize, entryCount, name: full }] = JSON.parse(said);
  return { name, what: full, size, about: `${entryCount} files, ${kilobytes(unpackedSize)} unpacked` };
};

/** What a browser fetches of a page in all, compressed. */
const fetched = (name) => {
  const folder = join(root, "packages/cli", name, "assets");
  const files = readdirSync(folder).filter((file) => file.endsWith(".gz"));
  const size = files.reduce((sum, file) => sum + statSync(join(folder, file)).size, 0);
  return { name, what: `the ${name}`, size, about: "scripts and styles, all of them" };
};

const kilobytes = (bytes) => `${Math.round(bytes / 1000)} kB`;

const all = [...["core", "formats", "charts", "runtime", "cli"].map(packed), ...["panel", "playground"].map(fetched)];
for (const { name, what, size, about } of all) {
  const isOver = size > most[name] * 1000;
  console.log(
    `${what.padEnd(16)} ${kilobytes(size).padStart(8)} of ${`${most[name]} kB`.padStart(7)}  ${about}${isOver ? "  TOO LARGE" : ""}`,
  );
  if (isOver) process.exitCode = 1;
}
