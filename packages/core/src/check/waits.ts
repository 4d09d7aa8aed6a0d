// Waits that fit neither the sensor nor each other.
import { type Condition, type Expression, lastsOf, type Sensor, visitExpressions } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import { writeDuration } from "../units/index.js";
import type { Ask } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

type Lasting = Extract<Condition, { kind: "for" }>;
type Memory = Extract<Condition, { kind: "until" }>;

/** A `for` on the way in and none on the way out, or the reverse, on one signal. */
export function oneSidedWaits(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask) =>
    ask.way === "held" && !ask.keep ? ask.conditions.flatMap((one) => ofMemory(inquiry, ask, one)) : [],
  );
}

function ofMemory(inquiry: Inquiry, ask: Ask, condition: Condition): Draft[] {
  if (condition.kind !== "until") return [];
  const [inner, outer] = [condition.condition, condition.reset];
  const [waits, leaves] = [inner.kind === "for", outer.kind === "for"];
  const [way, back] = [bare(inner), bare(outer)];
  if (waits === leaves || !("left" in way) || !("left" in back)) return [];
  if (writeExpression(way.left) !== writeExpression(back.left) || inquiry.measuredIn(way.left).length === 0) return [];
  const [with_, without] = waits ? [inner as Lasting, outer] : [outer as Lasting, inner];
  const shows = showsSpike(inquiry, ask, condition, waits);
  const long = writeExpression(with_.duration);
  return [
    {
      code: "one-sided-wait",
      about: { kind: "sentence", rule: ask.rule.name, sentence: ask.sentence },
      reason: `${ask.output} waits ${long} for \`${writeExpression(with_.condition)}\`, but not for \`${writeExpression(without)}\`: there, one wrong reading is enough.`,
      remedy: `Wait in both directions: \`${writeExpression(way)} for … until ${back.kind} ${writeExpression(back.right)} for …\`.`,
      ...(shows && { shows }),
    },
  ];
}

const bare = (condition: Condition): Condition => (condition.kind === "for" ? condition.condition : condition);

/** One report on the side that does not wait. */
function showsSpike(inquiry: Inquiry, ask: Ask, condition: Memory, waits: boolean) {
  const { scene } = inquiry;
  const others = ask.conditions.filter((one) => one !== condition);
  const inside = scene.find([...others, bare(condition.condition)], { not: [bare(condition.reset)], of: ask.output });
  const outside =
    inside && scene.find([...others, bare(condition.reset)], { not: [bare(condition.condition)], at: inside.at, of: ask.output });
  if (!inside || !outside) return undefined;
  const [usual, stray] = waits ? [inside, outside] : [outside, inside];
  const at = inside.at;
  const isAt: Condition = { kind: "is", left: { kind: "value", of: ask.output }, right: ask.value };
  const before = waits ? isAt : ({ kind: "not", of: isAt } as const);
  const after = waits ? ({ kind: "not", of: isAt } as const) : isAt;
  return scene.shows(
    "One wrong reading is enough",
    [
      { at: at - 10 * MINUTE, values: usual.values },
      { at, values: stray.values },
      { at: at + MINUTE, values: usual.values },
    ],
    [
      { claim: "holds", condition: before, at: at - MINUTE },
      { claim: "holds", condition: after, at: at + MINUTE / 2 },
    ],
    at + 2 * MINUTE,
  );
}

/** A hold, window or bound that is finer than the sensor can tell. */
export function slowReports(inquiry: Inquiry): Draft[] {
  const { house, scene } = inquiry;
  const drafts: Draft[] = [];
  const seen = new Set<string>();
  const look = (holder: unknown, about: Draft["about"]): void =>
    visitExpressions(holder, (part) => {
      const [what, duration] = spanOf(part);
      const lasts = duration ? scene.figure(duration) : Number.NaN;
      if (!what || Number.isNaN(lasts)) return;
      for (const sensor of inquiry.sensorsIn(what)) {
        const found = tooSlow(inquiry, part, sensor, lasts);
        const key = `${sensor.name} ${writeExpression(part)}`;
        if (found && !seen.has(key)) drafts.push({ code: "slow-report", about, ...found });
        if (found) seen.add(key);
      }
    });
  for (const rule of house.rules)
    rule.sentences.forEach((sentence, index) => look(sentence, { kind: "sentence", rule: rule.name, sentence: index }));
  for (const guard of house.guards)
    guard.permits.forEach((permit, index) => look(permit, { kind: "permit", guard: guard.name, permit: index }));
  for (const one of house.lets) look(one.value, { kind: "thing", name: one.name });
  return drafts;
}

