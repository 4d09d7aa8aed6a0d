// Nodes that remember: when a condition began, what was held until its end, where a cycle stands.
import { HELD, MARK, SINCE, type State } from "./state.js";

export class Memory {
  readonly #state: State;
  readonly #kept: Float64Array;

  constructor(state: State) {
    this.#state = state;
    this.#kept = state.kept;
  }

  /** Known until its report is `after` old, that instant excluded. */
  sensor(node: number, after: number): number {
    const since = this.#kept[4 * node + SINCE] as number;
    if (Number.isNaN(since) || Number.isNaN(after)) return Number.NaN;
    if (this.#state.now - since >= after) return Number.NaN;
    // A later report only moves the deadline out: it is looked at again when the earlier one falls due.
    const end = Math.ceil(since + after);
    if (this.#state.due(node) > end) this.#state.plan(node, end);
    return this.#kept[4 * node + HELD] as number;
  }

  for(node: number, condition: number, duration: number): number {
    const { now } = this.#state;
    if (condition !== 1) {
      if (!Number.isNaN(this.#kept[4 * node + SINCE] as number)) {
        this.#kept[4 * node + HELD] = this.#kept[4 * node + SINCE] as number;
        this.#kept[4 * node + MARK] = now;
        this.#kept[4 * node + SINCE] = Number.NaN;
      }
      this.#state.unplan(node);
      return condition === 0 ? 0 : Number.NaN;
    }
    this.#kept[4 * node + SINCE] = this.#begun(node);
    if (Number.isNaN(duration)) return Number.NaN;
    const end = Math.ceil((this.#kept[4 * node + SINCE] as number) + duration);
    if (now >= end) {
      this.#state.unplan(node);
      return 1;
    }
    this.#state.plan(node, end);
    return 0;
  }

  /** The same without taking note of it: what steps see of what they have just set. */
  forNow(node: number, condition: number, duration: number): number {
    if (condition !== 1 || Number.isNaN(duration)) return condition === 0 ? 0 : Number.NaN;
    return this.#state.now >= Math.ceil(this.#begun(node) + duration) ? 1 : 0;
  }

  /** Since when the condition of a `for` holds: as before it was broken, where that was within this instant. */
  #begun(node: number): number {
    const { now, ending } = this.#state;
    if (!Number.isNaN(this.#kept[4 * node + SINCE] as number)) return this.#kept[4 * node + SINCE] as number;
    return this.#kept[4 * node + MARK] === now && !ending ? (this.#kept[4 * node + HELD] as number) : now;
  }

  inTheLast(node: number, condition: number, duration: number): number {
    const { now } = this.#state;
    const risen = !Number.isNaN(this.#kept[4 * node + MARK] as number);
    if (condition === 1) {
      if (!risen) {
        this.#kept[4 * node + HELD] = this.#kept[4 * node + SINCE] as number;
        this.#kept[4 * node + MARK] = now;
      }
      this.#state.unplan(node);
      return 1;
    }
    if (risen) {
      this.#kept[4 * node + SINCE] = this.#lastSeen(node);
      this.#kept[4 * node + MARK] = Number.NaN;
    }
    const end = Math.ceil((this.#kept[4 * node + SINCE] as number) + duration);
    if (now < end) {
      this.#state.plan(node, end);
      return 1;
    }
    this.#state.unplan(node);
    return Number.isNaN(duration) || Number.isNaN(condition) ? Number.NaN : 0;
  }

  /** The same without taking note of it: what steps see of what they have just set. */
  inTheLastNow(node: number, condition: number, duration: number): number {
    if (condition === 1) return 1;
    if (this.#state.now < Math.ceil(this.#lastSeen(node) + duration)) return 1;
    return Number.isNaN(duration) || Number.isNaN(condition) ? Number.NaN : 0;
  }

  /** Until when it was so, where it is so no more: what was so within this instant alone has not been. */
  #lastSeen(node: number): number {
    const { now, ending } = this.#state;
    if (Number.isNaN(this.#kept[4 * node + MARK] as number)) return this.#kept[4 * node + SINCE] as number;
    return this.#kept[4 * node + MARK] === now && !ending ? (this.#kept[4 * node + HELD] as number) : now;
  }

  until(node: number, condition: number, reset: number): number {
    if (reset === 1) {
      this.#kept[4 * node + HELD] = 0;
      return 0;
    }
    if (Number.isNaN(reset)) return Number.NaN;
    if (condition === 1) this.#kept[4 * node + HELD] = 1;
    if (this.#kept[4 * node + HELD] === 1) return 1;
    return condition === 0 ? 0 : Number.NaN;
  }

  /** Ends by itself too, and does not begin again before its condition has been false. */
  untilAtMost(node: number, condition: number, reset: number, atMost: number): number {
    const { now } = this.#state;
    this.#state.unplan(node);
    // What may last for nothing never begins; what is not known does not limit.
    if (atMost <= 0) return 0;
    const most = Number.isNaN(atMost) ? Number.POSITIVE_INFINITY : atMost;
    if (condition === 0) this.#kept[4 * node + HELD] = 0;
    if (reset === 1) this.#kept[4 * node + SINCE] = Number.NaN;
    if (now >= (this.#kept[4 * node + SINCE] as number) + most) {
      this.#kept[4 * node + SINCE] = Number.NaN;
      this.#kept[4 * node + HELD] = condition === 0 ? 0 : 1;
    }
    if (this.#kept[4 * node + HELD] === 1 || reset === 1) return 0;
    this.#planLimit(node, most);
    if (Number.isNaN(reset)) return Number.NaN;
    if (condition === 1 && Number.isNaN(this.#kept[4 * node + SINCE] as number)) {
      this.#kept[4 * node + SINCE] = now;
      this.#planLimit(node, most);
    }
    if (Number.isNaN(this.#kept[4 * node + SINCE] as number)) return condition === 0 ? 0 : Number.NaN;
    return 1;
  }

  /** It ends so long after it began, also while nobody knows whether it has been reset. */
  #planLimit(node: number, most: number): void {
    const over = (this.#kept[4 * node + SINCE] as number) + most;
    if (Number.isFinite(over)) this.#state.plan(node, Math.ceil(over));
  }

  /** Ends by itself too, and then pauses; an end by the reset has no pause. */
  limitedUntil(node: number, condition: number, reset: number, atMost: number, pause: number): number {
    const { now } = this.#state;
    this.#state.unplan(node);
    // What may last for nothing never begins.
    if (atMost <= 0) return 0;
    if (reset === 1) this.#kept[4 * node + SINCE] = Number.NaN;
    const over = (this.#kept[4 * node + SINCE] as number) + atMost;
    if (now >= over) {
      this.#kept[4 * node + SINCE] = Number.NaN;
      this.#kept[4 * node + MARK] = Math.ceil(over + pause);
    }
    if (now < (this.#kept[4 * node + MARK] as number)) {
      this.#state.plan(node, this.#kept[4 * node + MARK] as number);
      return 0;
    }
    this.#kept[4 * node + MARK] = Number.NaN;
    if (reset === 1) return 0;
    this.#planLimit(node, atMost);
    if (Number.isNaN(reset) || Number.isNaN(atMost) || Number.isNaN(pause)) return Number.NaN;
    if (condition === 1 && Number.isNaN(this.#kept[4 * node + SINCE] as number)) {
      this.#kept[4 * node + SINCE] = now;
      this.#planLimit(node, atMost);
    }
    if (Number.isNaN(this.#kept[4 * node + SINCE] as number)) return condition === 0 ? 0 : Number.NaN;
    return 1;
  }

  /** On and off in turn from when it began to apply. */
  cycle(node: number, applies: number, on: number, off: number): number {
    const { now } = this.#state;
    this.#state.unplan(node);
    if (applies !== 1 || !(on > 0) || Number.isNaN(off)) {
      this.#kept[4 * node + SINCE] = Number.NaN;
      return 0;
    }
    if (Number.isNaN(this.#kept[4 * node + SINCE] as number)) this.#kept[4 * node + SINCE] = now;
    const period = on + Math.max(0, off);
    const begun = this.#kept[4 * node + SINCE] as number;
    const turn = begun + Math.floor((now - begun) / period) * period;
    const isOn = now < turn + on;
    this.#state.plan(node, Math.max(now + 1, Math.ceil(isOn ? turn + on : turn + period)));
    return isOn ? 1 : 0;
  }

  /** On for the share taken at the beginning of each cycle; less than 4 % and more than 96 % are rounded off. */
  shareCycle(node: number, applies: number, share: number, length: number): number {
    const { now } = this.#state;
    this.#state.unplan(node);
    if (applies !== 1 || !(length > 0)) {
      this.#kept[4 * node + SINCE] = Number.NaN;
      return 0;
    }
    if (Number.isNaN(this.#kept[4 * node + SINCE] as number)) {
      this.#kept[4 * node + SINCE] = now;
      this.#kept[4 * node + HELD] = share;
    }
    // However many cycles went by: what has been so for ever began very long ago.
    const passed = Math.floor((now - (this.#kept[4 * node + SINCE] as number)) / length);
    if (passed > 0) {
      this.#kept[4 * node + SINCE] = (this.#kept[4 * node + SINCE] as number) + passed * length;
      this.#kept[4 * node + HELD] = share;
    }
    const begun = this.#kept[4 * node + SINCE] as number;
    const taken = this.#kept[4 * node + HELD] as number;
    const rounded = taken < 0.04 ? 0 : taken > 0.96 ? 1 : taken;
    const off = begun + rounded * length;
    this.#state.plan(node, Math.max(now + 1, Math.ceil(now < off && rounded < 1 ? off : begun + length)));
    return now < off ? 1 : 0;
  }
}
