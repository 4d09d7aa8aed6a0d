// Outputs that start again and again on a day of the simulated house.
import { isIn } from "../house/index.js";
import { HOUR, MINUTE } from "../time/index.js";
import { differenceUnit, units, writeDuration } from "../units/index.js";
import type { Ask } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

/** More starts than these in one hour wear out what is not made for it. */
const MOST = 6;

/** What a `keep` with a tolerance switches, in a zone that is simulated. */
export function shortCycles(inquiry: Inquiry): Draft[] {
  const kept = inquiry.asks.filter(
    ({ keep, output }) => keep?.keep.tolerance && inquiry.house.physics.zones.some(({ zone }) => isIn(zone, output)),
  );
  if (kept.length === 0) return [];
  const seen = new Set<string>();
  return kept.flatMap((ask): Draft[] => {
    if (seen.has(ask.output)) return [];
    seen.add(ask.output);
    const starts = inquiry.starts.filter(({ output }) => output === ask.output).map(({ at }) => at);
    const most = starts.map((first) => starts.filter((at) => at >= first && at < first + HOUR).length);
    const worst = Math.max(0, ...most);
    if (worst <= MOST) return [];
    return [draft(inquiry, ask, starts.length, worst)];
  });
}

function draft(inquiry: Inquiry, { output, about, keep }: Ask, starts: number, worst: number): Draft {
  const least = writeDuration(Math.ceil(HOUR / MOST / 2 / MINUTE) * MINUTE);
  const tolerance = keep?.keep.tolerance;
  const unit = keep && differenceUnit(inquiry.unitOf(keep.keep.value));
  const width = tolerance && unit ? inquiry.scene.figure(tolerance.below) / units[unit].factor : Number.NaN;
  const wider = Number.isNaN(width) || !unit ? "" : `, or a wider band: \`± ${roundUp((width * worst) / MOST)} ${unit}\``;
  return {
    code: "short-cycles",
    about,
    reason: `${output} starts ${starts} times on a simulated day, up to ${worst} times in an hour.`,
    remedy: `Give it minimum times, \`on at least ${least}, off at least ${least}\`${wider}.`,
  };
}

/** To two digits, upwards. */
function roundUp(value: number): number {
  const step = 10 ** (Math.floor(Math.log10(value)) - 1);
  return Number((Math.ceil(value / step - 1e-9) * step).toPrecision(3));
}
