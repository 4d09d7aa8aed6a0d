// Sentences as people say them: what is done first and then when, steps without braces, what is held without its `hold`.
// Each is told with the sentence that is meant, and read on with.
import type { ActionNode, EventNode, SentenceNode, StateNode, StepNode, TargetNode, Term, TriggerNode, Word } from "../syntax.js";
import type { Span } from "../token.js";
import { readStep } from "../vocabulary/steps.js";
import { saySentence, saySteps } from "../write/rules.js";
import { comesDeed, isTimeAt } from "./ahead.js";
import { type Cursor, Unparsed } from "./cursor.js";
import { comesDays } from "./days.js";
import { triggers } from "./occasions.js";
import { condition, sum } from "./terms.js";

/** What joins a condition and what is done, or two deeds. */
const joins = ["then", ",", ":", "and", "do"];

/** Whether a deed comes, behind a `then` or not. */
export const comesSpoken = (c: Cursor): boolean =>
  !c.asked && (comesDeed(c) || (joins.some((one) => c.comes(one)) && comesDeed(c, 1)));

/** The same, in braces or not. */
export const comesSpokenState = (c: Cursor): boolean => comesSpoken(c) || (!c.asked && c.isSign("{") && comesDeed(c, 1));

/** Deeds that follow one another, with or without something between them. */
function deeds(c: Cursor): StepNode[] {
  const found: StepNode[] = [];
  do {
    if (!comesDeed(c)) c.next();
    found.push(readStep(c));
  } while (comesSpoken(c));
  if (found.at(-1)?.parts.lasts) endsByItself(c);
  return found;
}

/** `z.fan on for 5 min, then off` */
function endsByItself(c: Cursor): void {
  const ahead = c.isSign(",") || c.comes("and") ? 1 : 0;
  const at = c.comes("then", ahead) ? ahead + 1 : ahead;
  if (at === 0 || !(c.comes("on", at) || c.comes("off", at))) return;
  const what = "What is set for a time ends by itself.";
  c.faults.add(c.token, { kind: "missing", what, remedy: "Leave out what comes after it." });
  for (let taken = 0; taken <= at; taken++) c.next();
}

/** What deeds set, where all of them do, and for no time: a state. */
function heldBy(steps: readonly StepNode[], span: Span): ActionNode | undefined {
  const targets = steps.flatMap(({ kind, parts }): TargetNode[] => {
    const { name, to, lasts, until } = parts as { name: Word; to: Term; lasts?: Term; until?: unknown };
    return kind === "set" && !lasts && !until ? [{ name, value: to }] : [];
  });
  return targets.length === steps.length ? { kind: "hold", targets, span } : undefined;
}

// ── Behind a condition ──────────────────────────────────────────────────────────────────────────────────────────────────

/** `when z.door is open turn on z.fan`: steps that lack their braces. */
export function spokenSteps(c: Cursor): StepNode[] {
  const first = c.token;
  return c.faults.whole(
    first,
    () => deeds(c),
    (steps) => [c.span(first), { kind: "wording", what: "Steps need braces.", right: saySteps(steps) }],
  );
}

/** `while z.door is open turn on z.fan`: what is held. What lasts for no condition is told. */
export function spokenAction(c: Cursor, during: Term | undefined): ActionNode {
  const first = c.token;
  const { held } = c.faults.whole(
    first,
    () => {
      const opened = c.takeSign("{");
      const steps = deeds(c);
      if (opened) c.sign("}");
      return { steps, held: heldBy(steps, c.span(first)) };
    },
    ({ steps, held }) => {
      const span = c.span(first);
      const right = held && saySentence({ kind: "state", actions: [held], span });
      if (right) return [span, { kind: "wording", what: "What should be so is held.", right }];
      const what = `while needs hold, keep or cycle, which apply as long as it is true; found ${steps[0]?.kind}.`;
      const remedy = `Write when ${during ? c.textOf(during.span) : "…"} ${saySteps(steps).join(" ")}: steps run once.`;
      return [span, { kind: "missing", what, remedy }];
    },
  );
  if (!held) throw new Unparsed();
  return held;
}

// ── Before a condition ──────────────────────────────────────────────────────────────────────────────────────────────────

