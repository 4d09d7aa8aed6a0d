// Constants a trial names, in the own unit of the thing they are for.
import { convert, dimensionOf, fromBase, toBase, type Unit } from "../units/index.js";
import type { Expression } from "./expression.js";
import type { House, Recorded, Trial } from "./house.js";
import type { Value } from "./types.js";

/** How far a thing moves, or how long something lasts: a fixed number in the base unit. */
export function baseOfNumber(expression: Expression | undefined): number | undefined {
  if (!expression) return undefined;
  if (expression.kind === "negative") return -(baseOfNumber(expression.of) ?? Number.NaN);
  return expression.kind === "number" ? toBase(expression) : undefined;
}

/** A constant as a thing of the house takes it; nothing for one that is unknown. */
export function ownValue(house: House, name: string, expression: Expression): Value | undefined {
  if (expression.kind === "word") return expression.word;
  if (expression.kind === "colour") return expression.colour;
  if (expression.kind === "time") return expression.ms;
  const base = baseOfNumber(expression);
  const unit = unitOf(house, name);
  return base === undefined || unit === undefined ? base : fromBase(base, unit);
}

/** What a recording says of a thing, in its own unit; nothing where it says what the thing cannot measure. */
export function recordedValue(house: House, { name, value, unit }: Recorded): Value | undefined {
  const own = unitOf(house, name);
  if (typeof value !== "number" || unit === undefined || own === undefined) return value;
  return dimensionOf(unit) === dimensionOf(own) ? convert({ value, unit }, own).value : undefined;
}

/** The unit of a thing that holds a number; undefined for all else. */
export function unitOf({ sensors, outputs, dials }: House, name: string): Unit | undefined {
  const type = [...sensors, ...outputs, ...dials].find((thing) => thing.name === name)?.type;
  return type?.kind === "number" ? type.unit : undefined;
}

/** What a trial begins with. */
export function givenIn(house: House, trial: Pick<Trial, "given">): Record<string, Value> {
  const values = trial.given.map(({ name, value }) => [name, ownValue(house, name, value)] as const);
  return Object.fromEntries(values.filter((entry): entry is [string, Value] => entry[1] !== undefined));
}
