// Water that is kept: tanks that pumps draw from, and soil that is watered and dries.
import { baseOfNumber, type Effect, fullOf, type House, type Output, offWordOf, type Value } from "../house/index.js";
import { HOUR } from "../time/index.js";
import { dimensionOf, toBase } from "../units/index.js";

/** By how much of its bound a float has to rise before it turns back. */
const GAP = 0.1;

/** Shares of the volume of soil: what it cannot hold against its weight, and what plants cannot draw (FAO-56, table 19, loam). */
const FIELD = 0.3;
const WILTING = 0.12;

/** ms in which what soil cannot hold drains away, a time constant. */
const DRAINS = 2 * HOUR;

/** ml in a litre, the base unit of volumes. */
const LITRE = 1000;

/** The air that soil dries into: °C, %RH, and lx on it. */
export interface Climate {
  readonly temperature: number;
  readonly humidity: number;
  readonly daylight: number;
}

/** What of a tank, or of soil, a sensor shows. */
export interface Store {
  readonly sensor: string;
  /** As a number: in the base unit, or the place of a word. */
  now(): number;
  advance(ms: number, climate: Climate | undefined): void;
}

/** Readings to begin with, by sensor, in its own unit. */
type Given = Readonly<Record<string, Value>>;

interface Flow {
  /** l/h while it runs fully. */
  readonly rate: number;
  /** Its value then, of a number; and the word in which it does not run. */
  readonly full: number;
  readonly off: string | undefined;
  now: number;
}

/** What outputs deliver, in l/h, as they run. */
class Flows {
  readonly #rates = new Map<string, Flow>();

  constructor(outputs: readonly Output[]) {
    for (const output of outputs) {
      const { name, delivers } = output;
      // ml/s is the base unit of flows.
      const rate = delivers && baseOfNumber(delivers.rate);
      const full = fullOf(output);
      if (rate !== undefined)
        this.#rates.set(name, { rate: rate * 3.6, full: typeof full === "number" ? full : 1, off: offWordOf(output), now: 0 });
    }
  }

  put(output: string, value: Value | undefined): void {
    const flow = this.#rates.get(output);
    if (!flow) return;
    if (typeof value === "number") flow.now = (flow.rate * value) / flow.full;
    else flow.now = value === undefined || value === flow.off ? 0 : flow.rate;
  }

  ofAll(outputs: readonly string[]): number {
    let sum = 0;
    for (let place = 0; place < outputs.length; place++) sum += this.#rates.get(outputs[place] as string)?.now ?? 0;
    return sum;
  }
}

/** The tanks and the soil of a house. */
export class Water {
  readonly stores: readonly Store[];
  readonly #flows: Flows;
  readonly #names: ReadonlySet<string>;

