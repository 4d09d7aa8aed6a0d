// How messages come and go: a port, for a broker or for a test.
import type { House } from "../house/index.js";
import type { OutgoingMessage } from "./encode.js";

/** Hears a message on a topic. `kept`: it was said before one listened. */
export type Hears = (topic: string, text: string, kept: boolean) => void;

/** Carries messages between a house and its devices. */
export interface Transport {
  /** Hears what comes on some topics from now on, and what is kept of each; resolves with what ends it. */
  subscribe(topics: readonly string[], hears: Hears): Promise<() => void>;
  /** Resolves when the message is delivered as surely as the transport can. */
  publish(message: OutgoingMessage): Promise<void>;
}

/** A transport within one program: whoever subscribes hears what is published, in its order. */
export class LocalTransport implements Transport {
  readonly #listeners = new Set<{ readonly topics: ReadonlySet<string>; readonly hears: Hears }>();
  readonly #kept = new Map<string, string>();

  async subscribe(topics: readonly string[], hears: Hears): Promise<() => void> {
    const listener = { topics: new Set(topics), hears };
    this.#listeners.add(listener);
    for (const topic of listener.topics) {
      const kept = this.#kept.get(topic);
      if (kept !== undefined) hears(topic, kept, true);
    }
    return () => this.#listeners.delete(listener);
  }

  async publish({ topic, text, retained }: OutgoingMessage): Promise<void> {
    if (retained) this.#kept.set(topic, text);
    for (const { topics, hears } of [...this.#listeners]) if (topics.has(topic)) hears(topic, text, false);
  }
}

/** The topics on which devices say something to a house: readings, confirmations, life signs. */
export function topicsHeard({ wirings }: House): string[] {
  const topics = wirings.flatMap((wiring) => {
    if (wiring.kind === "reading" || wiring.kind === "alive") return [wiring.topic];
    return wiring.kind === "writing" && wiring.confirmedBy !== undefined ? [wiring.confirmedBy] : [];
  });
  return [...new Set(topics)];
}
