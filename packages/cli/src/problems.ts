// Problems as people read them: place, code and reason, the line with a mark under it, the way out.
import { type Finding, formatHouse, type Problem, type SourcePlace, writeTrial } from "modrik";
import type { Io, Sink } from "./io.js";

interface Told {
  readonly problems: readonly Problem[];
  readonly files: Readonly<Record<string, string>>;
}

export function printProblems({ problems, files }: Told, sink: Sink, io: Io): void {
  for (const problem of problems) sink.write(`${writeProblem(problem, files, io)}\n\n`);
}

function writeProblem({ code, severity, place, reason, remedy, related }: Problem, files: Told["files"], io: Io): string {
  const color = severity === "error" ? io.paint.red : io.paint.yellow;
  const where = io.paint.bold(`${place.file}:${place.line}:${place.column}`);
  const lines = [`${where}  ${color(code)}  ${reason}`, ...excerpt(place, files[place.file] ?? "", io)];
  for (const { place, says } of related) lines.push(`  Compare ${place.file}:${place.line}:${place.column}: ${says}.`);
  if (remedy) lines.push(`  ${remedy}`);
  return lines.join("\n");
}

/** A finding like a problem; with `show`, the timeline that shows it. */
export function writeFinding(
  { code, place, certain, reason, remedy, related, shows }: Finding,
  files: Told["files"],
  show: boolean,
  io: Io,
): string {
  const where = place ? `${io.paint.bold(`${place.file}:${place.line}:${place.column}`)}  ` : "";
  const lines = [`${where}${io.paint.yellow(code)}${certain ? "" : io.paint.dim(" (likely)")}  ${reason}`];
  if (place) lines.push(...excerpt(place, files[place.file] ?? "", io));
  for (const one of related)
    if (one.place) lines.push(`  Compare ${one.place.file}:${one.place.line}:${one.place.column}: ${one.says}.`);
  lines.push(`  ${remedy}`);
  if (show && shows)
    lines.push("  This timeline shows it; all its expectations hold:", ...indented(formatHouse(writeTrial(shows)).text, io));
  return lines.join("\n");
}

const indented = (text: string, io: Io) =>
  text
    .trim()
    .split("\n")
    .map((line) => io.paint.dim(`    ${line}`));

/** Columns shown of a very long line. */
const SHOWN = 100;

function excerpt({ line, column, from, to }: SourcePlace, text: string, io: Io): string[] {
  // Found from its place: a text with very many problems is not taken apart for each.
  const inLine = /[^\r\n]*/y;
  inLine.lastIndex = Math.max(0, from - column + 1);
  const full = inLine.exec(text)?.[0] ?? "";
  const cut = Math.max(0, column - 1 - SHOWN / 2);
  const shown = printable(full.slice(cut, cut + SHOWN));
  if (shown.trim() === "") return [];
  const start = column - 1 - cut;
  const length = Math.max(1, Math.min(to - from, shown.length - start));
  const number = `  ${line}: ${cut > 0 ? "… " : ""}`;
  const blank = " ".repeat(number.length) + shown.slice(0, start).replace(/[^\t]/g, " ");
  return [io.paint.dim(number) + shown + (cut + SHOWN < full.length ? io.paint.dim(" …") : ""), `${blank}${"─".repeat(length)}`];
}

/** Control signs as dots, so that nothing odd reaches a terminal. */
function printable(text: string): string {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: it is these that are looked for
  return text.replace(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g, "·");
}
