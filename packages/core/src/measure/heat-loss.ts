// How much heat a zone loses to outdoors, from what was recorded of it: when its heater was on, how warm it was inside and
// outside. Only stretches are used in which nothing else warmed or cooled it.
import {
  baseOfNumber,
  type House,
  isIn,
  type Output,
  type Recorded,
  recordedValue,
  type Sensor,
  type Value,
} from "../house/index.js";
import { AIR_HEAT } from "../physics/index.js";
import { DAY, HOUR, MINUTE, sunElevation } from "../time/index.js";
import { dimensionOf } from "../units/index.js";
import { leastSquares, type Observation } from "./least-squares.js";
import { shareOf } from "./output-gauge.js";
import { longestPause, signalsIn } from "./recorded-signal.js";

/** Which sensors tell the air inside and outside. */
export interface HeatLossOptions {
  /** The sensor that tells the air of the zone. @default its first that measures a temperature */
  readonly inside?: string;
  /** The sensor that tells the air outdoors. @default one of a zone outdoors, else that of another zone that was coldest on average */
  readonly outdoors?: string;
}

/** What a zone loses, or why nobody can tell. */
export type HeatLoss = { readonly zone: string; readonly notes: readonly string[] } & (
  | {
      /** W/K, air that leaks included. */
      readonly loses: number;
      /** Two standard errors of it, W/K: it lies within with 95 % certainty. */
      readonly uncertainty: number;
      /** J/K that the air, and what warms up with it at once, takes. */
      readonly stores: number;
      /** ms that were used, and ms that were recorded. */
      readonly used: number;
      readonly recorded: number;
    }
  | { readonly unknown: string }
);

/** ms of a sample, and of a stretch over which heat is summed up. */
const SAMPLE = 5 * MINUTE;
const WINDOW = 2 * HOUR;
/** Samples in a stretch. */
const LENGTH = WINDOW / SAMPLE;
/** Fewer stretches, or days, say nothing. */
const LEAST_WINDOWS = 12;
const LEAST_DAYS = 3;
/** A loss that may be half as much again is not known. */
const WORST = 0.5;
/** Hours in which walls may follow the air. */
const WALLS = [2, 4, 8, 16, 32];
/** Walls apart are believed where they leave less than this of the squares, and what is left without them is more than this share of the heat. */
const BELIEVED = 0.5;
const EXPLAINED = 0.01;

/**
 * The heat loss of a zone by a balance of heat over stretches of two hours, Q = H ∫(Ti − To) dt + C ΔTi, by least squares;
 * where it explains clearly more, with walls that follow the air more slowly (Bacher and Madsen 2011). Sun is told by a light
 * sensor next to the one outdoors; without one, days are left out. The uncertainty is that of leaving out one day after the
 * other. Neighbours count as the house's physics says.
 */
