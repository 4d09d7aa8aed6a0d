// Reports by which comparisons turn while nothing that rests on these does: motion ends, and `moving in the last 10 min`
// stays true; it gets dark while nobody is there. They are taken without a step. More may come in the same instant, and
// turn them back: of what stood within an instant alone `for` and `in the last` keep no trace, and all else that may rest
// on such a comparison remembers nothing.
import { oncePer } from "../house/index.js";
import { AND, compared, FOR, IN_THE_LAST, isComparison, OR, UNTIL } from "./codes.js";
import type { Graph, Node } from "./graph.js";
import type { Layout } from "./layout.js";
import type { Memory } from "./memory.js";
import type { Moving } from "./moving.js";
import { ops } from "./ops.js";
import { packed } from "./packed.js";
import type { Quiet } from "./quiet.js";
import { HELD, SINCE, type State } from "./state.js";

// The plan of a sensor: one after another what uses it. That is an UNTIL and its node, or a comparison: its code, node, left
// and right side, whether it may turn, how many nodes use it, and of each of these its code, node and second part. In one
// list, as it is read at every tenth report (measured: half the time of looking each up where it lies).
const USERS_AT = 6;
const USER_SIZE = 3;

/** What uses each sensor, worked out once for all that run a graph. */
interface Plans {
  readonly plan: Int32Array;
  readonly planAt: Int32Array;
  /** Windows over a sensor that somebody looks at now and then, and that turn nothing. */
  readonly windows: Int32Array;
  readonly windowsAt: Int32Array;
  /** Sensors with a plan. */
  readonly mayAbsorb: Uint8Array;
}

const plansOf: (layout: Layout) => Plans = oncePer((layout) => {
  const { graph } = layout;
  const plans = graph.nodes.map((_, node) => (layout.told[node] === 1 ? undefined : planOf(node, graph, layout)));
  const [plan, planAt] = packed(plans.map((one) => one ?? []));
  const [windows, windowsAt] = packed(
    graph.nodes.map(({ op }, node) =>
      op === "sensor" ? usersOf(node, layout).filter((user) => isIdleWindow(user, graph, layout)) : [],
    ),
  );
  return { plan, planAt, windows, windowsAt, mayAbsorb: Uint8Array.from(plans, (one) => (one ? 1 : 0)) };
});

export class Absorbed {
  readonly #layout: Layout;
  readonly #state: State;
  readonly #values: Float64Array;
  readonly #memory: Memory;
  readonly #moving: Moving;
  readonly #quiet: Quiet;
  readonly #plan: Int32Array;
  readonly #planAt: Int32Array;
  readonly #windows: Int32Array;
  readonly #windowsAt: Int32Array;
  readonly #mayAbsorb: Uint8Array;
  /** Where in the plan the comparisons that turned are, while a report is looked at: the first so many. */
  readonly #turned: Int32Array;
  #count = 0;

  constructor(layout: Layout, state: State, memory: Memory, moving: Moving, quiet: Quiet) {
    this.#layout = layout;
    this.#state = state;
    this.#values = state.values;
    this.#memory = memory;
    this.#moving = moving;
    this.#quiet = quiet;
    const { plan, planAt, windows, windowsAt, mayAbsorb } = plansOf(layout);
    this.#plan = plan;
    this.#planAt = planAt;
    this.#windows = windows;
    this.#windowsAt = windowsAt;
    this.#mayAbsorb = mayAbsorb;
    this.#turned = new Int32Array(plan.length);
  }

