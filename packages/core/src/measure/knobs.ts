// What is varied: a dial or mode, or a number that stands in a rule, over a range or a list.
import {
  type Expression,
  type House,
  misfit,
  readValue,
  replaceParts,
  type Slot,
  sayValue,
  type Value,
  visitParts,
} from "../house/index.js";
import { convert, equalNumbers, type Quantity, readUnit, toBase, type Unit, units, writeQuantity } from "../units/index.js";

/** Something that is varied, and the values it takes. */
export interface Knob {
  /** A dial or mode, or the rule, guard or let that a number stands in. */
  readonly name: string;
  /** The number as it stands there; left out for a dial or mode. */
  readonly number?: Quantity;
  /** In the own unit of the dial, or that of the number. */
  readonly values: readonly Value[];
  /** What it is now. */
  readonly today: Value;
}

/** So many values are taken of one range. */
const MOST = 10_000;

/**
 * Reads what should be varied: `bench.slack=1..8/0.5`, `bench.slack=1,2,4`, `shop=open,closed`, or a number that stands in a
 * rule, a guard or a let, as `fumes_out:25 ppm=15..40/5`. Values are in the dial's own unit unless they have one.
 * @throws RangeError when the house has no such thing, or a value does not fit it
 */
export function readKnob(house: House, text: string): Knob {
  const at = text.lastIndexOf("=");
  if (at < 1) throw new RangeError(`"${text}" does not say which values to take, as in bench.slack=1..8/0.5`);
  const [left, right] = [text.slice(0, at).trim(), text.slice(at + 1).trim()];
  const colon = left.indexOf(":");
  if (colon > 0) return numberKnob(house, left.slice(0, colon).trim(), left.slice(colon + 1).trim(), right);
  const slot = [...house.dials, ...house.modes].find(({ name }) => name === left);
  if (!slot) throw new RangeError(`the house has no dial or mode called "${left}"`);
  return { name: left, values: valuesIn(right, slot, left), today: slot.atFirst };
}

function numberKnob(house: House, name: string, written: string, range: string): Knob {
  const number = readQuantity(written);
  if (!number) throw new RangeError(`"${written}" is not a number with its unit, as in fumes_out:25 ppm=15..40/5`);
  const holder = holderOf(house, name);
  if (!holder) throw new RangeError(`the house has no rule, guard or let called "${name}"`);
  let found = 0;
  visitParts(holder, (part) => {
    if (isNumber(part as object, number)) found++;
  });
  if (found !== 1)
    throw new RangeError(
      found === 0
        ? `there is no ${writeQuantity(number)} in ${name}`
        : `${writeQuantity(number)} stands ${found} times in ${name}: make it a dial, and vary that`,
    );
  const slot: Slot = { type: { kind: "number", unit: number.unit } };
  return { name, number, values: valuesIn(range, slot, `${name}:${written}`), today: number.value };
}

const holderOf = (house: House, name: string) =>
  [...house.rules, ...house.guards, ...house.lets].find((one) => one.name === name);

function isNumber(part: object, { value, unit }: Quantity): boolean {
  const { kind, value: own, unit: ownUnit } = part as Partial<Extract<Expression, { kind: "number" }>>;
  if (kind !== "number" || own === undefined || ownUnit === undefined) return false;
  return (
    units[ownUnit].dimension === units[unit].dimension &&
    equalNumbers(toBase({ value: own, unit: ownUnit }), toBase({ value, unit }))
  );
}

/** `25 ppm`; durations in any of their units. */
function readQuantity(text: string): Quantity | undefined {
  const [, number, written = ""] = /^([+-]?\d+(?:\.\d+)?)\s*(\S*)$/.exec(text) ?? [];
  const unit = readUnit(written);
  return number === undefined || unit === undefined ? undefined : { value: Number(number), unit };
}

/** `1..8/0.5`, or `1,2,4`. */
function valuesIn(text: string, slot: Slot, name: string): Value[] {
  const [, low, high, step] = /^(.+?)\.\.(.+?)\/(.+)$/.exec(text) ?? [];
  const read = (one: string): Value => {
    const found = readValue(slot, one.trim());
    if ("misfit" in found) throw new RangeError(`${name} cannot be "${one.trim()}": ${found.misfit}`);
    return found.value;
  };
  if (low === undefined || high === undefined || step === undefined) {
    if (text.includes("..")) throw new RangeError(`"${text}" has no step, as in 1..8/0.5`);
    return [...new Set(text.split(",").map(read))];
  }
  const { type } = slot;
  if (type.kind !== "number") throw new RangeError(`${name} is no number: list its values, as in ${name}=one,other`);
  const [from, to, by] = [read(low) as number, read(high) as number, stepIn(step, type.unit)];
  if (!(by > 0) || !(from < to)) throw new RangeError(`"${text}" goes from a lower value to a higher one by steps above 0`);
  const count = Math.floor((to - from) / by + 1e-9) + 1;
  if (count > MOST) throw new RangeError(`"${text}" has ${count} values; ${MOST} are the most`);
  const values = Array.from({ length: count }, (_, place) => Number((from + place * by).toPrecision(12)));
  for (const value of values) {
    const why = misfit(slot, value);
    if (why !== undefined) throw new RangeError(`${name} cannot be ${value}: ${why}`);
  }
  return values;
}

/** A step is a difference: without a unit in that of the values. */
function stepIn(text: string, unit: Unit): number {
  const read = readQuantity(text.trim());
  if (!read) return Number.NaN;
  if (read.unit === "" || read.unit === unit) return read.value;
  if (units[read.unit].dimension === units[unit].dimension && units[unit].zero === 0) return convert(read, unit).value;
  return read.unit === "K" && units[unit].dimension === "temperature" ? read.value / units[unit].factor : Number.NaN;
}

/** A house with values in the place of what is varied: dials and modes should be set so, numbers are written into it. */
export function turned(
  house: House,
  knobs: readonly Knob[],
  values: readonly Value[],
): { readonly house: House; readonly set: Readonly<Record<string, Value>> } {
  let changed = house;
  const set: Record<string, Value> = {};
  knobs.forEach(({ name, number }, place) => {
    const value = values[place] as Value;
    if (number) changed = withNumber(changed, name, number, value as number);
    else set[name] = value;
  });
  return { house: changed, set };
}

function withNumber(house: House, name: string, number: Quantity, value: number): House {
  const replace = (part: unknown) =>
    typeof part === "object" && part !== null && isNumber(part, number)
      ? { kind: "number", ...inBaseOfTime(value, number.unit) }
      : part;
  const within = <Named extends { readonly name: string }>(list: readonly Named[]) =>
    list.map((one) => (one.name === name ? replaceParts(one, replace) : one));
  return { ...house, rules: within(house.rules), guards: within(house.guards), lets: within(house.lets) };
}

/** Durations are always milliseconds. */
function inBaseOfTime(value: number, unit: Unit): Quantity {
  return units[unit].dimension === "duration" ? { value: Math.round(toBase({ value, unit })), unit: "ms" } : { value, unit };
}

/** `bench.slack = 2.5 %RH`, `fumes_out: 30 ppm`. */
export function sayKnob(house: House, { name, number }: Knob, value: Value): string {
  if (number) return `${name}: ${writeQuantity({ value: value as number, unit: number.unit })}`;
  const slot = [...house.dials, ...house.modes].find((one) => one.name === name);
  return `${name} = ${slot ? sayValue(slot.type, value) : value}`;
}
