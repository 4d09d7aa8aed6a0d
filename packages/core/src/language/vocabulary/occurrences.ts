// Everything the language knows of what befalls a house in a trial, a row each: values, faults, actions of people.
import type { Expression, Occurrence } from "../../house/index.js";
import type { Scope, SymbolKind } from "../binder/scope.js";
import { bindMoment, bindOwn, bindSetting } from "../binder/settings.js";
import { bindDuration, bindValue } from "../binder/terms.js";
import { plainText } from "../binder/text.js";
import { differenceOf, duration, typeOfValue } from "../binder/type.js";
import { either, maybe, type Row, row } from "../phrase.js";
import type { OfKind, Term, Word } from "../syntax.js";
import { quoted as textOf, unbindTerm, word as wordOf } from "../unbind/terms.js";
import { name, quoted, sum, value } from "./slots.js";

export type OccurrenceRow<Of extends Occurrence = Occurrence> = Row<Of, Scope, undefined, Occurrence | undefined>;
const of = <Kind extends Occurrence["kind"]>() => row<OfKind<Occurrence, Kind>, Scope, undefined, Occurrence | undefined>();

const thing = name("what happens to: a sensor, a dial or a mode");
const output = name("an output");
const countdown = name("a countdown");

/** What is done to one thing, of some kinds: its name is all there is to say. */
function done<Kind extends Occurrence["kind"]>(kind: Kind, kinds: readonly SymbolKind[]) {
  return {
    bind({ name: what }: { readonly name: Word }, scope: Scope): Occurrence | undefined {
      const symbol = scope.resolve(what, kinds);
      return symbol && ({ kind, name: symbol.name } as Occurrence);
    },
    unbind: ({ name: what }: { readonly name: string }) => ({ name: wordOf(what) }),
  };
}

/** What a sensor does from then on, of such a length or by so much. */
function does<Kind extends "reports every" | "arrives late">(kind: Kind) {
  return {
    bind(parts: { readonly name: Word; readonly by: Term }, scope: Scope): Occurrence | undefined {
      const sensor = scope.resolve(parts.name, ["sensor"]);
      const by = bindDuration(parts.by, scope);
      return sensor && by && { kind, name: sensor.name, by };
    },
    unbind: ({ name: what, by }: { readonly name: string; readonly by: Expression }) => ({
      name: wordOf(what),
      by: unbindTerm(by),
    }),
  };
}

const toldTo = ({ name: what, value: to }: { readonly name: string; readonly value: Expression }) => ({
  name: wordOf(what),
  value: unbindTerm(to),
});
const forSoLong = (lasts: Expression | undefined) => (lasts ? { lasts: unbindTerm(lasts) } : {});

