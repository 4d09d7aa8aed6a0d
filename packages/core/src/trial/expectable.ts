// What could be expected of a run that went as it should: offered to who makes a trial of it.
import type { Run } from "../engine/index.js";
import { type Expectation, type Expression, type Output, skyOf } from "../house/index.js";
import { DAY, dateOfDay } from "../time/index.js";
import { fromBase } from "../units/index.js";
import { expressionOf } from "./situation.js";

/** An output that changes more often than this is offered with its lowest and highest alone. */
const STRETCHES = 8;
const SECOND = 1000;

/** Of an instant and a text. */
interface Told {
  readonly at: number;
  readonly text: string;
}

/**
 * Expectations that hold of a run: what each output was from when to when, or all the time, and what was told. Times are
 * whole seconds within what was so.
 */
export function expectable(run: Run): Expectation[] {
  const { past, from, to } = run;
  const { clock } = skyOf(past.house);
  const isLong = to - from > DAY;
  const moment = (at: number): Expression => {
    const { day, ms } = clock.local(at);
    return isLong ? { kind: "instant", date: dateOfDay(day), ms } : { kind: "time", ms };
  };
  const ofOutput = ({ name, type }: Output): Expectation[] => {
    const of: Expression = { kind: "value", of: name };
    const { times, values } = past.line(of);
    const stretches = times
      .map((time, place) => ({
        from: Math.max(from, time),
        to: Math.min(to, times[place + 1] ?? to),
        value: values[place] as number,
      }))
      // The last instant belongs to it, and may be the first of something else.
      .filter((one) => one.to > one.from || (one.from === to && one.to === to));
    const known = stretches.filter(({ value }) => !Number.isNaN(value));
    if (known.length === 0 || known.length < stretches.length) return [];
    const is = (value: number): Expression => ({ kind: "is", left: of, right: expressionOf(value, type) });
    if (stretches.length === 1) return [{ claim: "always", condition: is((stretches[0] as { value: number }).value) }];
    if (stretches.length > STRETCHES) {
      if (type.kind !== "number") return [];
      const own = stretches.map(({ value }) => fromBase(value, type.unit));
      const number = (value: number): Expression => ({ kind: "number", value, unit: type.unit });
      // Outwards to tenths, as people write them.
      const low = number(Math.floor(Math.min(...own) * 10) / 10);
      const high = number(Math.ceil(Math.max(...own) * 10) / 10);
      return [{ claim: "always", condition: { kind: "between", value: of, low, high } }];
    }
    return stretches.flatMap((one): Expectation[] => {
      const [begins, ends] = [Math.ceil(one.from / SECOND) * SECOND, Math.floor(one.to / SECOND) * SECOND];
      return ends > begins ? [{ claim: "holds", condition: is(one.value), from: moment(begins), to: moment(ends) }] : [];
    });
  };
  const ofNotice = ({ at, text }: Told): Expectation[] =>
    at % SECOND === 0 ? [{ claim: "holds", condition: { kind: "told", text }, at: moment(at) }] : [];
  return [...past.house.outputs.flatMap(ofOutput), ...past.notices(from, to).flatMap(ofNotice)];
}