  constructor(house: House, given: Given = {}) {
    const { effects } = house.physics;
    this.#flows = new Flows(house.outputs);
    this.#names = new Set(effects.flatMap((one) => (one.kind === "draws" || one.kind === "waters" ? [one.output] : [])));
    this.stores = effects.flatMap((effect): Store[] => {
      if (effect.kind === "holds") return [new Tank(house, effect, effects, this.#flows, given)];
      if (effect.kind === "soil") return [new Soil(effect, effects, this.#flows, given)];
      return [];
    });
  }

  hears(output: string): boolean {
    return this.#names.has(output);
  }

  put(output: string, value: Value | undefined): void {
    this.#flows.put(output, value);
  }
}

/** dV/dt = in - out, between nothing and what it holds. */
class Tank implements Store {
  readonly sensor: string;
  readonly #holds: number;
  readonly #float: { readonly place: number; readonly other: number; readonly below: number } | undefined;
  readonly #gains: number;
  readonly #draws: readonly string[];
  readonly #flows: Flows;
  /** Shown as a share of what it holds. */
  readonly #isShare: boolean;
  #litres: number;
  #isLow = false;

  constructor(
    house: House,
    { sensor, amount }: Extract<Effect, { kind: "holds" }>,
    effects: readonly Effect[],
    flows: Flows,
    given: Given,
  ) {
    const type = house.sensors.find(({ name }) => name === sensor)?.type;
    this.sensor = sensor;
    this.#holds = amount;
    this.#litres = amount;
    this.#flows = flows;
    this.#isShare = type?.kind === "number" && dimensionOf(type.unit) === "share";
    const first = given[sensor];
    if (type?.kind === "number" && typeof first === "number")
      this.#litres = this.#isShare ? (first / 100) * amount : toBase({ value: first, unit: type.unit }) / LITRE;
    this.#gains = effects.reduce((sum, one) => (one.kind === "gains" && one.sensor === sensor ? sum + one.amount : sum), 0);
    this.#draws = effects.flatMap((one) => (one.kind === "draws" && one.sensor === sensor ? [one.output] : []));
    const float = effects.find((one) => one.kind === "float" && one.sensor === sensor);
    if (float?.kind !== "float" || type?.kind !== "words") return;
    const place = type.words.indexOf(float.word);
    this.#float = { place, other: place === 0 ? 1 : 0, below: float.below };
  }

  now(): number {
    if (this.#float) return this.#isLow ? this.#float.place : this.#float.other;
    return this.#isShare ? (100 * this.#litres) / this.#holds : this.#litres * LITRE;
  }

  advance(ms: number): void {
    const out = this.#flows.ofAll(this.#draws);
    this.#litres = Math.min(this.#holds, Math.max(0, this.#litres + ((this.#gains - out) * ms) / HOUR));
    if (!this.#float) return;
    // A float that has sunk turns back only when it has risen by its gap.
    const { below } = this.#float;
    this.#isLow = this.#litres < below * (this.#isLow ? 1 + GAP : 1);
  }
}

/** dθ/dt = (dose - ET - drain)/depth: the water balance of FAO-56, 8, with a crop that covers it (Kc = 1). */
class Soil implements Store {
  readonly sensor: string;
  readonly #area: number;
  readonly #depth: number;
  readonly #waters: readonly string[];
  readonly #flows: Flows;
  /** Share of the volume. */
  #theta = FIELD;

  constructor(
    { sensor, area, depth }: Extract<Effect, { kind: "soil" }>,
    effects: readonly Effect[],
    flows: Flows,
    given: Given,
  ) {
    const first = given[sensor];
    if (typeof first === "number") this.#theta = first / 100;
    this.sensor = sensor;
    this.#area = area;
    this.#depth = depth;
    this.#flows = flows;
    this.#waters = effects.flatMap((one) => (one.kind === "waters" && one.sensor === sensor ? [one.output] : []));
  }

  now(): number {
    return toBase({ value: 100 * this.#theta, unit: "%" });
  }

  advance(ms: number, climate: Climate | undefined): void {
    const hours = ms / HOUR;
    const given = this.#flows.ofAll(this.#waters) * hours;
    // A litre on a square metre is a millimetre. Dry soil gives less and less (FAO-56, 84).
    const stress = Math.min(1, Math.max(0, (this.#theta - WILTING) / (0.5 * (FIELD - WILTING))));
    const lost = climate ? evapotranspiration(climate) * stress * hours : 0;
    const theta = this.#theta + (given / this.#area - lost) / 1000 / this.#depth;
    const above = theta - FIELD;
    this.#theta = Math.max(0, above > 0 ? FIELD + above * Math.exp(-ms / DRAINS) : theta);
  }
}

/**
 * mm/h of a well watered meadow: Penman and Monteith by the hour (FAO-56, 53), wind 2 m/s, sea level; of the light 77 % stay
 * (110 lm/W, Littlefair 1985), and what the ground radiates is left out.
 */
export function evapotranspiration({ temperature, humidity, daylight }: Climate): number {
  const saturated = 0.6108 * Math.exp((17.27 * temperature) / (temperature + 237.3));
  const slope = (4098 * saturated) / (temperature + 237.3) ** 2;
  const radiation = 0.77 * ((daylight / 110) * 3600 * 1e-6);
  const wind = 2;
  const psychrometric = 0.0674;
  const deficit = saturated * (1 - humidity / 100);
  const dries = 0.408 * slope * radiation + psychrometric * (37 / (temperature + 273)) * wind * deficit;
  return Math.max(0, dries / (slope + psychrometric * (1 + 0.34 * wind)));
}
