// What a person does to a running house: looked up and checked when it is said, done when its instant comes.

import { baseOf, misfit, type Value } from "../house/index.js";
import type { Countdowns } from "./countdowns.js";

import type { PersonAction } from "./person-action.js";
import type { Program } from "./program.js";

/** What a running house lets a person do; things by their numbers, values in base units. */
export interface Hands {
  switch(output: number, value: number, lasts: number | undefined): void;
  endHand(output: number): void;
  pause(rule: number, lasts: number | undefined): void;
  resume(rule: number): void;
  apply(preset: string): void;
  readonly countdowns: Countdowns;
  /** Runs the first steps of a rule. */
  run(rule: number): void;
}

/**
 * The act that an action of a person is.
 * @throws RangeError when the house has no such output, rule, preset or countdown, or the value does not fit
 */
export function actOf(action: PersonAction, program: Program, hands: Hands): () => void {
  const lasts = lastsOf(action);
  switch (action.kind) {
    case "switches": {
      const [output, value] = outputValue(program, action.output, action.value);
      return () => hands.switch(output, value, lasts);
    }
    case "releases": {
      const output = placeOf(program.outputs, "output", action.output);
      return () => hands.endHand(output);
    }
    case "pauses": {
      const rule = placeOf(program.rules, "rule", action.rule);
      return () => hands.pause(rule, lasts);
    }
    case "resumes": {
      const rule = placeOf(program.rules, "rule", action.rule);
      return () => hands.resume(rule);
    }
    case "applies": {
      const { preset } = action;
      if (!program.presets.has(preset)) throw new RangeError(`the house has no preset "${preset}"`);
      return () => hands.apply(preset);
    }
    case "starts":
    case "stops": {
      const countdown = placeOf(program.countdowns, "countdown", action.countdown);
      return () => (action.kind === "starts" ? hands.countdowns.start(countdown, lasts) : hands.countdowns.stop(countdown));
    }
    case "runs": {
      const rule = placeOf(program.rules, "rule", action.rule);
      if (program.rules[rule]?.events[0] === undefined) throw new RangeError(`rule "${action.rule}" has no steps to run`);
      return () => hands.run(rule);
    }
    default:
      throw new RangeError(`no such action: ${JSON.stringify(action satisfies never)}`);
  }
}

/** For how long, in milliseconds: without an end for what lasts until it is released. */
function lastsOf(action: PersonAction): number | undefined {
  if (!("lasts" in action) || action.lasts === undefined) return undefined;
  if (action.kind === "switches" && action.lasts === "until released") return Number.POSITIVE_INFINITY;
  if (typeof action.lasts === "number" && action.lasts >= 0 && Number.isFinite(action.lasts)) return action.lasts;
  throw new RangeError(`what a person does lasts for some milliseconds, from 0 on, not for ${action.lasts}`);
}

/**
 * An output by its number, and a value of it in the base unit.
 * @throws RangeError when the house has no such output, or the value does not fit
 */
export function outputValue(program: Program, name: string, value: Value): [output: number, base: number] {
  const cell = program.cells.get(name);
  const why = cell?.kind === "output" ? misfit(cell, value) : "it is not an output";
  if (!cell || why) throw new RangeError(`"${name}" cannot be ${value}: ${why}`);
  return [placeOf(program.outputs, "output", name), baseOf(value, cell.type)];
}

function placeOf(things: readonly { readonly name: string }[], kind: string, name: string): number {
  const place = things.findIndex((thing) => thing.name === name);
  if (place < 0) throw new RangeError(`the house has no ${kind} "${name}"`);
  return place;
}
