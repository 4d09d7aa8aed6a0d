// What a running house keeps: its memory, its journal, the history of its signals, what people did, what is on its way.
import {
  type AskingSentence,
  type House,
  Journal,
  type JournalRecord,
  type Recorded,
  readSnapshot,
  type Snapshot,
  type StoredRecord,
  storedRecord,
  type Value,
} from "modrik";
import { type File, isDamage, openFile, readFile, setAside } from "./file.js";
import { partsOf, snapshotOf } from "./parts.js";

/** What a person, or a program for them, did. */
export interface Deed {
  readonly at: number;
  /** Who asked for it: a name that was given, or nothing known. */
  readonly who: string;
  /** Where it came from: an address. */
  readonly origin: string;
  /** In the language's own words. */
  readonly did: string;
  /** What it was done to. */
  readonly thing?: string;
}

/** What a person may do to a house. */
export type May = "act" | "look";

/** A person, or a program, that has a token; of the token itself the file keeps only a hash. */
export interface Person {
  readonly name: string;
  readonly may: May;
  /** When the token was made. */
  readonly at: number;
}

/** A notice on its way. */
export interface Parcel {
  readonly at: number;
  readonly topic: string;
  readonly text: string;
}

/** What is written at once: all of it, or nothing. */
export interface Batch {
  readonly snapshot: Snapshot;
  readonly records: readonly JournalRecord[];
  readonly keys: readonly { readonly number: number; readonly key: string }[];
  readonly houses: readonly { readonly at: number; readonly house: House; readonly asking: readonly AskingSentence[] }[];
  readonly readings: readonly { readonly name: string; readonly at: number; readonly value: Value | undefined }[];
  readonly deeds: readonly Deed[];
  readonly posted: readonly Parcel[];
  /** Records of all that stands at an instant: where a later reader may begin. */
  readonly checkpoint?: { readonly at: number; readonly records: Iterable<number> };
}

/** What people were told. */
export interface NoticeSent {
  /** Of its record. */
  readonly id: number;
  readonly at: number;
  readonly text: string;
  readonly through?: string;
  readonly rule?: string;
  /** Who has seen to it, and when. */
  readonly ticked?: { readonly at: number; readonly who: string };
}

/** What a house goes on from. */
export interface Resumed {
  readonly snapshot: Snapshot | undefined;
  readonly journal: Journal;
}

/** An hour of a number, thinned. */
export interface HourlyValue {
  readonly at: number;
  readonly count: number;
  readonly mean: number;
  readonly low: number;
  readonly high: number;
}

const HOUR = 3_600_000;

/** The file of a house, in which all of it stands. */
export class HouseFile {
  #file: File;
  /** What was written last of each part of its memory. */
  #parts: Map<string, string>;
  readonly #signals = new Map<string, number>();
  readonly #statements = new Map<string, ReturnType<File["prepare"]>>();
  /** Where a damaged file was put that stood in its place. */
  readonly aside: string | undefined;
  readonly path: string;

  /**
   * Opens it. A damaged one is set aside, and a new one begun, unless it is only read.
   * @throws StorageError when it is of a later version
   */
  constructor(path: string, { now = Date.now(), readOnly = false }: { readonly now?: number; readonly readOnly?: boolean } = {}) {
    this.path = path;
    try {
      this.#file = readOnly ? readFile(path) : openFile(path);
      this.#parts = this.#readParts();
      // What cannot be gone on with is as good as damaged: found here, where it can still be put aside.
      if (this.#parts.size > 0) readSnapshot(snapshotOf(this.#parts));
    } catch (error) {
      const isNoGood = isDamage(error) || error instanceof RangeError || error instanceof SyntaxError;
      if (!isNoGood || readOnly) throw error;
      this.aside = setAside(path, now);
      this.#statements.clear();
      this.#signals.clear();
      this.#file = openFile(path);
      this.#parts = new Map();
    }
  }

  #prepare(sql: string) {
    const known = this.#statements.get(sql);
    if (known) return known;
    const made = this.#file.prepare(sql);
    this.#statements.set(sql, made);
    return made;
  }