  /** Takes such a report; false where more may turn, or the report may be no good one, and nothing was taken. */
  take(sensor: number, value: number, at: number): boolean {
    if (this.#mayAbsorb[sensor] !== 1 || !this.#quiet.isPlain(sensor, value)) return false;
    const state = this.#state;
    const values = this.#values;
    const before = values[sensor] as number;
    const now = state.now;
    values[sensor] = value;
    state.now = at;
    this.#count = 0;
    const isAbsorbed = this.#turnUsers(sensor) && this.#usersStay();
    if (isAbsorbed) {
      this.#usersTakeNote();
      state.kept[4 * sensor + SINCE] = at;
      state.kept[4 * sensor + HELD] = value;
      const end = this.#windowsAt[sensor + 1] as number;
      for (let place = this.#windowsAt[sensor] as number; place < end; place++) this.#moving.take(this.#windows[place] as number);
      this.#unsettle(sensor);
    } else {
      this.#turnBack();
      values[sensor] = before;
    }
    state.now = now;
    return isAbsorbed;
  }

  /** Turns the comparisons that a sensor's new value turns; false where one must not, or an `until` does not stay. */
  #turnUsers(sensor: number): boolean {
    const plan = this.#plan;
    const values = this.#values;
    const end = this.#planAt[sensor + 1] as number;
    for (let at = this.#planAt[sensor] as number; at < end; ) {
      const code = plan[at] as number;
      const node = plan[at + 1] as number;
      if (code === UNTIL) {
        if (!this.#staysUntil(node)) return false;
        at += 2;
        continue;
      }
      const before = values[node] as number;
      const after = compared(code, values[plan[at + 2] as number] as number, values[plan[at + 3] as number] as number);
      if (after !== before) {
        if (plan[at + 4] === 0 || Number.isNaN(before + after)) return false;
        values[node] = after;
        this.#turned[this.#count++] = at;
      }
      at += USERS_AT + USER_SIZE * (plan[at + 5] as number);
    }
    return true;
  }

  #turnBack(): void {
    for (let place = 0; place < this.#count; place++) {
      const comparison = this.#plan[(this.#turned[place] as number) + 1] as number;
      this.#values[comparison] = 1 - (this.#values[comparison] as number);
    }
  }

  /** Its memory stays too. */
  #staysUntil(node: number): boolean {
    const isSet = this.#quiet.side(this.#layout.first[node] as number);
    const isReset = this.#quiet.side(this.#layout.second[node] as number);
    const held = this.#state.kept[4 * node + HELD] as number;
    if (Number.isNaN(isSet + isReset) || held !== this.#values[node]) return false;
    return held === (isReset === 1 ? 0 : isSet === 1 ? 1 : held);
  }

  // What uses the comparisons that turned is gone through twice, in two loops: one for both, with what it does given to it,
  // costs a twentieth of a year's time (measured), as its numbers are boxed at each call.

  /** Whether all that uses the comparisons that turned is what it was. */
  #usersStay(): boolean {
    const plan = this.#plan;
    const values = this.#values;
    for (let place = 0; place < this.#count; place++) {
      const at = this.#turned[place] as number;
      const condition = values[plan[at + 1] as number] as number;
      const end = at + USERS_AT + USER_SIZE * (plan[at + 5] as number);
      for (let user = at + USERS_AT; user < end; user += USER_SIZE) {
        const node = plan[user + 1] as number;
        const duration = values[plan[user + 2] as number] as number;
        if (this.#valueOf(plan[user] as number, node, condition, duration) !== values[node]) return false;
      }
    }
    return true;
  }

  #valueOf(code: number, node: number, condition: number, duration: number): number {
    if (code === FOR) return this.#memory.forNow(node, condition, duration);
    if (code === IN_THE_LAST) return this.#memory.inTheLastNow(node, condition, duration);
    return this.#layout.joined(this.#values, node, code === AND ? 0 : 1);
  }

  /** What remembers takes note; the others have nothing to remember. */
  #usersTakeNote(): void {
    const plan = this.#plan;
    const values = this.#values;
    for (let place = 0; place < this.#count; place++) {
      const at = this.#turned[place] as number;
      const condition = values[plan[at + 1] as number] as number;
      const end = at + USERS_AT + USER_SIZE * (plan[at + 5] as number);
      for (let user = at + USERS_AT; user < end; user += USER_SIZE) {
        const node = plan[user + 1] as number;
        const duration = values[plan[user + 2] as number] as number;
        if (plan[user] === FOR) this.#memory.for(node, condition, duration);
        else if (plan[user] === IN_THE_LAST) this.#memory.inTheLast(node, condition, duration);
      }
    }
  }

  /** Where the sensor, and the other side of what compares it, is quiet may have changed; where words are is known. */
  #unsettle(sensor: number): void {
    if (!this.#quiet.moves(sensor)) return;
    this.#quiet.unsettle(sensor);
    const plan = this.#plan;
    const end = this.#planAt[sensor + 1] as number;
    for (let at = this.#planAt[sensor] as number; at < end; ) {
      if (plan[at] === UNTIL) {
        this.#quiet.unsettleFolded(plan[at + 1] as number);
        at += 2;
        continue;
      }
      this.#quiet.unsettle(plan[at + 2] as number);
      this.#quiet.unsettle(plan[at + 3] as number);
      at += USERS_AT + USER_SIZE * (plan[at + 5] as number);
    }
  }
}

/** What uses a sensor; undefined where one of them may turn with any report. */
function planOf(sensor: number, graph: Graph, layout: Layout): number[] | undefined {
  if (graph.nodes[sensor]?.op !== "sensor") return undefined;
  const { codes, first, second } = layout;
  const plan: number[] = [];
  for (const user of usersOf(sensor, layout)) {
    const code = codes[user] as number;
    if (graph.nodes[user]?.op === "is unknown" || isIdleWindow(user, graph, layout)) continue;
    if (code === UNTIL) plan.push(code, user);
    else if (isComparison(code)) {
      const above = usersOf(user, layout);
      // What lasts is the comparison, not how long it has to last.
      const lasts = (node: number) => codes[node] === FOR || codes[node] === IN_THE_LAST;
      const stays = (node: number) =>
        codes[node] === AND || codes[node] === OR || (lasts(node) && first[node] === user && second[node] !== user);
      const mayTurn = !graph.asked.has(user) && layout.told[user] === 0 && above.every(stays);
      plan.push(code, user, first[user] as number, second[user] as number, mayTurn ? 1 : 0, above.length);
      for (const node of above) plan.push(codes[node] as number, node, second[node] as number);
    } else return undefined;
  }
  return plan;
}

/** One of which nobody is told, neither of itself nor of what follows from it. */
function isIdleWindow(node: number, { nodes }: Graph, layout: Layout): boolean {
  const { op } = nodes[node] as Node;
  return ops[op].window === true && usersOf(node, layout).length === 0 && layout.told[node] === 0;
}

function usersOf(node: number, { users, usersAt }: Layout): number[] {
  return [...users.subarray(usersAt[node], usersAt[node + 1])];
}
