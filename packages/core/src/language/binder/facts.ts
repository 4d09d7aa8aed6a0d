// What is known of a thing beside its value, named behind a dot: `bench.door.age`, `shop_hours.begins_in`.
import type { Expression } from "../../house/index.js";
import { duration, type Type } from "./type.js";

interface Fact {
  readonly type: Type;
  expression(of: string): Expression;
}

/** By the kind of the thing, and the name behind the dot. */
export const facts: Readonly<Record<string, Readonly<Record<string, Fact>>>> = {
  sensor: { age: { type: duration, expression: (of) => ({ kind: "age", of }) } },
  schedule: {
    begins_in: { type: duration, expression: (schedule) => ({ kind: "begins in", schedule }) },
    ends_in: { type: duration, expression: (schedule) => ({ kind: "ends in", schedule }) },
  },
};