  #all<Row>(sql: string, ...values: unknown[]): Row[] {
    return this.#prepare(sql).all(...values) as Row[];
  }

  #readParts(): Map<string, string> {
    for (const { number, name } of this.#all<{ number: number; name: string }>("SELECT number, name FROM signals"))
      this.#signals.set(name, number);
    return new Map(this.#all<{ path: string; json: string }>("SELECT path, json FROM state").map((row) => [row.path, row.json]));
  }

  // ── Written ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Writes a batch; when it returns, a crash or a lost supply does not lose it. @throws when the disk refuses, and then nothing of it is written */
  write(batch: Batch): void {
    const parts = partsOf(batch.snapshot);
    this.#file.exec("BEGIN IMMEDIATE");
    try {
      this.#writeState(parts);
      this.#writeJournal(batch);
      for (const { name, at, value } of batch.readings)
        this.#prepare("INSERT INTO history (signal, at, value) VALUES (?, ?, ?)").run(this.#signal(name), at, value ?? null);
      for (const { at, who, origin, did, thing } of batch.deeds)
        this.#prepare("INSERT INTO deeds (at, who, origin, did, thing) VALUES (?, ?, ?, ?, ?)").run(
          at,
          who,
          origin,
          did,
          thing ?? null,
        );
      for (const { at, topic, text } of batch.posted)
        this.#prepare("INSERT INTO outbox (at, topic, text) VALUES (?, ?, ?)").run(at, topic, text);
      for (const record of batch.checkpoint?.records ?? [])
        this.#prepare("INSERT OR IGNORE INTO checkpoints VALUES (?, ?)").run(batch.checkpoint?.at, record);
      this.#file.exec("COMMIT");
    } catch (error) {
      this.#undo();
      throw error;
    }
    this.#parts = parts;
  }

  #undo(): void {
    // Numbers given to signals in it are void too.
    this.#signals.clear();
    try {
      if (this.#file.inTransaction) this.#file.exec("ROLLBACK");
      for (const { number, name } of this.#all<{ number: number; name: string }>("SELECT number, name FROM signals"))
        this.#signals.set(name, number);
    } catch {
      // What cannot be undone was not done: a write that fails leaves the file as it was.
    }
  }

  #writeState(parts: ReadonlyMap<string, string>): void {
    for (const [path, json] of parts)
      if (this.#parts.get(path) !== json) this.#prepare("INSERT OR REPLACE INTO state VALUES (?, ?)").run(path, json);
    for (const path of this.#parts.keys()) if (!parts.has(path)) this.#prepare("DELETE FROM state WHERE path = ?").run(path);
  }

  #writeJournal({ records, keys, houses }: Batch): void {
    for (const { number, key } of keys) this.#prepare("INSERT INTO keys VALUES (?, ?)").run(number, key);
    for (const { at, house, asking } of houses)
      this.#prepare("INSERT INTO houses (at, house, asking) VALUES (?, ?, ?)").run(
        at,
        JSON.stringify(house),
        JSON.stringify(asking),
      );
    for (const record of records) {
      const [id, at, event, causes] = storedRecord(record);
      this.#prepare("INSERT INTO records VALUES (?, ?, ?, ?)").run(id, at, JSON.stringify(event), JSON.stringify(causes));
    }
  }

  #signal(name: string): number {
    const known = this.#signals.get(name);
    if (known !== undefined) return known;
    this.#prepare("INSERT INTO signals (name) VALUES (?)").run(name);
    const number = Number(this.#all<{ number: number }>("SELECT number FROM signals WHERE name = ?", name)[0]?.number);
    this.#signals.set(name, number);
    return number;
  }

  // ── Read ────────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** What a house goes on from: its memory, and its journal since an instant. */
  resume(since: number): Resumed {
    const snapshot = this.#parts.size === 0 ? undefined : readSnapshot(snapshotOf(this.#parts));
    return { snapshot, journal: this.journal(since) };
  }

  /** The instant of what was kept last. */
  keptAt(): number | undefined {
    const at = this.#parts.get("at");
    return at === undefined ? undefined : Number(at);
  }

  /** The journal from an instant on, or from a little before it; to an instant, or all. Empty where nothing was written. */
  journal(since: number, to = Number.MAX_SAFE_INTEGER): Journal {
    const [last] = this.#all<{ house: string; asking: string }>(
      "SELECT house, asking FROM houses WHERE at <= ? ORDER BY id DESC LIMIT 1",
      to,
    );
    if (!last) return new Journal();
    const [checkpoint] = this.#all<{ at: number | null }>("SELECT max(at) AS at FROM checkpoints WHERE at <= ?", since);
    const from = checkpoint?.at ?? 0;
    const standing = this.#all<RecordRow>(
      "SELECT r.* FROM checkpoints c JOIN records r ON r.id = c.record WHERE c.at = ? AND r.at < ? ORDER BY r.id",
      from,
      from,
    );
    const records = this.#all<RecordRow>("SELECT * FROM records WHERE at >= ? AND at <= ? ORDER BY id", from, to);
    return Journal.fromJSON({
      version: 2,
      house: JSON.parse(last.house) as House,
      keys: this.#all<{ key: string }>("SELECT key FROM keys ORDER BY number").map(({ key }) => key),
      asking: JSON.parse(last.asking) as AskingSentence[],
      records: [...standing, ...records].map(readRow),
      next: Number(this.#all<{ id: number | null }>("SELECT max(id) AS id FROM records")[0]?.id ?? -1) + 1,
    });
  }

  /** The version of the house that ran at an instant, or last before it. */
  house(at: number): House | undefined {
    const [last] = this.#all<{ house: string }>("SELECT house FROM houses WHERE at <= ? ORDER BY id DESC LIMIT 1", at);
    return last && (JSON.parse(last.house) as House);
  }

  /** How many expressions have been written down. */
  keyCount(): number {
    return Number(this.#all<{ count: number }>("SELECT count(*) AS count FROM keys")[0]?.count);
  }

  /** Journal records after an id, oldest first. */
  recordsAfter(id: number, limit: number): StoredRecord[] {
    return this.#all<RecordRow>("SELECT * FROM records WHERE id > ? ORDER BY id LIMIT ?", id, limit).map(readRow);
  }

  /** What people were told from one instant to another, both included, by which rule, and who ticked it off. */
  notices(from: number, to: number): NoticeSent[] {
    const rows = this.#all<RecordRow>(
      `SELECT * FROM records WHERE at >= ? AND at <= ? AND substr(event, 1, 16) = '{"kind":"notice"' ORDER BY id`,
      from,
      to,
    );
    return rows.map((row) => {
      const { text, through } = JSON.parse(row.event) as { text: string; through?: string };
      const [step] = JSON.parse(row.causes) as number[];
      const [cause] = step === undefined ? [] : this.#all<RecordRow>("SELECT * FROM records WHERE id = ?", step);
      const { rule } = (cause ? JSON.parse(cause.event) : {}) as { rule?: string };
      const [ticked] = this.#all<{ at: number; who: string }>("SELECT at, who FROM ticked WHERE record = ?", row.id);
      return {
        id: row.id,
        at: row.at,
        text,
        ...(through !== undefined && { through }),
        ...(rule !== undefined && { rule }),
        ...(ticked && { ticked }),
      };
    });
  }

  /** Somebody has seen to a notice. @throws when the disk refuses */
  tick(record: number, at: number, who: string): void {
    this.#prepare("INSERT OR REPLACE INTO ticked VALUES (?, ?, ?)").run(record, at, who);
  }

  /** What a person did last to a thing. */
  lastDeed(thing: string): Deed | undefined {
    return this.#deedsOf(
      this.#all("SELECT at, who, origin, did, thing FROM deeds WHERE thing = ? ORDER BY id DESC LIMIT 1", thing),
    )[0];
  }

  #deedsOf(rows: readonly (Omit<Deed, "thing"> & { readonly thing: string | null })[]): Deed[] {
    return rows.map(({ thing, ...deed }) => ({ ...deed, ...(thing !== null && { thing }) }));
  }

  /** The names of all that has a history. */
  signals(): string[] {
    return [...this.#signals.keys()].sort();
  }

  /** What was reported of things, or switched, in order of time; both ends included. @param names of all things when left out */
  history(from: number, to: number, names?: readonly string[], limit = -1): Recorded[] {
    const numbers = names?.flatMap((name) => this.#signals.get(name) ?? []);
    const chosen = numbers ? `AND signal IN (${numbers.join(",")})` : "";
    const rows = this.#all<{ name: string; at: number; value: Value | null }>(
      `SELECT name, at, value FROM history JOIN signals ON number = signal WHERE at >= ? AND at <= ? ${chosen} ORDER BY id LIMIT ?`,
      from,
      to,
      limit,
    );
    return rows.map(({ name, at, value }) => ({ name, at, ...(value !== null && { value }) }));
  }

  /** The first and the last instant of which there is a history. */
  span(): { readonly from: number; readonly to: number } | undefined {
    const [first] = this.#all<{ at: number }>("SELECT at FROM history ORDER BY id LIMIT 1");
    const [last] = this.#all<{ at: number }>("SELECT at FROM history ORDER BY id DESC LIMIT 1");
    return first && last && { from: first.at, to: last.at };
  }

  /** The hours to which an old history of numbers was thinned. */
  hours(name: string, from: number, to: number): HourlyValue[] {
    return this.#all<HourlyValue>(
      "SELECT at, count, mean, low, high FROM hours WHERE signal = ? AND at >= ? AND at <= ? ORDER BY at",
      this.#signals.get(name) ?? -1,
      from,
      to,
    );
  }

  /** What people did from one instant to another, both included. */
  deeds(from: number, to: number): Deed[] {
    return this.#deedsOf(
      this.#all("SELECT at, who, origin, did, thing FROM deeds WHERE at >= ? AND at <= ? ORDER BY id", from, to),
    );
  }

  // ── On their way ────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Notices that wait, oldest first. */
  parcels(limit: number): (Parcel & { readonly id: number })[] {
    return this.#all("SELECT id, at, topic, text FROM outbox ORDER BY id LIMIT ?", limit);
  }

  /** They arrived. */
  delivered(id: number): void {
    this.#prepare("DELETE FROM outbox WHERE id = ?").run(id);
  }

  /** Keeps the latest so many; gives how many were dropped. */
  trimParcels(limit: number): number {
    return this.#prepare("DELETE FROM outbox WHERE id <= (SELECT id FROM outbox ORDER BY id DESC LIMIT 1 OFFSET ?)").run(limit)
      .changes;
  }

  // ── Kept for how long ───────────────────────────────────────────────────────────────────────────────────────────────

  /**
   * Thins what is older than an instant: numbers to the mean, least and greatest of each hour, words to their changes; the
   * journal of that time goes.
   */
  thin(before: number): void {
    const until = Math.floor(before / HOUR) * HOUR;
    this.#file.exec("BEGIN IMMEDIATE");
    try {
      // A signal at a time, by the index: only what is old is looked at.
      for (const signal of this.#signals.values()) this.#thinSignal(signal, until);
      const [kept] = this.#all<{ at: number | null }>("SELECT max(at) AS at FROM checkpoints WHERE at <= ?", until);
      const begins = kept?.at ?? 0;
      this.#prepare("DELETE FROM checkpoints WHERE at < ?").run(begins);
      this.#prepare("DELETE FROM records WHERE at < ? AND id NOT IN (SELECT record FROM checkpoints)").run(begins);
      this.#file.exec("COMMIT");
    } catch (error) {
      if (this.#file.inTransaction) this.#file.exec("ROLLBACK");
      throw error;
    }
  }

  #thinSignal(signal: number, until: number): void {
    this.#prepare(
      `INSERT OR REPLACE INTO hours
       SELECT signal, at / ${HOUR} * ${HOUR} AS hour, count(*), avg(value), min(value), max(value) FROM history
       WHERE signal = ? AND at < ? AND typeof(value) IN ('real', 'integer') GROUP BY hour`,
    ).run(signal, until);
    this.#prepare("DELETE FROM history WHERE signal = ? AND at < ? AND typeof(value) IN ('real', 'integer')").run(signal, until);
    this.#prepare(
      `DELETE FROM history WHERE id IN (
         SELECT id FROM (
           SELECT id, value, lag(value) OVER (ORDER BY id) AS former FROM history WHERE signal = ? AND at < ?
         ) WHERE value = former)`,
    ).run(signal, until);
  }

  // ── Who may ask ─────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Those who have a token, with its hash. */
  people(): (Person & { readonly hash: string })[] {
    return this.#all("SELECT hash, name, may, at FROM tokens ORDER BY at, name");
  }

  addPerson(hash: string, { name, may, at }: Person): void {
    this.#prepare("INSERT OR REPLACE INTO tokens (hash, at, name, may) VALUES (?, ?, ?, ?)").run(hash, at, name, may);
  }

  /** Their token opens nothing any more. */
  removePerson(name: string): void {
    this.#prepare("DELETE FROM tokens WHERE name = ?").run(name);
  }

  // ── Outputs that were tried ─────────────────────────────────────────────────────────────────────────────────────────

  /** What was found when each output was tried. */
  tried(): { readonly output: string; readonly at: number; readonly found: string }[] {
    return this.#all("SELECT output, at, found FROM tried ORDER BY output");
  }

  addTried(output: string, at: number, found: string): void {
    this.#prepare("INSERT OR REPLACE INTO tried VALUES (?, ?, ?)").run(output, at, found);
  }

  close(): void {
    this.#statements.clear();
    this.#file.close();
  }
}

interface RecordRow {
  readonly id: number;
  readonly at: number;
  readonly event: string;
  readonly causes: string;
}

function readRow({ id, at, event, causes }: RecordRow): StoredRecord {
  return [id, at, JSON.parse(event), JSON.parse(causes)];
}
