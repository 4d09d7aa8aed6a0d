// What is read of a journal: by why, measures, charts, trials and panels. The one in memory keeps the line of each
// expression as its records come, so that a question is a look-up; another may stand over a store.
import { Keys, type Series } from "../expression/index.js";
import type { Expression, House } from "../house/index.js";
import type { AskingSentence, JournalEvent, JournalRecord, Reason, Recording, RunningProblem } from "./journal.js";
import type { Snapshot } from "./snapshot.js";

/** A notice that was told, and the step it came of. */
export interface NoticeRecord {
  readonly at: number;
  readonly text: string;
  readonly through?: string;
  /** The sentence whose step told it, and when what started its steps fired; left out where a person ran them. */
  readonly by?: { readonly rule: string; readonly sentence: number; readonly startedAt?: number };
}

/** A raw message that was sent. */
export interface MessageRecord {
  readonly at: number;
  readonly text: string;
  readonly to: string;
}

/** A problem seen while a house ran. */
export interface ProblemRecord {
  readonly at: number;
  readonly code: RunningProblem;
  readonly text: string;
}

/** The past of a house, in memory or in a store. */
export interface Past {
  /** The version that ran last. */
  readonly house: House;
  /** Where it begins: what was so then, was so before. */
  readonly beginning: number;
  /** The line of an expression; what was not written down is put together from its parts, where these are enough. */
  line(expression: Expression): Series;
  /** What an expression was at an instant: also of what moves between its records, where its parts tell. */
  value(expression: Expression, at: number): number;
  /** The reason of the last decision on an output, at an instant or before it. */
  reason(output: string, at: number): Reason;
  /** Whether a sentence asked an output for something at an instant. */
  asked(rule: string, sentence: number, output: string, at: number): boolean;
  /** When a sentence last was started, and last did a step, at an instant or before it. */
  lastOf(kind: "trigger" | "step", rule: string, sentence: number, at: number): number | undefined;
  /** When a step of a sentence last asked an output for something, at an instant or before it. */
  lastAsked(rule: string, sentence: number, output: string, at: number): number | undefined;
  /** Whether a rule is paused at an instant, and until when where that was said. */
  paused(rule: string, at: number): { readonly until?: number } | undefined;
  /** What was told from one instant to another, both included. */
  notices(from: number, to: number): readonly NoticeRecord[];
  /** What was sent from one instant to another, both included. */
  messages(from: number, to: number): readonly MessageRecord[];
  /** What went wrong from one instant to another, both included. */
  problems(from: number, to: number): readonly ProblemRecord[];
}

/** A stretch of a house's life, written down. */
export interface Run {
  readonly past: Past;
  /** Milliseconds since 1970 UTC. */
  readonly from: number;
  readonly to: number;
  /** The house as it was at an instant, where that was asked for. */
  readonly kept?: { readonly at: number; readonly snapshot: Snapshot };
}

interface Line {
  readonly times: number[];
  readonly values: number[];
  /** The last record of it, and when it was last heard of. */
  id: number;
  heard: number;
}

/** A journal in memory, and what can be read of it. As plain JSON it may be kept, and read by another program. */
export class Journal implements Recording, Past {
  /** By their ids; where what is old was forgotten, with gaps. */
  #records: JournalRecord[] = [];
  #next = 0;
  readonly #keys: string[] = [];
  readonly #numbers = new Map<string, number>();
  readonly #lines: (Line | undefined)[] = [];
  readonly #decisions = new Map<string, { readonly times: number[]; readonly reasons: Reason[] }>();
  readonly #happened = new Map<string, number[]>();
  /** By rule: since when it is paused, until when; undefined where it goes on. */
  readonly #pauses = new Map<
    string,
    { readonly times: number[]; readonly states: ({ readonly until?: number } | undefined)[] }
  >();
  readonly #notices: NoticeRecord[] = [];
  readonly #messages: MessageRecord[] = [];
  readonly #problems: ProblemRecord[] = [];
  readonly #asking = new Map<string, AskingSentence>();
  #house: House | undefined;
  #known: Keys | undefined;

  /** In the order in which they came, ids from 0 as long as nothing was forgotten. */
  get records(): readonly JournalRecord[] {
    return this.#records;
  }

