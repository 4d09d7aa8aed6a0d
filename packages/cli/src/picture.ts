// Charts as files: pictures, or pages that stand alone.
import { readFileSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, extname, join } from "node:path";
import {
  type Chart,
  type ChartOptions,
  chartOf,
  chartOfComparison,
  chartOfTuning,
  type NamedRun,
  toPage,
  toSvg,
} from "@modrik/charts";
import { Resvg } from "@resvg/resvg-js";
import type { House, Run, Tuning } from "modrik";
import { CallError } from "./call-error.js";
import { type Io, pathIn } from "./io.js";

/** Draws a run into a file. @throws CallError when the file's name says no picture */
export function drawChart(run: Run, file: string, options: ChartOptions, io: Io): void {
  draw(chartOf(run, options), file, io);
}

/** Draws what was tried. @throws CallError when the file's name says no picture */
export function drawTuning(house: House, tuning: Tuning, file: string, options: ChartOptions, io: Io): void {
  draw(chartOfTuning(house, tuning, options), file, io);
}

/** Draws runs over one another. @throws CallError when the file's name says no picture */
export function drawComparison(runs: readonly NamedRun[], file: string, options: ChartOptions, io: Io): void {
  draw(chartOfComparison(runs, options), file, io);
}

/** By the ending of the file's name. */
function draw(chart: Chart, file: string, io: Io): void {
  const ending = extname(file).toLowerCase();
  if (ending !== ".png" && ending !== ".svg" && ending !== ".html")
    throw new CallError(`A chart cannot be drawn as "${file}".`, "Name a file that ends in .png, .svg or .html.");
  const drawn = ending === ".html" ? toPage(chart, drawingCode()) : ending === ".svg" ? toSvg(chart) : pngOf(toSvg(chart));
  try {
    writeFileSync(pathIn(io, file), drawn);
  } catch (error) {
    throw new CallError(`"${file}" cannot be written: ${(error as Error).message}.`, "Name a file in an existing folder.");
  }
}

/** What draws a chart in a page, as a script. */
export function drawingCode(): string {
  return readFileSync(createRequire(import.meta.url).resolve("echarts/dist/echarts.min.js"), "utf8");
}

/** The fonts come along, so that a picture looks the same on every machine. */
function pngOf(svg: string): Buffer {
  const fonts = dirname(createRequire(import.meta.url).resolve("@expo-google-fonts/ibm-plex-sans/package.json"));
  const fontFiles = ["400Regular", "600SemiBold"].map((weight) => join(fonts, weight, `IBMPlexSans_${weight}.ttf`));
  const font = { fontFiles, loadSystemFonts: false, defaultFontFamily: "IBM Plex Sans" };
  return new Resvg(svg, { font }).render().asPng();
}
