// Everything the language knows of wiring, a row each: which topic a thing is, and how its messages read.
import type { Value, ValueType, Wiring } from "../../house/index.js";
import { constantIn } from "../../house/index.js";
import { bindConstantValue } from "../binder/fixed.js";
import type { HouseSymbol, Scope } from "../binder/scope.js";
import { bindDuration } from "../binder/terms.js";
import { plainText } from "../binder/text.js";
import { type Parts, type PhraseNode, type Row, row } from "../phrase.js";
import type { OfKind, Quoted, Term } from "../syntax.js";
import { nowhere, numberTerm, quoted as textOf, valueTerm, word as wordOf } from "../unbind/terms.js";
import { writeTerm } from "../write/terms.js";
import { anyOf, name, pair, quoted, several, state, sum, word } from "./slots.js";

/** What is wired by whom. */
export interface Wired {
  readonly scope: Scope;
  readonly by: string;
}

type Reading = OfKind<Wiring, "reading">;
type Writing = OfKind<Wiring, "writing">;

/** The thing whose wiring is read. */
interface OfThing {
  readonly thing: HouseSymbol;
  readonly scope: Scope;
}

type PartRow<Meaning> = Row<Meaning, OfThing, ValueType | undefined>;
const part = <Meaning>() => row<Meaning, OfThing, ValueType | undefined>();

const readingRows: {
  readonly [Name in Exclude<keyof Reading, "kind" | "by" | "sensor" | "topic">]-?: PartRow<NonNullable<Reading[Name]>>;
} = {
  at: part<string>()(["at", { text: quoted }], {
    bind: ({ text }, { scope }) => bindPointer(text, scope),
    unbind: (text) => ({ text: textOf(text) }),
  }),
  record: part<string>()(["record", { text: quoted }], {
    bind: ({ text }) => plainText(text),
    unbind: (text) => ({ text: textOf(text) }),
  }),
  texts: part<NonNullable<Reading["texts"]>>()(["reading", { texts: several(pair(quoted, "as", state), ",") }], {
    bind({ texts }, { thing, scope }) {
      const found = texts.flatMap(([text, as]) =>
        asText(as, text, thing, scope).map(({ value, said }) => ({ text: said, as: value })),
      );
      checkTold(
        texts.map(([text]) => text),
        scope,
      );
      checkWords(
        found.map(({ as }) => as),
        thing,
        texts[0]?.[0],
        scope,
      );
      return found;
    },
    unbind: (texts, type) => ({ texts: texts.map(({ text, as }) => [textOf(text), stateTerm(as, type)] as const) }),
  }),
};

const writingRows: {
  readonly [Name in Exclude<keyof Writing, "kind" | "by" | "output" | "topic">]-?: PartRow<NonNullable<Writing[Name]>>;
} = {
  text: part<string>()(["writing", { text: quoted }], {
    bind({ text }, { scope }) {
      const template = templateOf(text);
      if (template.includes("{value}")) return template;
      const remedy = 'Write {value} in it, or a text for each state: writing on as "1", off as "0".';
      scope.faults.add(text.span, { kind: "missing", what: "Whatever the value is, this message is the same.", remedy });
      return undefined;
    },
    unbind: (text) => ({
      text: { parts: text.split(/(\{value\})/).map((one) => (one === "{value}" ? valueName : one)), span: nowhere },
    }),
  }),
  texts: part<NonNullable<Writing["texts"]>>()(["writing", { texts: several(pair(state, "as", quoted), ",") }], {
    bind({ texts }, { thing, scope }) {
      const found = texts.flatMap(([as, text]) =>
        asText(as, text, thing, scope).map(({ value, said }) => ({ word: value, text: said })),
      );
      checkTold(
        texts.map(([, text]) => text),
        scope,
      );
      checkWords(
        found.map((one) => one.word),
        thing,
        texts[0]?.[1],
        scope,
      );
      return found;
    },
    unbind: (texts, type) => ({ texts: texts.map((one) => [stateTerm(one.word, type), textOf(one.text)] as const) }),
  }),
  confirmedBy: part<string>()(["confirmed by", { topic: quoted }], {
    bind: ({ topic }, { scope }) => bindTopic(topic, scope),
    unbind: (topic) => ({ topic: textOf(topic) }),
  }),
  againEvery: part<number>()(["again every", { lasts: sum }], {
    bind({ lasts: term }, { scope }) {
      const lasts = bindDuration(term, scope);
      return lasts && constantIn(lasts);
    },
    unbind: (ms) => ({ lasts: numberTerm(ms, "ms") }),
  }),
  retained: part<true>()(["retained"], { bind: () => true, unbind: () => ({}) }),
};