function spanOf(part: Expression): [what: Expression | undefined, duration: Expression | undefined] {
  if (part.kind === "for" || part.kind === "in the last") return [part.condition, part.duration];
  return part.kind === "over" ? [part.value, part.over] : [undefined, undefined];
}

function tooSlow(inquiry: Inquiry, part: Expression, sensor: Sensor, lasts: number) {
  const every = reportEvery(inquiry, sensor);
  const counts = lastsOf(inquiry.house, sensor);
  const fresh = counts ? inquiry.scene.figure(counts) : Number.NaN;
  const said = writeExpression(part);
  if (every > lasts && part.kind !== "in the last") {
    return {
      reason: `${sensor.name} reports only every ${writeDuration(every)}, so \`${said}\`, over ${writeDuration(lasts)}, is decided by a single report.`,
      remedy: `Use more than ${writeDuration(every)}, or make the sensor report more often.`,
    };
  }
  // A contact reports as it changes: in between it falls silent.
  if (part.kind === "for" && sensor.type.kind === "words" && lasts >= fresh) {
    const shows = showsSilence(inquiry, part, sensor, lasts);
    return {
      reason: `\`${said}\` can only become true if ${sensor.name} reports again within ${writeDuration(fresh)}; after that it is unknown. A contact that reports only changes never does.`,
      remedy: `Remove its \`unknown after\`, or make it longer than ${writeDuration(lasts)}.`,
      ...(shows && { shows }),
    };
  }
  return undefined;
}

/** How often a sensor reports, where some trial says so. */
function reportEvery({ house, scene }: Inquiry, { name }: Sensor): number {
  const said = house.trials.flatMap(({ happenings }) =>
    happenings.flatMap(({ what }) => (what.kind === "reports every" && what.name === name ? [scene.figure(what.by)] : [])),
  );
  return Math.min(Number.POSITIVE_INFINITY, ...said) === Number.POSITIVE_INFINITY ? 0 : Math.min(...said);
}

function showsSilence(inquiry: Inquiry, part: Lasting, sensor: Sensor, lasts: number) {
  const { scene } = inquiry;
  const so = scene.find([part.condition]);
  const before = so && scene.find([], { not: [part.condition], at: so.at - MINUTE });
  if (!so || !before) return undefined;
  return scene.shows(
    `${sensor.name} says it once`,
    [
      { at: before.at, values: new Map([...so.values, ...before.values]) },
      { ...so, faults: [{ kind: "falls silent", name: sensor.name }] },
    ],
    [{ claim: "never", condition: part, from: so.at, to: so.at + 2 * lasts }],
    so.at + 2 * lasts,
  );
}

/** `A and B for D`, where the `for` covers B alone. */
export function looseFors(inquiry: Inquiry): Draft[] {
  const { house } = inquiry;
  const drafts: Draft[] = [];
  const look = (holder: unknown, about: Draft["about"]): void =>
    visitExpressions(holder, (part) => {
      if (part.kind !== "and" && part.kind !== "or") return;
      const last = part.of.at(-1);
      const others = part.of.slice(0, -1);
      // `has been … for` says whose it is.
      if (last?.kind !== "for" || !("left" in last.condition) || last.condition.kind === "is") return;
      if (!others.some((one) => ("left" in one || one.kind === "between") && inquiry.sensorsIn(one).length > 0)) return;
      const said = part.of.map((one) => writeExpression(one === last ? last.condition : one)).join(` ${part.kind} `);
      const time = writeExpression(last.duration);
      drafts.push({
        code: "loose-for",
        about,
        reason: `\`for ${time}\` applies only to \`${writeExpression(last.condition)}\`, not to all of \`${said}\`.`,
        remedy: `If both must last, write \`(${said}) for ${time}\`. If only one must, write it first.`,
      });
    });
  for (const rule of house.rules)
    rule.sentences.forEach((sentence, index) => look(sentence, { kind: "sentence", rule: rule.name, sentence: index }));
  for (const guard of house.guards)
    guard.permits.forEach((permit, index) => look(permit, { kind: "permit", guard: guard.name, permit: index }));
  return drafts;
}
