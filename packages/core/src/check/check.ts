// Everything that can be found wrong in a house by reasoning, without running it.
import type { House } from "../house/index.js";
import { type Allowance, allowanceFor, type HouseText, nearest, problemCodes } from "../language/index.js";
import { alternating, workingAgainst } from "./against.js";
import { chatter } from "./chatter.js";
import { conflicts } from "./conflict.js";
import { crossingTargets } from "./crossing.js";
import { opposingEvents } from "./events.js";
import { type Draft, type Finding, findingCodes } from "./finding.js";
import { type Check, Inquiry } from "./inquiry.js";
import { lastsForEver } from "./lasts-for-ever.js";
import { loops } from "./loop.js";
import { mirroredPermits } from "./mirrored.js";
import { alreadyPast, lookedAtOnce, permittedOnce, startsInTheMiddle, toggles } from "./moments.js";
import { noWayBack } from "./no-way-back.js";
import { provoking } from "./provoking.js";
import { neverHappens, neverUnknown, reaches } from "./reach.js";
import { shortCycles } from "./short-cycles.js";
import { splits } from "./split.js";
import { doubleWiring, halfSet, nearNames, restsOn, unused, wrongZones } from "./things.js";
import { noUnknownCase, signOff, unknownElsewhere } from "./unknowns.js";
import { looseFors, oneSidedWaits, slowReports } from "./waits.js";
import { singleWords } from "./words.js";

const checks: readonly Check[] = [
  splits,
  conflicts,
  opposingEvents,
  crossingTargets,
  singleWords,
  noWayBack,
  chatter,
  alreadyPast,
  startsInTheMiddle,
  lookedAtOnce,
  permittedOnce,
  toggles,
  oneSidedWaits,
  slowReports,
  looseFors,
  noUnknownCase,
  signOff,
  unknownElsewhere,
  lastsForEver,
  mirroredPermits,
  loops,
  reaches,
  neverHappens,
  neverUnknown,
  workingAgainst,
  alternating,
  provoking,
  shortCycles,
  wrongZones,
  doubleWiring,
  halfSet,
  restsOn,
  nearNames,
  unused,
];

/** What else is wanted of a check. */
export interface CheckOptions {
  /** Called with the share done, from 0 up to 1. */
  readonly onProgress?: (share: number) => void;
}

/** What is asked of the texts of a house: where things stand in them, and what is allowed there. */
type Spoken = Pick<HouseText, "files" | "placeOf" | "allowances">;

/**
 * What reasoning finds wrong in a house: gaps, conflicts, chatter, what never comes and the like. Each finding is a
 * warning with numbers and a remedy; one that is `certain` comes with a trial that was run and shows it.
 * @param house a house without errors
 * @param text its texts: findings then have places, and `# allow CODE: reason` is heeded. Left out: neither
 */
export function checkHouse(house: House, text?: Spoken, { onProgress }: CheckOptions = {}): Finding[] {
  const inquiry = new Inquiry(house);
  const drafts = checks.flatMap((check, index) => {
    onProgress?.(index / checks.length);
    return check(inquiry);
  });
  const locator = new Locator(text);
  const located = drafts.map((draft) => locator.locate(draft));
  const findings = [...located, ...locator.idle()];
  const order = (finding: Finding) =>
    finding.place
      ? Object.keys(text?.files ?? {})
          .sort()
          .indexOf(finding.place.file)
      : -1;
  return once(findings).sort((a, b) => order(a) - order(b) || (a.place?.from ?? 0) - (b.place?.from ?? 0));
}

/** Of a repeat the same is found for each of its values: at one place once for each code and reason. */
function once(findings: readonly Finding[]): Finding[] {
  const seen = new Set<string>();
  return findings.filter(({ code, place, about, reason }) => {
    const key = `${code} ${place ? `${place.file}:${place.from}` : JSON.stringify(about)} ${reason}`;
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}

/** Finds where things stand in the texts of a house, and what is allowed there. */
class Locator {
  readonly #text: Spoken | undefined;
  readonly #allowances: readonly Allowance[];
  readonly #used = new Set<Allowance>();

  constructor(text: Spoken | undefined) {
    this.#text = text;
    this.#allowances = text?.allowances ?? [];
  }

  locate({ related = [], ...draft }: Draft): Finding {
    const place = this.#text?.placeOf(draft.about);
    const located = related.map((one) => {
      const where = this.#text?.placeOf(one.about);
      return { ...one, ...(where && { place: where }) };
    });
    const apart = place && located.some((one) => one.place && one.place.file !== place.file);
    const code = draft.code === "conflict" && apart ? "shared-order" : draft.code;
    const allowed = place && allowanceFor(this.#allowances, code, place);
    if (allowed) this.#used.add(allowed);
    return {
      ...draft,
      code,
      ...(code === "shared-order" && { remedy: `Which rule wins depends only on the file names. ${draft.remedy}` }),
      severity: "warning",
      certain: draft.shows !== undefined,
      related: located,
      ...(place && { place }),
      ...(allowed && { allowed: allowed.reason }),
    };
  }

  /** Allowances of what is not found where they stand: a code that was misspelt, a problem that is gone. */
  idle(): Finding[] {
    const idle = this.#allowances.filter((one) => !this.#used.has(one) && !isOfReading(one.code));
    return idle.map(({ code, place }) => {
      const known = (findingCodes as readonly string[]).includes(code);
      const [near] = known ? [] : nearest(code, findingCodes);
      return {
        code: "allows-nothing",
        severity: "warning",
        certain: false,
        reason: known ? `Unneeded: ${code} does not occur here.` : `There is no problem "${code}" to allow.`,
        remedy: known
          ? "Remove it."
          : near === undefined
            ? "Write the code of a problem, as printed by `check`."
            : `Did you mean ${near}?`,
        related: [],
        place,
      };
    });
  }
}

/** What is found while reading is allowed there. */
function isOfReading(code: string): boolean {
  return (problemCodes as readonly string[]).includes(code);
}
