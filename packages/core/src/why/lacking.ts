// What a condition still lacks at an instant: by how much a value is off, how long it must last yet.
import { type Bound, type Condition, type Expression, isUp, unitOfExpression } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { differenceUnit, units, writeDuration, writeReading } from "../units/index.js";
import { type Explanation, explanation, type Narrator } from "./condition.js";

/** Everything that keeps a condition from being true; nothing where it is. */
export function lacking(narrator: Narrator, condition: Condition): Explanation[] {
  if (narrator.value(condition) === 1) return [];
  switch (condition.kind) {
    case "and":
      return condition.of.flatMap((part) => lacking(narrator, part));
    case "or":
      return [
        explanation(
          "it needs one of these",
          condition.of.flatMap((part) => lacking(narrator, part)),
        ),
      ];
    case "above":
    case "below":
    case "at least":
    case "at most":
      return [farOff(narrator, condition)];
    case "between": {
      const { value: left, low, high } = condition;
      const { says } = narrator.explain(condition);
      const isBelow = narrator.value(left) < narrator.value(low);
      return [tellDistance(narrator, says, { left, right: isBelow ? low : high, wantsMore: isBelow })];
    }
    case "for":
      return [tooShort(narrator, condition)];
    case "until":
      return narrator.value(condition.condition) === 1
        ? [explanation(`${writeExpression(condition)}: it has ended`, [narrator.explain(condition.reset)])]
        : lacking(narrator, condition.condition);
    case "during":
      return [waitsFor(narrator, condition, condition.schedule, "begins")];
    case "not":
      if (condition.of.kind === "during") return [waitsFor(narrator, condition, condition.of.schedule, "ends")];
      return [narrator.explain(condition)];
    default:
      return [narrator.explain(condition)];
  }
}

/** When a schedule begins or ends. */
function waitsFor(narrator: Narrator, condition: Condition, schedule: string, turns: "begins" | "ends"): Explanation {
  const { until } = narrator.stretch(schedule);
  const when = Number.isFinite(until) ? `${schedule} ${turns} ${narrator.when(until)}` : `${schedule} never ${turns}`;
  return explanation(`${writeExpression(condition)}: ${when}`);
}

function farOff(narrator: Narrator, bound: Extract<Expression, { kind: Bound }>): Explanation {
  const { left, right, kind } = bound;
  return tellDistance(narrator, narrator.explain(bound).says, {
    left,
    right,
    wantsMore: isUp(kind),
  });
}

interface Distance {
  readonly left: Expression;
  readonly right: Expression;
  readonly wantsMore: boolean;
}

function tellDistance(narrator: Narrator, says: string, { left, right, wantsMore }: Distance): Explanation {
  const distance = narrator.value(left) - narrator.value(right);
  if (Number.isNaN(distance)) return explanation(says);
  const unit = unitOfExpression(narrator.house, left);
  if (unit === "") return explanation(says);
  const size = Math.abs(distance);
  const difference = differenceUnit(unit);
  const by = unit === "ms" ? writeDuration(Math.round(size)) : writeReading(size / units[difference].factor, difference);
  return explanation(size === 0 ? `${says}: exactly at the limit` : `${says}: ${by} too ${wantsMore ? "low" : "high"}`);
}

function tooShort(narrator: Narrator, condition: Extract<Expression, { kind: "for" }>): Explanation {
  const says = writeExpression(condition);
  const lasts = narrator.value(condition.duration);
  const inner = lacking(narrator, condition.condition);
  if (inner.length > 0) return explanation(`${says}: not true yet, and then it must last ${writeDuration(lasts)}`, inner);
  const since = narrator.since(condition.condition);
  const left = since + lasts - narrator.at;
  return explanation(`${says}: true since ${narrator.when(since)}, ${writeDuration(Math.max(0, left))} to go`);
}