export function heatLoss(house: House, recorded: readonly Recorded[], zone: string, options: HeatLossOptions = {}): HeatLoss {
  const notes: string[] = [];
  const cannot = (unknown: string): HeatLoss => ({ zone, notes, unknown });
  const signals = signalsIn(recorded, house);
  const measures = ({ name, type }: Sensor) =>
    type.kind === "number" && dimensionOf(type.unit) === "temperature" && signals.some((signal) => signal.name === name);
  const thermometers = house.sensors.filter(measures).map(({ name }) => name);
  const inside = options.inside ?? thermometers.find((name) => isIn(zone, name));
  if (inside === undefined) return cannot(`no temperature of ${zone} is recorded`);
  const others = thermometers.filter((name) => !isIn(zone, name));
  const isOutdoors = (name: string) =>
    house.physics.effects.some((effect) => effect.kind === "outdoors" && isIn(effect.zone, name));
  const outdoors = options.outdoors ?? others.find(isOutdoors) ?? coldest(others);
  if (outdoors === undefined) return cannot("no temperature outdoors is recorded");
  notes.push(`inside is ${inside}, outdoors ${outdoors}`);

  const [from, to] = [recorded[0]?.at ?? 0, recorded.at(-1)?.at ?? 0];
  const count = Math.floor((to - from) / SAMPLE);
  const grid = new Grid(from, count, recorded, house);
  const [inner, outer] = [grid.temperatures(inside), grid.temperatures(outdoors)];
  const heat = grid.heat(zone, notes);
  if (typeof heat === "string") return cannot(heat);
  const sun = lightBeside(outdoors);
  const usable = grid.undisturbed(zone, sun !== undefined, notes);
  const flows = [...neighbours(), ...fans()];
  const net = heat.map((power, at) =>
    flows.reduce(
      (sum, { amount, share, air }) => sum - amount * (share?.[at] ?? 1) * ((inner[at] as number) - (air[at] as number)),
      power as number,
    ),
  );
  const light = sun === undefined ? undefined : grid.means(sun, Number);
  if (sun !== undefined) notes.push(`the sun is told by ${sun}`);
  const windows = windowsOf({ inner, outer, heat: net, ...(light && { light }) }, usable);
  // Where all that can be used is dark, the sun has no part in it.
  const isLit = light !== undefined && windows.some((at) => totalOf(light, at) > 0);
  const lines: Lines = { inner, outer, heat: net, ...(isLit && { light }) };
  const used = windows.length * WINDOW;
  if (windows.length < LEAST_WINDOWS)
    return cannot(`only ${windows.length} stretches of two hours were undisturbed and without gaps; it takes ${LEAST_WINDOWS}`);
  const days = [...new Set(windows.map((at) => Math.floor((at * SAMPLE) / DAY)))];
  if (days.length < LEAST_DAYS) return cannot(`only ${days.length} days have undisturbed stretches; it takes ${LEAST_DAYS}`);

  const plain = fit(windows, lines);
  if (!plain) return cannot("heat and temperatures hardly changed, so that nothing can be told from them");
  const walls = WALLS.flatMap((hours) => {
    const found = fit(windows, lines, hours);
    return found && (found.unknowns[0] as number) > 0 ? [{ ...found, hours }] : [];
  }).sort((a, b) => a.left - b.left)[0];
  const all = windows.reduce((sum, at) => sum + totalOf(net, at) ** 2, 0);
  const unexplained = plain.left > EXPLAINED ** 2 * all;
  const slow = unexplained && walls && walls.left < BELIEVED * plain.left ? walls.hours : undefined;
  if (slow !== undefined) notes.push(`walls follow the air in about ${slow} h`);
  const best = slow === undefined ? plain : (walls as typeof plain);
  const loses = best.unknowns[0] as number;
  const without = days.map((day) => {
    const others = windows.filter((at) => Math.floor((at * SAMPLE) / DAY) !== day);
    return fit(others, lines, slow)?.unknowns[0] ?? Number.NaN;
  });
  const mean = without.reduce((sum, one) => sum + one, 0) / days.length;
  const error = Math.sqrt(((days.length - 1) / days.length) * without.reduce((sum, one) => sum + (one - mean) ** 2, 0));
  const uncertainty = 2 * error;
  if (!(loses > 0) || !(uncertainty < WORST * loses))
    return cannot(`what was recorded fits any loss from ${write(loses - uncertainty)} to ${write(loses + uncertainty)} W/K`);
  return { zone, notes, loses, uncertainty, stores: (best.unknowns[1] as number) * 3600, used, recorded: to - from };

  /** W/K through what is between it and other rooms. */
  function neighbours(): Flow[] {
    return house.physics.effects.flatMap((effect) => {
      if (effect.kind !== "passes" || (effect.zone !== zone && effect.other !== zone)) return [];
      const other = effect.zone === zone ? effect.other : effect.zone;
      return flowTo(other, effect.amount, `what passes to ${other}`);
    });
  }

  /** W/K with the air that fans of other rooms take out of it, while they are on. */
  function fans(): Flow[] {
    return house.physics.effects.flatMap((effect) => {
      if (effect.kind !== "gives" || effect.what !== "air" || effect.from !== zone) return [];
      const fan = house.outputs.find(({ name }) => name === effect.output) as Output;
      const [other] = fan.name.split(".") as [string];
      if (!recorded.some(({ name }) => name === fan.name)) return [];
      const share = grid.shares(fan);
      return flowTo(other, (effect.amount * AIR_HEAT) / 3600, `what ${fan.name} moves to ${other}`).map((flow) => ({
        ...flow,
        share,
      }));
    });
  }

  function flowTo(other: string, amount: number, what: string): Flow[] {
    const thermometer = thermometers.find((name) => isIn(other, name));
    notes.push(
      thermometer === undefined
        ? `${what} is not counted, as its temperature is not recorded`
        : `${what} counts as the house says, ${Number(amount.toPrecision(3))} W/K`,
    );
    return thermometer === undefined ? [] : [{ amount, air: grid.temperatures(thermometer) }];
  }

  /** The light sensor of the same zone. */
  function lightBeside(thermometer: string): string | undefined {
    const beside = thermometer.split(".")[0] as string;
    return house.sensors.find(
      ({ name, type }) =>
        isIn(beside, name) &&
        type.kind === "number" &&
        dimensionOf(type.unit) === "light" &&
        signals.some((signal) => signal.name === name),
    )?.name;
  }

  function coldest(names: readonly string[]): string | undefined {
    const mean = (name: string) => {
      const known = signals.find((signal) => signal.name === name)?.values.filter((value) => !Number.isNaN(value)) ?? [];
      return known.reduce((sum, value) => sum + value, 0) / known.length;
    };
    return [...names].sort((a, b) => mean(a) - mean(b))[0];
  }
}

