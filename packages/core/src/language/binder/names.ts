// Names that are built into the language.

/** Functions of several values, with `at least n known`. */
export const severalFunctions = ["mean", "median", "min", "max", "sum", "spread", "first_known"] as const;

/** Functions over a window of time. */
export const windowFunctions = ["mean", "min", "max", "rise", "time", "count"] as const;

/** Functions of moist air, and what they take and give: units of the catalogue. */
export const airFunctions = {
  dew_point: "°C",
  absolute_humidity: "g/m³",
  vapour_pressure_deficit: "kPa",
  feels_like: "°C",
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
