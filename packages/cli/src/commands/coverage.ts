import { writeLcov } from "@modrik/formats";
import { type Coverage, type CoveragePoint, coverage, type House } from "modrik";
import type { HouseText } from "modrik/language";
import type { Io } from "../io.js";
import { whileShown } from "../progress.js";
import { writeTable } from "../table.js";
import { writeResult } from "../write-result.js";

const kinds: readonly [CoveragePoint["kind"], string][] = [
  ["sentence", "sentences that applied or fired"],
  ["branch", "branches taken and not taken"],
  ["condition", "conditions that decided the result, both ways"],
  ["bound", "limits: below, at, above, unknown"],
];

/** What trials try of a house, as a table and a list of what is untested; and as a tracefile, where one is named. */
export function coverTrials(
  house: House,
  text: HouseText,
  { print, tracefile }: { readonly print: boolean; readonly tracefile: string | undefined },
  io: Io,
): Coverage {
  const found = whileShown(io, "measuring what trials try", (progress) => coverage(house, (share) => progress.at(share)));
  if (print) io.out.write(`\n${tell(found, text, io)}\n`);
  if (tracefile) writeResult(tracefile, trace(found, text), io);
  return found;
}

function tell({ points }: Coverage, text: HouseText, io: Io): string {
  const rows = kinds.map(([kind, says]) => {
    const own = points.filter((point) => point.kind === kind);
    const seen = own.filter((point) => point.seen > 0).length;
    const share = own.length === 0 ? "-" : `${Math.floor((100 * seen) / own.length)} %`;
    return [says, `${seen} of ${own.length}`, share];
  });
  const untested = points.filter(({ seen }) => seen === 0);
  const lines = untested.map(({ about, says, suggestion }) => {
    const where = text.placeOf(about);
    const at = where ? io.paint.dim(`${where.file}:${where.line}  `) : "";
    return `${at}${says}${suggestion === undefined ? "" : `\n    ${io.paint.dim("try:")} ${suggestion}`}`;
  });
  const head = untested.length === 0 ? "Nothing is untested." : `${io.paint.bold("Untested")}, with a line for a timeline:`;
  return [writeTable(["Tried by trials", "", ""], rows, io), "", head, ...lines, ""].join("\n");
}

/** Sentences as lines, what branches, conditions and bounds can do as branches. */
function trace({ points }: Coverage, text: HouseText): string {
  const byFile = new Map<string, { lines: Map<number, number>; branches: { line: number; taken: number }[] }>();
  for (const { kind, about, seen } of points) {
    const where = text.placeOf(about);
    if (!where) continue;
    const traced = byFile.get(where.file) ?? { lines: new Map<number, number>(), branches: [] };
    byFile.set(where.file, traced);
    if (kind === "sentence") traced.lines.set(where.line, (traced.lines.get(where.line) ?? 0) + seen);
    else traced.branches.push({ line: where.line, taken: seen });
  }
  return writeLcov([...byFile].map(([file, { lines, branches }]) => ({ file, lines, branches })));
}
