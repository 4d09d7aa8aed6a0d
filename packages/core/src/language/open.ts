// A house whose texts are open: its trees, names, house and problems are made once, when they are first asked for, and of
// a file that has not changed they are kept.
import type { House } from "../house/index.js";
import { bindHouse } from "./binder/house.js";
import type { Calendars } from "./binder/time.js";
import { type Recordings, replaysIn } from "./binder/trials.js";
import { type Completions, complete } from "./complete.js";
import { type NameAt, nameAt } from "./name-at.js";
import { parseFile } from "./parser/file.js";
import { type Allowance, allowanceFor, allowancesIn, finderOf, type SpokenOf, type SpokenPlace, spokenIn } from "./places.js";
import { Faults, type Problem, type SourcePlace } from "./problem.js";
import { type Renamed, rename } from "./rename.js";
import type { FileNode } from "./syntax.js";
import { type SourceToken, sourceTokens } from "./tokens.js";

/** Texts of a house by the names of their files. */
export type Files = Readonly<Record<string, string>>;

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

/** What a house needs along with its texts. */
export interface Beside {
  /** Events of the calendar files that schedules are read from, by file; readers of them are in `@modrik/formats`. */
  readonly calendars?: Calendars;
  /** What recordings say that trials replay and weathers are read from, by file, in order of time; readers of them are in `@modrik/formats`. */
  readonly recordings?: Recordings;
}

/** The texts of a house while they are written, and what is known of them. Nothing of it changes: a change is another one. */
export interface HouseText extends ParsedHouse {
  readonly files: Files;
  /** Names of the recordings that trials replay and weathers are read from: they should be given along with the texts. */
  readonly replays: readonly string[];
  /** What is allowed in the texts, and where. */
  readonly allowances: readonly Allowance[];
  /** The places of things, sentences and their parts, in the order of the texts; of a repeat once for each value. */
  readonly spoken: readonly SpokenPlace[];
  /** The same house with one file as it is now; all others keep what is known of them. Without a text the file is gone. */
  with(file: string, text: string | undefined): HouseText;
  /** The same texts with other calendars or recordings along with them. */
  beside(beside: Beside): HouseText;
  /** Where a thing or a part of a rule stands; the first of its values stands for a repeat. */
  placeOf(what: SpokenOf): SourcePlace | undefined;
  /** What may stand at a position of a file, an index into its text; also of a broken one. */
  completions(file: string, position: number): Completions;
  /** The name or word at a position of a file. */
  nameAt(file: string, position: number): NameAt | undefined;
  /** A file by its tokens, in order: words of the language, names, numbers, comments. */
  tokens(file: string): readonly SourceToken[];
  /** Renames a zone, a thing, a rule or whatever else has a name, to another whole name: `bench.humidity` to `bench.damp`. */
  rename(from: string, to: string): Renamed;
}

/**
 * Opens the texts of a house, name → text. Files are read in the order of their names, which decides between rules of
 * one standing in two files. Never throws for what a text says; whatever is wrong is among the problems.
 */
export function openHouse(files: Files, beside: Beside = {}): HouseText {
  return new OpenHouse(files, beside, new Map());
}

/** Reads a house from its texts; see `openHouse`, which is for those who change them. */
export function parseHouse(files: Files, beside: Beside = {}): ParsedHouse {
  return openHouse(files, beside);
}

interface Tree {
  readonly node: FileNode;
  readonly faults: Faults;
}

class OpenHouse implements HouseText {
  readonly #names: readonly string[];
  readonly #known: Map<string, Tree>;
  readonly #beside: Beside;

  constructor(
    readonly files: Files,
    beside: Beside,
    known: ReadonlyMap<string, Tree>,
  ) {
    this.#names = Object.keys(files).sort();
    this.#beside = beside;
    this.#known = new Map([...known].filter(([file, { node }]) => files[file] === node.text));
  }

