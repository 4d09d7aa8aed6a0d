// What of a house stands together on a chart: a zone with its curves, what moves them under them, and its words; then what
// is of the whole house.
import { type Expression, type House, isIn, type Output, type Sensor, titleOf, type Unit, type Zone } from "modrik";

/** Curves of one unit, and the outputs that move them. */
export interface Panel {
  readonly unit: Unit;
  readonly sensors: readonly Sensor[];
  readonly outputs: readonly Output[];
  /** Their mean is next to them. */
  readonly mean?: boolean;
}

export interface Section {
  /** None where it is of things that were chosen. */
  readonly zone: Zone | undefined;
  readonly panels: readonly Panel[];
  /** Sensors that say words. */
  readonly words: readonly Sensor[];
  /** Outputs that move none of the curves. */
  readonly others: readonly Output[];
}

/** The sections of a house, or of one zone; a sensor that never reported stands nowhere. */
export function sectionsOf(house: House, zone: string | undefined, reported: (sensor: Sensor) => boolean): Section[] {
  return house.zones
    .filter(({ name }) => zone === undefined || name === zone)
    .map((one) => sectionOf(house, one, reported))
    .filter(({ panels, words, others }) => panels.length + words.length + others.length > 0);
}

/** Things that were chosen, of whichever zones: a panel for each unit. */
export function sectionOfChosen(house: House, names: readonly string[], mean: boolean): Section {
  const sensors = house.sensors.filter(({ name }) => names.includes(name));
  const measured = sensors.filter(({ type }) => type.kind === "number");
  return {
    zone: undefined,
    panels: [...new Set(measured.map(unitOf))].map((unit): Panel => {
      const own = measured.filter((sensor) => unitOf(sensor) === unit);
      return { unit, sensors: own, outputs: [], mean: mean && own.length > 1 };
    }),
    words: sensors.filter(({ type }) => type.kind === "words"),
    others: house.outputs.filter(({ name }) => names.includes(name)),
  };
}

/** What it is called among things of several zones. */
export function nameAcross(house: House, thing: { readonly name: string; readonly title?: string }): string {
  const zone = house.zones.find(({ name }) => isIn(name, thing.name));
  return zone ? `${titleOf(zone)}, ${nameIn(zone.name, thing)}` : nameIn(undefined, thing);
}

function sectionOf(house: House, zone: Zone, reported: (sensor: Sensor) => boolean): Section {
  const sensors = house.sensors.filter((sensor) => isIn(zone.name, sensor.name) && reported(sensor));
  const outputs = house.outputs.filter(({ name }) => isIn(zone.name, name));
  const measured = sensors.filter(({ type }) => type.kind === "number");
  const left = new Set(outputs);
  const panels = [...new Set(measured.map(unitOf))].map((unit): Panel => {
    const own = measured.filter((sensor) => unitOf(sensor) === unit);
    const moving = outputs.filter((output) => left.has(output) && own.some((sensor) => moves(house, output, sensor)));
    for (const output of moving) left.delete(output);
    return { unit, sensors: own, outputs: moving };
  });
  return {
    zone,
    panels,
    words: sensors.filter(({ type }) => type.kind === "words"),
    others: outputs.filter((output) => left.has(output)),
  };
}

export const unitOf = ({ type }: Sensor): Unit => (type.kind === "number" ? type.unit : "");

/** What it is called within its zone. */
export function nameIn(zone: string | undefined, thing: { readonly name: string; readonly title?: string }): string {
  if (thing.title !== undefined) return thing.title;
  const own = zone !== undefined && isIn(zone, thing.name) ? thing.name.slice(zone.length + 1) : titleOf(thing);
  return own.replaceAll("_", " ");
}

/** Whether an output moves what a sensor measures: a rule drives it by that, or it gives that to the room. */
function moves(house: House, { name, type }: Output, sensor: Sensor): boolean {
  const isSensor = (value: Expression) => value.kind === "value" && value.of === sensor.name;
  const byRule = house.rules.some(({ sentences }) =>
    sentences.some((sentence) => {
      if ("keep" in sentence) {
        const { value, raiseWith, lowerWith } = sentence.keep;
        return isSensor(value) && [raiseWith, lowerWith].some((drive) => drive?.outputs.includes(name));
      }
      const asked =
        "hold" in sentence ? sentence.hold.map(({ output }) => output) : "cycle" in sentence ? sentence.cycle.outputs : [];
      return (
        asked.includes(name) &&
        "while" in sentence &&
        sentence.while !== undefined &&
        boundsOf(sentence.while).some(({ left }) => isSensor(left))
      );
    }),
  );
  if (byRule) return true;
  const unit = unitOf(sensor);
  if (type.kind === "number" && type.unit === unit && (unit === "°C" || unit === "°F")) return true;
  return house.physics.effects.some(
    (effect) =>
      (effect.kind === "gives" || effect.kind === "word gives") && effect.output === name && gives[effect.what]?.includes(unit),
  );
}

const gives: Readonly<Record<string, readonly Unit[]>> = { heat: ["°C", "°F"], water: ["%RH"], light: ["lx"] };

type Bound = Extract<Expression, { readonly kind: "above" | "below" | "at least" | "at most" }>;

/** The pairs of points of a condition, alone or joined by `and`. */
export function boundsOf(condition: Expression): Bound[] {
  const joined = condition.kind === "and" ? condition.of : [condition];
  return joined.flatMap((one) => {
    if (one.kind !== "until") return [];
    return [one.condition, one.reset].filter((end): end is Bound => isBound(end));
  });
}

function isBound({ kind }: Expression): boolean {
  return kind === "above" || kind === "below" || kind === "at least" || kind === "at most";
}
