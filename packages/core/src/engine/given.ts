// What is given has been so for ever: before a house begins, its conditions and memories take the values that come of it.
import { type Evaluator, ops } from "../expression/index.js";
import { baseOf, misfit, type Value } from "../house/index.js";
import { FOR_EVER } from "./memory.js";
import { type Cell, cellNamed, type Program } from "./program.js";

/** What is given, by its cells and in base units. */
export type Given = readonly { readonly cell: Cell; readonly base: number }[];

/**
 * What is given, looked up and checked.
 * @throws RangeError when the house has no such thing, or the value does not fit it
 */
export function givenIn(program: Program, given: Readonly<Record<string, Value>>): Given {
  return Object.entries(given).map(([name, value]) => {
    const cell = cellNamed(program, name);
    const why = cell.kind === "sensor" ? misfit({ ...cell, range: undefined }, value) : misfit(cell, value);
    if (why) throw new RangeError(`"${name}" cannot be given as ${value}: ${why}`);
    return { cell, base: baseOf(value, cell.type) };
  });
}

/**
 * Nodes take their values as of long ago, then as of now, and nothing turns. `takeDeadlines` takes what falls due until an
 * instant.
 */
export function settleGiven(
  program: Program,
  evaluator: Evaluator,
  given: Given,
  at: number,
  takeDeadlines: (until: number) => void,
): void {
  // What depends on time within what depends on time comes to rest one look after the other.
  const looks = Array.from({ length: lastingDepth(program) }, (_, look) => FOR_EVER / 2 ** look);
  for (const now of [...looks, at - 1]) {
    evaluator.now = now;
    for (const { cell, base } of given) {
      if (cell.kind === "sensor") evaluator.report(cell.node, base);
      else evaluator.set(cell.node, base);
    }
    evaluator.markTemporal();
    evaluator.settle();
    takeDeadlines(now);
    evaluator.settle();
  }
  evaluator.beginMemories(at);
}

/** How many parts that depend on time stand within one another, at least one. */
function lastingDepth({ graph: { nodes } }: Program): number {
  const depths: number[] = [];
  const deeper = (most: number, depth: number) => Math.max(most, depth);
  for (const { op, args } of nodes) {
    const within = args.map((part) => depths[part] as number).reduce(deeper, 0);
    depths.push(within + (ops[op].lasts ? 1 : 0));
  }
  return depths.reduce(deeper, 1);
}
