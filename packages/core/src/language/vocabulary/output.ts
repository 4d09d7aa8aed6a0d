// Everything the language knows of an output's attributes, a row each, in the order in which they are written.
import type { AtLeast, Output } from "../../house/index.js";
import type { Place, Told } from "../binder/attribute.js";
import { bindConstantValue, bindWord } from "../binder/fixed.js";
import { bindDuration, bindValue } from "../binder/terms.js";
import { numberType } from "../binder/type.js";
import { maybe, row } from "../phrase.js";
import { unbindTerm, valueTerm, word as wordOf } from "../unbind/terms.js";
import { several, state, sum, value, word } from "./slots.js";

const of = <Field extends keyof Output>() => row<NonNullable<Output[Field]>, Place, Told>();

/** What an output has besides its name and type; of a list each item is an attribute. */
type Attributes = Omit<Output, "name" | "title" | "note" | "type" | "range" | "colourOf">;

const zone = word("the name of a zone");

export const outputAttributes = {
  atRest: of<"atRest">()(["at rest", { value }], {
    bind: ({ value: rest }, place) => bindConstantValue(rest, place.scope, place.type, place.bounds),
    unbind: (rest, { type }) => ({ value: valueTerm(rest, type) }),
  }),
  atLeast: row<AtLeast, Place, Told>()([{ word: word("a state") }, "at least", { lasts: sum }], {
    says: '"on at least"',
    bind({ word: said, lasts: term }, { scope, type }) {
      const word = bindWord(said, scope, type);
      const duration = bindDuration(term, scope);
      return word !== undefined && duration ? { word, duration } : undefined;
    },
    unbind: ({ word, duration }) => ({ word: wordOf(word), lasts: unbindTerm(duration) }),
  }),
  atMost: row<Output["atMost"][number], Place, Told>()(
    [{ word: word("a state") }, "at most", { lasts: sum }, "then", { other: word("a state") }, "at least", { rests: sum }],
    {
      says: '"on at most … then off at least"',
      bind({ word: said, lasts, other, rests }, { scope, type }) {
        const word = bindWord(said, scope, type);
        const duration = bindDuration(lasts, scope);
        const then = bindWord(other, scope, type);
        const rest = bindDuration(rests, scope);
        if (then !== undefined && then === word) {
          const remedy = "Name the other state.";
          scope.faults.add(other.span, {
            kind: "missing",
            what: "After a run, the output must change to another state.",
            remedy,
          });
        }
        if (word === undefined || !duration || then === undefined || !rest) return undefined;
        return { word, duration, then: { word: then, duration: rest } };
      },
      unbind: ({ word, duration, then }) => ({
        word: wordOf(word),
        lasts: unbindTerm(duration),
        other: wordOf(then.word),
        rests: unbindTerm(then.duration),
      }),
    },
  ),
  uses: of<"uses">()(["uses", { power: sum }], {
    bind: ({ power }, { scope }) => bindValue(power, scope, numberType("W")),
    unbind: (power) => ({ power: unbindTerm(power) }),
  }),
  delivers: of<"delivers">()(["delivers", { rate: sum }, maybe("after", { after: sum })], {
    bind(parts, { scope }) {
      const rate = bindValue(parts.rate, scope, numberType("ml/s"));
      const after = parts.after && bindDuration(parts.after, scope);
      return rate && { rate, ...(after && { after }) };
    },
    unbind: ({ rate, after }) => ({ rate: unbindTerm(rate), ...(after && { after: unbindTerm(after) }) }),
  }),
  withoutControl: of<"withoutControl">()([{ value: state }, "when control is lost"], {
    says: '"on when control is lost"',
    bind: ({ value: held }, place) => bindConstantValue(held, place.scope, place.type, place.bounds),
    unbind: (held, { type }) => ({ value: valueTerm(held, type) }),
  }),
  serves: of<"serves">()(["serves", { zones: several(zone, "and") }], {
    bind: ({ zones }, { scope }) => zones.flatMap((one) => scope.resolve(one, ["zone"])?.name ?? []),
    unbind: (zones) => ({ zones: zones.map(wordOf) }),
  }),
} satisfies { [Name in keyof Attributes]-?: unknown };
