// A house that runs in a test: on a clock that is set by hand and a link that can be cut.

import { type HouseClock, HouseFile, LocalLink, RunningHouse, type RuntimeNote } from "@modrik/runtime";
import { type House, LocalTransport, parseHouse } from "modrik";
import { expect } from "vitest";

export const MINUTE = 60_000;
export const START = Date.parse("2026-03-14T08:00Z");

/** A clock that stands until it is moved. */
export class HandClock implements HouseClock {
  #now: number;
  readonly speed = 1;
  /** How far the clock on the wall is ahead. */
  wallAhead = 0;
  readonly #wakes = new Set<{ readonly at: number; readonly then: () => void }>();

  constructor(now = START) {
    this.#now = now;
  }

  now(): number {
    return this.#now;
  }

  ahead(): number {
    return this.wallAhead;
  }

  wake(at: number, then: () => void): () => void {
    const one = { at, then };
    this.#wakes.add(one);
    return () => this.#wakes.delete(one);
  }

  /** Who waits for it is no more. */
  forget(): void {
    this.#wakes.clear();
  }

  /** Moves on to an instant, and lets happen what is due on the way. */
  async passTo(at: number): Promise<void> {
    for (;;) {
      await settled();
      const [next] = [...this.#wakes].filter((one) => one.at <= at).sort((a, b) => a.at - b.at);
      if (!next) break;
      this.#wakes.delete(next);
      this.#now = Math.max(this.#now, next.at);
      next.then();
    }
    this.#now = at;
    await settled();
  }
}

/** What was set going has come to its end. */
export async function settled(): Promise<void> {
  for (let turn = 0; turn < 4; turn++) await new Promise((done) => setImmediate(done));
}

export function houseOf(text: string): House {
  const { house, problems } = parseHouse({ "house.modrik": text });
  expect(problems.filter(({ severity }) => severity === "error")).toEqual([]);
  return house;
}

/** A house on a transport of its own, with a device that hears what it is told. */
export async function running(
  house: House,
  {
    dry = false,
    path = ":memory:",
    at = START,
    kept = {},
  }: { dry?: boolean; path?: string; at?: number; kept?: Readonly<Record<string, string>> } = {},
) {
  const transport = new LocalTransport();
  for (const [topic, text] of Object.entries(kept)) await transport.publish({ topic, text, retained: true });
  const clock = new HandClock(at);
  const notes: RuntimeNote[] = [];
  const sent: string[] = [];
  const begins = () => ({ link: new LocalLink(transport), file: new HouseFile(path) });
  let { link, file } = begins();
  const says = (note: RuntimeNote) => void notes.push(note);
  const start = () => new RunningHouse(house, { clock, link, file, says, dry }).start();
  const device = new LocalLink(transport);
  const topics = house.wirings.flatMap((one) => (one.kind === "writing" || one.kind === "notices" ? [one.topic] : []));
  await device.subscribe(topics, (topic, text) => void sent.push(`${(clock.now() - at) / MINUTE} ${topic} ${text}`));
  const it = {
    running: await start(),
    clock,
    notes,
    sent,
    transport,
    get link() {
      return link;
    },
    get file() {
      return file;
    },
    value: (name: string) => it.running.value(name),
    /** Passes to a minute, and says something there. */
    async at(minute: number, topic?: string, text = "", retained = false) {
      await clock.passTo(at + minute * MINUTE);
      if (topic !== undefined) await device.publish({ topic, text, ...(retained && { retained }) });
      await settled();
    },
    /** The process dies, with all that it has not kept; another begins in a minute. */
    async restart(minute: number) {
      link.turn(false);
      await settled();
      clock.forget();
      await clock.passTo(at + minute * MINUTE);
      if (path !== ":memory:") {
        file.close();
        ({ link, file } = begins());
      } else link = new LocalLink(transport);
      it.running = await start();
      await clock.passTo(at + minute * MINUTE + 1000);
    },
    said: (about: RuntimeNote["about"]) => notes.filter((note) => note.about === about).map(({ text }) => text),
  };
  return it;
}
