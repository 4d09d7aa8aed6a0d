// Moments as text.
import type { OccasionNode } from "../syntax.js";
import { writeTerm } from "./terms.js";

export function writeOccasion(node: OccasionNode): string {
  switch (node.kind) {
    case "condition":
      return writeTerm(node.condition);
    case "begins":
    case "ends":
      return `${node.name.text} ${node.kind}`;
    case "changes":
      return `${node.name.text} changes${node.by ? ` by ${writeTerm(node.by)}` : ""}`;
    case "becomes":
      return `${node.name.text} becomes ${writeTerm(node.value)}`;
    default:
      throw new RangeError(`no such occasion: ${JSON.stringify(node satisfies never)}`);
  }
}
