// Guards: what is permitted only while something is so, and what never runs together.
import { permitted } from "../habits.js";
import type { ApartNode, GuardNode, PermitNode, Quoted, SentenceNode, Term, Word } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import type { Cursor } from "./cursor.js";
import { declaredName, splitNote } from "./heading.js";
import { quoted } from "./quoted.js";
import { comesSentence, sentence } from "./rules.js";
import { condition, signed, sum, value } from "./terms.js";
import { name } from "./words.js";

const guardBegins = new Set(["permit", "never", "note"]);

export function guard(c: Cursor): GuardNode {
  const first = c.opening("guard");
  const declared = declaredName(c, "guard");
  if (c.isSign(":") || c.isSign("=")) c.fail(['"{"'], `Write guard ${declared.text} { … }.`);
  if (c.comes("as") && c.peek().kind === "word") {
    const what = "A guard is stronger than every rule and every person: it has no standing.";
    c.faults.add(c.token, { kind: "missing", what, remedy: `Remove as ${c.peek().text}.` });
    c.next();
    c.next();
  }
  const title = c.token.kind === "text" ? quoted(c) : undefined;
  const head = { name: declared, ...(title && { title }) };
  const body = c.block(`guard ${head.name.text}`, guardBegins, (): PermitNode | ApartNode | Quoted =>
    c.takeWord("note")
      ? quoted(c)
      : c.areWords("never", "together")
        ? neverTogether(c)
        : (togetherLast(c) ?? ruled(c) ?? permit(c)),
  );
  const { entries, note } = splitNote<PermitNode | ApartNode>(body);
  const isApart = (entry: PermitNode | ApartNode): entry is ApartNode => "outputs" in entry;
  const apart = entries.filter(isApart);
  const permits = entries.filter((entry): entry is PermitNode => !isApart(entry));
  return { kind: "guard", ...head, permits, apart, ...(note && { note }), span: c.span(first) };
}

function neverTogether(c: Cursor): ApartNode {
  const first = c.token;
  c.words("never", "together");
  const outputs = [name(c, "an output")];
  while (c.takeSign(",") || (c.isName(1) && c.takeMeant(",", ["and"]))) {
    if (["duration", "number", "quantity"].includes(c.token.kind)) {
      const apart = signed(c);
      c.word("apart");
      return { outputs, apart, span: c.span(first) };
    }
    outputs.push(name(c, "an output"));
  }
  const { token } = c;
  if ((c.comes("for") || c.comes("within")) && c.peek().kind === "duration") {
    c.next();
    const apart = signed(c);
    c.tellMeant(token, `, ${c.textOf(apart.span)} apart`);
    return { outputs, apart, span: c.span(first) };
  }
  return { outputs, span: c.span(first) };
}

/** `limit z.lamp to 50 %`, `z.heater max 2 h`: what is meant. */
function limited(c: Cursor): string | undefined {
  const isLimit = (c.comes("limit") || c.comes("cap")) && c.isName(1) && c.comes("to", 2);
  if (isLimit) return `Write permit ${c.peek().text} above ${c.peek(3).text} only while …: when it may be more.`;
  const isRun = c.isName() && (c.comes("max", 1) || c.comes("at most", 1)) && c.peek(2).kind === "duration";
  return isRun ? `Say it of the output itself: , on at most ${c.peek(2).text} then off at least 10 min.` : undefined;
}

/** `z.fan and z.heater never together`: told, and read on with. */
function togetherLast(c: Cursor): ApartNode | undefined {
  const first = c.token;
  let ahead = 1;
  while ((c.isSign(",", ahead) || c.comes("and", ahead)) && c.isName(ahead + 1)) ahead += 2;
  if (!c.isName() || ahead === 1 || !c.comes("never", ahead) || !c.comes("together", ahead + 1)) return undefined;
  const outputs = [name(c, "an output")];
  for (let place = 1; place < ahead; place += 2) {
    c.next();
    outputs.push(name(c, "an output"));
  }
  c.next();
  c.next();
  c.tellMeant(first, `never together ${outputs.map(({ text }) => text).join(", ")}`);
  return { outputs, span: c.span(first) };
}

function ofOne(c: Cursor): never {
  return c.missing(c.token, "What is permitted is one output, or one group.", "Write a permit for each.");
}

/** `permit z.fan only while …` */
function explainWhat(c: Cursor, { text }: { readonly text: string }): never {
  const place = c.comes("only") ? c.token : c.peek();
  return c.missing(place, `What ${text} is permitted is not said.`, `Write permit ${text} on only while ….`);
}

/** `forbid z.fan on while z.door is open`: the other way round. Told, and read on with. */
function forbidden(c: Cursor): PermitNode | undefined {
  const first = c.token;
  if (!forbidding.has(first.text) || !c.isName(1) || c.peek().leads) return undefined;
  const isBare = comesWhen(c, 2);
  if (!isBare && !(c.peek(2).kind === "word" && comesWhen(c, 3))) return undefined;
  c.next();
  const output = name(c, "an output");
  const state: Term = isBare ? { kind: "name", text: "on", span: output.span } : value(c);
  c.next();
  const of = condition(c);
  c.tellMeant(first, `permit ${output.text} ${isBare ? "on" : c.textOf(state.span)} only while not (${c.textOf(of.span)})`);
  return { output, value: state, condition: { kind: "not", of, span: of.span }, span: c.span(first) };
}

