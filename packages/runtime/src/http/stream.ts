// What happens in a house, as it happens (Server-Sent Events). Each event has the id of its record, so that who was away
// goes on after the last one heard.
import type { ServerResponse } from "node:http";
import type { JournalRecord, StoredRecord } from "modrik";
import type { View } from "./view.js";

/** What of the journal others are told: not the working of rules. */
const told: ReadonlySet<string> = new Set([
  "value",
  "decided",
  "sent",
  "notice",
  "message",
  "person",
  "problem",
  "paused",
  "resumed",
]);

const BEAT = 15_000;
/** Who reads so slowly that this many bytes wait is cut off, and goes on when it comes back. */
const WAITING = 1_000_000;
/** So many are told at once of what they missed. */
const MISSED = 10_000;

/** Streams to as many as listen, and ends with the house. */
export class Streams {
  /** Each with whose token it came with. */
  readonly #open = new Map<ServerResponse, string | undefined>();

  constructor(readonly view: View) {}

  get count(): number {
    return this.#open.size;
  }

  /** Tells one who listens, from a record on. */
  open(response: ServerResponse, after: number | undefined, person?: string): void {
    const { running, file } = this.view;
    response.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store", "x-accel-buffering": "no" });
    response.write(": here\n\n");
    if (after !== undefined) {
      const first = running.firstRecord;
      const older = after + 1 < first ? file.recordsAfter(after, MISSED).map(recordOf) : [];
      const last = older.at(-1)?.id ?? after;
      for (const record of [...older, ...running.recordsAfter(last, MISSED)]) this.#tell(response, record);
    }
    const stop = running.onRecord((record) => this.#tell(response, record));
    const beats = setInterval(() => response.write(": beat\n\n"), BEAT);
    this.#open.set(response, person);
    response.on("error", () => {});
    response.on("close", () => {
      stop();
      clearInterval(beats);
      this.#open.delete(response);
    });
  }

  #tell(response: ServerResponse, { id, at, event }: JournalRecord): void {
    if (!told.has(event.kind) || response.destroyed) return;
    const { kind, ...what } = event;
    const data = JSON.stringify({ at: this.view.instant(at), ...what }, (_, value) => (value === undefined ? null : value));
    response.write(`id: ${id}\nevent: ${kind}\ndata: ${data}\n\n`);
    if (response.writableLength > WAITING) response.destroy();
  }

  end(): void {
    for (const response of this.#open.keys()) response.end();
  }

  /** Somebody may listen no more. */
  endThoseOf(person: string): void {
    for (const [response, whose] of this.#open) if (whose === person) response.end();
  }
}

function recordOf([id, at, event, causes]: StoredRecord): JournalRecord {
  return { id, at, event: event as JournalRecord["event"], causes };
}
