// Every unit the language knows. A value in the base unit of its dimension is `(value - zero) * factor`.
// The base units are those a home automator reads: °C, %, lx, ppm, W, ms …; the list is closed.

/** What a number measures. Two numbers can be compared or added only within one dimension. */
export type Dimension =
  | "temperature"
  | "temperature difference"
  | "relative humidity"
  | "share"
  | "light"
  | "concentration"
  | "mass concentration"
  | "power"
  | "energy"
  | "voltage"
  | "current"
  | "frequency"
  | "pressure"
  | "volume"
  | "flow"
  | "mass"
  | "mass flow"
  | "length"
  | "area"
  | "speed"
  | "angle"
  | "rate"
  | "sound level"
  | "acidity"
  | "duration"
  | "heat loss"
  | "heat capacity"
  | "moisture capacity"
  | "plain";

export interface UnitEntry<Of extends Dimension = Dimension> {
  readonly dimension: Of;
  readonly factor: number;
  readonly zero: number;
}

const unit = <Of extends Dimension>(dimension: Of, factor = 1, zero = 0): UnitEntry<Of> => ({ dimension, factor, zero });

const entries = {
  "°C": unit("temperature"),
  "°F": unit("temperature", 5 / 9, 32),
  K: unit("temperature difference"),
  "%RH": unit("relative humidity"),
  "%": unit("share"),
  lx: unit("light"),
  ppm: unit("concentration"),
  ppb: unit("concentration", 1e-3),
  "g/m³": unit("mass concentration"),
  "mg/m³": unit("mass concentration", 1e-3),
  "µg/m³": unit("mass concentration", 1e-6),
  W: unit("power"),
  kW: unit("power", 1e3),
  J: unit("energy"),
  kJ: unit("energy", 1e3),
  MJ: unit("energy", 1e6),
  Wh: unit("energy", 3600),
  kWh: unit("energy", 3.6e6),
  V: unit("voltage"),
  A: unit("current"),
  Hz: unit("frequency"),
  Pa: unit("pressure"),
  hPa: unit("pressure", 100),
  kPa: unit("pressure", 1e3),
  ml: unit("volume"),
  l: unit("volume", 1e3),
  "m³": unit("volume", 1e6),
  "ml/s": unit("flow"),
  "l/min": unit("flow", 1000 / 60),
  "l/h": unit("flow", 1000 / 3600),
  "m³/h": unit("flow", 1e6 / 3600),
  g: unit("mass"),
  kg: unit("mass", 1e3),
  "g/h": unit("mass flow"),
  mm: unit("length", 1e-3),
  cm: unit("length", 1e-2),
  m: unit("length"),
  km: unit("length", 1e3),
  "m²": unit("area"),
  "m/s": unit("speed"),
  "km/h": unit("speed", 1 / 3.6),
  "°": unit("angle"),
  "/h": unit("rate"),
  dB: unit("sound level"),
  pH: unit("acidity"),
  ms: unit("duration"),
  s: unit("duration", 1e3),
  min: unit("duration", 60e3),
  h: unit("duration", 3600e3),
  d: unit("duration", 86400e3),
  "W/K": unit("heat loss"),
  "kJ/K": unit("heat capacity", 1e3),
  "MJ/K": unit("heat capacity", 1e6),
  "g/%RH": unit("moisture capacity"),
  "": unit("plain"),
} as const satisfies Record<string, UnitEntry>;

/** A unit of the language, as the formatter writes it; `""` is a bare number. */
export type Unit = keyof typeof entries;

/** What a unit measures, known to the compiler. */
export type DimensionOf<Of extends Unit> = (typeof entries)[Of]["dimension"];

/** What each unit measures, and how it is converted. */
export const units: Readonly<Record<Unit, UnitEntry>> = entries;

/** Other spellings that are read and rewritten. */
export const spellings: Readonly<Record<string, Unit>> = {
  degC: "°C",
  degF: "°F",
  "℃": "°C",
  "℉": "°F",
  "ug/m3": "µg/m³",
  "μg/m³": "µg/m³",
  "µg/m3": "µg/m³",
  "μg/m3": "µg/m³",
  "mg/m3": "mg/m³",
  "g/m3": "g/m³",
  "m3/h": "m³/h",
  m3: "m³",
  m2: "m²",
};

export function isUnit(text: string): text is Unit {
  return Object.hasOwn(units, text);
}

/** The unit a text spells, in its canonical form. */
export function readUnit(text: string): Unit | undefined {
  if (isUnit(text)) return text;
  return Object.hasOwn(spellings, text) ? spellings[text] : undefined;
}
