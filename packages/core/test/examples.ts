// The example houses as tests read them.
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";

const examples = fileURLToPath(new URL("../../../examples/", import.meta.url));

/** Names of files → their text. */
export function readExample(name: string): Record<string, string> {
  const folder = `${examples}${name}`;
  const files = (readdirSync(folder, { recursive: true }) as string[]).filter((file) => file.endsWith(".modrik"));
  return Object.fromEntries(files.map((file) => [file.replaceAll("\\", "/"), readFileSync(`${folder}/${file}`, "utf8")]));
}

export const lindenYard = readExample("linden-yard");