const write = (value: number) => (Number.isFinite(value) ? value.toPrecision(3) : "nothing");

type Samples = readonly number[];

/** Heat that goes to another room: W/K, for what share of each sample, and how warm it is there. */
interface Flow {
  readonly amount: number;
  readonly share?: Samples;
  readonly air: Samples;
}

/** What a balance is made of, in samples: °C, W and, where it is known, lx. */
interface Lines {
  readonly inner: Samples;
  readonly outer: Samples;
  readonly heat: Samples;
  readonly light?: Samples;
}

/** Beginnings of stretches in which all is known and nothing disturbs, one after the other. */
function windowsOf({ inner, outer, heat, light }: Lines, usable: readonly boolean[]): number[] {
  const windows: number[] = [];
  const known = (line: Samples | undefined, at: number) => line === undefined || !Number.isNaN(line[at]);
  const fine = (at: number) => usable[at] === true && [inner, outer, heat, light].every((line) => known(line, at));
  for (let at = 0; at + LENGTH < inner.length; ) {
    let bad = -1;
    for (let place = at; place <= at + LENGTH; place++) if (!fine(place)) bad = place;
    if (bad >= 0) at = bad + 1;
    else {
      windows.push(at);
      at += LENGTH;
    }
  }
  return windows;
}

const HOURS = SAMPLE / HOUR;

/** Over a stretch, of what stands still in each sample. */
function totalOf(line: Samples, at: number): number {
  let whole = 0;
  for (let place = at; place < at + LENGTH; place++) whole += line[place] as number;
  return whole * HOURS;
}

/** Of what goes in straight lines between samples. */
function sumOf(line: Samples, at: number): number {
  return totalOf(line, at) + (((line[at + LENGTH] as number) - (line[at] as number)) / 2) * HOURS;
}

