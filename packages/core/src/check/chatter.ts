// Switching back and forth about one point: a bound without a way back, or a band narrower than what the output itself does.
import { type BoundTest, type Condition, type Expression, isBound, isIn, isUp, type Sensor } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import type { Situation } from "../trial/index.js";
import { differenceUnit, plainMove, stepOf, units, writeFigure } from "../units/index.js";
import { type Ask, conjuncts, risingOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import { writeOffset } from "./offset.js";
import type { Scene, Stage } from "./scene.js";

export function chatter(inquiry: Inquiry): Draft[] {
  return [...onePoint(inquiry), ...pairs(inquiry), ...ownEffect(inquiry), ...fineBands(inquiry)];
}

/** A switch, or a lamp at a fixed value: what moves with its signal anyway does not chatter. */
function switches(inquiry: Inquiry, { output, value }: Ask): boolean {
  const type = inquiry.house.outputs.find(({ name }) => name === output)?.type;
  return type?.kind !== "colour" && (value.kind === "word" || value.kind === "number");
}

function onePoint(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask) => {
    if (ask.way !== "held" || !switches(inquiry, ask)) return [];
    const turning = turnsOf(inquiry, ask.conditions);
    const told = new Set<Condition>();
    return turning.flatMap((turn): Draft[] => {
      const { bound, whole, others } = turn;
      const point = pointOf(inquiry, bound);
      if (!point || told.has(whole) || isShared(inquiry, ask, bound)) return [];
      const { signal, base, unit } = point;
      const step = stepOf(unit);
      const shows = showsTurns(inquiry, ask, others, signal, [base - step, base + step]);
      if (!shows) return [];
      told.add(whole);
      const apart = turning.filter((one) => one.whole === whole).map((one) => withWayBack(inquiry, one.bound));
      return [
        {
          code: "chatter",
          about: ask.about,
          reason: `${ask.output} turns on and off ${point.says} that fluctuate around it switch it every time.`,
          remedy: `Add a separate off point${turn.of === undefined ? "" : ` to ${turn.of}`}: \`${apart.join(turn.isBeyond ? " or " : " and ")}\`.`,
          shows,
        },
      ];
    });
  });
}

/** What a bound measures, and where it turns: against a figure the value itself, against what is measured too how far it is from that. */
function pointOf(inquiry: Inquiry, { left, right }: BoundTest) {
  if (inquiry.measuredIn(left).length === 0) return undefined;
  const base = inquiry.scene.figure(right);
  const unit = inquiry.unitOf(left);
  const [signal, other] = [writeExpression(left), writeExpression(right)];
  if (!Number.isNaN(base))
    return { signal: left, base, unit, says: `at the same value, ${inquiry.say(base, unit)}. Readings of ${signal}` };
  if (inquiry.measuredIn(right).length === 0) return undefined;
  const apart: Expression = { kind: "minus", left, right };
  return { signal: apart, base: 0, unit: differenceUnit(unit), says: `where ${signal} and ${other} are equal. Readings` };
}

/** A bound by which a condition turns while others are as they are. */
interface Turn {
  readonly bound: BoundTest;
  /** The condition that it is, or an end of. */
  readonly whole: Condition;
  readonly others: readonly Condition[];
  /** The let that it stands in. */
  readonly of?: string;
  /** It holds beyond its bounds, and not between them. */
  readonly isBeyond?: boolean;
}

/** The bounds by which conditions that must all hold turn at once, with no memory in between. */
function turnsOf(inquiry: Inquiry, conditions: readonly Condition[], others: readonly Condition[] = []): Turn[] {
  return conditions.flatMap((one, place) => turnsIn(inquiry, one, [...others, ...conditions.toSpliced(place, 1)]));
}

function turnsIn(inquiry: Inquiry, condition: Condition, others: readonly Condition[]): Turn[] {
  if (isBound(condition)) return [{ bound: condition, whole: condition, others }];
  switch (condition.kind) {
    case "between": {
      const { value: left, low, high } = condition;
      const ends: BoundTest[] = [
        { kind: "at least", left, right: low },
        { kind: "at most", left, right: high },
      ];
      return ends.map((bound) => ({ bound, whole: condition, others }));
    }
    case "not":
      // In a let a bound is mended as it stands there.
      return turnsIn(inquiry, condition.of, others).map((turn) =>
        turn.of === undefined
          ? { ...turn, bound: { ...turn.bound, kind: beyond[turn.bound.kind] }, isBeyond: !turn.isBeyond }
          : turn,
      );
    case "and":
      return turnsOf(inquiry, condition.of, others);
    case "or":
      return condition.of.flatMap((one, place) =>
        turnsIn(inquiry, one, [...others, ...condition.of.toSpliced(place, 1).map((of): Condition => ({ kind: "not", of }))]),
      );
    case "value": {
      const found = inquiry.house.lets.find(({ name }) => name === condition.of);
      return found ? turnsIn(inquiry, found.value, others).map((turn) => ({ of: found.name, ...turn })) : [];
    }
    default:
      return [];
  }
}

