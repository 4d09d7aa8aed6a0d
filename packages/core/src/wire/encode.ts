// What a change of an output is to those who are told of it.
import type { House, Value } from "../house/index.js";

/** A message to be sent. */
export interface OutgoingMessage {
  readonly topic: string;
  readonly text: string;
}

/**
 * The messages that tell an output's value: the text that is written for it, else the value in the text, else the value alone.
 * @param value in the output's own unit
 */
export function writeMessages(house: House, output: string, value: Value): OutgoingMessage[] {
  return house.wirings.flatMap((wiring) => {
    if (wiring.kind !== "writing" || wiring.output !== output) return [];
    const told = typeof value === "number" ? plain(value) : value;
    const own = wiring.texts?.find(({ word }) => word === value)?.text;
    return [{ topic: wiring.topic, text: own ?? wiring.text?.replaceAll("{value}", () => told) ?? told }];
  });
}

/** Six decimals at most, so that what was reckoned looks like what was meant. */
function plain(value: number): string {
  return String(Number(value.toFixed(6)));
}
