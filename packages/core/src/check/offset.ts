// A point beside another, as it is written into a house: a figure where that is one, else what it hangs on and the
// distance, so that it moves along with a dial.
import type { Expression } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { differenceInBase, differenceUnit, equalNumbers, units, writeNumber } from "../units/index.js";
import type { Inquiry } from "./inquiry.js";

/** @param by how far off, in base units: below it where negative */
export function writeOffset(inquiry: Inquiry, point: Expression, by: number): string {
  const unit = inquiry.unitOf(point);
  if (point.kind === "number") return inquiry.say(inquiry.scene.figure(point) + by, unit);
  const difference = differenceUnit(unit);
  const offset = (from: Expression, distance: number): Expression => {
    if ((from.kind === "plus" || from.kind === "minus") && from.right.kind === "number") {
      const already = differenceInBase(from.right);
      return offset(from.left, distance + (from.kind === "plus" ? already : -already));
    }
    if (equalNumbers(distance, 0)) return from;
    const value = Number(writeNumber(Math.abs(distance) / units[difference].factor));
    return { kind: distance < 0 ? "minus" : "plus", left: from, right: { kind: "number", value, unit: difference } };
  };
  return writeExpression(offset(point, by));
}
