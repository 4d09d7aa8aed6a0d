// Moments: what starts the steps of a rule, and what ends a wait.
import type { Occasion, Trigger, Until } from "../../house/index.js";
import { constantIn, dayTimeOf } from "../../house/index.js";
import { DAY, EVERY_DAY, type Weekday } from "../../time/index.js";
import type { OccasionNode, Term, TriggerNode } from "../syntax.js";
import { writeTerm } from "../write/terms.js";
import type { Scope } from "./scope.js";
import { bindCondition, bindDuration, bindTerm, bindValue } from "./terms.js";
import { differenceOf, timeOfDay } from "./type.js";

export function bindTrigger(node: TriggerNode, scope: Scope): Trigger | undefined {
  switch (node.kind) {
    case "the house starts":
      return { kind: node.kind };
    case "at": {
      const time = bindValue(node.time, scope, timeOfDay);
      return time && { kind: "at", at: dayTimeOf(time), days: (node.days ?? EVERY_DAY) as readonly Weekday[] };
    }
    case "every": {
      const every = bindDuration(node.every, scope);
      const ms = every && constantIn(every);
      if (ms !== undefined && ms > DAY && ms % DAY !== 0) {
        const says = `"every ${writeTerm(node.every)}" cannot be used: above a day, only whole days.`;
        const remedy = "Write every 2 d, or up to a day; the times start again at midnight.";
        scope.faults.add(node.every.span, { kind: "backwards", says, remedy });
      }
      return every && { kind: "every", every, days: (node.days ?? EVERY_DAY) as readonly Weekday[] };
    }
    default:
      return bindOccasion(node, scope);
  }
}

function bindOccasion(node: OccasionNode, scope: Scope): Occasion | undefined {
  switch (node.kind) {
    case "condition": {
      const condition = bindCondition(node.condition, scope.forMoments());
      return condition && { kind: "becomes true", condition };
    }
    case "begins": {
      const schedule = scope.resolve(node.name, ["schedule"]);
      return schedule && { kind: "begins", schedule: schedule.name };
    }
    case "ends": {
      const ends = scope.resolve(node.name, ["schedule", "countdown"]);
      if (!ends) return undefined;
      return ends.kind === "countdown" ? { kind: "runs out", countdown: ends.name } : { kind: "ends", schedule: ends.name };
    }
    case "becomes": {
      const { span } = node;
      const left: Term = { kind: "name", text: node.name.text, span: node.name.span };
      const condition = bindCondition({ kind: "is", negated: false, left, right: node.value, span }, scope.forMoments());
      return condition && { kind: "becomes true", condition };
    }
    case "changes":
      return bindChanges(node, scope);
    default:
      throw new RangeError(`no such occasion: ${JSON.stringify(node satisfies never)}`);
  }
}

function bindChanges({ name, by }: Extract<OccasionNode, { kind: "changes" }>, scope: Scope): Occasion | undefined {
  const bound = bindTerm({ kind: "name", text: name.text, span: name.span }, scope);
  if (bound?.expression.kind !== "value") return undefined;
  if (by && bound.type.kind !== "number") {
    const remedy = `Write ${name.text} changes.`;
    scope.faults.add(by.span, { kind: "missing", what: `${name.text} is not a number and cannot change by an amount.`, remedy });
    return undefined;
  }
  const amount = by && bindValue(by, scope, differenceOf(bound.type));
  if (by && !amount) return undefined;
  return { kind: "changes", of: bound.expression.of, ...(amount && { by: amount }) };
}

/** What ends a wait, or what was asked until then: a state, a moment or a time of day. */
export function bindUntil(node: OccasionNode, scope: Scope): Until | undefined {
  if (node.kind !== "condition") return bindOccasion(node, scope);
  const { condition: term } = node;
  const isTime =
    term.kind === "time" ||
    (term.kind === "name" && bindsAsTime(term, scope)) ||
    (term.kind === "binary" && bindsAsTime(term.left, scope));
  if (isTime) {
    const time = bindValue(term, scope, timeOfDay);
    return time && { kind: "at", at: dayTimeOf(time) };
  }
  const condition = bindCondition(term, scope.forMoments());
  return condition && { kind: "state", condition };
}

function bindsAsTime(term: Term, scope: Scope): boolean {
  if (term.kind === "time") return true;
  if (term.kind === "binary") return bindsAsTime(term.left, scope);
  if (term.kind !== "name") return false;
  const symbol = scope.find(term);
  return symbol ? symbol.type?.kind === "time" : ["sunrise", "sunset", "dawn", "dusk", "noon", "midnight"].includes(term.text);
}
