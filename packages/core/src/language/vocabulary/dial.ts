// Everything the language knows of a dial's attributes, a row each, in the order in which they are written.
import type { Dial } from "../../house/index.js";
import type { Place, Told } from "../binder/attribute.js";
import { bindConstantValue, bindDifference } from "../binder/fixed.js";
import { row } from "../phrase.js";
import { differenceTerm, valueTerm } from "../unbind/terms.js";
import { signed, value } from "./slots.js";

const of = <Field extends keyof Dial>() => row<NonNullable<Dial[Field]>, Place, Told>();

type Attributes = Omit<Dial, "name" | "title" | "note" | "type" | "range">;

export const dialAttributes = {
  atFirst: of<"atFirst">()(["at first", { value }], {
    bind: ({ value: first }, place) => bindConstantValue(first, place.scope, place.type, place.bounds),
    unbind: (first, { type }) => ({ value: valueTerm(first, type) }),
  }),
  step: of<"step">()(["step", { by: signed }], {
    bind: ({ by }, { unit, scope }) => bindDifference(by, unit, scope),
    unbind: (by, { unit }) => ({ by: differenceTerm(by, unit) }),
  }),
} satisfies { [Name in keyof Attributes]-?: unknown };
