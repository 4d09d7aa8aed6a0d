// A house as JSON, with a JSON Schema (draft 2020-12) that says its shape.
import type { House } from "modrik";
import { z } from "zod";
import { FormatError } from "./format-error.js";
import { houseSchema } from "./house-schema.js";

/** The house as JSON, two blanks a level. */
export function writeHouseJson(house: House): string {
  return `${JSON.stringify(house, null, 2)}\n`;
}

/**
 * A house read from JSON, its shape checked. What names and values mean is not: that is checked where text is read.
 * @throws FormatError when it is no JSON, or not of that shape; says where, as a JSON Pointer (RFC 6901)
 */
export function readHouseJson(text: string): House {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new FormatError(`It is not JSON: ${(error as Error).message}.`);
  }
  const read = houseSchema.safeParse(json);
  if (read.success) return read.data;
  const found = read.error.issues.map((issue) => deepest(issue));
  const { path, message } = found[0] ?? { path: [], message: "it has the wrong shape" };
  const pointer = path.map((part) => `/${String(part).replaceAll("~", "~0").replaceAll("/", "~1")}`).join("");
  throw new FormatError(`At ${pointer || "the top"} it is not a house: ${message}.`);
}

interface Found {
  readonly path: readonly PropertyKey[];
  readonly message: string;
}

/** Of the shapes that something might have had, the one it comes nearest to. */
function deepest(issue: z.core.$ZodIssue): Found {
  if (issue.code !== "invalid_union") return issue;
  const within = issue.errors.flatMap((branch) => branch.map((one) => deepest(one)));
  const nearest = within.reduce<Found | undefined>(
    (best, one) => (best && best.path.length >= one.path.length ? best : one),
    undefined,
  );
  return nearest ? { path: [...issue.path, ...nearest.path], message: nearest.message } : issue;
}

/** The JSON Schema of a house, as JSON. */
export function houseJsonSchema(): string {
  const schema = z.toJSONSchema(houseSchema, { target: "draft-2020-12" });
  return `${JSON.stringify({ title: "A house of Modrik", ...schema }, null, 2)}\n`;
}