export const occurrenceRows: { readonly [Kind in Occurrence["kind"]]: OccurrenceRow<OfKind<Occurrence, Kind>> } = {
  is: of<"is">()([{ name: thing }, "is", { value }], {
    bind(parts, scope) {
      const setting = bindSetting(parts.name, parts.value, scope, ["sensor", "dial", "mode"]);
      return setting && { kind: "is", ...setting };
    },
    unbind: toldTo,
  }),
  "is pressed": of<"is pressed">()([{ name: thing }, "is pressed"], {
    bind({ name: what }, scope) {
      const symbol = scope.find(what);
      if (symbol?.type?.kind === "press") return { kind: "is pressed", name: symbol.name };
      // It may also be a word of something else.
      const word: Term = { kind: "name", text: "pressed", span: what.span };
      const setting = bindSetting(what, word, scope, ["sensor", "dial", "mode"]);
      return setting && { kind: "is", ...setting };
    },
    unbind: ({ name: what }) => ({ name: wordOf(what) }),
  }),
  "falls silent": of<"falls silent">()([{ name: thing }, "falls silent"], done("falls silent", ["sensor"])),
  sticks: of<"sticks">()([{ name: thing }, "sticks"], done("sticks", ["sensor"])),
  refuses: of<"refuses">()([{ name: output }, "refuses"], done("refuses", ["output"])),
  "moves to": of<"moves to">()([{ name: thing }, "moves to", { value }], {
    bind(parts, scope) {
      const setting = bindSetting(parts.name, parts.value, scope, ["sensor"]);
      return setting && { kind: "moves to", ...setting };
    },
    unbind: toldTo,
  }),
  "jumps to": of<"jumps to">()([{ name: thing }, "jumps to", { value }, "for", { lasts: sum }], {
    bind(parts, scope) {
      const setting = bindSetting(parts.name, parts.value, scope, ["sensor"]);
      const lasts = bindDuration(parts.lasts, scope);
      return setting && lasts && { kind: "jumps to", ...setting, for: lasts };
    },
    unbind: (told) => ({ ...toldTo(told), lasts: unbindTerm(told.for) }),
  }),
  "reports every": of<"reports every">()([{ name: thing }, "reports every", { by: sum }], does("reports every")),
  "wobbles by": of<"wobbles by">()([{ name: thing }, "wobbles by", { by: sum }], {
    bind(parts, scope) {
      const sensor = scope.resolve(parts.name, ["sensor"]);
      const by = sensor?.type && bindValue(parts.by, scope, differenceOf(typeOfValue(sensor.type)));
      return sensor && by && { kind: "wobbles by", name: sensor.name, by };
    },
    unbind: ({ name: what, by }) => ({ name: wordOf(what), by: unbindTerm(by) }),
  }),
  "arrives late": of<"arrives late">()([{ name: thing }, "arrives", { by: sum }, "late"], does("arrives late")),
  "obeys late": of<"obeys late">()([{ name: output }, "obeys", { by: sum }, "late"], {
    bind(parts, scope) {
      const found = scope.resolve(parts.name, ["output"]);
      const by = bindDuration(parts.by, scope);
      return found && by && { kind: "obeys late", name: found.name, by };
    },
    unbind: ({ name: what, by }) => ({ name: wordOf(what), by: unbindTerm(by) }),
  }),
  "person sets": of<"person sets">()(
    [
      "person sets",
      { name: name("an output, a dial or a mode") },
      "to",
      { value },
      either(["for", { lasts: sum }], ["until", { until: sum }]),
    ],
    {
      bind(parts, scope) {
        const symbol = scope.resolve(parts.name, ["output", "group", "dial", "mode"]);
        const [first] = symbol?.members?.() ?? [symbol];
        const bound = bindOwn(first, parts.value, scope);
        const lasts = parts.lasts && bindDuration(parts.lasts, scope);
        const until = parts.until && bindMoment(parts.until, scope);
        const ends = { ...(lasts && { for: lasts }), ...(until && { until }) };
        return symbol && bound && { kind: "person sets", name: symbol.name, value: bound, ...ends };
      },
      unbind: (told) => ({ ...toldTo(told), ...forSoLong(told.for), ...(told.until && { until: unbindTerm(told.until) }) }),
    },
  ),
  "person pauses": of<"person pauses">()(["person pauses", { name: name("a rule") }, maybe("for", { lasts: sum })], {
    bind(parts, scope) {
      const rule = scope.resolve(parts.name, ["rule"]);
      const lasts = parts.lasts && bindDuration(parts.lasts, scope);
      return rule && { kind: "person pauses", name: rule.name, ...(lasts && { for: lasts }) };
    },
    unbind: ({ name: what, for: lasts }) => ({ name: wordOf(what), ...forSoLong(lasts) }),
  }),
  "person releases": of<"person releases">()(["person releases", { name: output }], done("person releases", ["output", "group"])),
  "person resumes": of<"person resumes">()(["person resumes", { name: name("a rule") }], done("person resumes", ["rule"])),
  "person applies": of<"person applies">()(["person applies", { name: name("a preset") }], done("person applies", ["preset"])),
  "person starts": of<"person starts">()(["person starts", { name: countdown }], done("person starts", ["countdown"])),
  "person stops": of<"person stops">()(["person stops", { name: countdown }], done("person stops", ["countdown"])),
  "person runs": of<"person runs">()(["person runs", { name: name("a rule") }], done("person runs", ["rule"])),
  message: of<"message">()(["message", { topic: quoted }, "reads", { reads: quoted }], {
    bind: ({ topic, reads }) => ({ kind: "message", topic: plainText(topic), reads: plainText(reads) }),
    unbind: ({ topic, reads }) => ({ topic: textOf(topic), reads: textOf(reads) }),
  }),
  "the house restarts": of<"the house restarts">()(["the house restarts"], {
    bind: () => ({ kind: "the house restarts" }),
    unbind: () => ({}),
  }),
  "the house is down": of<"the house is down">()(["the house is down for", { lasts: sum }], {
    bind(parts, scope) {
      const lasts = bindDuration(parts.lasts, scope);
      return lasts && { kind: "the house is down", for: lasts };
    },
    unbind: ({ for: lasts }) => ({ lasts: unbindTerm(lasts) }),
  }),
  "the clock jumps": of<"the clock jumps">()(["the clock jumps by", { by: sum }], {
    bind(parts, scope) {
      const by = bindValue(parts.by, scope, duration);
      return by && { kind: "the clock jumps", by };
    },
    unbind: ({ by }) => ({ by: unbindTerm(by) }),
  }),
};
