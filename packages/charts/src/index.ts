export { type Chart, type ChartOptions, chartOf } from "./chart.js";
export { type Drawing, drawIn, toSvg } from "./picture.js";
export type { ChartDescription } from "./sheet.js";
export { type Theme, type ThemeName, themes } from "./theme.js";