/** What is true where a bound is not. */
const beyond = { above: "at most", "at most": "above", below: "at least", "at least": "below" } as const;

/** The bound with a point of its own for the way back. */
function withWayBack(inquiry: Inquiry, { kind, left, right }: BoundTest): string {
  const by = plainMove(inquiry.scene.figure(right), inquiry.unitOf(left));
  const further = isUp(kind) ? `below ${writeOffset(inquiry, right, -by)}` : `above ${writeOffset(inquiry, right, by)}`;
  return `${writeExpression(left)} ${kind} ${writeExpression(right)} until ${further}`;
}

/** One of several outcomes that share the signal out: a sign, whose other side is another value. */
function isShared(inquiry: Inquiry, ask: Ask, bound: BoundTest): boolean {
  const opposite = (one: BoundTest) =>
    isUp(one.kind) !== isUp(bound.kind) && writeExpression(one.left) === writeExpression(bound.left);
  return inquiry.asks.some(
    (other) =>
      other.output === ask.output &&
      writeExpression(other.value) !== writeExpression(ask.value) &&
      turnsOf(inquiry, other.conditions).some((turn) => opposite(turn.bound)),
  );
}

/** A signal that goes back and forth between two values each minute switches the output each time. */
function showsTurns(
  inquiry: Inquiry,
  ask: Ask,
  others: readonly Condition[],
  signal: Expression,
  [low, high]: readonly [number, number],
) {
  const { scene } = inquiry;
  const near = stepOf(inquiry.unitOf(signal)) / 2;
  // What is made up of several readings comes near a value, and seldom to it.
  const at = (base: number, when?: number) =>
    [0, near].reduce<Situation | undefined>(
      (found, by) => found ?? scene.find([...others, inquiry.isAt(signal, base, by)], { at: when, of: ask.output }),
      undefined,
    );
  const one = at(low);
  const other = one && at(high, one.at);
  if (!one || !other) return undefined;
  const back = Array.from(
    { length: 9 },
    (_, minute): Stage => ({
      at: one.at + (minute + 1) * MINUTE,
      values: minute % 2 === 0 ? other.values : one.values,
    }),
  );
  return turns(scene, ask, [...scene.leadingTo(one), ...back]);
}

function turns(scene: Scene, ask: Ask, stages: readonly Stage[]) {
  const condition: Condition = { kind: "is", left: { kind: "value", of: ask.output }, right: ask.value };
  const often: Condition = {
    kind: "at least",
    left: { kind: "count", condition },
    right: { kind: "number", value: 4, unit: "" },
  };
  const ends = (stages.at(-1)?.at ?? 0) + MINUTE;
  return scene.shows(`${ask.output} switches at each report`, stages, [{ claim: "holds", condition: often }], ends);
}

/** Two event sentences that switch an output on and off at the same point, or with the points crossed. */
function pairs(inquiry: Inquiry): Draft[] {
  const asks = inquiry.asks.filter((ask) => ask.way === "for good" && ask.event && switches(inquiry, ask));
  return asks.flatMap((up, index) =>
    asks.slice(index + 1).flatMap((down): Draft[] => {
      if (up.output !== down.output || writeExpression(up.value) === writeExpression(down.value)) return [];
      return crossings(inquiry, up, down);
    }),
  );
}

function crossings(inquiry: Inquiry, one: Ask, other: Ask): Draft[] {
  const bounds = ({ event }: Ask) =>
    risingOf(event?.when ?? [])
      .flatMap(conjuncts)
      .filter(isBound);
  return bounds(one).flatMap((first) =>
    bounds(other).flatMap((second): Draft[] => {
      const same = writeExpression(first.left) === writeExpression(second.left);
      if (!same || isUp(first.kind) === isUp(second.kind) || inquiry.measuredIn(first.left).length === 0) return [];
      const [rises, falls] = isUp(first.kind) ? [first, second] : [second, first];
      const [above, below] = [inquiry.scene.figure(rises.right), inquiry.scene.figure(falls.right)];
      const unit = inquiry.unitOf(first.left);
      const step = stepOf(unit);
      if (!(above - below < step)) return [];
      const shows = showsTurns(inquiry, one, [...one.conditions, ...other.conditions], first.left, [below - step, above + step]);
      if (!shows) return [];
      const signal = writeExpression(first.left);
      return [
        {
          code: "chatter",
          about: other.about,
          reason: `${one.output} is set to ${writeExpression(one.value)} and ${writeExpression(other.value)} at the same value of ${signal}, ${inquiry.say(above, unit)}. Readings that fluctuate around it switch it every time.`,
          remedy: `Leave some distance between the two, or write one \`keep ${signal} at ${writeExpression(rises.right)} ± …\`.`,
          related: [{ about: one.about, says: writeExpression(one.value) }],
          shows,
        },
      ];
    }),
  );
}

