// A small house and a timeline for it, in seconds from its start.
import { type Beside, createEngine, type Engine, type EngineOptions, parseHouse, type Value } from "modrik";
import { expect } from "vitest";

/** Noon of a Saturday, UTC. */
export const START = Date.parse("2026-03-14T12:00:00Z");

export interface Setting extends Partial<EngineOptions> {
  /** Outputs of the zone `z`. @default a switch `o` */
  readonly outputs?: string;
  /** Declarations next to it. */
  readonly more?: string;
  readonly place?: string;
  readonly calendars?: Beside["calendars"];
}

export function houseText(
  rules: string,
  { outputs = "output o: on/off", more = "", place = 'clock "UTC"' }: Setting = {},
): string {
  return `house "A" { ${place} }
    zone z {
      sensor x: °C, 0..60 °C, unknown after 10 min
      sensor y: °C
      sensor damp: %RH
      sensor door: open/closed
      sensor grade: good < fair < poor
      sensor bell: press
      ${outputs}
      dial target: 10..30 °C, at first 20 °C
      dial evening: time, at first 22:30
    }
    mode m: day/night, at first day
    ${more}
    ${rules}`;
}

export function engineOf(rules: string, setting: Setting = {}): Engine {
  const { calendars = {} } = setting;
  const { house, problems } = parseHouse({ "a.modrik": houseText(rules, setting) }, { calendars });
  expect(problems.map(({ reason, place }) => `${place.line}:${place.column} ${reason}`)).toEqual([]);
  return createEngine(house, { at: START, ...setting });
}

/** A sensor reads, a dial or mode is set, a button is pressed, or whatever else is done. */
export type Input =
  | readonly [seconds: number, name: string, value: Value]
  | readonly [seconds: number, act: (engine: Engine, at: number) => void];

/** Plays inputs and lets time pass; changes as `seconds output value`, numbers rounded to hundredths. */
export function play(engine: Engine, inputs: readonly Input[], seconds = 3600): string[] {
  for (const input of inputs) {
    const at = START + input[0] * 1000;
    if (typeof input[1] === "function") input[1](engine, at);
    else if (input[1] === "z.bell") engine.press("z.bell", at);
    else if (["z.target", "z.evening", "m"].includes(input[1])) engine.set(input[1], input[2] as Value, at);
    else engine.report(input[1], input[2] as Value, at);
  }
  engine.advanceTo(START + seconds * 1000);
  return changesOf(engine);
}

export function changesOf(engine: Engine): string[] {
  const round = (value: Value | undefined) => (typeof value === "number" ? Math.round(value * 100) / 100 : value);
  return engine
    .takeChanges()
    .map(({ at, output, value }) => `${(at - START) / 1000} ${output.replace(/^z\./, "")} ${round(value)}`);
}
