// A run of a house as a chart description: measured values in a panel for each unit, the target band behind the curve it
// belongs to, outputs as bands under them, modes and schedules as strips, marks where a dial changed.
import { clockOf, fromBase, History, type Output, type Run, type Sensor, sayValue, titleOf, type Unit } from "modrik";
import { bandsOf } from "./bands.js";
import { type Box, type ChartDescription, Sheet } from "./sheet.js";
import { curve, steps, stretchesOf, wallTime } from "./stretches.js";
import { dashes, type ThemeName, themes } from "./theme.js";

export interface ChartOptions {
  /** @default "light" */
  readonly theme?: ThemeName;
  /** Pixels. @default 1280 */
  readonly width?: number;
  /** Pixels. @default 800 */
  readonly height?: number;
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
};

/** The chart of a run: ECharts options as plain data, without functions. */
export function chartOf(run: Run, options: ChartOptions = {}): ChartDescription {
  const { theme = "light", width = 1280, height = 800 } = options;
  const { house } = run.program;
  const history = new History(run);
  const time = wallTime(clockOf(house.clock), run);
  const sheet = new Sheet(themes[theme], { width, height, from: time(run.from), to: time(run.to) });
  const shown = house.sensors.filter(({ name, type }) => type.kind === "number" && history.seriesOf(name).times.length > 0);
  const units = [...new Set(shown.map(unitOf))];
  sheet.head(options.title ?? house.name, options.subtitle ?? "");
  const rows = [...house.modes, ...house.schedules, ...house.outputs].length;
  const { panels, strips } = sheet.divide(units.length, rows);

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
      for (const band of bandsOf(run, history, sensor.name, scale)) sheet.band(grid, color, band.low, band.high, time);
      const dash = dashes[place % dashes.length];
      sheet.curve(grid, nameOf(sensor), color, dash, curve(history.seriesOf(sensor.name), run, time, scale));
    });
    sheet.marks(grid, dialChanges());
  }

  function dialChanges(): { at: number; says: string }[] {
    return house.dials.flatMap((dial) => {
      const { times } = history.seriesOf(dial.name);
      const within = times.filter((at) => at > run.from && at <= run.to);
      return within.map((at) => ({
        at: time(at),
        says: `${titleOf(dial)} ${sayValue(dial.type, history.valueOf(dial.name, at))}`,
      }));
    });
  }

  let row = 0;
  for (const mode of house.modes) {
    const words = mode.type.words;
    const stretches = stretchesOf(history.seriesOf(mode.name), run);
    const named = stretches.map(({ from, to, value }) => ({
      from: time(from),
      to: time(to),
      word: words[value] ?? "unknown",
      tint: value,
    }));
    sheet.strip(strips[row++] as Box, titleOf(mode), named);
  }
  for (const schedule of house.schedules) {
    const node = run.program.graph.schedule(schedule.name);
    const open = stretchesOf(history.series(node), run).filter(({ value }) => value === 1);
    const named = open.map(({ from, to }) => ({ from: time(from), to: time(to), word: "", tint: 0 }));
    sheet.strip(strips[row++] as Box, titleOf(schedule), named);
  }
  for (const output of house.outputs) {
    const share = shareOf(output);
    sheet.bar(strips[row++] as Box, titleOf(output), steps(history.seriesOf(output.name), run, time, share));
  }
  return sheet.description();
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
