// The clock by which a house lives: it may jump, and each of its days begins with a look at what the sun does not do.
import type { House } from "../house/index.js";
import { type Clock, clockOf, dateOfDay, type Sky } from "../time/index.js";
import type { Parts } from "./parts.js";
import { Sunless } from "./sunless.js";

export class HouseClock {
  readonly #parts: Parts;
  readonly #clock: Clock;
  readonly #sunless: Sunless;
  #ahead = 0;
  #sky: Sky;

  constructor(parts: Parts) {
    this.#parts = parts;
    const { house, sunEvents } = parts.program;
    this.#clock = clockOf(house.clock);
    this.#sky = { clock: this.#clock, place: house.place };
    this.#sunless = new Sunless(sunEvents);
  }

  /** How far it is ahead of the true time, in milliseconds. */
  get ahead(): number {
    return this.#ahead;
  }

  get sky(): Sky {
    return this.#sky;
  }

  put(ahead: number): void {
    this.#ahead = ahead;
    this.#sky = skyAhead(this.#clock, ahead, this.#parts.program.house);
    this.#parts.evaluator.sky = this.#sky;
  }

  /** Only where a house has a place and depends on the sun is there anything to look at each day. */
  begin(at: number): void {
    const { program, agenda } = this.#parts;
    if (program.house.place && this.#sunless.watches) agenda.set(program.day.timer, at);
  }

  newDay(): void {
    const { program, agenda, evaluator, recorder } = this.#parts;
    const { clock } = this.#sky;
    const { day } = clock.local(evaluator.now);
    for (const event of this.#sunless.newly(this.#sky, evaluator.now))
      recorder.problem("no-sun", `there is no ${event} from ${dateOfDay(day)} on; a trigger at it waits until it comes again`);
    agenda.set(program.day.timer, clock.instant(day + 1, 0));
  }
}

/** The sky by a clock that is ahead of the true time. */
function skyAhead(clock: Clock, ahead: number, { place }: House): Sky {
  if (ahead === 0) return { clock, place };
  const shifted: Clock = {
    zone: clock.zone,
    local: (instant) => clock.local(instant + ahead),
    instant: (day, ms) => clock.instant(day, ms) - ahead,
  };
  return { clock: shifted, place };
}