  // ── What is made once ─────────────────────────────────────────────────────────────────────────────────────────────────

  #tree(file: string): Tree {
    const known = this.#known.get(file);
    if (known) return known;
    const text = this.files[file];
    if (text === undefined) throw new RangeError(`the house has no file "${file}"`);
    const faults = new Faults({ [file]: text });
    const tree = { node: parseFile(file, text, faults), faults };
    this.#known.set(file, tree);
    return tree;
  }

  readonly #trees = once(() => this.#names.map((file) => this.#tree(file).node));

  readonly #read = once(() => {
    const faults = new Faults(this.files);
    for (const file of this.#names) faults.take(this.#tree(file).faults);
    const { calendars = {}, recordings = {} } = this.#beside;
    return { ...bindHouse(this.#trees(), faults, { calendars, recordings }), faults };
  });

  get house(): House {
    return this.#read().house;
  }

  readonly #problems = once(() =>
    this.#read()
      .faults.problems.map((problem) => this.#withAllowance(problem))
      .sort(({ place: a }, { place: b }) => this.#names.indexOf(a.file) - this.#names.indexOf(b.file) || a.from - b.from),
  );

  get problems(): readonly Problem[] {
    return this.#problems();
  }

  /** Only a warning can be allowed where it stands. */
  #withAllowance(problem: Problem): Problem {
    if (problem.severity === "error") return problem;
    const found = allowanceFor(this.allowances, problem.code, problem.place);
    return found ? { ...problem, allowed: found.reason } : problem;
  }

  readonly #places = once(() => {
    const { spans, faults } = this.#read();
    return new Map([...spans].map(([name, span]) => [name, faults.place(span)]));
  });

  get places(): ReadonlyMap<string, SourcePlace> {
    return this.#places();
  }

  readonly #uses = once(() => {
    const { uses, faults } = this.#read();
    return uses.map(({ name, span }) => ({ name, place: faults.place(span) }));
  });

  get uses(): readonly NameUse[] {
    return this.#uses();
  }

  get replays(): readonly string[] {
    return replaysIn(this.#trees());
  }

  readonly #allowances = once(() => allowancesIn(this.#trees(), (span) => this.#read().faults.place(span)));

  get allowances(): readonly Allowance[] {
    return this.#allowances();
  }

  readonly #spoken = once(() => spokenIn(this.#trees()));

  get spoken(): readonly SpokenPlace[] {
    return this.#spoken();
  }

  readonly #find = once(() => finderOf(this.spoken));

  // ── What is asked ─────────────────────────────────────────────────────────────────────────────────────────────────────

  with(file: string, text: string | undefined): HouseText {
    if (this.files[file] === text) return this;
    const { [file]: _, ...others } = this.files;
    return new OpenHouse(text === undefined ? others : { ...others, [file]: text }, this.#beside, this.#known);
  }

  beside(beside: Beside): HouseText {
    return new OpenHouse(this.files, beside, this.#known);
  }

  placeOf(what: SpokenOf): SourcePlace | undefined {
    const span = this.#find()(what);
    return span && this.#read().faults.place(span);
  }

  completions(file: string, position: number): Completions {
    return complete(this.house, this.#tree(file).node.text, position);
  }

  nameAt(file: string, position: number): NameAt | undefined {
    return nameAt(this.#tree(file).node, position);
  }

  tokens(file: string): readonly SourceToken[] {
    return sourceTokens(this.#tree(file).node);
  }

  rename(from: string, to: string): Renamed {
    return rename(this, from, to);
  }
}

/** Made when it is first asked for. */
function once<Made>(make: () => Made): () => Made {
  let made: { readonly value: Made } | undefined;
  return () => {
    made ??= { value: make() };
    return made.value;
  };
}

/** Whether a house may run: nothing found while reading it is an error. */
export function isSound({ problems }: Pick<ParsedHouse, "problems">): boolean {
  return problems.every(({ severity }) => severity !== "error");
}
