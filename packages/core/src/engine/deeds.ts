// What steps and persons do to a house beside asking an output for something: they set dials and modes, switch by hand,
// pause rules, apply presets.
import { clampTo, ownOf, sayValue } from "../house/index.js";
import type { Countdowns } from "./countdowns.js";
import type { Hands } from "./hands.js";
import type { Parts } from "./parts.js";
import { cellNamed, type Program } from "./program.js";

export class Deeds implements Hands {
  readonly #parts: Parts;

  constructor(parts: Parts) {
    this.#parts = parts;
  }

  // ── Dials and modes ─────────────────────────────────────────────────────────────────────────────────────────────────

  /** Whether dials and modes may be set so, together: no band's targets cross by it. Where not, it is told. */
  mayTurn(settings: readonly (readonly [name: string, value: number])[]): boolean {
    const { program, crossings, recorder } = this.#parts;
    if (program.bands.length === 0) return true;
    const dials = settings.flatMap(([name, value]) => {
      const cell = cellNamed(program, name);
      return cell.kind === "dial" && !Number.isNaN(value) ? [{ cell, value: clampTo(cell, value) }] : [];
    });
    const why = dials.length > 0 && crossings.refusal(new Map(dials.map(({ cell, value }) => [cell.node, value])));
    if (!why) return true;
    const wanted = dials.map(({ cell, value }) => `${cell.name} is not set to ${sayValue(cell.type, ownOf(value, cell.type))}`);
    recorder.problem("refused", `${wanted.join(", ")}: ${why}`);
    return false;
  }

  /** Sets a dial or a mode. */
  setCell(name: string, value: number): void {
    const { program, events, recorder, evaluator } = this.#parts;
    const cell = cellNamed(program, name);
    const made = clampTo(cell, value);
    events.setAnew(name);
    recorder.put(cell, made);
    evaluator.set(cell.node, made);
  }

  // ── What a person does ──────────────────────────────────────────────────────────────────────────────────────────────

  get countdowns(): Countdowns {
    return this.#parts.countdowns;
  }

  switch(output: number, value: number, lasts: number | undefined): void {
    this.#parts.outputs.switch(output, value, lasts);
  }

  endHand(output: number): void {
    this.#parts.outputs.endHand(output);
  }

  /** It releases its claims and ends its running steps; its memories go on. */
  pause(rule: number, lasts: number | undefined): void {
    const { program, outputs, events, recorder, agenda, evaluator } = this.#parts;
    const { timer, claims, events: sentences, name } = program.rules[rule] as Program["rules"][number];
    const end = lasts === undefined ? Number.POSITIVE_INFINITY : Math.ceil(evaluator.now + lasts);
    outputs.paused.add(rule);
    recorder.note({ kind: "person", text: `pauses ${name}` }, []);
    recorder.note({ kind: "paused", rule: name, ...(lasts !== undefined && { until: end }) }, []);
    agenda.set(timer, end);
    for (const event of sentences) events.stop(event);
    for (const claim of claims) if (program.claims[claim]?.held === undefined) outputs.letGo(claim);
    outputs.redecide(claims);
  }

  resume(rule: number): void {
    const { program, outputs, recorder, agenda } = this.#parts;
    const { timer, claims, name } = program.rules[rule] as Program["rules"][number];
    if (outputs.paused.delete(rule)) recorder.note({ kind: "resumed", rule: name }, []);
    agenda.clear(timer);
    outputs.redecide(claims);
  }

  apply(preset: string): void {
    const { program, outputs, evaluator } = this.#parts;
    const values = program.presets.get(preset) ?? [];
    if (!this.mayTurn(values.map(({ name, value }) => [name, evaluator.current(value)] as const))) return;
    for (const { name, value } of values) {
      const base = evaluator.current(value);
      if (Number.isNaN(base)) continue;
      const output = program.outputs.findIndex((one) => one.name === name);
      if (output >= 0) outputs.switch(output, base, undefined);
      else this.setCell(name, base);
    }
  }

  run(rule: number): void {
    const { program, outputs, events } = this.#parts;
    const [event] = program.rules[rule]?.events ?? [];
    if (event !== undefined && !outputs.paused.has(rule)) events.run(event);
  }
}
