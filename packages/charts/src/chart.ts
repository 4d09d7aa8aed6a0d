// A run of a house as a chart description: zone by zone its curves, a panel for each unit, the target band behind the curve
// it belongs to, outputs as bands under what they move, contacts and words as strips; then modes, schedules, lets, the sun
// and notices.
import {
  clockOf,
  type DrawableRun,
  type Expression,
  fromBase,
  type Happened,
  type House,
  isIn,
  type Let,
  type Output,
  offWordOf,
  type Range,
  reachOf,
  readingOf,
  type Sensor,
  type Series,
  sunElevation,
  titleOf,
  typeOf,
  type Unit,
  units,
  type Verdict,
} from "modrik";
import { bandsOf } from "./bands.js";
import type { Reading } from "./reading.js";
import { boundsOf, nameAcross, nameIn, type Panel, sectionOfChosen, sectionsOf } from "./section.js";
import { type Box, type ChartDescription, type RowKind, Sheet } from "./sheet.js";
import { curve, lineOver, type Point, type Span, steps, stretchesOf, wallTime } from "./stretches.js";
import { type CurveStyle, curveStyles, type ThemeName, themes } from "./theme.js";
import { placesKept } from "./thin.js";

export interface ChartOptions {
  /** @default "light" */
  readonly theme?: ThemeName;
  /** Pixels. @default 1280 */
  readonly width?: number;
  /** Pixels; a chart that does not fit is higher. @default 800 */
  readonly height?: number;
  /** Only what is in this zone. @default the whole house, zone by zone */
  readonly zone?: string | undefined;
  /** Only these sensors and outputs, of whichever zones; in place of a zone. */
  readonly things?: readonly string[] | undefined;
  /** Of chosen sensors of one unit, their mean too. */
  readonly mean?: boolean | undefined;
  /** Leave out what is not seen at this width: for what is drawn again when it is looked at more closely. @default false */
  readonly thin?: boolean;
  /** What happened in the run, as `provoke` and trials tell: marked by numbers, in this order. */
  readonly happened?: readonly Happened[] | undefined;
  /** What was expected of it: a row each, with what it claims and how it went. */
  readonly verdicts?: readonly Verdict[] | undefined;
  /** Low panels rather than a high chart: for where other things stand below it. @default false */
  readonly dense?: boolean;
  /** Stands over the chart; empty for none. @default the name of the house */
  readonly title?: string;
  readonly subtitle?: string;
}

/** What is measured, where people say it otherwise. */
const quantities: Readonly<Record<string, string>> = {
  "relative humidity": "Humidity",
  "temperature difference": "Difference",
  "mass concentration": "Concentration",
  plain: "",
};

/** A chart, and how large it is in pixels. */
export interface Chart {
  readonly options: ChartDescription;
  readonly width: number;
  readonly height: number;
  /** What a cursor reads: everything on it, and what it said when. */
  readonly readings?: readonly Reading[];
  /** Where things stand on it, for who points at them. */
  readonly rows?: readonly ChartRow[];
}

/** Pixels from the top of the chart, and what stands there. */
export interface ChartRow {
  readonly top: number;
  readonly height: number;
  /** The whole names of the things drawn there. */
  readonly things: readonly string[];
}

/** A row, and how it is drawn once its place is known. */
interface Row {
  readonly kind: RowKind;
  readonly things?: readonly string[];
  readonly draw: (box: Box) => void;
}

/** Words in which a thing rests: those stretches stay blank. */
const RESTING: ReadonlySet<string> = new Set(["closed", "still", "off", "no", "ok"]);

/**
 * The chart of a run: ECharts options as plain data, without functions. A schedule that neither opens nor closes in the
 * run says nothing of it, and is left out.
 */
