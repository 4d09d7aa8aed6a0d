// A trial made of what was let happen, as text, and where it goes.
import { formatHouse } from "modrik";

interface KeptTrial {
  readonly name: string;
  readonly title: string;
  /** When it runs, on what, what is given and what happens. */
  readonly head: string;
  readonly expectations: readonly string[];
}

/** Its text, laid out. */
export function trialText({ name, title, head, expectations }: KeptTrial): string {
  const sentence = title.trim() === "" ? "" : ` ${JSON.stringify(title.trim())}`;
  const lines = [head, "", ...expectations.map((one) => `expect ${one}`)];
  return formatHouse(`trial ${name}${sentence} {\n${lines.join("\n")}\n}\n`).text;
}

/** A name that no trial has yet. */
export function offeredName(texts: string): string {
  for (let number = 1; ; number++) {
    const name = `by_hand_${number}`;
    if (!new RegExp(`\\b${name}\\b`).test(texts)) return name;
  }
}

/** A text with another after it. */
export const withTrial = (before: string | undefined, trial: string) =>
  before === undefined || before.trim() === "" ? trial : `${before.trimEnd()}\n\n${trial}`;
