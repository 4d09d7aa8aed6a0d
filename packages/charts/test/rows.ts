// Reads from a chart description what stands on its rows, as somebody who looks at it would.
import type { Chart } from "@modrik/charts";

type Corner = readonly [at: number, y: number];

interface Mark {
  readonly coord: Corner;
  readonly name?: string;
  readonly itemStyle?: { readonly color: string };
}

export type Segment = readonly [Corner, Corner];

type Filled = readonly [from: number, to: number, share: number];

export interface Series {
  readonly type: string;
  readonly name: string;
  readonly xAxisIndex: number;
  readonly data: readonly (readonly [number, number | null])[];
  readonly lineStyle?: { readonly color?: string; readonly type?: unknown };
  readonly areaStyle?: { readonly origin?: number };
  readonly markArea?: { readonly data: readonly (readonly [Mark, Mark])[] };
  readonly markLine?: { readonly data: readonly (readonly [Mark, Mark])[] };
}

interface Axis {
  readonly gridIndex: number;
  readonly type: string;
  readonly name?: string;
  readonly data?: readonly string[];
  readonly max: number;
}

export const seriesOn = ({ options }: Chart) => options.series as readonly Series[];
const axesOn = ({ options }: Chart) => options.yAxis as readonly Axis[];

/** The names of panels and strips, from top to bottom. */
export function namesOn(chart: Chart): string[] {
  const axes = axesOn(chart);
  const stripsOf = (grid: number) => axes.find((one) => one.gridIndex === grid && one.type === "category")?.data;
  return axes.filter(({ type }) => type !== "category").flatMap(({ gridIndex, name = "" }) => stripsOf(gridIndex) ?? [name]);
}

export interface Strip {
  /** From, to, word and colour of each stretch, in order. */
  readonly stretches: readonly (readonly [from: number, to: number, word: string, color: string | undefined])[];
  readonly moments: readonly (readonly [at: number, says: string | undefined])[];
  /** Its strokes, along it or across. */
  readonly segments: readonly Segment[];
  /** Of a thing: how far it is filled from when to when. */
  readonly filled: readonly Filled[];
  /** Where what is too short to be seen is marked. */
  readonly hairlines: readonly number[];
}

/** What stands on the strip of a name. */
export function stripOn(chart: Chart, name: string): Strip {
  const names = axesOn(chart).find(({ data }) => data?.includes(name));
  if (!names?.data) throw new RangeError(`there is no strip ${name}`);
  const { gridIndex: grid, data: all } = names;
  const pitch = (axesOn(chart).find((one) => one.gridIndex === grid && one.type === "value")?.max ?? 0) / all.length;
  const isAt = ([, y]: Corner) => Math.floor(y / pitch) === all.indexOf(name);
  const isOnIt = ({ coord }: Mark) => isAt(coord);
  const own = seriesOn(chart).filter(({ xAxisIndex }) => xAxisIndex === grid);
  const areas = own.flatMap(({ markArea }) => markArea?.data ?? []).filter(([one, other]) => isOnIt(one) && isOnIt(other));
  const lines = own.flatMap(({ markLine }) => markLine?.data ?? []).filter(([one, other]) => isOnIt(one) && isOnIt(other));
  // Strokes that look alike share a series.
  const segments = own
    .filter(({ type }) => type === "lines")
    .flatMap(({ data }) => (data as unknown as readonly { readonly coords: Segment }[]).map(({ coords }) => coords))
    .filter(([one, other]) => isAt(one) && isAt(other));
  const levels = own.filter((one) => one.name === name);
  const top = (chart.options.grid as readonly { readonly top: number }[])[grid]?.top ?? 0;
  const row = chart.rows?.find((one) => Math.floor((one.top - top) / pitch) === all.indexOf(name));
  const strokes = segments.flatMap(([[from], [to]]): Filled[] => (from === to ? [] : [[from, to, 1]]));
  const partly = levels.flatMap(({ data, areaStyle }) => {
    // A level may have points within it, so that it is drawn level.
    const spans: Filled[] = [];
    data.forEach(([at, y], place) => {
      const [until, same] = data[place + 1] ?? [at, null];
      if (y === null || same !== y || y === areaStyle?.origin) return;
      const share = Number((((areaStyle?.origin ?? Number.NaN) - y) / (row?.height ?? Number.NaN)).toFixed(6));
      const last = spans.at(-1);
      const from = last?.[1] === at && last[2] === share ? (spans.pop() as Filled)[0] : at;
      spans.push([from, until, share]);
    });
    return spans;
  });
  const filled = [...partly, ...strokes];
  const said = areas.map(([{ coord, name: word = "", itemStyle }, { coord: end }]) => {
    return [coord[0], end[0], word, itemStyle?.color] as const;
  });
  return {
    stretches: [...said, ...filled.map(([from, to]) => [from, to, "", undefined] as const)].sort(
      (one, other) => one[0] - other[0],
    ),
    moments: lines.map(([{ coord, name: says }]) => [coord[0], says] as const),
    filled,
    segments,
    hairlines: segments.flatMap(([[from], [to]]) => (from === to ? [from] : [])),
  };
}
