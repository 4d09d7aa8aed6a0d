// Moments: what starts the steps of a rule, and what ends a wait.
import type { OccasionNode, TriggerNode } from "../syntax.js";
import type { Cursor } from "./cursor.js";
import { days } from "./days.js";
import { comesToBound, condition, name, sum, value } from "./terms.js";

export function trigger(c: Cursor): TriggerNode {
  const first = c.token;
  const on = () => (c.takeWord("on") ? { days: days(c) } : {});
  if (c.takeWord("at")) {
    const time = sum(c);
    return { kind: "at", time, ...on(), span: c.span(first) };
  }
  if (c.takeWord("every")) {
    const every = sum(c);
    return { kind: "every", every, ...on(), span: c.span(first) };
  }
  if (c.takeWords("the", "house", "starts")) return { kind: "the house starts", span: c.span(first) };
  if (first.kind === "time" && !c.isAmong(["above", "below"], 1)) {
    const what = `"${first.text}" needs a word before it.`;
    c.faults.add(first, { kind: "missing", what, remedy: `Write at ${first.text}.`, before: "at" });
    const time = sum(c);
    return { kind: "at", time, ...on(), span: c.span(first) };
  }
  return c.knowing("conditions", true, () => occasion(c));
}

const moments = ["changes", "becomes", "begins", "ends"];

/** occasion = name moment | condition */
export function occasion(c: Cursor): OccasionNode {
  const first = c.token;
  c.want("a thing or a schedule");
  if (!c.isName() || !c.isAmong(moments, 1) || comesToBound(c, 1))
    return { kind: "condition", condition: condition(c), span: c.span(first) };
  const of = name(c, "a thing or a schedule");
  const moment = c.next().text;
  if (moment === "begins" || moment === "ends") return { kind: moment, name: of, span: c.span(first) };
  if (moment === "becomes") return { kind: "becomes", name: of, value: value(c), span: c.span(first) };
  return { kind: "changes", name: of, ...(c.takeWord("by") && { by: sum(c) }), span: c.span(first) };
}