/** The type of a thing of the house. */
export type TypeOf = (thing: string) => ValueType | undefined;

export type WiringRow<Of extends Wiring = Wiring> = Row<Of, Wired, TypeOf>;
const wired = <Kind extends Wiring["kind"]>() => row<OfKind<Wiring, Kind>, Wired, TypeOf>();

export const wiringRows: { readonly [Kind in Wiring["kind"]]: WiringRow<OfKind<Wiring, Kind>> } = {
  alive: wired<"alive">()(
    ["zone", { zone: word("the name of a zone") }, "alive while", { topic: quoted }, "reads", { reads: quoted }],
    {
      bind(parts, { scope, by }) {
        const zone = scope.resolve(parts.zone, ["zone"]);
        const topic = bindTopic(parts.topic, scope);
        return zone && { kind: "alive", by, zone: zone.name, topic, reads: plainText(parts.reads) };
      },
      unbind: ({ zone, topic, reads }) => ({ zone: wordOf(zone), topic: textOf(topic), reads: textOf(reads) }),
    },
  ),
  notices: wired<"notices">()(["notices", { way: word("a way to a person") }, "to", { topic: quoted }], {
    bind: ({ way, topic }, { by, scope }) => ({ kind: "notices", by, way: way.text, topic: bindTopic(topic, scope) }),
    unbind: ({ way, topic }) => ({ way: wordOf(way), topic: textOf(topic) }),
  }),
  reading: wired<"reading">()(
    [{ sensor: name("a sensor or an output") }, "from", { topic: quoted }, { reads: anyOf(readingRows) }],
    {
      bind({ sensor: said, topic, reads }, { scope, by }) {
        const sensor = scope.resolve(said, ["sensor"]);
        if (!sensor) return undefined;
        const parts = bindParts(reads, readingRows, { thing: sensor, scope });
        return { kind: "reading", by, sensor: sensor.name, topic: bindTopic(topic, scope), ...parts };
      },
      unbind: ({ sensor, topic, ...parts }, typeOf) => ({
        sensor: wordOf(sensor),
        topic: textOf(topic),
        reads: unbindParts(parts, readingRows, typeOf(sensor)),
      }),
    },
  ),
  writing: wired<"writing">()(
    [{ output: name("a sensor or an output") }, "to", { topic: quoted }, { writes: anyOf(writingRows) }],
    {
      bind({ output: said, topic, writes }, { scope, by }) {
        const output = scope.resolve(said, ["output"]);
        if (!output) return undefined;
        const parts = bindParts(writes, writingRows, { thing: output, scope });
        return { kind: "writing", by, output: output.name, topic: bindTopic(topic, scope), ...parts };
      },
      unbind: ({ output, topic, ...parts }, typeOf) => ({
        output: wordOf(output),
        topic: textOf(topic),
        writes: unbindParts(parts, writingRows, typeOf(output)),
      }),
    },
  ),
};

type PartRows = Readonly<Record<string, PartRow<never>>>;

/** Of each of these a wiring says one. */
const groups: Readonly<Record<string, string>> = { at: "place", record: "place", text: "texts" };

