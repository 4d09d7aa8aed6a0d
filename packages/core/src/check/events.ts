// Two events that set one output to different values, whose conditions can be true together: the later one wins, permanently.
import { type Condition, hasPress } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import { type Ask, risingOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

export function opposingEvents(inquiry: Inquiry): Draft[] {
  const lasting = inquiry.asks.filter((ask) => ask.way === "for good" && measuredTriggers(inquiry, ask).length > 0);
  return lasting.flatMap((one, index) =>
    lasting.slice(index + 1).flatMap((other): Draft[] => {
      if (other.output !== one.output || other.event === one.event || other.standing !== one.standing) return [];
      if (writeExpression(other.value) === writeExpression(one.value)) return [];
      const draft = ofPair(inquiry, one, other);
      return draft ? [draft] : [];
    }),
  );
}

/** Conditions on numbers that fire an event; none where it also depends on anything else. */
function measuredTriggers(inquiry: Inquiry, { event }: Ask): Condition[] {
  const rising = event ? risingOf(event.when) : [];
  const measured = rising.filter((one) => !hasPress(one) && inquiry.sensorsIn(one).every(({ type }) => type.kind === "number"));
  return rising.length === event?.when.length && measured.length === rising.length ? rising : [];
}

function ofPair(inquiry: Inquiry, one: Ask, other: Ask): Draft | undefined {
  const { scene } = inquiry;
  for (const first of measuredTriggers(inquiry, one))
    for (const second of measuredTriggers(inquiry, other)) {
      const both = scene.find([first, second, ...one.conditions, ...other.conditions], { of: one.output });
      if (!both) continue;
      const condition: Condition = { kind: "and", of: [first, second] };
      const claims = [{ claim: "holds", condition, at: both.at }] as const;
      const shows = scene.shows("Both are true", scene.leadingTo(both), claims, both.at + MINUTE);
      const [a, b] = [first, second].map(writeExpression);
      return {
        code: "conflict",
        about: one.about,
        reason: `${one.rule.name} sets ${one.output} to ${writeExpression(one.value)} when \`${a}\`, ${other.rule.name} to ${writeExpression(other.value)} when \`${b}\`. Both can be true at the same time; the later one wins and stays.`,
        remedy: `Decide which is stronger: write states, \`while ${a} hold …\`, and make one \`as urgent\` or add a condition.`,
        related: [{ about: other.about, says: other.rule.name }],
        ...(shows && { shows }),
      };
    }
  return undefined;
}