export function chartOf(run: DrawableRun, options: ChartOptions = {}): Chart {
  const { theme = "light", width = 1280, height = 800, zone, things, mean = false, thin, dense } = options;
  const { past } = run;
  const { house } = past;
  const colors = themes[theme];
  const lineOf = (name: string) => lineOver(run, { kind: "value", of: name });
  const time = wallTime(clockOf(house.clock), run);
  const sheet = new Sheet(colors, { width, height, from: time(run.from), to: time(run.to), thin, dense });
  const readings: Reading[] = [];
  const sections = things
    ? [sectionOfChosen(house, things, mean)]
    : sectionsOf(house, zone, ({ name, type }) => type.kind !== "press" && lineOf(name).times.length > 0);
  sheet.head(options.title ?? house.name, options.subtitle ?? "");

  const rows: Row[] = [];
  for (const { zone: of, panels, words, others } of sections) {
    const own = of?.name;
    if (of && zone === undefined) rows.push({ kind: "heading", draw: (box) => sheet.heading(box, titleOf(of)) });
    for (const panel of panels) {
      rows.push(panelRow(own, panel));
      rows.push(...panel.outputs.map((output) => outputRow(own, output)));
    }
    rows.push(...others.map((output) => outputRow(own, output)), ...words.flatMap((sensor) => wordRow(own, sensor)));
  }
  rows.push(...trialRows());
  const common = things ? [] : [...house.modes.map(modeRow), ...scheduleRows(), ...letRows(), ...sunRow(), ...noticeRow()];
  if (zone === undefined && common.length > 0) rows.push({ kind: "heading", draw: (box) => sheet.heading(box, "House") });
  rows.push(...common);
  const boxes = sheet.lay(rows.map(({ kind }) => kind));
  rows.forEach(({ draw }, place) => draw(boxes[place] as Box));
  const placed = rows.flatMap(({ things: named = [] }, place) => {
    const { top, height: high } = boxes[place] as Box;
    return named.length === 0 ? [] : [{ top, height: high, things: named }];
  });
  return { options: sheet.description(), width, height: sheet.height, readings, rows: placed };

  /** What happened, by numbers, and each expectation on a row of its own. */
  function trialRows(): Row[] {
    const { happened = [], verdicts = [] } = options;
    const seen = happened.map((one, place) => ({ ...one, number: place + 1 })).filter(({ at }) => at >= run.from && at <= run.to);
    const inOrder = [...seen].sort((a, b) => a.at - b.at);
    if (seen.length > 0)
      readings.push({
        section: "Timeline",
        name: "Happened",
        times: inOrder.map(({ at }) => time(at)),
        values: [],
        texts: inOrder.map(({ says }) => says),
      });
    const marks = new Map<number, number[]>();
    for (const { at, number } of inOrder) marks.set(at, [...(marks.get(at) ?? []), number]);
    return [
      ...(marks.size === 0
        ? []
        : [
            {
              kind: "strip" as const,
              draw: (box: Box) =>
                sheet.moments(
                  box,
                  "Happens",
                  [...marks].map(([at, all]) => ({ at: time(at), says: all.join(", ") })),
                  true,
                ),
            },
          ]),
      ...verdicts.map(
        ({ says, passed, from, to, wrongAt }): Row => ({
          kind: "strip",
          draw: (box) =>
            sheet.claim(box, passed ? "✓ expected" : "✗ expected", {
              from: time(from),
              to: time(to),
              says,
              isMet: passed,
              wrongAt: wrongAt === undefined ? undefined : time(wrongAt),
            }),
        }),
      ),
    ];
  }

  function read(section: string, name: string, thing: string): void {
    readLine(section, name, typeOf(house, thing), lineOf(thing), thing);
  }

  function readLine(
    section: string,
    name: string,
    type: ReturnType<typeof typeOf>,
    { times, values }: Series,
    thing?: string,
  ): void {
    const about = type.kind === "words" ? { words: type.words } : type.kind === "number" ? { unit: type.unit } : {};
    const of = type.kind === "number" ? (value: number) => fromBase(value, type.unit) : (value: number) => value;
    const within = times
      .map((at, place) => ({ at, value: values[place] as number }))
      .filter(({ at }, place) => at <= run.to && (times[place + 1] ?? run.to) > run.from);
    const points = within.map(({ at, value }): Point => [at, Number.isNaN(value) ? null : value]);
    const seen = thin ? placesKept(points, run.from, run.to, width).map((place) => within[place] as (typeof within)[0]) : within;
    readings.push({
      section,
      name,
      ...(thing !== undefined && { thing }),
      ...about,
      ...(type.kind === "colour" && { colour: true }),
      times: seen.map(({ at }) => time(at)),
      values: seen.map(({ value }) => (Number.isNaN(value) ? null : Number(of(value).toPrecision(6)))),
    });
  }

  function titleOfZone(name: string | undefined): string {
    const found = house.zones.find((one) => one.name === name);
    return found ? titleOf(found) : (name ?? "Chosen");
  }

  /** Within its zone, or among things of several. */
  function nameOf(own: string | undefined, thing: Sensor | Output): string {
    return own === undefined ? nameAcross(house, thing) : nameIn(own, thing);
  }

  function panelRow(own: string | undefined, { unit, sensors, mean }: Panel): Row {
    const scale = (value: number) => fromBase(value, unit);
    const meanLine = mean ? past.line(meanOf(sensors)) : undefined;
    const names = curveStyles(colors, [...sensors.map((sensor) => nameOf(own, sensor)), ...(meanLine ? ["mean"] : [])]);
    for (const sensor of sensors) read(titleOfZone(own), nameOf(own, sensor), sensor.name);
    if (meanLine) readLine(titleOfZone(own), "mean", { kind: "number", unit }, meanLine);
    const bands = sensors.map((sensor) => bandsOf(run, sensor.name, scale));
    return {
      kind: "panel",
      things: sensors.map(({ name }) => name),
      draw: (box) => {
        const grid = sheet.panel(
          box,
          quantityOf(unit),
          names,
          bands.some((list) => list.length > 0),
        );
        sensors.forEach((sensor, place) => {
          const name = names[place] as CurveStyle;
          for (const band of bands[place] ?? []) sheet.band(grid, name.color, band.low, band.high, time);
          for (const bound of boundsAbout(sensor)) sheet.bound(grid, name.color, steps(lineOver(run, bound), run, time, scale));
          sheet.curve(grid, name, curve(lineOf(sensor.name), run, time, scale));
        });
        if (meanLine) sheet.curve(grid, names.at(-1) as CurveStyle, curve(meanLine, run, time, scale));
        sheet.marks(grid, dialChanges(own));
      },
    };
  }

  /** The points at which something switches by a sensor. */
  function boundsAbout({ name }: Sensor) {
    const found = house.rules.flatMap(({ sentences }) =>
      sentences.flatMap((sentence) => ("while" in sentence && sentence.while ? boundsOf(sentence.while) : [])),
    );
    return found.filter(({ left }) => left.kind === "value" && left.of === name).map(({ right }) => right);
  }

  function dialChanges(own: string | undefined): { at: number; says: string }[] {
    if (own === undefined) return [];
    return house.dials
      .filter(({ name }) => !name.includes(".") || isIn(own, name))
      .flatMap((dial) => {
        const { times } = lineOf(dial.name);
        const within = times.filter((at) => at > run.from && at <= run.to);
        return within.map((at) => ({ at: time(at), says: `${titleOf(dial)} ${readingOf(run, dial.name, at)}` }));
      });
  }

  function outputRow(own: string | undefined, output: Output): Row {
    const name = nameOf(own, output);
    read(titleOfZone(own), name, output.name);
    const { type } = output;
    const row = { kind: "strip" as const, things: [output.name] };
    if (type.kind === "colour") return { ...row, draw: (box) => sheet.strip(box, name, colourStretches(output.name)) };
    return { ...row, draw: (box) => drawOutput(sheet, box, name, run, output, time) };
  }

  function colourStretches(thing: string) {
    return stretchesOf(lineOf(thing), run).flatMap(({ from, to, value }) =>
      Number.isNaN(value)
        ? []
        : [{ from: time(from), to: time(to), word: "", tint: 0, color: `#${value.toString(16).padStart(6, "0")}` }],
    );
  }

  function wordRow(own: string | undefined, sensor: Sensor): Row[] {
    const name = nameOf(own, sensor);
    read(titleOfZone(own), name, sensor.name);
    const { type } = sensor;
    return type.kind === "words" ? [wordsRow(name, sensor.name, type.words)] : [];
  }

  function wordsRow(name: string, thing: string, words: readonly string[]): Row {
    const stretches = stretchesOf(lineOf(thing), run).flatMap(({ from, to, value }) => {
      const word = words[value] ?? "unknown";
      return RESTING.has(word) ? [] : [{ from: time(from), to: time(to), word, tint: Number.isNaN(value) ? 2 : value }];
    });
    return { kind: "strip", things: [thing], draw: (box) => sheet.strip(box, name, stretches) };
  }

  function modeRow({ name, title = name, type }: (typeof house.modes)[number]): Row {
    read("House", title, name);
    const stretches = stretchesOf(lineOf(name), run).map(({ from, to, value }) => ({
      from: time(from),
      to: time(to),
      word: type.words[value] ?? "unknown",
      tint: value,
    }));
    return { kind: "strip", things: [name], draw: (box) => sheet.strip(box, title, stretches) };
  }

  function scheduleRows(): Row[] {
    return house.schedules.flatMap((schedule) => {
      const stretches = stretchesOf(past.line({ kind: "during", schedule: schedule.name }), run);
      if (stretches.length <= 1) return [];
      const open = stretches.filter(({ value }) => value === 1);
      const named = open.map(({ from, to }) => ({ from: time(from), to: time(to), word: "", tint: 0 }));
      return [{ kind: "strip" as const, draw: (box: Box) => sheet.strip(box, titleOf(schedule), named) }];
    });
  }

  /** Lets of one unit in a panel; those that are words, truths or colours in strips. */
  function letRows(): Row[] {
    if (zone !== undefined) return [];
    const shown = house.lets.filter(({ name }) => lineOf(name).times.length > 0);
    const typed = shown.map((one) => ({ one, type: typeOf(house, one.name) }));
    const unitsOf = [...new Set(typed.flatMap(({ type }) => (type.kind === "number" ? [type.unit] : [])))];
    for (const { one } of typed) read("House", nameIn(undefined, one), one.name);
    return [
      ...unitsOf.map((unit) =>
        letPanel(
          unit,
          typed.filter(({ type }) => type.kind === "number" && type.unit === unit).map(({ one }) => one),
        ),
      ),
      ...typed.flatMap(({ one, type }): Row[] => {
        const name = nameIn(undefined, one);
        if (type.kind === "colour") return [{ kind: "strip", draw: (box) => sheet.strip(box, name, colourStretches(one.name)) }];
        if (type.kind === "words") return [wordsRow(name, one.name, type.words)];
        return type.kind === "truth"
          ? [
              {
                kind: "strip",
                draw: (box) =>
                  sheet.on(
                    box,
                    name,
                    spansOn(lineOf(one.name), run, time, (value) => value === 1),
                  ),
              },
            ]
          : [];
      }),
    ];
  }

  function letPanel(unit: Unit, lets: readonly Let[]): Row {
    const scale = (value: number) => fromBase(value, unit);
    const names = curveStyles(
      colors,
      lets.map((one) => nameIn(undefined, one)),
    );
    return {
      kind: "panel",
      draw: (box) => {
        const grid = sheet.panel(box, `Reckoned ${unit}`.trim(), names, false);
        lets.forEach((one, place) => sheet.curve(grid, names[place] as CurveStyle, curve(lineOf(one.name), run, time, scale)));
      },
    };
  }

  /** While it is up. */
  function sunRow(): Row[] {
    const { place } = house;
    if (!place) return [];
    const up: { from: number; to: number; word: string; tint: number }[] = [];
    const MINUTES = 5 * 60e3;
    for (let at = run.from; at < run.to; at += MINUTES) {
      if (sunElevation(place, at) < -0.833) continue;
      const last = up.at(-1);
      const end = time(Math.min(run.to, at + MINUTES));
      if (last && last.to === time(at)) last.to = end;
      else up.push({ from: time(at), to: end, word: "up", tint: 1 });
    }
    return [{ kind: "strip", draw: (box) => sheet.strip(box, "Sun", up) }];
  }

  function noticeRow(): Row[] {
    const told = past.notices(run.from, run.to);
    if (told.length === 0) return [];
    readings.push({
      section: "House",
      name: "Notice",
      times: told.map(({ at }) => time(at)),
      values: [],
      texts: told.map(({ text }) => text),
    });
    return [
      {
        kind: "strip",
        draw: (box) =>
          sheet.moments(
            box,
            "Notices",
            told.map(({ at, text }) => ({ at: time(at), says: text })),
          ),
      },
    ];
  }
}