function bindParts(nodes: readonly PhraseNode[], rows: object, place: OfThing): Parts {
  const said = new Set<string>();
  for (const { kind, span } of nodes) {
    const group = groups[kind] ?? kind;
    if (said.has(group)) {
      const what = `The wiring of ${place.thing.name} says this twice.`;
      place.scope.faults.add(span, { kind: "missing", what, remedy: "Remove one of the two." });
    }
    said.add(group);
  }
  const bound = nodes.map(({ kind, parts }) => [kind, (rows as PartRows)[kind]?.bind(parts, place)] as const);
  return Object.fromEntries(bound.filter(([, value]) => value !== undefined));
}

function unbindParts<Name extends string>(
  parts: object,
  rows: Readonly<Record<Name, unknown>>,
  type: ValueType | undefined,
): PhraseNode<Name>[] {
  return (Object.keys(rows) as Name[]).flatMap((kind) => {
    const value = (parts as Partial<Record<Name, unknown>>)[kind];
    const one = (rows as unknown as PartRows)[kind];
    return value === undefined || !one ? [] : [{ kind, parts: one.unbind(value as never, type), span: nowhere }];
  });
}

const valueName: Term = { kind: "name", text: "value", span: nowhere };

/** Text in which `{value}` stays to be replaced. */
function templateOf({ parts }: Quoted): string {
  return parts.map((one) => (typeof one === "string" ? one : `{${writeTerm(one)}}`)).join("");
}

function stateTerm(value: Value, type: ValueType | undefined): Term {
  return valueTerm(value, type ?? { kind: "number", unit: "" });
}

/** A topic that a message is sent on (MQTT 5.0, 4.7): one, and not nothing. */
function bindTopic(quoted: Quoted, scope: Scope): string {
  const topic = plainText(quoted);
  const fault = (what: string, remedy: string) => scope.faults.add(quoted.span, { kind: "missing", what, remedy });
  if (topic === "") fault("A topic has a name.", 'Write it between the quotes, such as "home/bench/door".');
  else if (/[+#]/.test(topic)) fault(`"${topic}" stands for many topics.`, "Name one topic, without + and #.");
  return topic;
}

/** A place in a message (RFC 6901). */
function bindPointer(quoted: Quoted, scope: Scope): string {
  const pointer = plainText(quoted);
  const isPointer = pointer === "" || (pointer.startsWith("/") && !/~(?![01])/.test(pointer));
  if (!isPointer) {
    const meant = (pointer.startsWith("/") ? pointer : `/${pointer.replaceAll(".", "/")}`).replace(/~(?![01])/g, "~0");
    const what = `"${pointer}" is not a place in a message.`;
    scope.faults.add(quoted.span, { kind: "missing", what, remedy: `Write a JSON Pointer: "${meant}".` });
  }
  return pointer;
}

/** No text stands for two states. */
function checkTold(texts: readonly Quoted[], scope: Scope): void {
  const seen = new Set<string>();
  for (const text of texts) {
    const said = plainText(text);
    const what = `"${said}" stands for two states.`;
    if (seen.has(said)) scope.faults.add(text.span, { kind: "missing", what, remedy: "Give each state a text of its own." });
    seen.add(said);
  }
}

function asText(said: Term, text: Quoted, { type }: HouseSymbol, scope: Scope): { value: Value; said: string }[] {
  if (type?.kind === "press") {
    const pressed = said.kind === "name" && said.text === "pressed";
    if (!pressed) scope.faults.add(said.span, { kind: "unknownWord", word: writeTerm(said), words: ["pressed"], nearest: [] });
    return pressed ? [{ value: "pressed", said: plainText(text) }] : [];
  }
  const value = type && type.kind !== "truth" ? bindConstantValue(said, scope, type as ValueType) : undefined;
  return value === undefined ? [] : [{ value, said: plainText(text) }];
}

/** A wiring names every word of its thing. */
function checkWords(named: readonly Value[], { type, name: what }: HouseSymbol, place: Quoted | undefined, scope: Scope): void {
  if (type?.kind !== "words" || !place) return;
  const missing = type.words.filter((one) => !named.includes(one));
  if (missing.length === 0) return;
  const remedy = `Add the message for ${missing.join(", ")}.`;
  scope.faults.add(place.span, { kind: "missing", what: `The wiring of ${what} does not cover every state.`, remedy });
}