/** `z.heater on when z.temperature below 20 °C`: what is done first. */
export function deedFirst(c: Cursor): SentenceNode {
  const first = c.token;
  return c.faults.whole(
    first,
    () => turned(c),
    (said) => {
      const isBare = said.kind === "state" && !said.while;
      const what = isBare ? "What should always be so is held." : "The condition comes first.";
      return [c.span(first), { kind: "wording", what, right: saySentence(said) }];
    },
  );
}

/** The sentence that is meant: what is held as long as something is so, else steps that run when it comes to be. */
function turned(c: Cursor): SentenceNode {
  const first = c.token;
  const steps = deeds(c);
  const mayLast = first.text !== "set";
  const held = heldBy(steps, c.span(first));
  const state = (during?: Term): StateNode | undefined =>
    held && { kind: "state", ...(during && { while: during }), actions: [held], span: c.span(first) };
  const event = (triggers: readonly TriggerNode[], list = steps): EventNode => {
    const span = c.span(first);
    return { kind: "event", triggers, steps: list, doSpan: span, span };
  };
  const during = conditionBehind(c);
  if (during) return state(during) ?? event([{ kind: "condition", condition: during, span: during.span }]);
  if (momentBehind(c)) {
    const starts = triggers(c);
    const [start] = starts;
    const lasts = mayLast && starts.length === 1 && start?.kind === "condition" && !isPress(start.condition);
    const longer = start?.kind === "every" && c.takeWord("for") ? soLong(steps, sum(c)) : steps;
    return (lasts ? state(start.condition) : undefined) ?? event(starts, longer);
  }
  const said = held ? saySentence({ kind: "state", actions: [held], span: c.span(first) }) : saySteps(steps);
  const remedy = `Write what it waits for: ${held ? "while" : "when"} … ${said.join(" ")}.`;
  return (isOver(c) ? state() : undefined) ?? c.fail(['"when"', '"while"'], remedy);
}

/** `z.fan on every 10 min for 1 min`: what is set is set so long. */
function soLong(steps: readonly StepNode[], lasts: Term): StepNode[] {
  return steps.map((step) => (step.kind === "set" ? { ...step, parts: { ...step.parts, lasts } } : step));
}

/** Words before a condition that lasts, and before what happens. */
const lasting = ["while", "if", "as long as", "provided", "only while", "only if", "only when"].map((words) => words.split(" "));
const happening = ["when", "whenever", "once", "as soon as"].map((words) => words.split(" "));

function conditionBehind(c: Cursor): Term | undefined {
  if (c.comes("unless")) return unless(c);
  return takes(c, lasting) || comesWhile(c) ? c.knowing("conditions", true, () => condition(c)) : undefined;
}

const momentBehind = (c: Cursor): boolean =>
  takes(c, happening) || c.comes("at") || c.comes("every") || comesDays(c, c.comes("on") ? 1 : 0);

/** `unless z.door is open` as the condition that is meant. */
export function unless(c: Cursor): Term {
  const first = c.next();
  const inner = c.knowing("conditions", true, () => condition(c));
  const span = c.span(first);
  const isPlain = ["is", "bound", "between", "for", "in the last", "group"].includes(inner.kind);
  return { kind: "not", of: isPlain ? inner : { kind: "group", of: inner, span: inner.span }, span };
}

/** Whether nothing more comes that belongs to a sentence. */
const isOver = (c: Cursor) => c.token.leads || c.token.kind === "end" || c.isSign("}");

function takes(c: Cursor, wordings: readonly (readonly string[])[]): boolean {
  const found = wordings.find((words) => c.comesAll(words));
  for (const _ of found ?? []) c.next();
  return found !== undefined;
}

/** `during shop_hours`, `between 08:00 and 22:00`: a condition without a word before it. */
export const comesWhile = (c: Cursor): boolean =>
  c.comes("during") ||
  c.comes("outside") ||
  ((c.comes("between") || c.comes("from") || c.comes("after") || c.comes("before")) && isTimeAt(c, 1));

const isPress = (term: Term): boolean => term.kind === "is" && term.right.kind === "name" && term.right.text === "pressed";
