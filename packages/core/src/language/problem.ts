// Problems as data: what is wrong, where, and the way out. The words are made in `words.ts`.
import type { Span } from "./token.js";
import { type Fault, sayFault } from "./words.js";

/** Codes of what can be found wrong while a house is read: stable, and the same in every surface. */
export const problemCodes = [
  "syntax",
  "unit",
  "type",
  "unknown-name",
  "double-name",
  "out-of-range",
  "incomplete-pick",
  "crossing-targets",
  "forbids-all",
  "ring-of-lets",
  "device-health",
  "not-simulated",
] as const;

/** The code of a problem that reading can give. */
export type ProblemCode = (typeof problemCodes)[number];

/** All others are errors. */
const warnings: ReadonlySet<ProblemCode> = new Set(["device-health", "not-simulated"]);

/** Where something stands in a text: a span, and the line and column (from 1) of its beginning. */
export interface SourcePlace extends Span {
  readonly line: number;
  readonly column: number;
}

/** Something found wrong: its code, its place, the reason in a sentence and the way out. */
export interface Problem {
  readonly code: ProblemCode;
  /** An error keeps a house from running, a warning does not. */
  readonly severity: "error" | "warning";
  readonly place: SourcePlace;
  /** Of a warning: the reason somebody gave to allow it there. */
  readonly allowed?: string;
  /** What is wrong, in one sentence. */
  readonly reason: string;
  /** What to do about it. */
  readonly remedy?: string;
  /** What to write in its place, where the remedy is mechanical. */
  readonly fix?: string;
  /** The nearest known names, where a name or word is not known. */
  readonly nearest: readonly string[];
  /** Other places that have to do with it. */
  readonly related: readonly { readonly place: SourcePlace; readonly says: string }[];
}

/** Collects what is found wrong while a house is read. One place has one problem: the first found there. */
export class Faults {
  readonly problems: Problem[] = [];
  readonly #files: Readonly<Record<string, string>>;
  readonly #lines: ReadonlyMap<string, readonly number[]>;
  readonly #seen = new Set<string>();
  /** Whole names of what was declared and could not be read: that is told, and not again wherever they stand. */
  readonly unread = new Set<string>();

  constructor(files: Readonly<Record<string, string>>) {
    this.#files = files;
    this.#lines = new Map(Object.entries(files).map(([name, text]) => [name, lineStarts(text)]));
  }

  /** What was found before, as while the files were read one by one. */
  take({ problems, seen, unread }: Pick<Faults, "problems" | "seen" | "unread">): void {
    for (const problem of problems) this.problems.push(problem);
    for (const key of seen) this.#seen.add(key);
    for (const name of unread) this.unread.add(name);
  }

  get seen(): ReadonlySet<string> {
    return this.#seen;
  }

  get count(): number {
    return this.problems.length;
  }

  /** Whether something was found wrong within a span. */
  within({ file, from, to }: Span): boolean {
    return this.problems.some(({ place }) => place.file === file && place.from >= from && place.to <= to);
  }

  /** What begins there is not what it was taken for: as such it has no problem. */
  spare({ file, from }: Span): void {
    this.#seen.add(`${file}:${from}`);
  }

  /**
   * Reads what is said otherwise as a whole: one problem, and not one for each of its parts that would be put right with it.
   * @param fault of what was read; nothing where that is as it should be
   */
  whole<Of>(first: Span, read: () => Of, fault: (found: Of) => readonly [Span, Fault] | undefined): Of {
    const key = `${first.file}:${first.from}`;
    const found = this.#trying(read);
    const said = fault(found);
    if (!said) return found;
    const [span] = said;
    const isPart = ({ fix, place }: Problem) =>
      place.file === span.file &&
      place.from >= span.from &&
      place.to <= span.to &&
      (fix !== undefined || place.from === first.from);
    this.problems.splice(0, this.count, ...this.problems.filter((one) => !isPart(one)));
    if (!this.problems.some(({ place }) => place.file === first.file && place.from === first.from)) this.#seen.delete(key);
    this.add(...said);
    return found;
  }

  /** What could not be read is told by what it broke on; what was meant by its parts is a guess. */
  #trying<Of>(read: () => Of): Of {
    const { count } = this;
    try {
      return read();
    } catch (error) {
      const inside = this.problems.splice(count);
      const broken = inside.filter((one) => one.fix === undefined);
      this.problems.push(...(broken.length > 0 ? broken : inside));
      throw error;
    }
  }

  add(span: Span, fault: Fault, related: readonly { readonly span: Span; readonly says: string }[] = []): void {
    const key = `${span.file}:${span.from}`;
    if (this.#seen.has(key)) return;
    this.#seen.add(key);
    const { fix, ...said } = sayFault(fault);
    const text = this.#files[span.file] ?? "";
    const meant = fix?.(text.slice(span.from, span.to));
    const fixed =
      meant === undefined
        ? undefined
        : apart(text.slice(Math.max(0, span.from - 2), span.from), meant, text.slice(span.to, span.to + 2));
    this.problems.push({
      severity: warnings.has(said.code) ? "warning" : "error",
      nearest: [],
      ...said,
      ...(fixed !== undefined && { fix: fixed }),
      place: this.place(span),
      related: related.map(({ span, says }) => ({ place: this.place(span), says })),
    });
  }

  place(span: Span): SourcePlace {
    return placeAmong(this.#lines.get(span.file) ?? [0], span);
  }
}

/** A word in the place of a sign has blanks around it, where words and numbers stood close to that. */
function apart(before: string, written: string, after: string): string {
  const isClose = (left: string, right: string) => /[\p{L}\p{N}_]$/u.test(left) && /^[\p{L}\p{N}_]/u.test(right);
  return `${isClose(before, written) ? " " : ""}${written}${isClose(written, after) ? " " : ""}`;
}

function placeAmong(starts: readonly number[], span: Span): SourcePlace {
  let low = 0;
  let high = starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((starts[middle] ?? 0) <= span.from) low = middle;
    else high = middle - 1;
  }
  return { file: span.file, from: span.from, to: span.to, line: low + 1, column: span.from - (starts[low] ?? 0) + 1 };
}

function lineStarts(text: string): number[] {
  const starts = [0];
  for (const found of text.matchAll(/\r\n|\n|\r/g)) starts.push(found.index + found[0].length);
  return starts;
}
