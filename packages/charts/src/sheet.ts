// The sheet a chart is drawn on: where its parts stand, and the series put on them. It ends as ECharts options without
// functions, so that it can be sent anywhere.
import type { Point } from "./stretches.js";
import type { Theme } from "./theme.js";

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
}

const FONT = "IBM Plex Sans, system-ui, sans-serif";

export class Sheet {
  readonly #theme: Theme;
  readonly #extent: Extent;
  readonly #titles: object[] = [];
  readonly #legend: object[] = [];
  readonly #grids: object[] = [];
  readonly #xAxes: object[] = [];
  readonly #yAxes: object[] = [];
  readonly #series: object[] = [];
  #colors = 0;
  #legendTop = 8;
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

  color(): string {
    const { series } = this.#theme;
    return series[this.#colors++ % series.length] as string;
  }

  /** Without a title there is room for the legend alone. */
  head(title: string, subtitle: string): void {
    const { ink, quiet } = this.#theme;
    if (title === "") return;
    this.#legendTop = 50;
    this.#titles.push({
      text: title,
      subtext: subtitle,
      left: 16,
      top: 10,
      itemGap: 4,
      textStyle: { color: ink, fontFamily: FONT, fontSize: this.#narrow ? 15 : 18, fontWeight: 600 },
      subtextStyle: { color: quiet, fontFamily: FONT, fontSize: 12 },
    });
  }

  /** Room for panels of values, so many curves in all, above and strips below. */
  divide(panels: number, curves: number, strips: number): { panels: Box[]; strips: Box[] } {
    const inLine = Math.floor(this.#extent.width / 160);
    const top = this.#legendTop + 22 + 18 * Math.max(this.#narrow ? 2 : 1, Math.ceil((curves + 1) / inLine));
    const bottom = 30;
    const low = this.#extent.height < 640 || strips > 8;
    const rowHeight = this.#narrow ? 32 : low ? 20 : 24;
    const gap = 26;
    const others = top + gap * panels + strips * rowHeight + bottom;
    const least = strips > 12 ? 120 : 40;
    const height = Math.max(least, (this.#extent.height - others) / Math.max(1, panels));
    this.#height = Math.ceil(others + height * panels);
    const stripsTop = this.#height - bottom - strips * rowHeight;
    return {
      panels: Array.from({ length: panels }, (_, index) => ({ top: top + index * (height + gap), height })),
      strips: Array.from({ length: strips }, (_, index) => {
        const inner = this.#narrow ? { top: 18, height: 11 } : { top: 4, height: rowHeight - 8 };
        return { top: stripsTop + index * rowHeight + inner.top, height: inner.height };
      }),
    };
  }

  panel(box: Box, name: string): number {
    const { ink, quiet, hairline } = this.#theme;
    return this.#grid(box, {
      type: "value",
      scale: true,
      splitNumber: box.height < 90 ? 2 : 4,
      name,
      nameLocation: "end",
      nameGap: 8,
      nameTextStyle: { color: ink, fontFamily: FONT, fontSize: 12, align: "left", padding: [0, 0, 0, this.#narrow ? -34 : -44] },
      axisLabel: { color: quiet, fontFamily: FONT, fontSize: 11 },
      splitLine: { lineStyle: { color: hairline } },
    });
  }

  #grid({ top, height }: Box, yAxis: object): number {
    const { quiet, hairline } = this.#theme;
    const { from, to } = this.#extent;
    const index = this.#grids.length;
    this.#grids.push({ top, height, left: this.#left, right: this.#narrow ? 12 : 28 });
    this.#xAxes.push({
      gridIndex: index,
      type: "time",
      min: from,
      max: to,
      axisLine: { lineStyle: { color: hairline } },
      axisTick: { show: false },
      axisLabel: { show: false, color: quiet, fontFamily: FONT, fontSize: 11, hideOverlap: true, formatter: timeFormat },
      splitLine: { show: true, lineStyle: { color: hairline } },
      axisPointer: { label: { show: false } },
    });
    this.#yAxes.push({ gridIndex: index, ...yAxis });
    return index;
  }

  curve(grid: number, name: string, color: string, dash: unknown, data: readonly Point[]): void {
    this.#legend.push({ name, lineStyle: { type: dash, color }, icon: "path://M0,3 L24,3 L24,5 L0,5 Z" });
    const lineStyle = { color, width: 1.6, type: dash };
    this.#line(grid, { name, data, lineStyle, itemStyle: { color }, sampling: "lttb", z: 3 });
  }