/** W/K, and Wh/K that warm up at once; then what the sun gives, and walls take that follow in so many hours. */
function fit(windows: readonly number[], { inner, outer, heat, light }: Lines, wallHours?: number) {
  const lag = (line: Samples) => {
    const followed = followedBy(line, wallHours ?? 1);
    return line.map((value, at) => value - (followed[at] as number));
  };
  const slow = wallHours === undefined ? [] : [lag(inner), lag(outer)];
  const slowGains = wallHours === undefined ? [] : [lag(heat), ...(light ? [lag(light)] : [])];
  const difference = inner.map((value, at) => value - (outer[at] as number));
  const observations = windows.map((at): Observation => {
    const rise = (inner[at + LENGTH] as number) - (inner[at] as number);
    const gains = [...(light ? [light] : []), ...slowGains].map((line) => totalOf(line, at));
    return { row: [sumOf(difference, at), rise, ...gains, ...slow.map((line) => sumOf(line, at))], sum: totalOf(heat, at) };
  });
  return leastSquares(observations);
}

/** What follows a line by so many hours, first order. */
function followedBy(line: Samples, hours: number): number[] {
  const left = Math.exp(-SAMPLE / HOUR / hours);
  let now = line.find((value) => !Number.isNaN(value)) ?? 0;
  return line.map((value) => {
    const before = now;
    if (!Number.isNaN(value)) now = value + (now - value) * left;
    return before;
  });
}

/** What was recorded, in samples. */
class Grid {
  constructor(
    readonly from: number,
    readonly count: number,
    readonly recorded: readonly Recorded[],
    readonly house: House,
  ) {}

  /** °C at each sample, in straight lines between reports; NaN in gaps. */
  temperatures(name: string): number[] {
    const signal = signalsIn(
      this.recorded.filter((record) => record.name === name),
      this.house,
    )[0];
    if (!signal) return Array<number>(this.count).fill(Number.NaN);
    const pause = longestPause(signal);
    let place = 0;
    return Array.from({ length: this.count }, (_, sample) => {
      const at = this.from + sample * SAMPLE;
      while (place + 1 < signal.times.length && (signal.times[place + 1] as number) <= at) place++;
      const [begins, ends] = [signal.times[place] as number, signal.times[place + 1]];
      const [value, then] = [signal.values[place] as number, signal.values[place + 1] as number];
      if (begins > at || ends === undefined || ends - begins > pause) return at === begins ? value : Number.NaN;
      return value + ((then - value) * (at - begins)) / (ends - begins);
    });
  }

  /** The mean over each sample of something that a thing's last value tells; nothing of it is known before it. */
  means(name: string, of: (value: Value) => number): number[] {
    const records = this.recorded.filter((record) => record.name === name);
    let place = -1;
    const ofRecord = (record: Recorded | undefined) => {
      const value = record && recordedValue(this.house, record);
      return value === undefined ? Number.NaN : of(value);
    };
    return Array.from({ length: this.count }, (_, sample) => {
      const end = this.from + (sample + 1) * SAMPLE;
      let at = this.from + sample * SAMPLE;
      while ((records[place + 1]?.at ?? Number.POSITIVE_INFINITY) <= at) place++;
      let sum = 0;
      for (;;) {
        const next = records[place + 1]?.at ?? Number.POSITIVE_INFINITY;
        const until = Math.min(end, next);
        sum += ofRecord(records[place]) * (until - at);
        if (next >= end) return sum / SAMPLE;
        at = next;
        place++;
      }
    });
  }

  /** How much of an output was on, over each sample. */
  shares(output: Output): number[] {
    const share = shareOf(output);
    const { type } = output;
    return this.means(output.name, (value) => share(type.kind === "words" ? type.words.indexOf(String(value)) : Number(value)));
  }

