// Which name stands at a place of a text, and in which zone that is.
import type { Declaration, FileNode } from "./syntax.js";

/** A name or word where it stands in a text: from its first character to after its last. */
export interface NameAt {
  readonly name: string;
  readonly from: number;
  readonly to: number;
  /** The zone whose braces it stands in. */
  readonly zone?: string;
}

/** The name or word at a position of a file, if one stands there. */
export function nameAt({ tokens, declarations }: FileNode, position: number): NameAt | undefined {
  const found = tokens.find(({ kind, from, to }) => (kind === "word" || kind === "dotted") && from <= position && position <= to);
  if (!found) return undefined;
  const zone = zoneAround(declarations, found.from);
  return { name: found.text, from: found.from, to: found.to, ...(zone !== undefined && { zone }) };
}

function zoneAround(declarations: readonly Declaration[], at: number): string | undefined {
  const around = declarations.find(({ span }) => span.from <= at && at < span.to);
  if (around?.kind === "repeat") return zoneAround(around.body, at);
  return around?.kind === "zone" && at > around.name.span.to ? around.name.text : undefined;
}
