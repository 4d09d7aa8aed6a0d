// What is let happen, as text: lines of a timeline, read as those of a trial that nobody sees.
import { type Happening, type House, isSound } from "modrik";
import type { HouseText } from "modrik/language";

/** Where those lines stand among the files of a house, in a file of its own. */
export const TIMELINE = "(let happen).modrik";

const NAME = "let_happen_here";

/** What stands before its first line. */
export const timelineHead = (from: string, days: number) => `trial ${NAME} { from ${from} 00:00 for ${24 * days} h simulated\n`;

/** A text of its own around the lines. */
export const timelineText = (acts: string, from: string, days: number) => `${timelineHead(from, days)}${acts}\n}\n`;

export interface ReadTimeline {
  /** The house without it. */
  readonly house: House;
  readonly happenings: readonly Happening[];
  /** What is wrong with them, by their line from 1. */
  readonly problems: readonly { readonly line: number; readonly says: string }[];
}

/** Reads the lines in the house they are for, which is sound. */
export function readTimeline(text: HouseText, acts: string, from: string, days: number): ReadTimeline {
  if (acts.trim() === "") return { house: text.house, happenings: [], problems: [] };
  const read = text.with(TIMELINE, timelineText(acts, from, days));
  if (!isSound(read)) {
    const lines = acts.split("\n").length;
    const problems = read.problems
      .filter(({ place, severity }) => place.file === TIMELINE && severity === "error")
      .map(({ place, reason, remedy }) => ({
        line: Math.min(Math.max(1, place.line - 1), lines),
        says: remedy ? `${reason} ${remedy}` : reason,
      }));
    return { house: text.house, happenings: [], problems };
  }
  const found = read.house.trials.find(({ name }) => name === NAME);
  return { house: text.house, happenings: found?.happenings ?? [], problems: [] };
}
