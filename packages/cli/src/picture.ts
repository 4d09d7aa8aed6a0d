// Charts as files.
import { writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, extname, join } from "node:path";
import { type ChartOptions, chartOf, toSvg } from "@modrik/charts";
import { Resvg } from "@resvg/resvg-js";
import type { Run } from "modrik";
import { CallError } from "./call-error.js";
import { type Io, pathIn } from "./io.js";

/** Draws a run into a file, by the ending of its name. @throws CallError when that is neither .png nor .svg */
export function drawChart(run: Run, file: string, options: ChartOptions, io: Io): void {
  const ending = extname(file).toLowerCase();
  if (ending !== ".png" && ending !== ".svg") {
    throw new CallError(`A chart cannot be drawn as "${file}".`, "Name a file that ends in .png or .svg.");
  }
  const svg = toSvg(chartOf(run, options));
  try {
    writeFileSync(pathIn(io, file), ending === ".svg" ? svg : pngOf(svg));
  } catch (error) {
    throw new CallError(`"${file}" cannot be written: ${(error as Error).message}.`, "Name a file in an existing folder.");
  }
}

/** The fonts come along, so that a picture looks the same on every machine. */
function pngOf(svg: string): Buffer {
  const fonts = dirname(createRequire(import.meta.url).resolve("@expo-google-fonts/ibm-plex-sans/package.json"));
  const fontFiles = ["400Regular", "600SemiBold"].map((weight) => join(fonts, weight, `IBMPlexSans_${weight}.ttf`));
  const font = { fontFiles, loadSystemFonts: false, defaultFontFamily: "IBM Plex Sans" };
  return new Resvg(svg, { font }).render().asPng();
}
