// The sheet a chart is drawn on: where its rows stand, and the series put on them. It ends as ECharts options without
// functions, so that it can be sent anywhere.
import type { Point, Span } from "./stretches.js";
import type { CurveStyle, Theme } from "./theme.js";
import { thinned } from "./thin.js";

/** ECharts options as plain data. */
export type ChartDescription = Readonly<Record<string, unknown>>;

/** Pixels from the top-left corner. */
export interface Box {
  readonly top: number;
  readonly height: number;
}

export interface Extent {
  readonly width: number;
  readonly height: number;
  readonly from: number;
  readonly to: number;
  /** Leave out points that are not seen at this width. */
  readonly thin?: boolean | undefined;
  /** Let panels be low, rather than the sheet high. */
  readonly dense?: boolean | undefined;
}

/** What stands on a sheet, from top to bottom: a heading, a panel of curves, a strip of stretches or of an output. */
export type RowKind = "heading" | "panel" | "strip";

/**
 * Strips under one another. They share a grid, whose vertical axis counts pixels from its top: a drawing with a grid for each
 * takes twice as long.
 */
interface Strips {
  readonly top: number;
  /** Pixels from one to the next. */
  readonly pitch: number;
  count: number;
  grid: number | undefined;
  readonly names: string[];
  readonly areas: object[];
  readonly lines: object[];
}

type Corner = readonly [at: number, y: number];
type Segment = readonly [Corner, Corner];

/** A strip on the grid that it shares: its upper and its lower edge on the axis of pixels. */
interface Strip {
  readonly strips: Strips;
  readonly grid: number;
  readonly upper: number;
  readonly lower: number;
}

export const FONT = "IBM Plex Sans, system-ui, sans-serif";

/** Pixels above a panel, for its name. */
const GAP = 32;
const HEADING = 30;
const BOTTOM = 30;
const TITLED = 62;
/** Pixels that anything on a strip has to be wide to be seen. */
const SEEN = 1.5;
/** Pixels above a strip, for its name, on a narrow sheet. */
const NAMED = 18;

export class Sheet {
  readonly #theme: Theme;
  readonly #extent: Extent;
  readonly #titles: object[] = [];
  readonly #legends: object[] = [];
  readonly #grids: object[] = [];
  readonly #xAxes: object[] = [];
  readonly #yAxes: object[] = [];
  /** The names of strips, next to them. */
  readonly #nameAxes: object[] = [];
  readonly #series: object[] = [];
  /** Of strokes that look alike on one grid, what they are of. */
  readonly #strokes = new Map<string, { readonly coords: Segment }[]>();
  readonly #stripsOf = new Map<Box, Strips>();
  #top = 8;
  #height: number;

  constructor(theme: Theme, extent: Extent) {
    this.#theme = theme;
    this.#extent = extent;
    this.#height = extent.height;
  }

  /** As asked for, or as high as what is on it needs. */
  get height(): number {
    return this.#height;
  }

