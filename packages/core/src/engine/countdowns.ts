// The countdowns of a house while they run.
import type { Agenda, Evaluator } from "../expression/index.js";
import type { CountdownProgram, Program } from "./program.js";
import type { UnknownTimes } from "./unknown-times.js";

export class Countdowns {
  constructor(
    readonly program: Program,
    readonly evaluator: Evaluator,
    readonly agenda: Agenda,
    readonly unknownTimes: UnknownTimes,
  ) {}

  /** `lasts` left out: for as long as it usually lasts. */
  start(countdown: number, lasts?: number): void {
    const { name, running, ends, lasts: usual, timer } = this.#of(countdown);
    const asked = lasts ?? this.evaluator.current(usual);
    const duration = this.unknownTimes.of(asked, `countdown ${name}`, `how long ${name} lasts`, "it does not start");
    if (duration === undefined || duration <= 0) return;
    this.evaluator.set(running, 1);
    const end = Math.ceil(this.evaluator.now + duration);
    this.evaluator.set(ends, end);
    this.agenda.set(timer, end);
  }

  stop(countdown: number): void {
    const { running, ends, timer } = this.#of(countdown);
    this.evaluator.set(running, 0);
    this.evaluator.set(ends, Number.NaN);
    this.agenda.clear(timer);
  }

  /** The pulse of its end, which is now. */
  runOut(countdown: number): number {
    const { running, runsOut } = this.#of(countdown);
    this.evaluator.set(running, 0);
    return runsOut;
  }

  #of(countdown: number): CountdownProgram {
    return this.program.countdowns[countdown] as CountdownProgram;
  }
}