  /** W into a zone over each sample, or why that is not known. */
  heat(zone: string, notes: string[]): number[] | string {
    const powers: { readonly output: Output; readonly says: string; readonly lagging: number; readonly line: number[] }[] = [];
    for (const output of this.house.outputs) {
      const serves = isIn(zone, output.name) || output.serves?.includes(zone);
      const given = this.house.physics.effects.find(
        (effect) => effect.kind === "gives" && effect.what === "heat" && effect.output === output.name,
      );
      const power = given?.kind === "gives" ? given.amount : baseOfNumber(output.uses);
      const byWord = this.house.physics.effects.flatMap((effect) =>
        effect.kind === "word gives" && effect.what === "heat" && effect.output === output.name ? [effect] : [],
      );
      if (!serves || (power === undefined && byWord.length === 0)) continue;
      if (output.type.kind === "number" && dimensionOf(output.type.unit) === "temperature")
        return `${output.name} is set to a temperature: how much heat it gives is not recorded`;
      if ((output.serves ?? []).length > 0) return `${output.name} warms several rooms, and nobody knows how much goes to which`;
      if (!this.recorded.some(({ name }) => name === output.name)) return `when ${output.name} was on is not recorded`;
      const ofWord = (value: Value) => byWord.reduce((sum, { word, amount }) => sum + (word === value ? amount : 0), 0);
      powers.push({
        output,
        says: byWord.length > 0 ? byWord.map(({ word, amount }) => `${word} ${amount} W`).join(", ") : `${power} W`,
        lagging: (given?.kind === "gives" ? given.lagging : byWord[0]?.lagging) ?? 0,
        line: byWord.length > 0 ? this.means(output.name, ofWord) : this.shares(output).map((share) => (power ?? 0) * share),
      });
    }
    if (powers.length === 0) return `nothing in ${zone} says how much it \`uses\`, so its heat is not known`;
    notes.push(`heat is that of ${powers.map(({ output, says }) => `${output.name}, ${says}`).join(" and ")}`);
    const lines = powers.map(({ lagging, line }) => (lagging > 0 ? followedBy(line, lagging / HOUR) : line));
    return lines[0]?.map((_, at) => lines.reduce((sum, line) => sum + (line[at] as number), 0)) ?? [];
  }

  /** Whether nothing else warms or cools a zone in a sample, as far as it is recorded. */
  undisturbed(zone: string, sunIsTold: boolean, notes: string[]): boolean[] {
    const { house } = this;
    const room = house.physics.zones.find((one) => one.zone === zone);
    const lines: { readonly says: string; readonly line: number[] }[] = [];
    const recorded = new Set(this.recorded.map(({ name }) => name));
    const doors = house.physics.effects.flatMap((effect) =>
      effect.kind === "leak" && effect.to === zone ? [effect.sensor] : [],
    );
    for (const { name, type } of house.sensors) {
      if (!recorded.has(name) || type.kind !== "words" || !(isIn(zone, name) || doors.includes(name))) continue;
      for (const word of type.words)
        if (word === "open" || word === "moving")
          lines.push({ says: `${name} was ${word}`, line: this.means(name, (value) => (value === word ? 1 : 0)) });
    }
    // What moistens or dries it, and what moves its air.
    const others = house.physics.effects.flatMap((effect) => {
      if (effect.kind !== "gives" && effect.kind !== "word gives") return [];
      const own = isIn(zone, effect.output) && (effect.what === "water" || effect.what === "air");
      return own ? [effect.output] : [];
    });
    for (const name of new Set(others.filter((one) => recorded.has(one))))
      lines.push({ says: `${name} was on`, line: this.shares(house.outputs.find((one) => one.name === name) as Output) });
    if (house.place && !sunIsTold && (room === undefined || (room.glass ?? 0) > 0)) {
      const place = house.place;
      const line = Array.from({ length: this.count }, (_, at) => (sunElevation(place, this.from + at * SAMPLE) > 0 ? 1 : 0));
      lines.push({ says: "the sun was up", line });
    }
    for (const { says, line } of lines) {
      const share = line.filter((value) => value > 0).length / Math.max(1, this.count);
      if (share > 0) notes.push(`left out while ${says}, ${Math.round(100 * share)} % of the time`);
    }
    return Array.from({ length: this.count }, (_, at) => lines.every(({ line }) => line[at] === 0));
  }
}
