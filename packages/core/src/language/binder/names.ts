// Names that are built into the language.
import type { ValueType } from "../../house/index.js";

/** Functions of several values, with `at least n known`. */
export const severalFunctions = ["mean", "median", "min", "max", "sum", "spread", "first_known"] as const;

/** Functions over a window of time. */
export const windowFunctions = ["mean", "min", "max", "rise", "time", "count"] as const;

/** Functions of moist air, and what they take and give: units of the catalogue. */
export const airFunctions = {
  dew_point: "°C",
  absolute_humidity: "g/m³",
  vapour_pressure_deficit: "kPa",
  felt_temperature: "°C",
} as const;

export const functionNames: readonly string[] = [
  ...new Set<string>([
    ...severalFunctions,
    ...windowFunctions,
    ...Object.keys(airFunctions),
    "abs",
    "round",
    "clamp",
    "scale",
    "share",
    "colour",
  ]),
];

/** What every house knows without declaring it, besides the events of the sun. */
export const builtInNames = [
  "noon",
  "midnight",
  "sun.elevation",
  "sun.azimuth",
  "clock.time",
  "clock.weekday",
  "clock.date",
] as const;

/** Kinds of values that are named by a word; all others by their unit, range or words. */
export const typeNames = {
  time: { kind: "time" },
  number: { kind: "number", unit: "" },
  duration: { kind: "number", unit: "min" },
  colour: { kind: "colour" },
  press: { kind: "press" },
} satisfies Readonly<Record<string, ValueType>>;
