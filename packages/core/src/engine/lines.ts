// Lines of some expressions, and what was told, without the rest of a past: enough to draw, and taken at a fraction of the cost.
import { Keys, type Series } from "../expression/index.js";
import type { Expression, House } from "../house/index.js";
import { compile } from "./compile.js";
import type { Engine } from "./interface.js";
import { type NoticeRecord, type Past, type ProblemRecord, valueAt } from "./past.js";

/** What drawing reads of a past. */
export type Drawable = Pick<Past, "house" | "line" | "value" | "notices" | "problems">;

/** A stretch of a house's life that can be drawn. */
export interface DrawableRun {
  readonly past: Drawable;
  /** Milliseconds since 1970 UTC. */
  readonly from: number;
  readonly to: number;
}

interface Line {
  readonly times: number[];
  readonly values: number[];
}

const nothing: Series = { times: [], values: [] };

/** Looks at a house that runs, with these expressions watched, whenever it is told to. */
export class Lines implements Drawable {
  readonly watch: readonly Expression[];
  readonly #lines: readonly Line[];
  readonly #places: ReadonlyMap<string, number>;
  readonly #read: Float64Array;
  readonly #turned: Int32Array;
  readonly #notices: NoticeRecord[] = [];
  readonly #problems: ProblemRecord[] = [];

  /** @param expressions what is to be read of it; of what the house does not reckon, nothing is known here either */
  constructor(
    readonly house: House,
    expressions: readonly Expression[],
  ) {
    const reckoned = new Set(compile(house).graph.nodes.map(({ key }) => key));
    const keys = new Keys(house);
    const known = expressions.filter((one) => keys.isKnown(one, (key) => reckoned.has(key)));
    const watched = new Map(known.map((one) => [JSON.stringify(one), one]));
    this.watch = [...watched.values()];
    this.#places = new Map([...watched.keys()].map((key, place) => [key, place]));
    this.#lines = this.watch.map(() => ({ times: [], values: [] }));
    this.#read = new Float64Array(watched.size).fill(Number.NaN);
    this.#turned = new Int32Array(watched.size);
  }

  /** Takes down what has turned by an instant, of an engine that was made with `watch`. */
  look(engine: Engine, at: number): void {
    const count = engine.readTurned(this.#read, this.#turned);
    for (let one = 0; one < count; one++) {
      const place = this.#turned[one] as number;
      const { times, values } = this.#lines[place] as Line;
      times.push(at);
      values.push(this.#read[place] as number);
    }
    for (const { at: when, text, through } of engine.takeNotices())
      this.#notices.push({ at: when, text, ...(through !== undefined && { through }) });
    this.#problems.push(...engine.takeProblems());
    engine.takeMessages();
  }

  line(expression: Expression): Series {
    const place = this.#places.get(JSON.stringify(expression));
    return place === undefined ? nothing : (this.#lines[place] as Line);
  }

  value(expression: Expression, at: number): number {
    return valueAt(this.line(expression), at);
  }

  notices(from: number, to: number): readonly NoticeRecord[] {
    return this.#notices.filter(({ at }) => at >= from && at <= to);
  }

  problems(from: number, to: number): readonly ProblemRecord[] {
    return this.#problems.filter(({ at }) => at >= from && at <= to);
  }
}
