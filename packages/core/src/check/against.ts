// Two keeps that pull one air apart, and heaters and humidifiers that undo each other in turn.
import { isIn, type Keep, writeExpression } from "../house/index.js";
import { simulate } from "../physics/index.js";
import { DAY, MINUTE } from "../time/index.js";
import { dimensionOf, stepOf } from "../units/index.js";
import { type Ask, switchPoints } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

/** A keep that raises and one that lowers the same air, whose bands overlap. */
export function workingAgainst(inquiry: Inquiry): Draft[] {
  // What follows in proportion does next to nothing near its target.
  const switched = inquiry.asks.filter(({ keep }) => keep?.keep.tolerance !== undefined);
  const raising = switched.filter(({ keep }) => keep?.way === "raise");
  const lowering = switched.filter(({ keep }) => keep?.way === "lower");
  return raising.flatMap((up) =>
    lowering.flatMap((down): Draft[] => {
      if (up.keep?.keep === down.keep?.keep || !sameAir(inquiry, up, down)) return [];
      return ofPair(inquiry, up, down);
    }),
  );
}

function sameAir(inquiry: Inquiry, up: Ask, down: Ask): boolean {
  const [one, other] = [up, down].map(({ keep }) => inquiry.measuredIn((keep as { keep: Keep }).keep.value));
  const same = (one ?? []).find((sensor) =>
    (other ?? []).some(
      (second) =>
        second.name.split(".")[0] === sensor.name.split(".")[0] &&
        sensor.type.kind === "number" &&
        second.type.kind === "number" &&
        dimensionOf(second.type.unit) === dimensionOf(sensor.type.unit),
    ),
  );
  return same !== undefined;
}

function ofPair(inquiry: Inquiry, up: Ask, down: Ask): Draft[] {
  const { scene } = inquiry;
  if (!up.keep || !down.keep) return [];
  const [raise, lower] = [switchPoints(up.keep.keep, "raise"), switchPoints(down.keep.keep, "lower")];
  const [stopsRaising, startsLowering] = [scene.figure(raise.stops), scene.figure(lower.starts)];
  const startsRaising = scene.figure(raise.starts);
  const stopsLowering = scene.figure(lower.stops);
  const apart =
    Math.min(startsLowering, stopsRaising) >= Math.max(startsRaising, stopsLowering) && startsLowering >= stopsRaising;
  if (Number.isNaN(stopsRaising + startsLowering) || (apart && stopsLowering >= startsRaising)) return [];
  const unit = inquiry.unitOf(up.keep.keep.value);
  const signal = up.keep.keep.value;
  const number = (base: number) => ({ kind: "number", value: Math.round(base * 1e6) / 1e6, unit }) as const;
  const at = (base: number, when?: number) =>
    scene.find(
      [
        ...up.conditions.slice(0, -1),
        ...down.conditions.slice(0, -1),
        { kind: "between", value: signal, low: number(base), high: number(base) },
      ],
      { at: when, of: up.output },
    );
  const step = stepOf(unit);
  const cold = at(startsRaising - step);
  const warm = cold && at(startsLowering + step, cold.at);
  const both = {
    kind: "and",
    of: [up, down].map(({ output }) => ({
      kind: "is" as const,
      left: { kind: "value" as const, of: output },
      right: { kind: "word" as const, word: "on", of: ["on", "off"] },
    })),
  } as const;
  const shows =
    cold &&
    warm &&
    scene.shows(
      `${up.output} and ${down.output} at once`,
      [cold, { at: cold.at + 20 * MINUTE, values: warm.values }],
      [{ claim: "holds", condition: both, at: cold.at + 21 * MINUTE }],
      cold.at + 30 * MINUTE,
    );
  if (startsLowering >= stopsRaising && !shows) return [];
  return [
    {
      code: "working-against",
      about: down.about,
      reason: `${up.output} raises ${writeExpression(signal)} up to ${inquiry.say(stopsRaising, unit)}, ${down.output} lowers it from ${inquiry.say(startsLowering, unit)}: between them both can run, one against the other.`,
      remedy: `Write one \`keep ${writeExpression(signal)} …\` that raises with the one and lowers with the other; each then stops at the target.`,
      related: [{ about: up.about, says: `${up.output} is here` }],
      ...(shows && { shows }),
    },
  ];
}

/** More turns than this between raising and lowering in one simulated day, and they undo each other. */
const TURNS = 8;

/** Found by a simulated day: what raises and what lowers the same air run in turn, again and again. */
export function alternating(inquiry: Inquiry): Draft[] {
  const { house } = inquiry;
  const couples = inquiry.asks.flatMap((up) =>
    inquiry.asks
      .filter((down) => up.keep?.way === "raise" && down.keep?.way === "lower" && sameAir(inquiry, up, down))
      .map((down) => [up, down] as const),
  );
  const simulated = couples.filter(([up]) => house.physics.zones.some(({ zone }) => isIn(zone, up.output)));
  if (simulated.length === 0) return [];
  const { journal, from } = simulate(house, { lasts: DAY, every: 5 * MINUTE });
  return simulated.flatMap(([up, down]): Draft[] => {
    const starts = journal.records.flatMap(({ event, at }) =>
      at >= from && event.kind === "sent" && event.value === "on" && (event.output === up.output || event.output === down.output)
        ? [event.output]
        : [],
    );
    const turns = starts.filter((output, index) => index > 0 && starts[index - 1] !== output).length;
    if (turns <= TURNS) return [];
    return [
      {
        code: "alternating",
        about: down.about,
        reason: `On a simulated day ${up.output} and ${down.output} run in turn ${turns} times: each undoes what the other did.`,
        remedy:
          "Widen the tolerance, or keep the air between two targets, `between … and … ± …`, so that it may rest in the middle.",
        related: [{ about: up.about, says: `${up.output} is here` }],
      },
    ];
  });
}
