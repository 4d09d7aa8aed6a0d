// Values and conditions of a house as TypeScript that makes them.
import { type Case, type DayTime, type Expression, sayValue } from "../house/index.js";
import type { Unit } from "../units/index.js";
import type { Names } from "./names.js";
import { call, list, record, type Source, text } from "./source.js";

const bounds = { above: "above", below: "below", "at least": "atLeast", "at most": "atMost" } as const;
const sums = { plus: "plus", minus: "minus", times: "times", divided: "dividedBy" } as const;
const ofAir = {
  abs: "abs",
  round: "round",
  dew_point: "dewPoint",
  absolute_humidity: "absoluteHumidity",
  vapour_pressure_deficit: "vapourPressureDeficit",
  felt_temperature: "feltTemperature",
} as const;
const ofClock = { time: "clockTime", date: "clockDate", weekday: "clockWeekday" } as const;
const lengths = [
  ["hours", 3600e3],
  ["minutes", 60e3],
  ["seconds", 1e3],
] as const;

const clockText = (ms: number) => sayValue({ kind: "time" }, ms);

/** Writes expressions with the names of a house. */
export class TermWriter {
  constructor(readonly names: Names) {}

  call(name: string, ...items: readonly Source[]): Source {
    return call(this.names.library(name), ...items);
  }

  quantity(value: number, unit: Unit): Source {
    const [name, length] = unit === "ms" ? (lengths.find(([, one]) => value % one === 0) ?? []) : [];
    if (name !== undefined) return this.call(name, String(value / length));
    this.names.usesQuantity = true;
    return call("quantity", String(value), text(unit));
  }

  /** Where an amount is wanted: fixed ones as they are. */
  amount(of: Expression): Source {
    return of.kind === "number" ? this.quantity(of.value, of.unit) : this.term(of);
  }

  /** Where a kind is wanted: constants as they are written. */
  operand(of: Expression): Source {
    switch (of.kind) {
      case "number":
        return this.quantity(of.value, of.unit);
      case "word":
        return text(of.word);
      case "time":
        return text(clockText(of.ms));
      case "date":
        return text(of.date);
      case "instant":
        return text(`${of.date} ${clockText(of.ms)}`);
      case "colour":
        return text(of.colour);
      default:
        return this.term(of);
    }
  }

  /** A time of day that may be one of the sun. */
  dayTime({ sun, time }: DayTime): Source {
    if (sun === undefined) return this.operand(time);
    const event = this.call("sunTime", text(sun));
    if (time.kind === "number") {
      if (time.value === 0) return event;
      return this.call(time.value < 0 ? "minus" : "plus", event, this.quantity(Math.abs(time.value), "ms"));
    }
    if (time.kind !== "plus" && time.kind !== "minus") return this.call("plus", event, this.amount(time));
    return this.call(time.kind, this.dayTime({ sun, time: time.left }), this.amount(time.right));
  }

