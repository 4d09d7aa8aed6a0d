// Notices on their way to people: they wait while the broker is away, the latest ones, and go in their order.
import type { House } from "modrik";
import type { Link } from "./link.js";
import type { Says } from "./notes.js";
import type { HouseFile, Parcel } from "./storage/house-file.js";

/** So many wait; of more, the oldest are dropped, which is said. */
export const WAITING = 1000;

/** Where notices go: by what the wiring names. */
export function topicsOf({ wirings }: House, way: string | undefined): string[] {
  const ways = wirings.flatMap((one) => (one.kind === "notices" ? [one] : []));
  // A notice that names no way goes all ways there are.
  return [...new Set(ways.filter((one) => way === undefined || one.way === way).map(({ topic }) => topic))];
}

/** Sends what waits in a file, one after another. */
export class Postbox {
  #busy = false;
  #letGo = 0;

  constructor(
    readonly file: HouseFile,
    readonly link: Link,
    readonly says: Says,
  ) {}

  /** Parcels were written into the file: the oldest are dropped where they are too many. */
  filled(): void {
    const gone = this.file.trimParcels(WAITING);
    if (gone > 0 && this.#letGo === 0)
      this.says({ weight: "warn", about: "notice", text: `${WAITING} notices wait for the broker: the oldest are let go` });
    this.#letGo += gone;
    void this.send();
  }

  /** Sends what waits, as long as the link is up. */
  async send(): Promise<void> {
    if (this.#busy) return;
    this.#busy = true;
    try {
      for (let next = this.#next(); next && this.link.isUp; next = this.#next()) {
        await this.link.publish({ topic: next.topic, text: next.text });
        this.file.delivered(next.id);
        this.#sayLetGo();
      }
    } catch {
      // It waits until the link comes up again.
    } finally {
      this.#busy = false;
    }
  }

  #sayLetGo(): void {
    if (this.#letGo === 0) return;
    this.says({ weight: "warn", about: "notice", text: `${this.#letGo} notices were let go while the broker was away` });
    this.#letGo = 0;
  }

  #next(): (Parcel & { readonly id: number }) | undefined {
    return this.file.parcels(1)[0];
  }
}
