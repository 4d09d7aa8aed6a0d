// What a change of an output is to those who are told of it.
import type { House, Value, Wiring } from "../house/index.js";

/** A message to be sent. */
export interface OutgoingMessage {
  readonly topic: string;
  readonly text: string;
  /** Whoever subscribes later hears it too. */
  readonly retained?: true;
}

type Writing = Extract<Wiring, { kind: "writing" }>;

/**
 * The messages that tell an output's value: the text that is written for it, else the value in the text, else the value alone.
 * @param value in the output's own unit
 */
export function writeMessages(house: House, output: string, value: Value): OutgoingMessage[] {
  return house.wirings.flatMap((wiring) => {
    if (wiring.kind !== "writing" || wiring.output !== output) return [];
    return [{ topic: wiring.topic, text: textOf(wiring, value), ...(wiring.retained && { retained: true as const }) }];
  });
}

/** The text in which an output is told a value. */
export function textOf({ texts, text }: Writing, value: Value): string {
  const told = typeof value === "number" ? plain(value) : value;
  return texts?.find(({ word }) => word === value)?.text ?? text?.replaceAll("{value}", () => told) ?? told;
}

/** Six decimals at most, so that what was calculated looks like what was meant. */
function plain(value: number): string {
  return String(Number(value.toFixed(6)));
}
