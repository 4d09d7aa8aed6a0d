// A house that runs: messages and time in, commands and notices out, all of it kept.
import {
  type Change,
  clockOf,
  createEngine,
  type Engine,
  type House,
  type JournalEvent,
  type JournalRecord,
  Listener,
  MINUTE,
  type PersonAction,
  Repeats,
  type Run,
  restOf,
  type Snapshot,
  sayDate,
  sayValue,
  topicsHeard,
  typeOf,
  type Value,
  writeMessages,
} from "modrik";
import type { HouseClock } from "./clock.js";
import type { Link } from "./link.js";
import type { Says } from "./notes.js";
import { Obedience } from "./obedience.js";
import { Postbox, topicsOf } from "./postbox.js";
import type { Batch, Deed, HouseFile } from "./storage/house-file.js";
import { LiveRecording } from "./storage/recorder.js";

/** What a running house needs. */
export interface RunningOptions {
  readonly clock: HouseClock;
  readonly link: Link;
  readonly file: HouseFile;
  readonly says: Says;
  /** Decide and keep everything, tell nobody: what would have been sent is said. */
  readonly dry?: boolean;
  /** How long what is older is kept whole, in milliseconds. @default 400 days */
  readonly keep?: number;
}

/** What a device said last that it does, and how many times it has said something. */
export interface Confirmed {
  readonly value: Value;
  readonly times: number;
}

/** Who does something to a house. */
export interface Doer {
  readonly who: string;
  readonly origin: string;
}

/** What it has done so far. */
export interface Counts {
  messages: number;
  unreadable: number;
  commands: number;
  notices: number;
  problems: number;
  commits: number;
  failedCommits: number;
}

const DAY = 24 * 60 * MINUTE;
/** What is only read may be lost with this much; whatever else happens is kept at once. */
const FLUSH = 1000;
/** A disk that refused is asked again so much later. */
const RETRY = 10_000;
/** A device has so long to do what it is told and to say so. */
const ON_ITS_WAY = 5000;
/** While readings that were kept by the broker arrive, nothing is told: nobody wants a heater that blinks at each start. */
const SETTLE = 500;
/** The clock on the wall was set when it differs by so much from the one that goes on evenly. */
const CLOCK_JUMP = 1500;
/** The journal in memory. */
const REMEMBERED = 2 * DAY;
/** So many readings, and records, wait for a disk that refuses them; of more, the oldest are dropped, which is said. */
const MOST_WAITING = 200_000;

/** A house that runs. */
export class RunningHouse {
  readonly #options: RunningOptions;
  readonly #recording: LiveRecording;
  readonly #postbox: Postbox;
  readonly #listeners = new Set<(record: JournalRecord) => void>();
  readonly counts: Counts = { messages: 0, unreadable: 0, commands: 0, notices: 0, problems: 0, commits: 0, failedCommits: 0 };
  /** When it began to run. */
  readonly startedAt: number;
  #house: House;
  #engine: Engine;
  #listener: Listener;
  #repeats: Repeats;
  #obedience: Obedience;
  #unsubscribe: () => void = () => {};
  #wakes: () => void = () => {};
  #flushes: NodeJS.Timeout | undefined;
  #turns: NodeJS.Immediate | undefined;
  #ended = false;
  /** What was heard, and is yet to be kept. */
  #readings: Batch["readings"][number][] = [];
  #deeds: Deed[] = [];
  #posted: Batch["posted"][number][] = [];
  #dirty = true;
  /** When each output was last told something new, and what it said since that may be of before. */
  readonly #toldAt = new Map<string, number>();
  readonly #doubted = new Map<string, { readonly value: Value; readonly due: number }>();
  readonly #toldValue = new Map<string, Value>();
  readonly #confirmed = new Map<string, Confirmed>();
  /** When each sensor was last heard. */
  readonly #heardAt = new Map<string, number>();
  /** Those who wait until it is kept. */
  #waiting: { kept: () => void; refused: (error: unknown) => void }[] = [];
  #refusedSince: number | undefined;
  #retriesAt = 0;
  #lastSnapshot: Snapshot | undefined;
  /** Outputs to be told once the house has settled. */
  #settlesAt: number;
  #settlesBecause = "the house starts";
  #clockAhead = 0;
  #forgetsAt: number;
  #checkpointAt: number;