/** A lamp that lights its own sensor by more than the band is wide. */
function ownEffect(inquiry: Inquiry): Draft[] {
  const { house, scene } = inquiry;
  return inquiry.asks.flatMap((ask) =>
    ask.way !== "held" || ask.keep
      ? []
      : ask.conditions.flatMap((condition): Draft[] => {
          if (condition.kind !== "until" || !isBound(condition.condition) || !isBound(condition.reset)) return [];
          const { left: signal, kind } = condition.condition;
          const [sensor] = inquiry.measuredIn(signal);
          if (!sensor || isUp(kind) || writeExpression(condition.reset.left) !== writeExpression(signal)) return [];
          const gives = house.physics.effects.find(
            (one) => one.kind === "gives" && one.what === "light" && one.output === ask.output,
          );
          const zone = ask.output.split(".")[0] as string;
          if (gives?.kind !== "gives" || !isIn(zone, sensor.name)) return [];
          const [begins, ends] = [scene.figure(condition.condition.right), scene.figure(condition.reset.right)];
          if (!(gives.amount >= ends - begins)) return [];
          const unit = inquiry.unitOf(signal);
          const dark = begins - stepOf(unit);
          const others = ask.conditions.filter((one) => one !== condition);
          const shows = showsTurns(inquiry, ask, others, signal, [dark, dark + gives.amount + 2 * stepOf(unit)]);
          return [
            {
              code: "chatter",
              about: ask.about,
              reason: `${ask.output} adds ${inquiry.say(gives.amount, unit)} to ${writeExpression(signal)}, but its band is only ${inquiry.say(begins, unit)} to ${inquiry.say(ends, unit)}: it switches itself off and on again.`,
              remedy: `Make it stop above ${writeOffset(inquiry, condition.condition.right, Math.ceil((begins + gives.amount * 1.2) / 10) * 10 - begins)}.`,
              ...(shows && { shows }),
            },
          ];
        }),
  );
}

/** A band narrower than what its sensor can tell: its step (`scale`), or its noise (`wobbles by` of a trial). */
function fineBands(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask) =>
    ask.way !== "held"
      ? []
      : ask.conditions.flatMap((condition): Draft[] => {
          if (condition.kind !== "until" || !isBound(condition.condition) || !isBound(condition.reset)) return [];
          const { left: signal, right } = condition.condition;
          const width = Math.abs(inquiry.scene.figure(condition.reset.right) - inquiry.scene.figure(right));
          const unit = inquiry.unitOf(signal);
          const [sensor] = signal.kind === "value" ? inquiry.measuredIn(signal) : [];
          const coarse = sensor ? graininess(inquiry, sensor) : undefined;
          if (!sensor || !coarse || !(width < coarse.size)) return [];
          const difference = differenceUnit(unit);
          const say = (size: number) => writeFigure(size / units[difference].factor, difference);
          return [
            {
              code: "chatter",
              about: ask.about,
              reason: `The band of ${ask.output} is only ${say(width)} wide, but ${sensor.name} ${coarse.says} ${say(coarse.size)}: that alone switches it.`,
              remedy: `Make the band wider than ${say(coarse.size)}, or smooth the sensor: \`smooth over 5 min\`.`,
            },
          ];
        }),
  );
}

function graininess(
  { house, scene }: Inquiry,
  { name, scale, smoothOver, type }: Sensor,
): { size: number; says: string } | undefined {
  if (smoothOver || type.kind !== "number") return undefined;
  const noise = house.trials.flatMap(({ happenings }) =>
    happenings.flatMap(({ what }) =>
      what.kind === "wobbles by" && what.name === name ? [2 * Math.abs(scene.figure(what.by))] : [],
    ),
  );
  const step = scale === undefined ? 0 : Math.abs(scale) * units[type.unit].factor;
  const most = Math.max(0, ...noise.filter((size) => !Number.isNaN(size)));
  if (most === 0 && step === 0) return undefined;
  return most > step ? { size: most, says: "fluctuates by" } : { size: step, says: "reads in steps of" };
}
