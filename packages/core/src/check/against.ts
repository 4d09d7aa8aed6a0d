// Two keeps that pull one air apart, and heaters and humidifiers that undo each other in turn.
import { type Condition, type House, isIn, type Keep, type Sensor, switchPoints } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { MINUTE } from "../time/index.js";
import { dimensionOf, stepOf } from "../units/index.js";
import { type Ask, fullValue } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import { turnsBetween } from "./simulated-day.js";

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
  const airOf = ({ name, type }: Sensor) => `${name.split(".")[0]} ${type.kind === "number" ? dimensionOf(type.unit) : ""}`;
  const airs = new Set((one ?? []).map(airOf));
  return (other ?? []).some((sensor) => airs.has(airOf(sensor)));
}

function ofPair(inquiry: Inquiry, up: Ask, down: Ask): Draft[] {
  const { scene } = inquiry;
  if (!up.keep || !down.keep) return [];
  const figures = (points: ReturnType<typeof switchPoints>) => [scene.figure(points.starts), scene.figure(points.stops)] as const;
  const [startsRaising, stopsRaising] = figures(switchPoints(up.keep.keep, "raise"));
  const [startsLowering, stopsLowering] = figures(switchPoints(down.keep.keep, "lower"));
  // On the way up lowering begins before raising has ended, or on the way down the other way round.
  const upwards = startsLowering < stopsRaising;
  if (!upwards && !(startsRaising > stopsLowering)) return [];
  const signal = up.keep.keep.value;
  const unit = inquiry.unitOf(signal);
  const [low, high] = [startsRaising - stepOf(unit), startsLowering + stepOf(unit)];
  const shows = showsBoth(inquiry, up, down, upwards ? [low, high] : [high, low]);
  const name = writeExpression(signal);
  return [
    {
      code: "working-against",
      about: down.about,
      reason: `${up.output} raises ${name} up to ${inquiry.say(stopsRaising, unit)}; ${down.output} lowers it from ${inquiry.say(startsLowering, unit)} down to ${inquiry.say(stopsLowering, unit)}. Both can run at once and work against each other.`,
      remedy: `Write one \`keep ${name} …\` that raises with one and lowers with the other. Each then stops at the target.`,
      related: [{ about: up.about, says: up.output }],
      ...(shows && { shows }),
    },
  ];
}

/** The air goes from one value to another, and both run. */
function showsBoth(inquiry: Inquiry, up: Ask, down: Ask, [first, second]: readonly [number, number]) {
  const { scene } = inquiry;
  const signal = up.keep?.keep.value;
  if (!signal) return undefined;
  // The bands themselves are crossed on the way.
  const applies = [...up.conditions.slice(0, -1), ...down.conditions.slice(0, -1)];
  const at = (base: number, when?: number) => scene.find([...applies, inquiry.isAt(signal, base)], { at: when, of: up.output });
  const before = at(first);
  const after = before && at(second, before.at);
  if (!before || !after) return undefined;
  const both: Condition = { kind: "and", of: [up, down].map((ask) => isOn(inquiry.house, ask)) };
  return scene.shows(
    `${up.output} and ${down.output} at once`,
    [before, { at: before.at + 20 * MINUTE, values: after.values }],
    [{ claim: "holds", condition: both, at: before.at + 21 * MINUTE }],
    before.at + 30 * MINUTE,
  );
}

const isOn = (house: House, { output }: Ask): Condition => ({
  kind: "is",
  left: { kind: "value", of: output },
  right: fullValue(house, output),
});

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
  return simulated.flatMap(([up, down]): Draft[] => {
    const turns = turnsBetween(inquiry.starts, up.output, down.output);
    if (turns <= TURNS) return [];
    return [
      {
        code: "alternating",
        about: down.about,
        reason: `${up.output} and ${down.output} alternate ${turns} times in a simulated day: each undoes what the other did.`,
        remedy:
          "Widen the tolerance, or keep the value between two targets, `between … and … ± …`, so that neither runs in the middle.",
        related: [{ about: up.about, says: up.output }],
      },
    ];
  });
}
