// Text → house: the door of the language.
import type { House } from "../house/index.js";
import { bindHouse } from "./binder/house.js";
import type { Calendars } from "./binder/time.js";
import type { Recordings } from "./binder/trials.js";
import { parseFile } from "./parser/file.js";
import { allowanceFor, allowancesIn } from "./places.js";
import { Faults, type Problem, type SourcePlace } from "./problem.js";

export type { CalendarEvent, EventMoment } from "./binder/time.js";

/** A house read from its texts, with all that was found wrong. */
export interface ParsedHouse {
  /** What could be read. With an error among the problems, broken parts are left out of it: do not run it. */
  readonly house: House;
  /** By file and place. */
  readonly problems: readonly Problem[];
  /** Where each name is declared. */
  readonly places: ReadonlyMap<string, SourcePlace>;
  /** Where names are used, by the whole name of what is meant; a repeat uses them once for each of its values. */
  readonly uses: readonly NameUse[];
}

/** One place at which a name is used. */
export interface NameUse {
  readonly name: string;
  readonly place: SourcePlace;
}

/** What a house needs beside its texts. */
export interface ParseOptions {
  /** Events of the calendar files that schedules are read from, by file; readers of them are in `@modrik/formats`. */
  readonly calendars?: Calendars;
  /** What recordings say that trials replay, by file, in order of time; readers of them are in `@modrik/formats`. */
  readonly recordings?: Recordings;
}

/**
 * Reads a house from its files, name → text. Files are read in the order of their names, which decides between rules of
 * one standing in two files. Never throws for what a text says; whatever is wrong is among the problems.
 */
export function parseHouse(
  files: Readonly<Record<string, string>>,
  { calendars = {}, recordings = {} }: ParseOptions = {},
): ParsedHouse {
  const faults = new Faults(files);
  const names = Object.keys(files).sort();
  const trees = names.map((name) => parseFile(name, files[name] as string, faults));
  const { house, spans, uses } = bindHouse(trees, faults, { calendars, recordings });
  const places = new Map([...spans].map(([name, span]) => [name, faults.place(span)]));
  const problems = withAllowances(faults.problems, files).sort(
    (a, b) => names.indexOf(a.place.file) - names.indexOf(b.place.file) || a.place.from - b.place.from,
  );
  return { house, problems, places, uses: uses.map(({ name, span }) => ({ name, place: faults.place(span) })) };
}

/** What is allowed where it stands: only a warning can be. */
function withAllowances(problems: readonly Problem[], files: Readonly<Record<string, string>>): Problem[] {
  if (problems.every(({ severity }) => severity === "error")) return [...problems];
  const allowances = allowancesIn(files);
  return problems.map((problem) => {
    const found = problem.severity === "warning" ? allowanceFor(allowances, problem.code, problem.place) : undefined;
    return found ? { ...problem, allowed: found.reason } : problem;
  });
}

/** Whether a house may run: nothing found while reading it is an error. */
export function isSound({ problems }: Pick<ParsedHouse, "problems">): boolean {
  return problems.every(({ severity }) => severity !== "error");
}