  /** On a narrow sheet names stand above what they name, else to its left. */
  get #narrow(): boolean {
    return this.#extent.width < 640;
  }

  get #left(): number {
    return this.#narrow ? 44 : 150;
  }

  get #right(): number {
    return this.#narrow ? 14 : 44;
  }

  /** Without a title there is room for the rest alone. */
  head(title: string, subtitle: string): void {
    const { ink, quiet } = this.#theme;
    if (title === "") return;
    this.#top = TITLED;
    this.#titles.push({
      text: title,
      subtext: subtitle,
      left: 16,
      top: 10,
      itemGap: 6,
      textStyle: { color: ink, fontFamily: FONT, fontSize: this.#narrow ? 15 : 18, fontWeight: 600 },
      subtextStyle: { color: quiet, fontFamily: FONT, fontSize: 12 },
    });
  }

  /** Where rows stand: panels share what the rest leaves of the height, and have a least height of their own. */
  lay(rows: readonly RowKind[]): Box[] {
    const count = (kind: RowKind) => rows.filter((row) => row === kind).length;
    const low = this.#extent.height < 640 || count("strip") > 8;
    const strip = this.#narrow ? 32 : low ? 20 : 24;
    const others = this.#top + count("heading") * HEADING + count("panel") * GAP + count("strip") * strip + BOTTOM;
    const least = this.#extent.dense ? 58 : count("heading") > 1 ? 84 : count("strip") > 12 ? 120 : 40;
    const panel = Math.max(least, (this.#extent.height - others) / Math.max(1, count("panel")));
    let top = this.#top;
    let strips: Strips | undefined;
    const boxes = rows.map((row): Box => {
      const whole = { heading: HEADING, panel: GAP + panel, strip }[row];
      const above = { heading: 10, panel: GAP - 6, strip: this.#narrow ? NAMED : 4 }[row];
      const below = { heading: 0, panel: 6, strip: this.#narrow ? 3 : 4 }[row];
      const box = { top: top + above, height: whole - above - below };
      if (row !== "strip") strips = undefined;
      else {
        strips ??= { top, pitch: strip, count: 0, grid: undefined, names: [], areas: [], lines: [] };
        strips.count++;
        this.#stripsOf.set(box, strips);
      }
      top += whole;
      return box;
    });
    this.#height = Math.max(this.#extent.height, Math.ceil(top + BOTTOM));
    return boxes;
  }

  heading({ top }: Box, text: string): void {
    const { ink } = this.#theme;
    this.#titles.push({
      text,
      left: 16,
      top,
      padding: 0,
      textStyle: { color: ink, fontFamily: FONT, fontSize: 14, fontWeight: 600 },
    });
  }

  /** The names of its curves stand after its own. */
  panel(box: Box, name: string, names: readonly CurveStyle[], hasBand: boolean): number {
    const { ink, quiet, hairline } = this.#theme;
    const line = "path://M0,3 L24,3 L24,5 L0,5 Z";
    const data: object[] = names.map((one) => ({
      name: one.name,
      icon: line,
      lineStyle: { type: one.dash, color: one.color },
      itemStyle: { color: one.color },
    }));
    if (hasBand) data.push({ name: "wanted", icon: "roundRect", itemStyle: { color: quiet, opacity: 0.35 } });
    this.#legends.push({
      data,
      selectedMode: false,
      left: this.#left + (this.#narrow ? 90 : 80),
      right: 12,
      top: box.top - 23,
      padding: 0,
      itemWidth: 22,
      itemHeight: 8,
      // Without a page letters are narrower than they are drawn.
      itemGap: this.#narrow ? 10 : 20,
      textStyle: { color: quiet, fontFamily: FONT, fontSize: 11 },
    });
    return this.#grid(box, {
      type: "value",
      scale: true,
      splitNumber: box.height < 100 ? 2 : 4,
      name,
      nameLocation: "end",
      nameGap: 8,
      nameTextStyle: { color: ink, fontFamily: FONT, fontSize: 12, align: "left", padding: [0, 0, 0, this.#narrow ? -34 : -44] },
      axisLabel: { color: quiet, fontFamily: FONT, fontSize: 11, showMinLabel: true, showMaxLabel: box.height >= 60 },
      splitLine: { lineStyle: { color: hairline } },
    });
  }

  #grid({ top, height }: Box, yAxis: object): number {
    const { quiet, hairline } = this.#theme;
    const { from, to } = this.#extent;
    const index = this.#grids.length;
    // Axes stand under one another, however long a name is.
    this.#grids.push({ top, height, left: this.#left, right: this.#right, outerBoundsMode: "none" });
    this.#xAxes.push({
      gridIndex: index,
      type: "time",
      min: from,
      max: to,
      axisLine: { onZero: false, lineStyle: { color: hairline } },
      axisTick: { show: false },
      axisLabel: {
        show: false,
        color: quiet,
        fontFamily: FONT,
        fontSize: 11,
        hideOverlap: true,
        formatter: timeFormat,
        // There is no room next to a narrow sheet.
        ...(this.#narrow && { alignMinLabel: "left", alignMaxLabel: "right" }),
      },
      splitLine: { show: true, lineStyle: { color: hairline } },
      // Where somebody points: what stands there is read, not what was last written down near it.
      axisPointer: { show: true, snap: false, label: { show: false } },
    });
    this.#yAxes.push({ gridIndex: index, ...yAxis });
    return index;
  }

  curve(grid: number, { name, color, dash }: CurveStyle, data: readonly Point[]): void {
    const lineStyle = { color, width: 1.6, type: dash };
    this.#line(grid, { name, data: this.#seen(data), lineStyle, itemStyle: { color }, sampling: "lttb", z: 3 });
  }

  #seen(data: readonly Point[]): readonly Point[] {
    const { from, to, width, thin } = this.#extent;
    return thin ? thinned(data, from, to, width) : data;
  }

  /** A point at which something switches. */
  bound(grid: number, color: string, data: readonly Point[]): void {
    const lineStyle = { color, width: 1, type: [1, 3], opacity: 0.9 };
    this.#line(grid, {
      name: "switches at",
      data: this.#seen(data),
      lineStyle,
      itemStyle: { color },
      silent: true,
      z: 2,
    });
  }

  /** A target band: an unseen lower edge with the height stacked upon it; a line where it has no height. */
  band(grid: number, color: string, low: readonly Point[], high: readonly Point[], time: (instant: number) => number): void {
    const name = "wanted";
    const stack = `band ${this.#series.length}`;
    const unseen = { lineStyle: { opacity: 0 }, silent: true, stack, stackStrategy: "all", z: 1 };
    const points = (list: readonly Point[]) => list.map(([at, value]): Point => [time(at), value]);
    const heights = high.map(([at, value], index): Point => {
      const bottom = low[index]?.[1] ?? null;
      return [at, value === null || bottom === null ? null : value - bottom];
    });
    this.#line(grid, { ...unseen, name: `${name} from`, data: points(low), itemStyle: { opacity: 0 } });
    const isLine = heights.every(([, height]) => height === null || height === 0);
    const lineStyle = isLine ? { color, width: 1, opacity: 0.5 } : unseen.lineStyle;
    const data = points(heights);
    this.#line(grid, { ...unseen, name, data, lineStyle, areaStyle: { color, opacity: 0.16 }, itemStyle: { color } });
  }

  /** Vertical marks at moments, each with a few words. */
  marks(grid: number, moments: readonly { readonly at: number; readonly says: string }[]): void {
    if (moments.length === 0) return;
    const { accent } = this.#theme;
    const label = { formatter: "{b}", color: accent, fontFamily: FONT, fontSize: 11, position: "insideEndTop" };
    const data = moments.map(({ at, says }) => ({ xAxis: at, name: says }));
    const markLine = { symbol: "none", silent: true, lineStyle: { color: accent, type: "solid", width: 1 }, label, data };
    this.#line(grid, { name: "marks", data: [], markLine });
  }

  /** A row of moments: notices; with `labelled`, their words next to them. */
  moments(box: Box, name: string, moments: readonly { readonly at: number; readonly says: string }[], labelled = false): void {
    const { accent } = this.#theme;
    const strip = this.#strip(box, name);
    for (const { at, says } of moments) {
      const label = { ...this.#beside(box, at), show: labelled, formatter: "{b}", color: accent };
      this.#across(strip, at, { name: says, lineStyle: { color: accent, width: 2 }, label });
    }
  }

  /** A row for one claim about a stretch or an instant, in its words: what is outlined is claimed, a line marks where it went wrong. */
  claim(
    box: Box,
    name: string,
    { from, to, says, isMet, wrongAt }: { from: number; to: number; says: string; isMet: boolean; wrongAt?: number | undefined },
  ): void {
    const { ink, right, wrong } = this.#theme;
    const strip = this.#strip(box, name);
    const color = isMet ? right : wrong;
    const label = { ...this.#beside(box, from), show: true, formatter: says, color: ink };
    const unnamed = { show: false };
    this.#across(strip, from, { lineStyle: { color, width: 2 }, label });
    if (to > from) this.#across(strip, to, { lineStyle: { color, width: 2 }, label: unnamed });
    if (wrongAt !== undefined) this.#across(strip, wrongAt, { lineStyle: { color, width: 4 }, label: unnamed });
    if (to > from) this.#area(strip, from, to, { itemStyle: { color, opacity: 0.16 }, label: unnamed });
  }

  /** Stretches with a word each: a mode, a schedule, a contact. A colour of its own stands before a tint. */
  strip(
    box: Box,
    name: string,
    stretches: readonly { from: number; to: number; word: string; tint: number; color?: string }[],
  ): void {
    const { ink, tints } = this.#theme;
    const strip = this.#strip(box, name);
    const wide = (this.#extent.to - this.#extent.from) / 24;
    const label = { color: ink, fontFamily: FONT, fontSize: 11, position: "inside" };
    /** Those of a tint without room for their word. */
    const unsaid = new Map<string, Span[]>();
    for (const { from, to, word, tint, color } of stretches) {
      const own = color ?? (tints[tint % tints.length] as string);
      const show = word !== "" && to - from > wide;
      if (show || color !== undefined) {
        this.#area(strip, from, to, { name: word, itemStyle: { color: own }, label: { ...label, show } });
        continue;
      }
      unsaid.set(own, unsaid.get(own) ?? []);
      unsaid.get(own)?.push({ from, to });
    }
    for (const [color, spans] of unsaid) this.#stroke(strip, spans, color, 1);
  }

  /** While an output is on. */
  on(box: Box, name: string, spans: readonly Span[]): void {
    this.#stroke(this.#strip(box, name), spans, this.#theme.accent, 0.85);
  }

  /** A bar as high as an output is on, from 0 to 1. */
  bar(box: Box, name: string, shares: readonly Point[]): void {
    const { accent } = this.#theme;
    const { grid, upper, lower } = this.#strip(box, name);
    this.#line(grid, {
      name,
      data: this.#seen(shares).map(([at, share]): Point => [at, share === null ? null : lower - share * (lower - upper)]),
      lineStyle: { opacity: 0 },
      areaStyle: { color: accent, opacity: 0.85, origin: lower },
      itemStyle: { color: accent },
    });
    const across = runsOf(shares)
      .filter(({ from, to }) => to - from < SEEN * this.#pixel)
      .map(({ from, to, most }) => upright((from + to) / 2, lower, lower - most * (lower - upper)));
    this.#segments(grid, across, { color: accent, opacity: 0.85, width: SEEN });
  }

  /** In the time of the axis. */
  get #pixel(): number {
    const { from, to, width } = this.#extent;
    return (to - from) / (width - this.#left - this.#right);
  }

  /** Strokes as wide as the strip is high; what is too short to be seen is marked by a line across, however wide it is drawn. */
  #stroke({ grid, upper, lower }: Strip, spans: readonly Span[], color: string, opacity: number): void {
    const middle = (upper + lower) / 2;
    const along = spans.map(
      (one): Segment => [
        [one.from, middle],
        [one.to, middle],
      ],
    );
    const across = spans
      .filter((one) => one.to - one.from < SEEN * this.#pixel)
      .map((one) => upright((one.from + one.to) / 2, lower, upper));
    this.#segments(grid, along, { color, opacity, width: lower - upper });
    this.#segments(grid, across, { color, opacity, width: SEEN });
  }

  /** One path for all that look alike on a grid, as there may be hundreds. */
  #segments(grid: number, segments: readonly Segment[], lineStyle: object): void {
    if (segments.length === 0) return;
    const look = `${grid} ${JSON.stringify(lineStyle)}`;
    const known = this.#strokes.get(look);
    const data = known ?? [];
    data.push(...segments.map((coords) => ({ coords })));
    if (known) return;
    this.#strokes.set(look, data);
    this.#series.push({
      type: "lines",
      coordinateSystem: "cartesian2d",
      xAxisIndex: grid,
      yAxisIndex: grid,
      silent: true,
      animation: false,
      large: true,
      largeThreshold: 0,
      lineStyle: { curveness: 0, ...lineStyle },
      data,
    });
  }

  /** Words next to a mark, on the side where there is room. */
  #beside({ height }: Box, at: number): object {
    const late = at > (this.#extent.from + this.#extent.to) / 2;
    const place = { position: "start", distance: 0, verticalAlign: "middle", align: late ? "right" : "left" };
    return { ...place, offset: [late ? -6 : 6, -height / 2], fontFamily: FONT, fontSize: 11 };
  }

  #area({ strips, upper, lower }: Strip, from: number, to: number, style: object): void {
    strips.areas.push([{ coord: [from, upper], ...style }, { coord: [to, lower] }]);
  }

  #across({ strips, upper, lower }: Strip, at: number, style: object): void {
    strips.lines.push([{ coord: [at, lower], ...style }, { coord: [at, upper] }]);
  }

  #strip(box: Box, name: string): Strip {
    const strips = this.#stripsOf.get(box);
    if (!strips) throw new RangeError("a strip stands where it was laid");
    strips.names.push(name);
    strips.grid ??= this.#gridOf(strips);
    const upper = box.top - strips.top;
    return { strips, grid: strips.grid, upper, lower: upper + box.height };
  }

  #gridOf({ top, pitch, count, names, areas, lines }: Strips): number {
    const { ink, hairline } = this.#theme;
    const height = pitch * count;
    const pixels = { type: "value", min: 0, max: height, interval: pitch, inverse: true, axisLabel: { show: false } };
    const splitLine = { lineStyle: { color: hairline } };
    const grid = this.#grid({ top, height }, { ...pixels, axisTick: { show: false }, splitLine });
    const beside = this.#narrow
      ? { inside: true, margin: 2, align: "left", verticalAlign: "bottom" }
      : { margin: 10, width: this.#left - 16, overflow: "truncate", ellipsis: "…" };
    this.#nameAxes.push({
      gridIndex: grid,
      type: "category",
      position: "left",
      inverse: true,
      data: names,
      axisLine: { show: false },
      axisTick: { show: false },
      axisLabel: { interval: 0, color: ink, fontFamily: FONT, fontSize: 11, ...beside },
    });
    const markLine = { silent: true, symbol: "none", lineStyle: { type: "solid" }, data: lines };
    this.#line(grid, { name: "strips", data: [], silent: true, markArea: { silent: true, data: areas }, markLine });
    return grid;
  }

  #line(grid: number, more: object): void {
    const place = { xAxisIndex: grid, yAxisIndex: grid };
    // Symbols that are not shown are not counted through either, which takes a fourth of the time of a drawing.
    this.#series.push({ type: "line", ...place, symbol: "none", showSymbol: false, animation: false, ...more });
  }

  description(): ChartDescription {
    const { ground, ink } = this.#theme;
    const last = this.#xAxes.at(-1) as { axisLabel: { show: boolean } } | undefined;
    if (last) last.axisLabel.show = true;
    return {
      useUTC: true,
      animation: false,
      backgroundColor: ground,
      textStyle: { fontFamily: FONT, color: ink },
      title: this.#titles,
      legend: this.#legends,
      axisPointer: { link: [{ xAxisIndex: "all" }], lineStyle: { color: ink, width: 1 }, label: { show: false } },
      grid: this.#grids,
      xAxis: this.#xAxes,
      yAxis: [...this.#yAxes, ...this.#nameAxes],
      series: this.#series,
    };
  }
}

function upright(at: number, lower: number, upper: number): Segment {
  return [
    [at, lower],
    [at, upper],
  ];
}

/** From when to when something was more than nothing, and how much at most. */
function runsOf(shares: readonly Point[]): { from: number; to: number; most: number }[] {
  const runs: { from: number; to: number; most: number }[] = [];
  let isOn = false;
  for (const [at, share] of shares) {
    const last = runs.at(-1);
    if (isOn && last) last.to = at;
    if (share !== null && share > 0) {
      if (isOn && last) last.most = Math.max(last.most, share);
      else runs.push({ from: at, to: at, most: share });
    }
    isOn = share !== null && share > 0;
  }
  return runs;
}

/** A day has its weekday and the name of its month: nobody reads the one for the other. */
const timeFormat = {
  year: "{yyyy}",
  month: "{d} {MMM}",
  day: "{ee} {d} {MMM}",
  hour: "{HH}:{mm}",
  minute: "{HH}:{mm}",
  second: "{HH}:{mm}:{ss}",
};