  // ── Written ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  begin(house: House, asking: readonly AskingSentence[]): void {
    this.#house = house;
    this.#known = undefined;
    for (const one of asking) this.#asking.set(askingKey(one.rule, one.sentence, one.output), one);
  }

  keyOf(key: string): number {
    const known = this.#numbers.get(key);
    if (known !== undefined) return known;
    this.#numbers.set(key, this.#keys.length);
    return this.#keys.push(key) - 1;
  }

  write(at: number, event: JournalEvent, causes: readonly number[]): number {
    const id = this.#next;
    this.#take({ id, at, event, causes });
    return id;
  }

  heard(key: number, at: number): void {
    const line = this.#lines[key];
    if (line) line.heard = at;
  }

  #take(record: JournalRecord): void {
    this.#records.push(record);
    this.#next = record.id + 1;
    this.#see(record);
  }

  lastOfKeys(): ReadonlyMap<number, number> {
    return new Map(this.#lines.flatMap((line, key) => (line ? [[key, line.id] as const] : [])));
  }

  #see({ id, at, event, causes }: JournalRecord): void {
    switch (event.kind) {
      case "node": {
        const line = this.#lines[event.key] ?? { times: [], values: [], id, heard: at };
        this.#lines[event.key] = line;
        line.id = id;
        line.heard = at;
        put(line.times, line.values, at, event.value);
        break;
      }
      case "decided": {
        const line = this.#decisions.get(event.output) ?? { times: [], reasons: [] };
        this.#decisions.set(event.output, line);
        put(line.times, line.reasons, at, event.reason);
        break;
      }
      case "trigger":
      case "step": {
        this.#note(happeningKey(event.kind, event.rule, event.sentence), at);
        for (const output of (event.kind === "step" && event.asks) || [])
          this.#note(askingKey(event.rule, event.sentence, output), at);
        break;
      }
      case "paused":
      case "resumed": {
        const line = this.#pauses.get(event.rule) ?? { times: [], states: [] };
        this.#pauses.set(event.rule, line);
        const state = event.kind === "resumed" ? undefined : event.until === undefined ? {} : { until: event.until };
        put(line.times, line.states, at, state);
        break;
      }
      case "message":
        this.#messages.push({ at, text: event.text, to: event.to });
        break;
      case "problem":
        this.#problems.push({ at, code: event.code, text: event.text });
        break;
      case "notice":
        this.#notices.push({ at, text: event.text, ...through(event.through), ...this.#toldBy(causes) });
        break;
      default:
    }
  }

  #note(key: string, at: number): void {
    const times = this.#happened.get(key) ?? [];
    this.#happened.set(key, times);
    times.push(at);
  }

  #toldBy(causes: readonly number[]): Pick<NoticeRecord, "by"> {
    const step = causes.map((id) => this.#record(id)).find((one) => one?.event.kind === "step");
    if (step?.event.kind !== "step") return {};
    const { rule, sentence } = step.event;
    const trigger = step.causes.map((id) => this.#record(id)).find((one) => one?.event.kind === "trigger");
    return { by: { rule, sentence, ...(trigger && { startedAt: trigger.at }) } };
  }

  /** Nothing where it was forgotten. */
  #record(id: number): JournalRecord | undefined {
    const first = this.#records[0]?.id ?? 0;
    const isWhole = this.#records.length === this.#next - first;
    const found = this.#records[isWhole ? id - first : lastNotAfter(this.#records, id, (one) => one.id)];
    return found?.id === id ? found : undefined;
  }

  /** The records before an instant of what is still so then, by their ids. */
  standing(before = Number.POSITIVE_INFINITY): ReadonlySet<number> {
    const last = new Map<string, number>();
    for (const one of this.#records) if (one.at < before) for (const what of standingIn(one)) last.set(what, one.id);
    return new Set(last.values());
  }

  /**
   * Forgets what came before an instant, but for what was still so then. A house that runs for years remembers its last
   * days; what is older stands where its records were written to.
   */
  forget(before: number): void {
    const standing = this.standing(before);
    const records = this.#records.filter(({ id, at }) => at >= before || standing.has(id));
    this.#records = [];
    this.#lines.length = 0;
    for (const one of [this.#decisions, this.#happened, this.#pauses]) one.clear();
    for (const one of [this.#notices, this.#messages, this.#problems]) one.length = 0;
    for (const one of records) this.#take(one);
  }

  // ── Read ────────────────────────────────────────────────────────────────────────────────────────────────────────────

  get house(): House {
    if (!this.#house) throw new RangeError("nothing has been written into this journal");
    return this.#house;
  }

  get beginning(): number {
    return this.#records[0]?.at ?? Number.NEGATIVE_INFINITY;
  }

  line(expression: Expression): Series {
    return this.#expressions().lineOf(expression, (key) => this.#lineOf(key));
  }

  value(expression: Expression, at: number): number {
    return this.#expressions().valueOf(expression, at, (key) => this.#lineOf(key));
  }

  #expressions(): Keys {
    this.#known ??= new Keys(this.house);
    return this.#known;
  }

  #lineOf(key: string): Series | undefined {
    const number = this.#numbers.get(key);
    return number === undefined ? undefined : this.#lines[number];
  }

  reason(output: string, at: number): Reason {
    const line = this.#decisions.get(output);
    return line?.reasons[lastNotAfter(line.times, at)] ?? {};
  }

  asked(rule: string, sentence: number, output: string, at: number): boolean {
    const asking = this.#asking.get(askingKey(rule, sentence, output));
    if (!asking) return false;
    if (asking.when === undefined) return true;
    const line = this.#lines[asking.when];
    return line !== undefined && line.values[lastNotAfter(line.times, at)] === 1;
  }

  lastOf(kind: "trigger" | "step", rule: string, sentence: number, at: number): number | undefined {
    const times = this.#happened.get(happeningKey(kind, rule, sentence)) ?? [];
    return times[lastNotAfter(times, at)];
  }

  lastAsked(rule: string, sentence: number, output: string, at: number): number | undefined {
    const times = this.#happened.get(askingKey(rule, sentence, output)) ?? [];
    return times[lastNotAfter(times, at)];
  }

  paused(rule: string, at: number): { readonly until?: number } | undefined {
    const line = this.#pauses.get(rule);
    return line?.states[lastNotAfter(line.times, at)];
  }

  notices(from: number, to: number): readonly NoticeRecord[] {
    return this.#notices.filter(({ at }) => at >= from && at <= to);
  }

  messages(from: number, to: number): readonly MessageRecord[] {
    return this.#messages.filter(({ at }) => at >= from && at <= to);
  }

  problems(from: number, to: number): readonly ProblemRecord[] {
    return this.#problems.filter(({ at }) => at >= from && at <= to);
  }

  // ── Kept ────────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** All that was written down, as plain JSON. */
  toJSON(): StoredJournal {
    return {
      version: 2,
      house: this.house,
      keys: this.#keys,
      asking: [...this.#asking.values()],
      records: this.#records.map(storedRecord),
      next: this.#next,
    };
  }

  /**
   * A journal read back from JSON: it answers as it did.
   * @throws RangeError when it is not a journal of this version
   */
  static fromJSON(json: unknown): Journal {
    const version = typeof json === "object" && json !== null && "version" in json ? json.version : undefined;
    if (version !== 2) throw new RangeError(`this is not a journal of version 2, but ${JSON.stringify(version)}`);
    const { house, keys, asking, records, next } = json as StoredJournal;
    const journal = new Journal();
    for (const key of keys) journal.keyOf(key);
    journal.begin(house, asking);
    for (const stored of records) journal.#take(readRecord(stored));
    journal.#next = Math.max(next, journal.#next);
    return journal;
  }
}

/** A record as plain JSON: unknown is null, as JSON has no other word for it. */
export function storedRecord({ id, at, event, causes }: JournalRecord): StoredRecord {
  return [id, at, event.kind === "node" && Number.isNaN(event.value) ? { ...event, value: null } : event, causes];
}

function readRecord([id, at, event, causes]: StoredRecord): JournalRecord {
  const known = event.kind === "node" && event.value === null ? { ...event, value: Number.NaN } : (event as JournalEvent);
  return { id, at, event: known, causes };
}

/** A record as plain JSON. */
export type StoredRecord = readonly [
  id: number,
  at: number,
  event: JournalEvent | { readonly kind: "node"; readonly key: number; readonly value: null },
  causes: readonly number[],
];

/** A journal as plain JSON. */
export interface StoredJournal {
  readonly version: 2;
  readonly house: House;
  /** Keys of expressions, by their numbers. */
  readonly keys: readonly string[];
  readonly asking: readonly AskingSentence[];
  readonly records: readonly StoredRecord[];
  /** The id of the record that comes next. */
  readonly next: number;
}

/** What a record says that stays so until another says otherwise. */
function standingIn({ event }: JournalRecord): readonly string[] {
  switch (event.kind) {
    case "node":
      return [`node ${event.key}`];
    case "decided":
      return [`decided ${event.output}`];
    case "trigger":
    case "step": {
      const { kind, rule, sentence } = event;
      const asks = (kind === "step" && event.asks) || [];
      return [happeningKey(kind, rule, sentence), ...asks.map((output) => askingKey(rule, sentence, output))];
    }
    case "paused":
    case "resumed":
      return [`paused ${event.rule}`];
    default:
      return [];
  }
}

const askingKey = (rule: string, sentence: number, output: string) => `${rule} ${sentence} ${output}`;
const happeningKey = (kind: string, rule: string, sentence: number) => `${kind} ${rule} ${sentence}`;
const through = (way: string | undefined) => (way === undefined ? {} : { through: way });

/** The last value of an instant is the one it shows. */
function put<Value>(times: number[], values: Value[], at: number, value: Value): void {
  if (times.at(-1) === at) {
    values[values.length - 1] = value;
    return;
  }
  times.push(at);
  values.push(value);
}

/** The index of the last time not after an instant, or -1. */
export function lastNotAfter(times: readonly number[], instant: number): number;
export function lastNotAfter<Item>(items: readonly Item[], instant: number, of: (item: Item) => number): number;
export function lastNotAfter<Item>(items: readonly Item[], instant: number, of?: (item: Item) => number): number {
  let low = 0;
  let high = items.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    const item = items[middle] as Item;
    if ((of ? of(item) : (item as number)) <= instant) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/** What a line had at an instant, after its last turn; NaN before it had anything. */
export function valueAt({ times, values }: Series, instant: number): number {
  return values[lastNotAfter(times, instant)] ?? Number.NaN;
}

/** Since when a line has had the value it has at an instant; nothing where it never had one. */
export function sinceAt({ times }: Series, instant: number): number | undefined {
  return times[lastNotAfter(times, instant)];
}
