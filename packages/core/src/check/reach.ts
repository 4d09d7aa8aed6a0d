// Sentences that can never apply, conditions that are never or always true, moments that never come.
import { type Condition, type Expression, hasPress, isIn, lastsOf, type Schedule, visitExpressions } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { stretchOf, type Weekday, weekdayOf } from "../time/index.js";
import type { Found } from "../trial/index.js";
import { allOf, conjuncts } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

export function reaches(inquiry: Inquiry): Draft[] {
  const { house, scene } = inquiry;
  const closed = new Set(closedSchedules(inquiry).map(({ name }) => name));
  const isTold = (all: readonly Condition[]) =>
    all.some((one) => scene.settled.schedulesIn(scene.node(one)).some((name) => closed.has(name)));
  const drafts: Draft[] = [];
  for (const rule of house.rules) {
    rule.sentences.forEach((sentence, index) => {
      const about: Draft["about"] = { kind: "sentence", rule: rule.name, sentence: index };
      const conditions = "do" in sentence ? eventConditions(sentence) : sentence.while ? [conjuncts(sentence.while)] : [];
      const never = conditions.filter((all) => search(inquiry, all, true) === "none" && inquiry.isExact(all));
      if (never.some(isTold)) return;
      if (conditions.length > 0 && never.length === conditions.length)
        drafts.push(unreachable(inquiry, about, rule.name, never[0] as readonly Condition[]));
      else drafts.push(...partsOf(inquiry, about, sentence));
    });
  }
  return drafts;
}

/** What must hold for each trigger to fire. */
function eventConditions({ when, provided }: Extract<Inquiry["house"]["rules"][number]["sentences"][number], { do: unknown }>) {
  const also = provided ? conjuncts(provided) : [];
  return when.map((trigger) => {
    const own = trigger.kind === "becomes true" && !hasPress(trigger.condition) ? conjuncts(trigger.condition) : [];
    return [...own, ...also].filter((one) => !hasPress(one));
  });
}

function search(inquiry: Inquiry, all: readonly Condition[], wanted: boolean, unknowns = true): Found {
  const { scene } = inquiry;
  const whole = allOf(all);
  if (!whole) return { at: 0, values: new Map() };
  return scene.search.find([scene.goal(whole, wanted)], { anyDial: true, unknowns });
}

function unreachable(inquiry: Inquiry, about: Draft["about"], rule: string, all: readonly Condition[]): Draft {
  const single = all.find((one) => search(inquiry, [one], true) === "none");
  const said = single
    ? `\`${writeExpression(single)}\` is never true${rangeOf(inquiry, single)}`
    : `${all.map((one) => `\`${writeExpression(one)}\``).join(" and ")} are never true together`;
  return {
    code: "unreachable",
    about,
    reason: `This sentence of ${rule} never applies: ${said}.`,
    remedy: "Remove it, or change the part that cannot be true.",
  };
}

/** Parts of a condition that are never or always true by themselves. */
function partsOf(inquiry: Inquiry, about: Draft["about"], holder: unknown): Draft[] {
  const drafts: Draft[] = [];
  // An end that never comes is told as such.
  const ends = new Set<unknown>();
  visitExpressions(holder, (part) => {
    if (part.kind === "until") ends.add(part.reset);
    if (ends.has(part) || !tests.has(part.kind) || inquiry.sensorsIn(part).length === 0 || !inquiry.isExact([part])) return;
    const which =
      search(inquiry, [part], true) === "none"
        ? "never"
        : search(inquiry, [part], false, false) === "none"
          ? "always"
          : undefined;
    if (!which) return;
    drafts.push({
      code: "always",
      about,
      reason: `\`${writeExpression(part)}\` is ${which} true${rangeOf(inquiry, part)}.`,
      remedy: "Remove it, or compare with a value inside the range.",
    });
  });
  return drafts;
}

const tests: ReadonlySet<Expression["kind"]> = new Set(["above", "below", "at least", "at most", "between"]);

