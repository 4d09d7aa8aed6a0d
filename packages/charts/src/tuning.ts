// The settings that were tried, as points: how often they switch, how far from the target they stay, and what they use; with
// the front of best choices.
import { type House, sayKnob, type TriedSetting, type Tuning, type Value } from "modrik";
import type { Chart, ChartOptions } from "./chart.js";
import { FONT } from "./sheet.js";
import { themes } from "./theme.js";

/** px across, of what uses least and what uses most. */
const LEAST = 10;
const MOST = 26;

/** The chart of a tuning: ECharts options as plain data, without functions. */
export function chartOfTuning(
  house: House,
  { plan, tried, front, recommended, says }: Tuning,
  options: ChartOptions = {},
): Chart {
  const { theme = "light", width = 1280, height = 800, title = house.name, subtitle = "" } = options;
  const { ground, ink, quiet, hairline, accent, series } = themes[theme];
  const energies = tried.flatMap(({ energy }) => energy ?? []);
  const [least, most] = [Math.min(...energies), Math.max(...energies)];
  const sizeOf = ({ energy }: TriedSetting) =>
    energy === undefined || !(most > least) ? LEAST + 4 : LEAST + ((MOST - LEAST) * (energy - least)) / (most - least);
  const nameOf = ({ values }: TriedSetting) =>
    plan.knobs.map((knob, place) => sayKnob(house, knob, values[place] as Value).replace(/^.*?( = |: )/, "")).join(", ");
  const unit = tried[0]?.unit ?? "";
  const known = tried.map((one, place) => ({ one, place })).filter(({ one }) => one.distance !== undefined);
  const colorOf = (place: number) => (place === recommended ? accent : front.includes(place) ? series[1] : quiet);
  const points = known.map(({ one, place }) => ({
    name: nameOf(one),
    value: [one.startsADay, one.distance],
    symbolSize: sizeOf(one),
    itemStyle: { color: colorOf(place), opacity: front.includes(place) ? 0.95 : 0.45 },
    label: { show: place === 0 || front.includes(place), formatter: place === 0 ? `${nameOf(one)} (today)` : nameOf(one) },
  }));
  const line = known
    .filter(({ place }) => front.includes(place))
    .map(({ one }) => [one.startsADay, one.distance] as const)
    .sort((a, b) => a[0] - b[0]);
  const text = { color: ink, fontFamily: FONT, fontSize: 12 };
  const axis = {
    type: "value",
    scale: true,
    nameLocation: "middle",
    nameTextStyle: text,
    axisLabel: { ...text, color: quiet },
    axisLine: { show: true, lineStyle: { color: hairline } },
    splitLine: { lineStyle: { color: hairline } },
  };
  const key = [
    "Each point is a setting",
    ...(energies.length > 0 && most > least ? [`larger: more energy, ${least.toFixed(1)} to ${most.toFixed(1)} kWh`] : []),
    "on the line: no other is better in one thing and no worse in the rest",
    "blue: recommended",
  ].join("; ");
  const description = {
    animation: false,
    backgroundColor: ground,
    textStyle: { fontFamily: FONT, color: ink },
    // Without a title, what is said of it is next to it.
    title:
      title === ""
        ? []
        : [
            {
              text: title,
              subtext: `${subtitle}\n${key}.`,
              left: 16,
              top: 10,
              itemGap: 4,
              textStyle: { ...text, fontSize: 18, fontWeight: 600 },
              subtextStyle: { ...text, color: quiet, lineHeight: 18 },
            },
            {
              text: says,
              left: 16,
              bottom: 12,
              textStyle: { ...text, fontSize: 14, fontWeight: 600, width: width - 40, overflow: "break" },
            },
          ],
    tooltip: { trigger: "item", backgroundColor: ground, borderColor: hairline, textStyle: text },
    grid: { left: 80, right: 60, ...(title === "" ? { top: 16, bottom: 52 } : { top: 100, bottom: 110 }) },
    xAxis: { ...axis, name: `Starts a day of ${plan.outputs.join(", ")}`, nameGap: 30 },
    yAxis: {
      ...axis,
      name: title === "" ? `Distance, rms (${unit})` : `Distance of ${plan.value} from its target, root mean square (${unit})`,
      nameGap: 50,
    },
    series: [
      {
        type: "line",
        data: line,
        symbol: "none",
        lineStyle: { color: series[1], width: 1.5, type: "dashed" },
        silent: true,
        z: 1,
      },
      {
        type: "scatter",
        data: points,
        // With the ground around it, so that a line behind it does not cross it out.
        label: { ...text, position: "right", distance: 6, textBorderColor: ground, textBorderWidth: 3 },
        labelLayout: { hideOverlap: true },
        z: 2,
      },
    ],
  };
  return { options: description, width, height };
}
