// The pages that come with the command, as they were built.
import { existsSync } from "node:fs";
import { fileURLToPath } from "node:url";
import type { Page } from "@modrik/runtime";
import { CallError } from "./call-error.js";

/** The panel of a running house. @throws CallError when it is not built */
export const panelPage = (): Page => ({ at: "/panel", folder: builtPlace("The panel", "../panel", "../../panel") });

/** The playground. @throws CallError when it is not built */
export const playgroundPage = (): Page => ({
  at: "/playground",
  folder: builtPlace("The playground", "../playground", "../../playground"),
});

/** The house that comes with the command: in a clone, that of the examples. */
export const lindenYard = () => builtPlace("The demo house", "linden-yard", "../../../examples/linden-yard");

/** Where something is that comes with the command, seen from what was built or from the sources. */
function builtPlace(what: string, ...places: readonly string[]): string {
  const found = places.map((place) => fileURLToPath(new URL(place, import.meta.url))).find((place) => existsSync(place));
  if (found === undefined) throw new CallError(`${what} is not built.`, "In a clone, run `npm run build` first.");
  return found;
}