  /**
   * Begins with what its file keeps of it.
   * @throws RangeError when what is kept cannot be read, which says where
   */
  constructor(house: House, options: RunningOptions) {
    const { clock, file, says } = options;
    this.#options = options;
    this.#house = house;
    const wall = clock.now();
    const { snapshot, journal } = file.resume(wall - REMEMBERED);
    this.#recording = new LiveRecording(
      journal,
      () => this.#now,
      (record) => this.#written(record),
      file.keyCount(),
    );
    this.#clockAhead = snapshot?.clockAhead ?? 0;
    const at = Math.max(snapshot?.at ?? 0, wall - this.#clockAhead);
    this.#now = at;
    this.#offset = at - clock.now();
    this.#engine = createEngine(house, { at, ...(snapshot && { restore: snapshot }), journal: this.#recording });
    this.startedAt = at;
    this.#settlesAt = at + SETTLE * clock.speed;
    this.#forgetsAt = at + DAY / 24;
    this.#checkpointAt = at;
    this.#listener = new Listener(house);
    this.#repeats = new Repeats(house);
    this.#obedience = new Obedience(house, clock.speed);
    this.#postbox = new Postbox(file, options.link, says);
    const since = snapshot ? `, going on from ${this.#say(snapshot.at)}` : ", for the first time";
    says({ weight: "info", about: "start", text: `${house.name} runs${since}${options.dry ? "; dry: nothing is sent" : ""}` });
    this.#sayLeftOut();
    options.link.onTurn((isUp) => this.#turned(isUp));
  }

  /** The present of the house; the clock goes on evenly, and so does it. */
  #now: number;
  #offset: number;

  get house(): House {
    return this.#house;
  }

  /** The instant up to which everything has happened. */
  get now(): number {
    return this.#engine.now;
  }

  /** How far the clock on the wall is ahead of the house's own instants, in milliseconds. */
  get clockAhead(): number {
    return this.#clockAhead;
  }

  get isUp(): boolean {
    return this.#options.link.isUp;
  }

  get isDry(): boolean {
    return this.#options.dry === true;
  }

  /** Since when the disk refuses what should be kept. */
  get refusedSince(): number | undefined {
    return this.#refusedSince;
  }

  /** What has happened so far, of the last days: to be explained, measured, drawn. */
  get run(): Run {
    const { journal } = this.#recording;
    return { past: journal, from: journal.beginning, to: this.#engine.now };
  }

  /** The run with the house as it is now, to look ahead from. */
  runAhead(): Run {
    return { ...this.run, kept: { at: this.#engine.now, snapshot: this.#engine.snapshot() } };
  }

  value(name: string): Value | undefined {
    return this.#engine.value(name);
  }

  /** What an output's device said last that it does, since the house runs. */
  confirmed(output: string): Confirmed | undefined {
    return this.#confirmed.get(output);
  }

  /** When a sensor last said something that can be read, since the house runs. */
  heardAt(sensor: string): number | undefined {
    return this.#heardAt.get(sensor);
  }

  /** How many times as fast as real it goes. */
  get speed(): number {
    return this.#options.clock.speed;
  }

  snapshot(): Snapshot {
    return this.#engine.snapshot();
  }

  /** The id of the first record that is remembered; what is older stands in the file. */
  get firstRecord(): number {
    return this.#recording.journal.records[0]?.id ?? 0;
  }

  /** Records after an id, oldest first: of so many the latest. */
  recordsAfter(id: number, limit: number): JournalRecord[] {
    return this.#recording.journal.records.filter((one) => one.id > id).slice(-limit);
  }

  /** Calls back for each record of the journal; gives what ends it. */
  onRecord(told: (record: JournalRecord) => void): () => void {
    this.#listeners.add(told);
    return () => this.#listeners.delete(told);
  }

  // ── Begin and end ───────────────────────────────────────────────────────────────────────────────────────────────────

  /** Listens, and lives from now on. */
  async start(): Promise<this> {
    await this.#subscribe();
    this.#turn();
    return this;
  }

  async #subscribe(): Promise<void> {
    this.#unsubscribe();
    this.#unsubscribe = await this.#options.link.subscribe(topicsHeard(this.#house), (topic, text, kept) =>
      this.#hear(topic, text, kept),
    );
  }

  /**
   * Stops: all is kept, and the outputs are left as they are, or put to what they do at rest.
   * @throws when the disk refuses it
   */
  async stop(outputs: "keep" | "rest" = "keep"): Promise<void> {
    if (this.#ended) return;
    this.#turn();
    this.#ended = true;
    this.#wakes();
    clearTimeout(this.#flushes);
    if (this.#turns) clearImmediate(this.#turns);
    if (outputs === "rest") this.#putToRest();
    this.#flush();
    await this.#postbox.send();
    // Still subscribed: the broker keeps for us what is said until we are back.
    const { says, dry } = this.#options;
    const left = outputs === "rest" && !dry ? "outputs are at rest" : "outputs stay as they are";
    says({ weight: "info", about: "stop", text: `${this.#house.name} stopped; ${left}` });
    if (this.#refusedSince !== undefined) throw new Error("the disk refused what happened last");
  }

  #putToRest(): void {
    for (const output of this.#house.outputs) {
      const value = output.withoutControl ?? restOf(output);
      if (value !== undefined) this.#command(output.name, value, "the house stops");
    }
  }

  // ── Messages ────────────────────────────────────────────────────────────────────────────────────────────────────────

  #hear(topic: string, text: string, kept: boolean): void {
    if (this.#ended) return;
    this.counts.messages += 1;
    try {
      this.#take(topic, text, kept);
    } catch (error) {
      this.#mend(error);
    }
    this.#soon();
  }

  #take(topic: string, text: string, kept: boolean): void {
    const at = this.#instant();
    for (const heard of this.#listener.hear(topic, text)) {
      switch (heard.kind) {
        case "lost":
          this.#engine.lose(heard.sensor, at);
          this.#readings.push({ name: heard.sensor, at, value: undefined });
          break;
        case "back":
          break;
        case "pressed":
          // What was pressed before anybody listened was pressed then, and not now.
          if (kept) break;
          this.#engine.press(heard.sensor, at);
          this.#readings.push({ name: heard.sensor, at, value: "pressed" });
          break;
        case "reads":
          this.#report(heard.sensor, heard.value, topic, text, at);
          break;
        case "confirms":
          this.#confirm(heard.output, heard.value, at);
      }
    }
  }

  #report(sensor: string, value: Value | undefined, topic: string, text: string, at: number): void {
    this.#engine.report(sensor, value ?? Number.NaN, at);
    if (value !== undefined) {
      this.#readings.push({ name: sensor, at, value });
      this.#heardAt.set(sensor, at);
      return;
    }
    this.counts.unreadable += 1;
    const shown = text.length > 60 ? `${text.slice(0, 60)}…` : text;
    const says = `${sensor}: "${shown}" on ${topic} is no reading of it`;
    this.#options.says({ weight: "warn", about: "reading", text: says });
  }

  #confirm(output: string, value: Value, at: number): void {
    this.#confirmed.set(output, { value, times: (this.#confirmed.get(output)?.times ?? 0) + 1 });
    // Beside another system the outputs do what that one wants.
    if (this.#options.dry) return;
    const wanted = this.#engine.value(output);
    const due = (this.#toldAt.get(output) ?? Number.NEGATIVE_INFINITY) + ON_ITS_WAY * this.#options.clock.speed;
    this.#doubted.delete(output);
    // What it says just after it was told something may be of before.
    if (value !== wanted && at < due) this.#doubted.set(output, { value, due });
    else this.#takeConfirmation(output, value, at);
    this.#obedience.confirmed(output, value, wanted, at);
  }

  #takeConfirmation(output: string, value: Value, at: number): void {
    try {
      this.#engine.confirm(output, value, at);
    } catch (error) {
      const text = `${output} says that it does ${value}: ${(error as Error).message}`;
      this.#options.says({ weight: "warn", about: "output", text });
    }
  }

  /** Devices that still say something else, after a while in which they may have done what they were told. */
  #believe(at: number): void {
    for (const [output, { value, due }] of this.#doubted) {
      if (due > at) continue;
      this.#doubted.delete(output);
      this.#takeConfirmation(output, value, at);
    }
  }

  #turned(isUp: boolean): void {
    if (this.#ended) return;
    this.#options.says(
      isUp
        ? { weight: "info", about: "broker", text: "the broker is there" }
        : {
            weight: "warn",
            about: "broker",
            text: "the broker is away; the rules go on, and everything is sent when it is back",
          },
    );
    if (!isUp) return;
    // What is wanted is sent, not what was wanted meanwhile: and what the broker kept for us comes first.
    this.#settle("the broker is there");
    void this.#postbox.send();
  }

  /** In a moment every output is told what is wanted then. */
  #settle(because: string): void {
    // One that has not been told yet that the house starts is told that.
    if (this.#settlesAt === 0) this.#settlesBecause = because;
    this.#settlesAt = this.#instant() + SETTLE * this.#options.clock.speed;
    this.#soon();
  }

  // ── Time ────────────────────────────────────────────────────────────────────────────────────────────────────────────

  #instant(): number {
    this.#now = Math.max(this.#engine.now, this.#options.clock.now() + this.#offset);
    return this.#now;
  }