function rangeOf(inquiry: Inquiry, condition: Condition): string {
  const [sensor] = inquiry.measuredIn(condition);
  if (!sensor?.range || sensor.type.kind !== "number") return "";
  return `, because ${sensor.name} is ${sensor.range[0]}..${sensor.range[1]} ${sensor.type.unit}`;
}

/** Schedules that never open within a year of the house's example day, and moments that never find what they need. */
export function neverHappens(inquiry: Inquiry): Draft[] {
  return [...closedSchedules(inquiry).map(ofSchedule), ...momentsIn(inquiry)];
}

/** A calendar file may get its events yet. */
function closedSchedules({ house, scene }: Inquiry): Schedule[] {
  const { sky, beginning } = scene.settled;
  return house.schedules.filter((schedule) => {
    const { open, until } = stretchOf(schedule, sky, beginning);
    return schedule.file === undefined && !open && !Number.isFinite(until);
  });
}

function ofSchedule({ name }: Schedule): Draft {
  return {
    code: "never-happens",
    about: { kind: "schedule", name },
    reason: `Schedule ${name} never occurs in the year after the first trial.`,
    remedy: "Check its weekdays, `only` and `except`.",
  };
}

/** `x is unknown` of a sensor that, once it has reported, never is. */
export function neverUnknown(inquiry: Inquiry): Draft[] {
  const { house } = inquiry;
  const seen = new Set<string>();
  return house.rules.flatMap((rule) =>
    rule.sentences.flatMap((sentence, index): Draft[] => {
      const drafts: Draft[] = [];
      visitExpressions(sentence, (part) => {
        if (part.kind !== "is" || part.right.kind !== "unknown" || part.left.kind !== "value") return;
        const { of } = part.left;
        const sensor = house.sensors.find(({ name }) => name === of);
        const watched = house.wirings.some((wiring) => wiring.kind === "alive" && isIn(wiring.zone, of));
        if (!sensor || sensor.lastsForEver || watched || lastsOf(house, sensor) || seen.has(of)) return;
        seen.add(of);
        drafts.push({
          code: "never-happens",
          about: { kind: "sentence", rule: rule.name, sentence: index },
          reason: `${of} is unknown only before its first report, because its readings never expire.`,
          remedy: `Write \`unknown after 15 min\` where ${of} is declared, or a longer time if it reports only changes.`,
        });
      });
      return drafts;
    }),
  );
}

/** `when at 07:30 on Sat` with a `provided` that is never so then. */
function momentsIn(inquiry: Inquiry): Draft[] {
  const { house, scene } = inquiry;
  return house.rules.flatMap((rule) =>
    rule.sentences.flatMap((sentence, index): Draft[] => {
      if (!("do" in sentence) || !sentence.provided) return [];
      const [trigger, ...others] = sentence.when;
      if (trigger?.kind !== "at" || others.length > 0 || trigger.at.sun !== undefined) return [];
      const provided = conjuncts(sentence.provided).filter((one) => scene.settled.goesByTime(scene.node(one)));
      const ms = scene.figure(trigger.at.time);
      if (provided.length === 0 || Number.isNaN(ms) || !inquiry.isExact(provided)) return [];
      const goals = provided.map((one) => scene.goal(one));
      const days = daysOf(inquiry, trigger.days);
      const can = days.some((at) => scene.search.find(goals, { at: at + ms, anyDial: true }) !== "none");
      if (can) return [];
      return [
        {
          code: "never-happens",
          about: { kind: "trigger", rule: rule.name, sentence: index, trigger: 0 },
          reason: `\`${provided.map(writeExpression).join(" and ")}\` is never true at this time of day.`,
          remedy: "Change the time or the condition.",
        },
      ];
    }),
  );
}

/** Midnights of a year. */
function daysOf({ scene }: Inquiry, days: readonly Weekday[]): number[] {
  const { clock } = scene.settled.sky;
  const { day } = clock.local(scene.settled.beginning);
  return Array.from({ length: 366 }, (_, index) => day + index)
    .filter((one) => days.includes(weekdayOf(one)))
    .map((one) => clock.instant(one, 0));
}
