// How far back a window may come to look: a length that a dial gives may grow, and then what it needs must not be forgotten.
import { baseOf } from "../house/index.js";
import type { Graph } from "./graph.js";

/** The greatest that a node can be, by what its parts can be; not a number where nobody knows beforehand. */
export function greatestOf(graph: Graph, node: number): number {
  const { op, args, constant, name } = graph.nodes[node] ?? { op: "sensor", args: [], constant: 0, name: "" };
  const of = (places: readonly number[]) => places.map((part) => greatestOf(graph, part));
  switch (op) {
    case "constant":
      return constant;
    case "cell": {
      const dial = graph.house.dials.find((one) => one.name === name);
      return dial?.range && dial.type.kind === "number" ? baseOf(dial.range[1], dial.type) : Number.NaN;
    }
    case "plus":
      return of(args).reduce((sum, one) => sum + one, 0);
    case "if":
      return Math.max(...of(args.slice(1)));
    case "max":
      return Math.max(...of(args));
    case "min":
      return Math.min(...of(args));
    case "clamp":
      return greatestOf(graph, args[2] as number);
    default:
      return Number.NaN;
  }
}
