// Keeps of different quantities in one room whose outputs start each other: a cooler that makes the air damp, a dryer that
// makes it warm. Found by simulated days: one as the house is, and one without each of the two.
import { type House, isIn } from "../house/index.js";
import { dimensionOf } from "../units/index.js";
import type { Ask } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import { startsOfDay, turnsBetween } from "./simulated-day.js";

/** More turns than this between the two in one simulated day: two an hour may come of the weather. */
const TURNS = 48;
/** Without the other, one that is provoked starts at most so large a part of its starts. */
const PART = 0.5;

export function provoking(inquiry: Inquiry): Draft[] {
  const { house } = inquiry;
  const kept = inquiry.asks.filter(
    ({ keep, output }) => keep?.keep.tolerance && house.physics.zones.some(({ zone }) => isIn(zone, output)),
  );
  const couples = kept.flatMap((one, place) =>
    kept.slice(place + 1).flatMap((other) => (mayProvoke(inquiry, one, other) ? [[one, other] as const] : [])),
  );
  return couples.flatMap(([one, other]): Draft[] => {
    const turns = turnsBetween(inquiry.starts, one.output, other.output);
    if (turns <= TURNS) return [];
    const alone = [startsWithout(inquiry, other, one.output), startsWithout(inquiry, one, other.output)] as const;
    const together = [one, other].map(({ output }) => startsIn(inquiry, output)) as [number, number];
    if (!alone.every((starts, place) => starts <= PART * (together[place] as number))) return [];
    return [
      {
        code: "alternating",
        about: other.about,
        reason: `${one.output} and ${other.output} start each other: ${turns} turns in a simulated day. Alone, ${one.output} would start ${times(alone[0])} instead of ${together[0]}, and ${other.output} ${times(alone[1])} instead of ${together[1]}.`,
        remedy: "Widen one of the tolerances, or hold the one back while the other runs.",
        related: [{ about: one.about, says: one.output }],
      },
    ];
  });
}

/** Of one room, and of different quantities: those of one are looked at by their bands. */
function mayProvoke(inquiry: Inquiry, one: Ask, other: Ask): boolean {
  if (!one.keep || !other.keep || one.keep.keep === other.keep.keep || one.output === other.output) return false;
  const zoneOf = ({ output }: Ask) => output.split(".")[0];
  const dimension = ({ keep }: Ask) => keep && dimensionOf(inquiry.unitOf(keep.keep.value));
  return zoneOf(one) === zoneOf(other) && dimension(one) !== dimension(other);
}

const startsIn = ({ starts }: Pick<Inquiry, "starts">, output: string) =>
  starts.filter((start) => start.output === output).length;

/** How often an output starts where the sentence that drives another is left out. */
function startsWithout({ house }: Inquiry, { rule, sentence }: Ask, output: string): number {
  const rules = house.rules.map((one) =>
    one.name === rule.name ? { ...one, sentences: one.sentences.filter((_, place) => place !== sentence) } : one,
  );
  const without: House = { ...house, rules };
  return startsIn({ starts: startsOfDay(without) }, output);
}

const times = (count: number) => (count === 0 ? "never" : count === 1 ? "once" : `${count} times`);
