// Trials of a house as nodes of a tree.
import type { Expectation, Happening, Trial } from "../../house/index.js";
import type { ExpectationNode, HappeningNode, TrialNode } from "../syntax.js";
import { type OccurrenceRow, occurrenceRows } from "../vocabulary/occurrences.js";
import { unbindHeading } from "./rules.js";
import { numberTerm, quoted, nowhere as span, unbindTerm, word } from "./terms.js";

export function unbindTrial(trial: Trial): TrialNode {
  const { from, lasts, to, replay, cold, simulated, given, happenings, expectations } = trial;
  return {
    kind: "trial",
    ...unbindHeading(trial),
    unrolled: [],
    beginning: {
      from: unbindTerm(from),
      ...(lasts && { lasts: unbindTerm(lasts) }),
      ...(to && { to: unbindTerm(to) }),
      ...(replay !== undefined && { replay: quoted(replay) }),
      ...(cold && { cold }),
      span,
    },
    ...(simulated && { simulated: { ...(simulated.weather !== undefined && { weather: word(simulated.weather) }), span } }),
    given: given.map(({ name, value }) => ({ name: word(name), value: unbindTerm(value) })),
    happenings: happenings.map(unbindHappening),
    expectations: expectations.map(unbindExpectation),
    span,
  };
}

export function unbindHappening({ when, what }: Happening): HappeningNode {
  const parts = (occurrenceRows[what.kind] as OccurrenceRow).unbind(what, undefined);
  return { when: unbindWhen(when), what: { kind: what.kind, parts, span }, span };
}

function unbindWhen(when: Happening["when"]): HappeningNode["when"] {
  if ("later" in when) return { later: numberTerm(when.later, "ms") };
  return when.to ? { from: unbindTerm(when.at), to: unbindTerm(when.to) } : { at: unbindTerm(when.at) };
}

export function unbindExpectation({ claim, condition, then, within, by, at, from, to }: Expectation): ExpectationNode {
  return {
    claim,
    condition: unbindTerm(condition),
    ...(then && { then: unbindTerm(then) }),
    ...(within && { within: unbindTerm(within) }),
    ...(by && { by: unbindTerm(by) }),
    ...(at && { at: unbindTerm(at) }),
    ...(from && { from: unbindTerm(from) }),
    ...(to && { to: unbindTerm(to) }),
    span,
  };
}
