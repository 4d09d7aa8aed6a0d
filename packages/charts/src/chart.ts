// A run of a house as a chart description: measured values in a panel for each unit, the target band behind the curve it
// belongs to, outputs as bands under them, modes and schedules as strips, marks where a dial changed.
import { clockOf, fromBase, isIn, type Output, type Run, readingOf, type Sensor, titleOf, type Unit } from "modrik";
import { bandsOf } from "./bands.js";
import { type Box, type ChartDescription, Sheet } from "./sheet.js";
import { curve, steps, stretchesOf, wallTime } from "./stretches.js";
import { dashes, type ThemeName, themes } from "./theme.js";

export interface ChartOptions {
  /** @default "light" */
  readonly theme?: ThemeName;
  /** Pixels. @default 1280 */
  readonly width?: number;
  /** Pixels; a chart that does not fit is higher. @default 800 */
  readonly height?: number;
  /** Only what is in this zone. @default the whole house */
  readonly zone?: string | undefined;
  /** Stands over the chart; empty for none. @default the name of the house */
  readonly title?: string;
  readonly subtitle?: string;
}

const quantities: Partial<Record<Unit, string>> = {
  "°C": "Temperature",
  "°F": "Temperature",
  "%RH": "Humidity",
  lx: "Light",
  ppm: "Concentration",
  "%": "Share",
};

/** A chart, and how large it is in pixels. */
export interface Chart {
  readonly options: ChartDescription;
  readonly width: number;
  readonly height: number;
}

/**
 * The chart of a run: ECharts options as plain data, without functions. A schedule that neither opens nor closes in the
 * run says nothing of it, and is left out.
 */
export function chartOf(run: Run, options: ChartOptions = {}): Chart {
  const { theme = "light", width = 1280, height = 800, zone } = options;
  const { past } = run;
  const { house } = past;
  const lineOf = (name: string) => past.line({ kind: "value", of: name });
  const time = wallTime(clockOf(house.clock), run);
  const sheet = new Sheet(themes[theme], { width, height, from: time(run.from), to: time(run.to) });
  const here = ({ name }: { readonly name: string }) => isIn(zone, name);
  const measured = house.sensors.filter(({ name, type }) => type.kind === "number" && lineOf(name).times.length > 0);
  const shown = measured.filter(here);
  const outputs = house.outputs.filter(here);
  const schedules = house.schedules.flatMap((schedule) => {
    const stretches = stretchesOf(past.line({ kind: "during", schedule: schedule.name }), run);
    return stretches.length > 1 ? [{ schedule, open: stretches.filter(({ value }) => value === 1) }] : [];
  });
  const units = [...new Set(shown.map(unitOf))];
  sheet.head(options.title ?? house.name, options.subtitle ?? "");
  const rows = house.modes.length + schedules.length + outputs.length;
  const { panels, strips } = sheet.divide(units.length, shown.length, rows);

  units.forEach((unit, index) => {
    const box = panels[index] as Box;
    const sensors = shown.filter((sensor) => unitOf(sensor) === unit);
    panel(sheet, box, unit, sensors);
  });

  function panel(sheet: Sheet, box: Box, unit: Unit, sensors: readonly Sensor[]): void {
    const grid = sheet.panel(box, `${quantities[unit] ?? ""} ${unit}`.trim());
    const scale = (value: number) => fromBase(value, unit);
    sensors.forEach((sensor, place) => {
      const color = sheet.color();
      for (const band of bandsOf(run, sensor.name, scale)) sheet.band(grid, color, band.low, band.high, time);
      const dash = dashes[place % dashes.length];
      sheet.curve(grid, nameOf(sensor), color, dash, curve(lineOf(sensor.name), run, time, scale));
    });
    sheet.marks(grid, dialChanges());
  }

  function dialChanges(): { at: number; says: string }[] {
    return house.dials.flatMap((dial) => {
      const { times } = lineOf(dial.name);
      const within = times.filter((at) => at > run.from && at <= run.to);
      return within.map((at) => ({
        at: time(at),
        says: `${titleOf(dial)} ${readingOf(run, dial.name, at)}`,
      }));
    });
  }

  let row = 0;
  for (const mode of house.modes) {
    const words = mode.type.words;
    const stretches = stretchesOf(lineOf(mode.name), run);
    const named = stretches.map(({ from, to, value }) => ({
      from: time(from),
      to: time(to),
      word: words[value] ?? "unknown",
      tint: value,
    }));
    sheet.strip(strips[row++] as Box, titleOf(mode), named);
  }
  for (const { schedule, open } of schedules) {
    const named = open.map(({ from, to }) => ({ from: time(from), to: time(to), word: "", tint: 0 }));
    sheet.strip(strips[row++] as Box, titleOf(schedule), named);
  }
  for (const output of outputs) {
    const share = shareOf(output);
    sheet.bar(strips[row++] as Box, titleOf(output), steps(lineOf(output.name), run, time, share));
  }
  return { options: sheet.description(), width, height: sheet.height };
}

function nameOf(sensor: Sensor): string {
  return sensor.title ?? sensor.name;
}

function unitOf({ type }: Sensor): Unit {
  return type.kind === "number" ? type.unit : "";
}

/** How full an output's bar is: on, or its share of its range. */
function shareOf({ type, range }: Output): (base: number) => number {
  if (type.kind === "words") {
    const off = Math.max(0, type.words.indexOf("off"));
    return (value) => (value === off ? 0 : 1);
  }
  const [low, high] = range ?? [0, 100];
  return (base) => (type.kind === "number" ? (fromBase(base, type.unit) - low) / (high - low) : 0);
}
