// What a house tells: notices to people, raw messages, problems; each may be waited for while it is told.
import type { Evaluator } from "../expression/index.js";
import { ownOf } from "../house/index.js";
import { writeMessages } from "../wire/index.js";
import type { Message, Notice } from "./interface.js";
import type { RunningProblem } from "./journal.js";
import type { ProblemRecord } from "./past.js";
import type { Program, TextPart } from "./program.js";
import type { Recorder } from "./recorder.js";
import { fill } from "./text.js";

export class Told {
  readonly #program: Program;
  readonly #evaluator: Evaluator;
  readonly #recorder: Recorder;
  /** Something is so for this instant only. */
  readonly #raise: (pulse: number) => void;
  #notices: Notice[] = [];
  #messages: Message[] = [];
  #problems: ProblemRecord[] = [];

  constructor(program: Program, evaluator: Evaluator, recorder: Recorder, raise: (pulse: number) => void) {
    this.#program = program;
    this.#evaluator = evaluator;
    this.#recorder = recorder;
    this.#raise = raise;
  }

  tell(parts: readonly TextPart[], through: string | undefined, heldBack: number): void {
    const text = `${fill(parts, this.#evaluator)}${heldBack > 0 ? ` (${heldBack} more)` : ""}`;
    const notice = { text, ...(through !== undefined && { through }) };
    this.#recorder.note({ kind: "notice", ...notice }, this.#recorder.cause);
    this.#notices.push({ at: this.#evaluator.now, ...notice });
    this.#raiseFor("told", (wanted) => text.includes(wanted));
  }

  send(textParts: readonly TextPart[], toParts: readonly TextPart[]): void {
    const text = fill(textParts, this.#evaluator);
    const to = fill(toParts, this.#evaluator);
    this.#recorder.note({ kind: "message", text, to }, this.#recorder.cause);
    this.#messages.push({ at: this.#evaluator.now, text, to });
    this.#raiseSent(text, to);
  }

  problem(code: RunningProblem, text: string): void {
    this.#problems.push({ at: this.#evaluator.now, code, text });
    this.#raiseFor("problem", (wanted) => wanted === code);
  }

  /** What the wiring writes of outputs may be waited for, in a trial. Whether any of it is. */
  outputsSent(outputs: readonly number[]): boolean {
    if (outputs.length === 0 || !this.#program.pulses.some(({ kind }) => kind === "sent")) return false;
    for (const output of outputs) {
      const { name, node, type } = this.#program.outputs[output] as Program["outputs"][number];
      const value = ownOf(this.#evaluator.values[node] as number, type);
      for (const { topic, text } of value === undefined ? [] : writeMessages(this.#program.house, name, value))
        this.#raiseSent(text, topic);
    }
    return true;
  }

  takeNotices(): readonly Notice[] {
    const notices = this.#notices;
    if (notices.length === 0) return none;
    this.#notices = [];
    return notices;
  }

  takeMessages(): readonly Message[] {
    const messages = this.#messages;
    if (messages.length === 0) return none;
    this.#messages = [];
    return messages;
  }

  takeProblems(): readonly ProblemRecord[] {
    const problems = this.#problems;
    if (problems.length === 0) return none;
    this.#problems = [];
    return problems;
  }

  #raiseSent(text: string, to: string): void {
    this.#raiseFor("sent", (pulse) => {
      const [wanted, topic] = JSON.parse(pulse) as [string, string];
      return text.includes(wanted) && to === topic;
    });
  }

  /** Raises the pulses that wait for a text. */
  #raiseFor(kind: Program["pulses"][number]["kind"], fits: (text: string) => boolean): void {
    for (const pulse of this.#program.pulses) if (pulse.kind === kind && fits(pulse.text)) this.#raise(pulse.node);
  }
}

/** There is mostly nothing to take. */
const none: readonly never[] = [];
