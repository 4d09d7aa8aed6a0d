// Everything the language knows of a sensor's attributes, a row each, in the order in which they are written.
import type { Expression, RawPoint, Sensor } from "../../house/index.js";
import type { Place, Told } from "../binder/attribute.js";
import { bindAmount, bindDifference, bindRange } from "../binder/fixed.js";
import { bindDuration, bindValue } from "../binder/terms.js";
import { differenceOf, numberType, typeOfValue } from "../binder/type.js";
import { row } from "../phrase.js";
import type { Term } from "../syntax.js";
import { differenceTerm, numberTerm, unbindTerm } from "../unbind/terms.js";
import { pair, signed, sum } from "./slots.js";

const of = <Field extends keyof Sensor>() => row<NonNullable<Sensor[Field]>, Place, Told>();

/** What a sensor has besides its name and type: a field without a row does not compile. */
type Attributes = Omit<Sensor, "name" | "title" | "note" | "type">;

export const sensorAttributes = {
  range: of<"range">()([{ low: signed }, "..", { high: signed }], {
    says: "a range such as 0..100 %RH",
    bind: ({ low, high }, { unit, scope }) => bindRange(low, high, unit, scope),
    unbind: ([low, high], { unit }) => ({ low: numberTerm(low, unit === "ms" ? "ms" : ""), high: numberTerm(high, unit) }),
  }),
  unknownAfter: of<"unknownAfter">()(["unknown after", { lasts: sum }], {
    bind: ({ lasts }, { scope }) => bindDuration(lasts, scope),
    unbind: (lasts) => ({ lasts: unbindTerm(lasts) }),
  }),
  lastsForEver: of<"lastsForEver">()(["lasts for ever"], { bind: () => true, unbind: () => ({}) }),
  scale: of<"scale">()(["scale", { by: signed }], {
    bind({ by }, place) {
      const scale = bindAmount(by, numberType(""), place.scope);
      if (scale === 0) {
        const remedy = "Write the factor, for example scale 1.02.";
        place.scope.faults.add(by.span, { kind: "backwards", says: "With scale 0, every reading is the same.", remedy });
      }
      return scale;
    },
    unbind: (by) => ({ by: numberTerm(by, "") }),
  }),
  offset: of<"offset">()(["offset", { by: signed }], {
    bind: ({ by }, { unit, scope }) => bindDifference(by, unit, scope),
    unbind: (by, { unit }) => ({ by: differenceTerm(by, unit) }),
  }),
  reads: of<"reads">()(["reads", { one: pair(signed, "as", signed) }, "and", { other: pair(signed, "as", signed) }], {
    says: '"reads … as … and … as …"',
    bind({ one, other }, place) {
      const [first, second] = [one, other].map(([rawTerm, valueTerm]): RawPoint | undefined => {
        const raw = bindAmount(rawTerm, numberType(""), place.scope);
        const value = bindAmount(valueTerm, numberType(place.unit), place.scope);
        return raw === undefined || value === undefined ? undefined : { raw, value };
      });
      if (first && first.raw === second?.raw) {
        const remedy = "Use readings at two different values.";
        place.scope.faults.add(place.span, { kind: "backwards", says: "Both points have the same raw reading.", remedy });
      }
      return first && second && [first, second];
    },
    unbind([one, other], { unit }) {
      const point = ({ raw, value }: RawPoint) => [numberTerm(raw, ""), numberTerm(value, unit)] as const;
      return { one: point(one), other: point(other) };
    },
  }),
  smoothOver: of<"smoothOver">()(["smooth over", { lasts: sum }], {
    bind: ({ lasts }, { scope }) => bindDuration(lasts, scope),
    unbind: (lasts) => ({ lasts: unbindTerm(lasts) }),
  }),
  reportsEvery: of<"reportsEvery">()(["reports every", { lasts: sum }], {
    bind: ({ lasts }, { scope }) => bindDuration(lasts, scope),
    unbind: (lasts) => ({ lasts: unbindTerm(lasts) }),
  }),
  reportsOnChangeOf: of<"reportsOnChangeOf">()(["reports on change of", { by: sum }], {
    bind: ({ by }, place) => bindBy(by, place),
    unbind: (by) => ({ by: unbindTerm(by) }),
  }),
  lags: of<"lags">()(["lags", { lasts: sum }], {
    bind: ({ lasts }, { scope }) => bindDuration(lasts, scope),
    unbind: (lasts) => ({ lasts: unbindTerm(lasts) }),
  }),
  wobblesBy: of<"wobblesBy">()(["wobbles by", { by: sum }], {
    bind: ({ by }, place) => bindBy(by, place),
    unbind: (by) => ({ by: unbindTerm(by) }),
  }),
  movesAtMost: of<"movesAtMost">()(["moves at most", { by: sum }, "in", { lasts: sum }], {
    bind({ by, lasts }, { type, scope }) {
      const most = bindValue(by, scope, differenceOf(typeOfValue(type)));
      const within = bindDuration(lasts, scope);
      return most && within && { by: most, in: within };
    },
    unbind: ({ by, in: lasts }) => ({ by: unbindTerm(by), lasts: unbindTerm(lasts) }),
  }),
  deviceHealth: of<"deviceHealth">()(["device health"], {
    bind: () => true,
    unbind: () => ({}),
  }),
} satisfies { [Name in keyof Attributes]-?: unknown };

/** A difference in what the sensor measures. */
function bindBy(by: Term, { type, scope }: Place): Expression | undefined {
  return bindValue(by, scope, differenceOf(typeOfValue(type)));
}

/** Of sensors that tell a number only. */
export const ofNumbers: ReadonlySet<string> = new Set<keyof typeof sensorAttributes>([
  "range",
  "scale",
  "offset",
  "reads",
  "smoothOver",
  "reportsOnChangeOf",
  "lags",
  "wobblesBy",
  "movesAtMost",
]);
