export { type Chart, type ChartOptions, type ChartRow, chartOf, linesOfChart } from "./chart.js";
export { chartOfComparison, type NamedRun } from "./comparison.js";
export { escapeHtml, type PageParts, toPage } from "./page.js";
export { type Drawing, drawIn, toSvg } from "./picture.js";
export { type Reading, sayReading } from "./reading.js";
export type { ChartDescription } from "./sheet.js";
export { type ToldReading, tellReadings } from "./tell.js";
export { type Theme, type ThemeName, themes } from "./theme.js";
export { chartOfTuning } from "./tuning.js";