  /** What comes at once is taken together. */
  #soon(): void {
    this.#turns ??= setImmediate(() => {
      this.#turns = undefined;
      this.#turn();
    });
  }

  /** All that is due happens. */
  #turn(): void {
    if (this.#ended) return;
    const at = this.#instant();
    this.#followClock(at);
    this.#believe(at);
    const isNew = this.#advance(at);
    if (at >= this.#settlesAt) {
      if (this.#settlesAt > 0) {
        this.#settlesAt = 0;
        this.#tellAll(this.#settlesBecause);
      }
      this.#remind(at);
    }
    this.#dirty = true;
    // A disk that refuses is not asked at every turn; who waits for it is answered at once.
    const mayWrite = this.#refusedSince === undefined || this.#waiting.length > 0 || at >= this.#retriesAt;
    if (isNew && mayWrite) this.#flush();
    else this.#flushes ??= setTimeout(() => this.#flush(), FLUSH);
    if (at >= this.#forgetsAt) this.#forget(at);
    this.#wakes();
    const { clock } = this.#options;
    const next = Math.min(
      this.#engine.nextDeadline,
      this.#repeats.next,
      this.#obedience.next,
      this.#forgetsAt,
      ...[...this.#doubted.values()].map(({ due }) => due),
      this.#settlesAt || Number.POSITIVE_INFINITY,
      at + MINUTE,
    );
    this.#wakes = clock.wake(Math.max(next, at + 1) - this.#offset, () => this.#turn());
  }

  /** Whether something happened besides readings. */
  #advance(at: number): boolean {
    try {
      this.#engine.advanceTo(at);
    } catch (error) {
      this.#mend(error);
    }
    const changes = this.#engine.takeChanges();
    if (this.#settlesAt === 0) for (const output of lastOf(changes)) this.#tell(output, "");
    const notices = this.#engine.takeNotices();
    for (const { text, through } of notices) this.#post(text, through);
    const messages = this.#engine.takeMessages();
    for (const { text, to } of messages) this.#send(to, text, "a rule sends it");
    const problems = this.#engine.takeProblems();
    for (const { text } of problems) {
      this.counts.problems += 1;
      this.#options.says({ weight: "warn", about: "problem", text });
    }
    return changes.length + notices.length + messages.length + problems.length + this.#deeds.length > 0;
  }

  /** A fault of ours must not leave a house without control: it goes on from what was kept last. */
  #mend(error: unknown): void {
    const { says } = this.#options;
    const text = `the rules broke off and go on from the last second: ${error instanceof Error ? error.message : String(error)}`;
    says({ weight: "error", about: "house", text });
    if (!this.#lastSnapshot) throw error;
    this.#engine = createEngine(this.#house, {
      at: Math.max(this.#lastSnapshot.at, this.#now),
      restore: this.#lastSnapshot,
      journal: this.#recording,
    });
  }

  /** The clock on the wall may have been set. */
  #followClock(at: number): void {
    // Against the house's own instants, which are those of the even clock and what was between them at the start.
    const by = this.#options.clock.ahead() - this.#offset - this.#clockAhead;
    if (Math.abs(by) < CLOCK_JUMP) return;
    this.#engine.jumpClock(Math.round(by), at);
    this.#clockAhead += Math.round(by);
    const text = `the clock was set ${by > 0 ? "ahead" : "back"} by ${Math.round(Math.abs(by) / 1000)} s; times of day follow it, durations go on`;
    this.#options.says({ weight: "warn", about: "clock", text });
  }

  // ── Outputs ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  #tellAll(because: string): void {
    for (const { name } of this.#house.outputs) this.#tell(name, because);
  }

  #tell(output: string, because: string): void {
    const value = this.#engine.value(output);
    if (value !== undefined) this.#command(output, value, because);
  }

  #command(output: string, value: Value, because: string): void {
    const messages = writeMessages(this.#house, output, value);
    if (messages.length === 0) return;
    const at = this.#now;
    this.#repeats.told(output, at);
    if (this.#toldValue.get(output) !== value) this.#toldAt.set(output, at);
    this.#toldValue.set(output, value);
    if (!this.#options.dry) this.#obedience.told(output, value, at);
    for (const { topic, text, retained } of messages)
      this.#send(topic, text, `${output} ${this.#sayValue(output, value)}${because && `: ${because}`}`, retained);
  }

  #send(topic: string, text: string, about: string, retained?: true): void {
    const { link, dry, says } = this.#options;
    if (dry) {
      says({ weight: "info", about: "output", text: `would send "${text}" to ${topic} (${about})` });
      return;
    }
    if (!link.isUp) return;
    this.counts.commands += 1;
    link.publish({ topic, text, ...(retained && { retained }) }).catch((error: Error) => {
      if (link.isUp) says({ weight: "warn", about: "broker", text: `"${text}" did not reach ${topic}: ${error.message}` });
    });
  }

  /** Outputs that are told again, and those that do not obey. */
  #remind(at: number): void {
    for (const output of this.#repeats.takeDue(at)) this.#tell(output, "again");
    for (const { output, isGivenUp, times } of this.#obedience.takeDue(at)) {
      if (!isGivenUp) this.#tell(output, "it does not confirm");
      else {
        const text = `${output} was told ${times} times and does not confirm that it does what is wanted; it is told again when that changes`;
        this.#options.says({ weight: "warn", about: "output", text });
      }
    }
  }

  #post(text: string, through: string | undefined): void {
    this.counts.notices += 1;
    const topics = topicsOf(this.#house, through);
    const { dry, says } = this.#options;
    says({ weight: "info", about: "notice", text });
    if (dry) for (const topic of topics) says({ weight: "info", about: "notice", text: `would send "${text}" to ${topic}` });
    else this.#posted.push(...topics.map((topic) => ({ at: this.#now, topic, text })));
  }

  // ── People ──────────────────────────────────────────────────────────────────────────────────────────────────────────

  /**
   * What a person does: resolves when it has happened and is kept on the disk.
   * @throws RangeError when the house has no such thing, or the value does not fit
   */
  person(action: PersonAction, did: string, by: Doer): Promise<void> {
    return this.#do((at) => this.#engine.person(action, at), did, thingOf(action), by);
  }

  /**
   * Sets a dial or a mode; resolves when it is kept on the disk.
   * @throws RangeError when there is no such dial or mode, or the value is not one of its own
   */
  set(name: string, value: Value, did: string, by: Doer): Promise<void> {
    return this.#do((at) => this.#engine.set(name, value, at), did, name, by);
  }

  /** Ticks a notice off; resolves when that is kept. @throws StorageRefused when the disk refuses it */
  async tick(record: number, text: string, by: Doer): Promise<void> {
    return this.#do((at) => this.#options.file.tick(record, at, by.who), `tick off "${text}"`, `notice ${record}`, by);
  }

  async #do(act: (at: number) => void, did: string, thing: string, { who, origin }: Doer): Promise<void> {
    if (this.#ended) throw new Error("the house has stopped");
    const at = this.#instant();
    act(at);
    this.#deeds.push({ at, who, origin, did, thing });
    const kept = new Promise<void>((done, refused) => this.#waiting.push({ kept: done, refused }));
    this.#turn();
    return kept;
  }

  // ── Another version of the house ────────────────────────────────────────────────────────────────────────────────────

  /** Goes on as an edited house; gives what it kept nothing of. */
  async takeOver(house: House): Promise<readonly string[]> {
    this.#turn();
    const at = this.#instant();
    const snapshot = this.#engine.snapshot();
    // Made first: where it cannot be made, the old one goes on.
    const engine = createEngine(house, { at, restore: snapshot, journal: this.#recording });
    this.#house = house;
    this.#engine = engine;
    this.#listener = new Listener(house);
    this.#repeats = new Repeats(house);
    this.#obedience = new Obedience(house, this.#options.clock.speed);
    await this.#subscribe();
    this.#options.says({ weight: "info", about: "house", text: `the edited ${house.name} runs now` });
    const left = this.#sayLeftOut();
    if (this.#settlesAt === 0) this.#tellAll("the house was edited");
    this.#turn();
    return left;
  }

  #sayLeftOut(): readonly string[] {
    const { leftOut } = this.#engine;
    if (leftOut.length > 0)
      this.#options.says({
        weight: "warn",
        about: "house",
        text: `what was remembered of ${leftOut.join(", ")} does not fit the house any more and is dropped`,
      });
    return leftOut;
  }

  // ── Kept ────────────────────────────────────────────────────────────────────────────────────────────────────────────

  #written(record: JournalRecord): void {
    const { event, at } = record;
    const signal = signalOf(this.#house, event);
    if (signal) this.#readings.push({ ...signal, at });
    for (const told of this.#listeners) told(record);
  }

  #flush(): void {
    clearTimeout(this.#flushes);
    this.#flushes = undefined;
    if (!this.#dirty) return;
    const { file, says } = this.#options;
    const snapshot = this.#engine.snapshot();
    const checkpoint =
      snapshot.at >= this.#checkpointAt ? { at: snapshot.at, records: this.#recording.journal.standing(snapshot.at) } : undefined;
    try {
      file.write({
        snapshot,
        ...this.#recording.pending,
        readings: this.#readings,
        deeds: this.#deeds,
        posted: this.#posted,
        ...(checkpoint && { checkpoint }),
      });
    } catch (error) {
      this.#refused(error);
      return;
    }
    this.counts.commits += 1;
    this.#lastSnapshot = snapshot;
    this.#dirty = false;
    if (checkpoint) this.#checkpointAt = snapshot.at + DAY;
    if (this.#refusedSince !== undefined) {
      says({ weight: "info", about: "storage", text: "the disk takes what happens again; nothing of what waited was lost" });
      this.#refusedSince = undefined;
    }
    const posted = this.#posted.length > 0;
    this.#recording.kept();
    this.#readings = [];
    this.#deeds = [];
    this.#posted = [];
    for (const { kept } of this.#waiting.splice(0)) kept();
    if (posted) this.#postbox.filled();
  }

  /** The house goes on though its disk does not: what happens waits. People are told that it is not kept. */
  #refused(error: unknown): void {
    const text = `what happens cannot be kept: ${(error as Error).message}; the rules go on, and it is tried again`;
    this.counts.failedCommits += 1;
    if (this.#refusedSince === undefined) this.#options.says({ weight: "error", about: "storage", text });
    this.#refusedSince ??= this.#now;
    this.#retriesAt = this.#now + RETRY * this.#options.clock.speed;
    for (const { refused } of this.#waiting.splice(0)) refused(new StorageRefused(text));
    const spare = Math.max(0, this.#readings.length - MOST_WAITING);
    this.#readings.splice(0, spare);
    const lost = spare + this.#recording.letGo(MOST_WAITING);
    if (lost > 0)
      this.#options.says({
        weight: "error",
        about: "storage",
        text: `${lost} readings and records that waited for the disk are lost`,
      });
    if (!this.#ended) this.#flushes ??= setTimeout(() => this.#flush(), RETRY);
  }

  #forget(at: number): void {
    this.#forgetsAt = at + DAY / 24;
    this.#recording.journal.forget(at - REMEMBERED);
    try {
      this.#options.file.thin(at - (this.#options.keep ?? 400 * DAY));
    } catch (error) {
      this.#options.says({
        weight: "warn",
        about: "storage",
        text: `old history could not be thinned: ${(error as Error).message}`,
      });
    }
  }

  #say(at: number): string {
    return sayDate(clockOf(this.#house.clock), at + this.#clockAhead);
  }

  #sayValue(name: string, value: Value): string {
    return sayValue(typeOf(this.#house, name), value);
  }
}

/** What a person did has happened, and the disk does not keep it. */
export class StorageRefused extends Error {}

/** What a person does something to. */
function thingOf(action: PersonAction): string {
  if ("output" in action) return action.output;
  if ("rule" in action) return action.rule;
  return "preset" in action ? action.preset : action.countdown;
}

/** Outputs that changed, once each, in the order of their last change. */
function lastOf(changes: readonly Change[]): string[] {
  const outputs = new Set<string>();
  for (const { output } of changes) {
    outputs.delete(output);
    outputs.add(output);
  }
  return [...outputs];
}

/** What of the journal is history of a signal: sensors stand in it as they reported. */
function signalOf(house: House, event: JournalEvent): { readonly name: string; readonly value: Value | undefined } | undefined {
  if (event.kind === "sent") return { name: event.output, value: event.value };
  if (event.kind !== "value") return undefined;
  const isSensor = house.sensors.some(({ name }) => name === event.thing);
  return isSensor ? undefined : { name: event.thing, value: event.value };
}
