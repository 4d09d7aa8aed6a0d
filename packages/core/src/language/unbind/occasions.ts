// Moments of a house as nodes of a tree.
import type { Expression, Occasion, Trigger, Until } from "../../house/index.js";
import type { OccasionNode, TriggerNode } from "../syntax.js";
import { nowhere as span, unbindDayTime, unbindTerm, word } from "./terms.js";

export function unbindTrigger(trigger: Trigger): TriggerNode {
  switch (trigger.kind) {
    case "at":
      return { kind: "at", time: unbindDayTime(trigger.at), ...onDays(trigger.days), span };
    case "every":
      return { kind: "every", every: unbindTerm(trigger.every), ...onDays(trigger.days), span };
    case "the house starts":
      return { kind: trigger.kind, span };
    default:
      return unbindOccasion(trigger);
  }
}

function onDays(days: readonly number[]): { days?: readonly number[] } {
  return days.length === 7 ? {} : { days };
}

function unbindOccasion(occasion: Occasion): OccasionNode {
  switch (occasion.kind) {
    case "becomes true":
      return { kind: "condition", condition: unbindTerm(occasion.condition), span };
    case "begins":
    case "ends":
      return { kind: occasion.kind, name: word(occasion.schedule), span };
    case "runs out":
      return { kind: "ends", name: word(occasion.countdown), span };
    case "changes":
      return { kind: "changes", name: word(occasion.of), ...(occasion.by && { by: unbindTerm(occasion.by) }), span };
    default:
      throw new RangeError(`no such occasion: ${JSON.stringify(occasion satisfies never)}`);
  }
}

export function unbindUntil(until: Until): OccasionNode {
  // A condition alone would be a state, which ends a wait also where it is so already.
  if (until.kind === "becomes true" && until.condition.kind === "is" && until.condition.left.kind === "value") {
    const { left, right } = until.condition;
    return { kind: "becomes", name: word(left.of), value: unbindTerm(right), span };
  }
  if (until.kind === "at") return { kind: "condition", condition: unbindDayTime(until.at), span };
  if (until.kind !== "state") return unbindOccasion(until);
  const condition = unbindTerm(until.condition);
  // Its own `at most` would be taken for that of a wait.
  const apart = endsWithUntil(until.condition);
  return { kind: "condition", condition: apart ? { kind: "group", of: condition, span } : condition, span };
}

function endsWithUntil(condition: Expression): boolean {
  if (condition.kind === "until") return true;
  if (condition.kind === "not") return endsWithUntil(condition.of);
  const last = condition.kind === "and" || condition.kind === "or" ? condition.of.at(-1) : undefined;
  return last !== undefined && endsWithUntil(last);
}
