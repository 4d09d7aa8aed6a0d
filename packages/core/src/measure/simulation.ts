// A simulation of which only figures are kept: it may be as long as one likes, and memory does not grow with it.
import type { Notice, ProblemRecord } from "../engine/index.js";
import type { House } from "../house/index.js";
import { beginningOf, type SimulationOptions, type Stage, stage, type Watcher } from "../physics/index.js";
import { DAY } from "../time/index.js";
import type { Gauge } from "./gauge.js";
import { Gauges } from "./measure.js";
import type { MeasureOptions, Measures } from "./measures.js";

/** The figures of a simulation, what was told, and what went wrong in it. */
export interface MeasuredSimulation
  extends Pick<Stage, "from" | "to" | "weather" | "seed" | "unmoved" | "idle" | "assumed" | "takenOutdoors"> {
  readonly measures: Measures;
  /** The first of what was told, a thousand at most; how often in all is in the measures. */
  readonly notices: readonly Notice[];
  /** The first of what went wrong, a thousand at most. */
  readonly problems: readonly ProblemRecord[];
  /** How often something went wrong. */
  readonly problemCount: number;
}

/** So many notices, and problems, are kept. */
const KEPT = 1000;

/**
 * Simulates as `simulate` does, and measures as `measure` does, without writing down what happens: memory does not grow with
 * the days, and it takes a fraction of the time.
 * @throws RangeError as `simulate`
 */
export function measureSimulation(
  house: House,
  options: Omit<SimulationOptions, "keepAt"> & MeasureOptions = {},
): MeasuredSimulation {
  const { from = beginningOf(house, options.weather ?? house.weathers[0]), lasts = DAY } = options;
  const measuring = new Gauges(house, from, from + lasts, options);
  const gauges = measuring.all;
  // Many gauges read the same: each thing is watched once.
  const watched = new Map(gauges.flatMap(({ reads }) => reads.map((part) => [JSON.stringify(part), part])));
  const places = new Map([...watched.keys()].map((key, place) => [key, place]));
  const run = stage(house, { ...options, from, lasts }, { watch: [...watched.values()] });
  const { engine, to, weather, seed, unmoved, idle, assumed, takenOutdoors } = run;
  const notices = new FirstOf<Notice>(from, to);
  const problems = new FirstOf<ProblemRecord>(from, to);
  const feeds = gauges.map(
    (gauge) =>
      new Feed(
        gauge,
        from,
        Int32Array.from(gauge.reads, (part) => places.get(JSON.stringify(part)) as number),
      ),
  );
  const read = new Float64Array(watched.size).fill(Number.NaN);
  const turned = new Int32Array(watched.size);
  const moving = feeds.filter(({ moves }) => moves);
  const still = feeds.filter(({ moves }) => !moves);
  const feedsAt = [...read.keys()].map((place) => still.filter(({ places }) => places.includes(place)));
  const watcher: Watcher = {
    after: (at) => {
      const count = engine.readTurned(read, turned);
      for (const feed of moving) feed.begin(read);
      for (let one = 0; one < count; one++)
        for (const feed of feedsAt[turned[one] as number] as readonly Feed[]) feed.turn(at, read);
      notices.add(engine.takeNotices());
      problems.add(engine.takeProblems());
      engine.takeMessages();
    },
  };
  const readBefore = new Float64Array(watched.size);
  const before = (at: number) => {
    if (at <= from) return;
    engine.advanceTo(at - 1);
    engine.readWatched(readBefore);
    for (const feed of moving) feed.lookBefore(at, readBefore);
  };
  run.play(moving.length > 0 ? { ...watcher, before } : watcher);
  for (const feed of feeds) feed.end(to);
  return {
    from,
    to,
    weather,
    seed,
    unmoved,
    takenOutdoors,
    idle,
    assumed,
    measures: measuring.end(notices.count),
    notices: notices.first,
    problems: problems.first,
    problemCount: problems.count,
  };
}

/** The first of many things, and how many there are, between two instants. */
class FirstOf<Item extends { readonly at: number }> {
  readonly first: Item[] = [];
  count = 0;

  constructor(
    readonly from: number,
    readonly to: number,
  ) {}

  add(items: readonly Item[]): void {
    for (const item of items) {
      if (item.at < this.from || item.at > this.to) continue;
      this.count++;
      if (this.first.length < KEPT) this.first.push(item);
    }
  }
}

/** Tells a gauge of the stretches in which nothing turned of what it reads, at its places among all that is read. */
class Feed {
  readonly moves: boolean;
  readonly #gauge: Gauge<unknown>;
  readonly #begins: Float64Array;
  readonly #ends: Float64Array;
  #since: number;

  constructor(
    gauge: Gauge<unknown>,
    from: number,
    readonly places: Int32Array,
  ) {
    this.moves = gauge.moves;
    this.#gauge = gauge;
    this.#begins = new Float64Array(gauge.reads.length).fill(Number.NaN);
    this.#ends = new Float64Array(gauge.reads.length);
    this.#since = from;
  }

  /** Of what moves: it has gone in a straight line until now. */
  lookBefore(at: number, read: Float64Array): void {
    this.#copy(read, this.#ends);
    this.#tell(at, this.#ends);
  }

  /** Of what moves: it goes in a straight line from now on. */
  begin(read: Float64Array): void {
    this.#copy(read, this.#begins);
  }

  /** Of what stands still: something has turned. */
  turn(at: number, read: Float64Array): void {
    this.#tell(at, this.#begins);
    this.#copy(read, this.#begins);
  }

  /** The run is over. */
  end(at: number): void {
    if (!this.moves) this.#tell(at, this.#begins);
  }

  #tell(at: number, ends: Float64Array): void {
    if (at <= this.#since) return;
    this.#gauge.add(this.#since, at, this.#begins, ends);
    this.#since = at;
  }

  #copy(read: Float64Array, into: Float64Array): void {
    for (let part = 0; part < into.length; part++) into[part] = read[this.places[part] as number] as number;
  }
}
