// `npm test`: types, lint, dead code, documentation of the public API, then all tests. Words after it go to Vitest: `npm test -- engine`.
import { prepare, prepareDebian, run } from "./lib/prepare.mjs";

const words = process.argv.slice(2);
prepare();
prepareDebian();
try {
  if (words.length === 0) for (const check of ["types", "lint", "unused", "documented"]) run("npm", "run", "--silent", check);
  run("npx", "vitest", "run", ...words);
} catch (error) {
  // What failed has said so itself.
  process.exitCode = error.status || 1;
}
