// `npm run demo`: installs and builds what is missing, then `modrik demo`.
import { prepare, root } from "./lib/prepare.mjs";

prepare();
process.argv.splice(2, 0, "demo");
await import(`${root}packages/cli/bin/modrik.js`);
