// Tables of plain text without lines.
import Table from "cli-table3";
import type { Io } from "./io.js";

const none = Object.fromEntries(
  "top top-mid top-left top-right bottom bottom-mid bottom-left bottom-right left left-mid mid mid-mid right right-mid"
    .split(" ")
    .map((part) => [part, ""]),
);

/** Columns are parted by two blanks; all but the first stand to the right, their own numbers aligned. */
export function writeTable(head: readonly string[], rows: readonly (readonly string[])[], io: Io): string {
  const table = new Table({
    head: head.map((title) => io.paint.dim(title)),
    chars: { ...none, middle: "  " },
    style: { "padding-left": 0, "padding-right": 0, head: [], border: [] },
    colAligns: head.map((_, index) => (index === 0 ? "left" : "right")),
  });
  table.push(...rows.map((row) => [...row]));
  return table.toString();
}
