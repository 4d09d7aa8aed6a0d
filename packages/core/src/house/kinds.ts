// What an expression is a value of: the type of a thing by its name, the unit a number is best told in.
import { differenceUnit, type Unit } from "../units/index.js";
import type { Expression, ValueFunction } from "./expression.js";
import type { House } from "./house.js";
import { thingsOf } from "./lookup.js";
import type { TruthType, ValueType } from "./types.js";

/**
 * The type of what holds a value.
 * @throws RangeError when the house has no such thing
 */
export function typeOf(house: House, name: string): ValueType | TruthType {
  const found = thingsOf(house).get(name);
  if (!found) throw new RangeError(`the house has no thing called "${name}"`);
  return found.thing.type;
}

const callUnits: Partial<Record<ValueFunction, Unit>> = {
  dew_point: "°C",
  absolute_humidity: "g/m³",
  vapour_pressure_deficit: "kPa",
  felt_temperature: "°C",
};

/** The unit a number is best told in: that of the first thing or number in it; of what has none, none. */
export function unitOfExpression(house: House, expression: Expression): Unit {
  const unit = (part: Expression): Unit => unitOfExpression(house, part);
  switch (expression.kind) {
    case "number":
      return expression.unit;
    case "value": {
      const type = typeOf(house, expression.of);
      return type.kind === "number" ? type.unit : "";
    }
    case "plus":
    case "minus":
    case "times":
    case "divided":
      return unit(expression.left) || unit(expression.right);
    case "negative":
      return unit(expression.of);
    case "if":
      return unit(expression.then) || unit(expression.else);
    case "pick":
      return expression.cases.map(({ then }) => unit(then)).find((one) => one !== "") ?? "";
    case "of several":
      return expression.of.map(unit).find((one) => one !== "") ?? "";
    case "call":
      return callUnits[expression.function] ?? unit(expression.of[0] as Expression);
    case "clamp":
      return unit(expression.value) || unit(expression.low);
    case "scale":
      return unit(expression.to.low) || unit(expression.to.high);
    case "over":
      if (expression.function === "count") return "";
      if (expression.function === "time") return "ms";
      return expression.function === "rise" ? differenceUnit(unit(expression.value)) : unit(expression.value);
    case "age":
    case "remaining":
    case "begins in":
    case "ends in":
      return "ms";
    case "last amount":
      return "ml";
    case "rest":
      return unit({ kind: "value", of: expression.of });
    case "sun":
      return "°";
    default:
      return "";
  }
}
