// The steps of a `do`.
import type { BranchNode, StepNode } from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { occasion } from "./rules.js";
import { condition, name, quoted, sum, value } from "./terms.js";

type Parsed = StepNode extends infer Each ? (Each extends StepNode ? Omit<Each, "span"> : never) : never;

/** What follows the word that says what a step does. */
const parsers: Readonly<Record<string, (c: Cursor) => Parsed>> = {
  set(c) {
    const what = name(c, "an output, a dial or a mode");
    c.word("to");
    const to = value(c);
    const ends = c.takeWord("for") ? { for: sum(c) } : c.takeWord("until") ? { until: occasion(c) } : {};
    return { kind: "set", name: what, to, ...ends };
  },
  toggle: (c) => ({ kind: "toggle", name: name(c, "an output, a dial or a mode") }),
  raise: (c) => relative(c, "raise"),
  lower: (c) => relative(c, "lower"),
  ramp(c) {
    const what = name(c, "an output");
    c.word("from");
    const from = sum(c);
    c.word("to");
    const to = sum(c);
    c.word("over");
    return { kind: "ramp", name: what, from, to, over: sum(c) };
  },
  dose: (c) => ({ kind: "dose", name: name(c, "an output"), amount: sum(c) }),
  release: (c) => ({ kind: "release", name: name(c, "an output") }),
  apply: (c) => ({ kind: "apply", name: name(c, "a preset") }),
  start(c) {
    const what = name(c, "a countdown");
    return { kind: "start", name: what, ...(c.takeWord("with") && { with: sum(c) }) };
  },
  stop: (c) => ({ kind: "stop", name: name(c, "a countdown") }),
  end(c) {
    c.word("here");
    return { kind: "end here" };
  },
  wait(c) {
    if (!c.takeWord("until")) return { kind: "wait", duration: sum(c) };
    const until = occasion(c);
    return { kind: "wait until", occasion: until, ...(c.takeCommaWord("at most") && { atMost: sum(c) }) };
  },
  tell(c) {
    const text = quoted(c);
    const through = c.takeWord("through") ? name(c, "a way to a person") : undefined;
    const limited = c.takeCommaWord("at most");
    if (limited) c.words("once", "in");
    return { kind: "tell", text, ...(through && { through }), ...(limited && { onceIn: sum(c) }) };
  },
  send(c) {
    const text = quoted(c);
    c.word("to");
    return { kind: "send", text, to: quoted(c) };
  },
  if(c) {
    const branches: BranchNode[] = [branch(c)];
    while (c.takeWords("else", "if")) branches.push(branch(c));
    const otherwise = c.takeWord("else") ? steps(c, "else") : undefined;
    return { kind: "if", branches, ...(otherwise && { else: otherwise }) };
  },
};

const begins = new Set(Object.keys(parsers));

function relative(c: Cursor, kind: "raise" | "lower"): Parsed {
  const what = name(c, "an output or a dial");
  c.word("by");
  return { kind, name: what, by: sum(c) };
}

function branch(c: Cursor): BranchNode {
  const when = condition(c);
  return { condition: when, steps: steps(c, "if") };
}

/** A block of steps. */
export function steps(c: Cursor, what: string): StepNode[] {
  return c.block(what, begins, () => {
    const first = c.token;
    const parse = first.kind === "word" && Object.hasOwn(parsers, first.text) ? parsers[first.text] : undefined;
    if (!parse) return c.fail([...[...begins].map((word) => `"${word}"`), "the closing }"]);
    c.next();
    return { ...parse(c), span: c.span(first) };
  });
}