  /** A value or condition. */
  term(of: Expression): Source {
    switch (of.kind) {
      case "number":
        return this.call("fixed", String(of.value), text(of.unit));
      case "word":
        return this.call("word", list(of.of.map(text)), text(of.word));
      case "time":
        return this.call("time", text(clockText(of.ms)));
      case "date":
        return this.call("date", text(of.date));
      case "instant":
        return this.call("instant", text(of.date), text(clockText(of.ms)));
      case "colour":
        return this.call("colour", text(of.colour));
      case "unknown":
        return this.names.library("unknown");
      case "value":
        return this.names.of(of.of);
      case "age":
        return this.call("age", this.names.of(of.of));
      case "remaining":
        return this.call("remaining", this.names.of(of.countdown));
      case "last amount":
        return this.call("lastAmount", this.names.of(of.output));
      case "rest":
        return this.call("rest", this.names.of(of.of));
      case "begins in":
        return this.call("beginsIn", this.names.of(of.schedule));
      case "ends in":
        return this.call("endsIn", this.names.of(of.schedule));
      case "sun":
        return this.names.library(of.what === "elevation" ? "sunElevation" : "sunAzimuth");
      case "sun time":
        return this.call("sunTime", text(of.event));
      case "clock":
        return this.names.library(ofClock[of.what]);
      case "plus":
      case "minus":
      case "divided":
        return this.call(sums[of.kind], this.term(of.left), this.amount(of.right));
      case "times": {
        const isFactor = of.right.kind === "number" && of.right.unit === "";
        return this.call("times", this.term(of.left), isFactor ? this.amount(of.right) : this.term(of.right));
      }
      case "negative":
        return this.call("negative", this.term(of.of));
      case "if": {
        const otherwise = of.then.kind === "unknown" ? this.term(of.else) : this.operand(of.else);
        return this.call("choose", this.term(of.condition), this.term(of.then), otherwise);
      }
      case "pick":
        return this.call("pick", this.term(of.by), list(of.cases.map((one) => this.#case(one))));
      case "of several": {
        const known = of.known > 1 ? [String(of.known)] : [];
        return this.call("aggregate", text(of.function), list(of.of.map((one) => this.term(one))), ...known);
      }
      case "call": {
        const [first, ...more] = of.of;
        const isOfAir = more.length > 0;
        const parts = of.of.map((one) => (isOfAir ? this.amount(one) : this.term(one)));
        return first ? this.call(ofAir[of.function], ...parts) : "";
      }
      case "clamp":
        return this.call("clamp", this.term(of.value), list([this.amount(of.low), this.amount(of.high)]));
      case "scale": {
        const from = list([this.amount(of.from.low), this.amount(of.from.high)]);
        return this.call("scale", this.term(of.value), from, list([this.term(of.to.low), this.amount(of.to.high)]));
      }
      case "over":
        return this.call("over", text(of.function), this.term(of.value), this.amount(of.over));
      case "above":
      case "below":
      case "at least":
      case "at most":
        return this.call(bounds[of.kind], this.term(of.left), this.operand(of.right));
      case "between":
        return this.call("between", this.term(of.value), this.operand(of.low), this.operand(of.high));
      case "is":
        if (of.right.kind === "unknown") return this.call("isUnknown", this.term(of.left));
        return this.call("is", this.term(of.left), this.operand(of.right));
      case "pressed":
        return this.call("isPressed", this.names.of(of.sensor));
      case "running":
        return this.call("isRunning", this.names.of(of.countdown));
      case "disobeys":
        return this.call("disobeys", this.names.of(of.output));
      case "not":
        if (of.of.kind === "during") return this.call("outside", this.names.of(of.of.schedule));
        return this.call("not", this.term(of.of));
      case "and":
      case "or":
        return this.call(of.kind === "and" ? "all" : "any", ...of.of.map((one) => this.term(one)));
      case "for":
      case "in the last":
        return this.call(of.kind === "for" ? "lasting" : "inTheLast", this.term(of.condition), this.amount(of.duration));
      case "until": {
        const { atMost, pause } = of;
        const limit = record({ atMost: atMost && this.amount(atMost), pause: pause && this.amount(pause) });
        return this.call("until", this.term(of.condition), this.term(of.reset), ...(atMost || pause ? [limit] : []));
      }
      case "during":
        return this.call("during", this.names.of(of.schedule));
      case "clock between":
        return this.call("clockBetween", this.dayTime(of.from), this.dayTime(of.to));
      case "count":
        return this.call("countOf", this.term(of.condition));
      case "time true":
        return this.call("timeOf", this.term(of.condition));
      case "share":
        return this.call("shareOf", this.term(of.condition));
      case "told":
      case "problem":
        return this.call(of.kind, text(of.text));
      case "sent":
        return this.call("sent", text(of.text), text(of.to));
      default:
        throw new RangeError(`no such expression: ${JSON.stringify(of satisfies never)}`);
    }
  }

  #case({ if: when, then }: Case): Source {
    return record({ ...this.#head(when), then: this.term(then) });
  }

  #head(when: Case["if"]): Record<string, Source> {
    if (typeof when === "string") return { [when]: "true" };
    switch (when.kind) {
      case "above":
      case "below":
      case "at least":
      case "at most":
        return { [bounds[when.kind]]: this.operand(when.right) };
      case "between":
        return { between: list([this.operand(when.low), this.operand(when.high)]) };
      case "or":
        return { is: list(when.of.map((one) => (one.kind === "is" ? this.operand(one.right) : this.term(one)))) };
      case "is":
        return { is: this.operand(when.right) };
      default:
        throw new RangeError(`nothing is picked by ${when.kind}`);
    }
  }
}
