// The way to a house's devices, as a running house needs it: one that can be down for a while.
import { type Hears, LocalTransport, type OutgoingMessage, type Transport } from "modrik";

/** A transport that can be down. What is published while it is, is refused. */
export interface Link extends Transport {
  readonly isUp: boolean;
  /** Calls back each time it comes up or goes down. */
  onTurn(told: (isUp: boolean) => void): void;
  /** Delivers what is under way, and ends it. */
  end(): Promise<void>;
}

/** A link within one program, that can be cut: for tests, and for a house without a broker. */
export class LocalLink implements Link {
  readonly #transport: LocalTransport;
  readonly #told: ((isUp: boolean) => void)[] = [];
  isUp = true;

  /** Links that share a transport hear one another. */
  constructor(transport = new LocalTransport()) {
    this.#transport = transport;
  }

  /** Goes down, or comes up again. */
  turn(isUp: boolean): void {
    this.isUp = isUp;
    for (const told of this.#told) told(isUp);
  }

  subscribe(topics: readonly string[], hears: Hears): Promise<() => void> {
    return this.#transport.subscribe(topics, (topic, text, kept) => {
      if (this.isUp) hears(topic, text, kept);
    });
  }

  async publish(message: OutgoingMessage): Promise<void> {
    if (!this.isUp) throw new Error("the link is down");
    await this.#transport.publish(message);
  }

  onTurn(told: (isUp: boolean) => void): void {
    this.#told.push(told);
  }

  async end(): Promise<void> {
    this.isUp = false;
  }
}
