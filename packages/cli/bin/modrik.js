#!/usr/bin/env node
import { existsSync } from "node:fs";

const main = new URL("../dist/main.js", import.meta.url);
if (existsSync(main)) await import(main);
else {
  console.error("modrik is not built yet. In a clone, run `npm install` first.");
  process.exitCode = 2;
}