  /** A target band: an unseen lower edge with the height stacked upon it. */
  band(grid: number, color: string, low: readonly Point[], high: readonly Point[], time: (instant: number) => number): void {
    const name = "wanted";
    const stack = `band ${this.#series.length}`;
    const unseen = { lineStyle: { opacity: 0 }, silent: true, stack, stackStrategy: "all", tooltip: { show: false }, z: 1 };
    const points = (list: readonly Point[]) => list.map(([at, value]): Point => [time(at), value]);
    const heights = high.map(([at, value], index): Point => {
      const bottom = low[index]?.[1] ?? null;
      return [at, value === null || bottom === null ? null : value - bottom];
    });
    if (!this.#legend.some((entry) => (entry as { name: string }).name === name)) {
      this.#legend.push({ name, icon: "roundRect", itemStyle: { color: this.#theme.quiet, opacity: 0.35 } });
    }
    this.#line(grid, { ...unseen, name: `${name} from`, data: points(low), itemStyle: { opacity: 0 } });
    this.#line(grid, { ...unseen, name, data: points(heights), areaStyle: { color, opacity: 0.16 }, itemStyle: { color } });
  }

  /** Vertical marks at moments, each with a few words. */
  marks(grid: number, moments: readonly { readonly at: number; readonly says: string }[]): void {
    if (moments.length === 0) return;
    const { accent } = this.#theme;
    const label = { formatter: "{b}", color: accent, fontFamily: FONT, fontSize: 11, position: "insideEndTop" };
    const data = moments.map(({ at, says }) => ({ xAxis: at, name: says }));
    const markLine = { symbol: "none", silent: true, lineStyle: { color: accent, type: "solid", width: 1 }, label, data };
    this.#line(grid, { name: "marks", data: [], markLine, tooltip: { show: false } });
  }

  /** Stretches with a word each: a mode, a schedule. */
  strip(box: Box, name: string, stretches: readonly { from: number; to: number; word: string; tint: number }[]): void {
    const { ink, tints } = this.#theme;
    const grid = this.#row(box, name);
    const data = stretches.map(({ from, to, word, tint }) => [
      { xAxis: from, name: word, itemStyle: { color: tints[tint % tints.length] } },
      { xAxis: to },
    ]);
    const wide = (this.#extent.to - this.#extent.from) / 24;
    const labelled = data.map(([begin, end], index) => {
      const stretch = stretches[index] as { from: number; to: number };
      return [{ ...begin, label: { show: stretch.to - stretch.from > wide } }, end];
    });
    const label = { color: ink, fontFamily: FONT, fontSize: 11, position: "inside" };
    this.#line(grid, { name, data: [], markArea: { silent: true, label, data: labelled }, tooltip: { show: false } });
  }

  /** A bar as high as an output is on. */
  bar(box: Box, name: string, data: readonly Point[]): void {
    const { accent } = this.#theme;
    const grid = this.#row(box, name);
    this.#line(grid, {
      name,
      data,
      lineStyle: { opacity: 0 },
      areaStyle: { color: accent, opacity: 0.85 },
      itemStyle: { color: accent },
    });
  }

  #row(box: Box, name: string): number {
    const { ink } = this.#theme;
    const beside = this.#narrow
      ? { nameLocation: "end", nameGap: 2, nameTextStyle: { align: "left" } }
      : { nameLocation: "middle", nameRotate: 0, nameGap: 10, nameTextStyle: { align: "right" } };
    const nameTextStyle = { ...beside.nameTextStyle, color: ink, fontFamily: FONT, fontSize: 11 };
    return this.#grid(box, {
      type: "value",
      min: 0,
      max: 1,
      name,
      ...beside,
      nameTextStyle,
      axisLabel: { show: false },
      axisTick: { show: false },
      splitLine: { show: false },
    });
  }

  #line(grid: number, more: object): void {
    this.#series.push({ type: "line", xAxisIndex: grid, yAxisIndex: grid, showSymbol: false, animation: false, ...more });
  }

  description(): ChartDescription {
    const { ground, ink, quiet, hairline } = this.#theme;
    const last = this.#xAxes.at(-1) as { axisLabel: { show: boolean } } | undefined;
    if (last) last.axisLabel.show = true;
    return {
      useUTC: true,
      animation: false,
      backgroundColor: ground,
      textStyle: { fontFamily: FONT, color: ink },
      title: this.#titles,
      legend: {
        data: this.#legend,
        selectedMode: false,
        left: this.#narrow ? 12 : this.#left - 4,
        right: 12,
        top: this.#legendTop,
        itemWidth: 22,
        itemHeight: 8,
        textStyle: { color: quiet, fontFamily: FONT, fontSize: 11 },
      },
      axisPointer: { link: [{ xAxisIndex: "all" }], lineStyle: { color: ink, width: 1 }, label: { show: false } },
      tooltip: {
        trigger: "axis",
        showContent: false,
        backgroundColor: ground,
        borderColor: hairline,
        textStyle: { color: ink, fontFamily: FONT, fontSize: 12 },
      },
      grid: this.#grids,
      xAxis: this.#xAxes,
      yAxis: this.#yAxes,
      series: this.#series,
    };
  }
}

const timeFormat = {
  year: "{yyyy}",
  month: "{d}.{M}.",
  day: "{dd}.{MM}.",
  hour: "{HH}:{mm}",
  minute: "{HH}:{mm}",
  second: "{HH}:{mm}:{ss}",
};
