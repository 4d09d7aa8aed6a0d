// Figures as people read them, wherever they stand.
import { writeDuration } from "../units/index.js";
import type { ComparedFigure } from "./compare.js";

/** Three digits at least: 0.123, 4.56, 78.9, 1234. */
export function sayRounded(value: number): string {
  const size = Math.abs(value);
  return value.toFixed(size === 0 || size >= 100 ? 0 : size >= 10 ? 1 : 2);
}

/** Of a time in ms: whole seconds below ten minutes, else whole minutes. */
export function sayLength(ms: number): string {
  const unit = ms < 600e3 ? 1e3 : 60e3;
  const rounded = Math.round(ms / unit) * unit;
  return rounded === 0 ? "0" : writeDuration(rounded);
}

/** Of a share from 0 to 1: `12.3 %`. */
export const sayShare = (share: number): string => `${(100 * share).toFixed(1)} %`;

/** Of an energy in kWh. */
export const sayEnergy = (energy: number): string => `${sayRounded(energy)} kWh`;

/** One value of a figure that is compared, with its unit; `-` where a run has none. */
export function sayCompared({ figure, unit }: ComparedFigure, value: number | undefined): string {
  if (value === undefined) return "-";
  switch (figure) {
    case "starts":
    case "notices":
      return String(value);
    case "on":
    case "time to reach":
      return sayLength(value);
    case "in band":
      return sayShare(value);
    case "energy":
    case "all energy":
      return sayEnergy(value);
    case "cost":
    case "all cost":
      return value.toFixed(2);
    case "outside":
      return `${sayRounded(value)} ${unit}·h`;
    default:
      return `${sayRounded(value)} ${unit}`;
  }
}

/** What a figure is called: `Humidifier, starts`, `bench.humidity (moist_air), in band`. */
export function labelOfCompared({ figure, of, title, rule }: ComparedFigure): string {
  if (of === undefined) return { "all energy": "energy", "all cost": "cost" }[figure as string] ?? figure;
  return `${title ?? of}${rule === undefined ? "" : ` (${rule})`}, ${figure}`;
}
