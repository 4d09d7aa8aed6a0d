// Results as files in addition to what is printed.
import { writeFileSync } from "node:fs";
import { dirname } from "node:path";
import { CallError } from "./call-error.js";
import { type Io, pathIn } from "./io.js";

/** @throws CallError when the file cannot be written */
export function writeResult(file: string, text: string, io: Io): void {
  try {
    writeFileSync(pathIn(io, file), text);
  } catch (error) {
    throw new CallError(`"${file}" cannot be written: ${(error as Error).message}.`, `Is there a folder "${dirname(file)}"?`);
  }
}