/** What an output must not be where it has to be something else. */
const others: ReadonlyMap<string, string> = new Map(
  ["off on", "closed open", "open closed", "locked unlocked", "unlocked locked"].map(
    (pair) => pair.split(" ") as [string, string],
  ),
);

/** `while z.door is open hold z.heater at off`, as a rule says it: told as a permit, and read on with. */
function ruled(c: Cursor): PermitNode | undefined {
  if (c.comes("permit") || c.comes("allow") || !comesSentence(c)) return undefined;
  const first = c.token;
  return c.faults.whole(
    first,
    () => forbids(c, withCondition(c, sentence(c, undefined))) ?? c.missing(first, "A guard says what is permitted.", permitted),
    ({ output, value: state, condition: of }) => {
      const right = `permit ${output.text} ${writeTerm(state)} only while ${writeTerm(of)}`;
      return [c.span(first), { kind: "wording", what: "A guard says what is permitted.", right: [right] }];
    },
  );
}

/** `hold z.heater at off while z.door is open`: what comes behind belongs to it. */
function withCondition(c: Cursor, said: SentenceNode): SentenceNode {
  if (said.kind === "event" || said.while || !comesWhen(c, 0)) return said;
  c.next();
  return { ...said, while: condition(c) };
}

/** The permit that a sentence means which holds one output at its off. */
function forbids(c: Cursor, said: SentenceNode): PermitNode | undefined {
  const [start, another] = said.kind === "event" ? said.triggers : [];
  const during = said.kind === "state" ? said.while : start?.kind === "condition" && !another ? start.condition : undefined;
  const [action, more] = said.kind === "state" ? said.actions : [];
  const [step, further] = said.kind === "event" ? said.steps : [];
  const target = action?.kind === "hold" && !more && action.targets.length === 1 ? action.targets[0] : undefined;
  const set = step?.kind === "set" && !further ? (step.parts as { readonly name: Word; readonly to: Term }) : undefined;
  const to = target?.value ?? set?.to;
  const output = target?.name ?? set?.name;
  const state = to?.kind === "name" ? others.get(to.text) : undefined;
  if (!during || !output || !to || state === undefined) return undefined;
  const span = c.span(said.span);
  const of: Term = { kind: "group", of: during, span: during.span };
  return { output, value: { kind: "name", text: state, span: to.span }, condition: { kind: "not", of, span }, span };
}

const forbidding: ReadonlySet<string> = new Set(["forbid", "deny", "block", "prevent", "prohibit", "disallow", "no", "never"]);
const comesWhen = (c: Cursor, ahead: number) => ["while", "if", "when"].some((word) => c.comes(word, ahead));

function permit(c: Cursor): PermitNode {
  const first = c.token;
  if (c.comes("never") && c.isName(1) && (c.comes("and", 2) || c.comes(",", 2)))
    c.missing(first, "The outputs come last.", `Write never together ${c.peek().text}, ${c.peek(3).text}.`);
  const negated = forbidden(c);
  if (negated) return negated;
  if (c.isName() && c.comes("only", 1)) explainWhat(c, c.token);
  if (!c.takeMeant("permit", ["allow"]) && !c.takeWord("permit")) c.fail(['"permit"'], limited(c) ?? permitted);
  const output = name(c, "an output");
  if (c.comes("only")) explainWhat(c, output);
  if (c.comes("at most") || c.comes("at least")) {
    const side = c.comes("at most") ? "above" : "below";
    c.missing(
      c.token,
      `"${c.token.text}" is not part of a permit.`,
      `Say what is beyond: permit ${output.text} ${side} … only while ….`,
    );
  }
  const needless = [["at"], ["="], ["is"], ["to", "be"]].find((words) => c.comesAll(words));
  if (needless) c.takeAllMeant("", needless);
  if (c.isName(1) && (c.comes("and") || c.comes(","))) ofOne(c);
  const bound = c.isWord("above") || c.isWord("below") ? (c.next().text as "above" | "below") : undefined;
  const what = bound ? sum(c) : value(c);
  if (c.comes("for"))
    c.missing(
      c.token,
      "How long an output runs belongs to its declaration.",
      "Write there on at most 2 h then off at least 10 min.",
    );
  if (c.isName(1) && (c.comes("and") || c.comes(","))) ofOne(c);
  if (c.comes("unless")) c.missing(c.token, '"unless" is not part of the language.', "Write only while not (…).");
  // `while`, `only if`: what is meant is clear.
  if (!c.takeMeant("only while", ["while", "if", "when"])) {
    c.word("only");
    if (!c.takeMeant("while", ["if", "when"])) c.word("while");
  }
  return { output, ...(bound && { bound }), value: what, condition: condition(c), span: c.span(first) };
}