/** The expressions whose lines a chart of such a run is drawn of. */
export function linesOfChart(house: House, run: Pick<DrawableRun, "from" | "to">, options: ChartOptions = {}): Expression[] {
  const asked = new Map<string, Expression>();
  const ask = (one: Expression) => void asked.set(JSON.stringify(one), one);
  const past: DrawableRun["past"] = {
    house,
    line: (one) => {
      ask(one);
      // Something has been reported, or it would not be drawn.
      return { times: [run.from], values: [Number.NaN] };
    },
    value: (one) => {
      ask(one);
      return Number.NaN;
    },
    notices: () => [],
    problems: () => [],
  };
  chartOf({ ...run, past }, options);
  return [...asked.values()];
}

/** Of those that are known. */
function meanOf(sensors: readonly Sensor[]): Expression {
  return { kind: "of several", function: "mean", of: sensors.map(({ name }) => ({ kind: "value", of: name })), known: 1 };
}

/** When an output is on, or how far, over a run. */
export function drawOutput(
  sheet: Sheet,
  box: Box,
  name: string,
  run: DrawableRun,
  output: Output,
  time: (instant: number) => number,
): void {
  const { name: of, type } = output;
  const line = run.past.line({ kind: "value", of });
  if (type.kind === "number") {
    // Of what has no range, the run says how far it goes.
    const [low, high] = reachOf(output) ?? extentOf(line, type.unit);
    const share = (base: number) => (high === low ? 0 : (fromBase(base, type.unit) - low) / (high - low));
    return sheet.bar(box, name, steps(line, run, time, share));
  }
  const off = type.kind === "words" ? type.words.indexOf(offWordOf(output) as string) : 0;
  return sheet.on(
    box,
    name,
    spansOn(line, run, time, (value) => !Number.isNaN(value) && value !== off),
  );
}

/** From where to where a line goes, nothing included. */
function extentOf({ values }: Series, unit: Unit): Range {
  let [low, high] = [0, 0];
  for (const base of values) {
    const value = fromBase(base, unit);
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return [low, high];
}

/** From when to when a line is as asked. */
function spansOn(line: Series, run: DrawableRun, time: (instant: number) => number, isOn: (value: number) => boolean): Span[] {
  return stretchesOf(line, run).flatMap(({ from, to, value }) => (isOn(value) ? [{ from: time(from), to: time(to) }] : []));
}

/** `Temperature °C`. */
export function quantityOf(unit: Unit): string {
  const { dimension } = units[unit];
  const name = quantities[dimension] ?? `${dimension.charAt(0).toUpperCase()}${dimension.slice(1)}`;
  return `${name} ${unit}`.trim();
}
