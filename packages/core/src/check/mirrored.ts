// Two guards that each let an output run only while the other rests: wanted in one instant, both wait for ever.
import { type Condition, type House, type Permit, restOf } from "../house/index.js";
import { HOUR, MINUTE } from "../time/index.js";
import { allOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

interface Waiting {
  readonly guard: string;
  readonly permit: number;
  readonly output: string;
  readonly other: string;
}

export function mirroredPermits(inquiry: Inquiry): Draft[] {
  const { house } = inquiry;
  const waiting = house.guards.flatMap(({ name: guard, permits }) =>
    permits.flatMap((one, permit): Waiting[] => {
      const other = waitsFor(house, one);
      return other === undefined ? [] : [{ guard, permit, output: one.output, other }];
    }),
  );
  return waiting.flatMap((one, place) =>
    waiting
      .slice(place + 1)
      .filter(({ output, other }) => output === one.other && other === one.output)
      .map((mirror) => ofPair(inquiry, one, mirror)),
  );
}

/** The output that must be at rest for a permit, where that is all it asks. */
function waitsFor({ outputs }: House, { onlyWhile, what }: Permit): string | undefined {
  const [test, wanted] = onlyWhile.kind === "not" ? [onlyWhile.of, false] : [onlyWhile, true];
  if (!("word" in what) || test.kind !== "is" || test.left.kind !== "value" || test.right.kind !== "word") return undefined;
  const { left, right } = test;
  const found = outputs.find(({ name }) => name === left.of);
  return found && (restOf(found) === right.word) === wanted ? found.name : undefined;
}

function ofPair(inquiry: Inquiry, { guard, permit, output, other }: Waiting, mirror: Waiting): Draft {
  const shows = showsBothWaiting(inquiry, output, other);
  return {
    code: "mirrored-permits",
    about: { kind: "permit", guard, permit },
    reason: `${output} and ${other} each wait for the other to be off. When both are wanted at the same time, neither ever runs.`,
    remedy: `Write one sentence instead: \`never together ${output}, ${other}\`.`,
    related: [{ about: { kind: "permit", guard: mirror.guard, permit: mirror.permit }, says: `guard ${mirror.guard}` }],
    ...(shows && { shows }),
  };
}

function showsBothWaiting({ scene, asks }: Inquiry, ...names: readonly [string, string]) {
  const held = names.map((name) => asks.find(({ output, way }) => output === name && way === "held"));
  const conditions = held.flatMap((ask) => ask?.conditions ?? []);
  const so = held.includes(undefined) ? undefined : scene.find(conditions);
  const before =
    so && scene.find([], { not: held.flatMap((ask) => allOf(ask?.conditions ?? []) ?? []), at: so.at - 10 * MINUTE });
  if (!so || !before) return undefined;
  const rest = (of: string): Condition => ({ kind: "is", left: { kind: "value", of }, right: { kind: "rest", of } });
  return scene.shows(
    `${names.join(" and ")} are both wanted, and neither runs`,
    [{ ...before, at: so.at - 10 * MINUTE }, ...scene.leadingTo(so)],
    names.map((name) => ({ claim: "always" as const, condition: rest(name), from: so.at, to: so.at + HOUR })),
  );
}
