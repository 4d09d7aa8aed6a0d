// What is known of a thing besides its value, named after a dot: `bench.door.age`, `shop_hours.begins_in`.
import type { Expression } from "../../house/index.js";
import type { HouseSymbol } from "./scope.js";
import { duration, numberType, type Type } from "./type.js";

interface Fact {
  readonly type: Type;
  /** Of what it is not known, and what to do about it. */
  readonly lacks?: (of: HouseSymbol) => { readonly wanted: string; readonly remedy: string } | undefined;
  expression(of: string): Expression;
}

/** By the kind of the thing, and the name after the dot. */
export const facts: Readonly<Record<string, Readonly<Record<string, Fact>>>> = {
  sensor: { age: { type: duration, expression: (of) => ({ kind: "age", of }) } },
  output: {
    last_amount: {
      type: numberType("ml"),
      lacks: ({ doses }) =>
        doses
          ? undefined
          : { wanted: "an output that delivers", remedy: "Calibrate it, for example: delivers 12 ml/s after 0.4 s." },
      expression: (output) => ({ kind: "last amount", output }),
    },
  },
  countdown: { remaining: { type: duration, expression: (countdown) => ({ kind: "remaining", countdown }) } },
  schedule: {
    begins_in: { type: duration, expression: (schedule) => ({ kind: "begins in", schedule }) },
    ends_in: { type: duration, expression: (schedule) => ({ kind: "ends in", schedule }) },
  },
};
