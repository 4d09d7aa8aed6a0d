// Rules that chase each other: what one sets turns the other, which turns the first.
import { type House, type Rule, setsIn, thingsBehind } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { asksOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

/** Told only where running it shows the ring. */
export function loops(inquiry: Inquiry): Draft[] {
  const { house, scene } = inquiry;
  const seen = new Set<string>();
  const followers = followersOf(house);
  return house.rules.flatMap((rule): Draft[] => {
    const ring = ringFrom(followers, rule);
    const key = ring && [...ring].sort().join();
    if (!ring || !key || seen.has(key)) return [];
    seen.add(key);
    const chasing = inquiry.asks.filter((ask) => ask.rule === rule);
    const settings = rule.sentences.flatMap((sentence) => ("do" in sentence ? [] : sentence.while ? [sentence.while] : []));
    for (const conditions of [...chasing.map((ask) => ask.conditions), settings]) {
      const so = scene.find(conditions);
      if (!so) continue;
      const shows = scene.shows(
        `${ring.join(" and ")} trigger each other`,
        [{ ...so, at: so.at - MINUTE, values: new Map() }, so],
        [{ claim: "holds", condition: { kind: "problem", text: "ring" } }],
        so.at + 5 * MINUTE,
      );
      if (shows) return [draft(rule, ring, shows)];
    }
    return [];
  });
}

function draft(rule: Rule, ring: readonly string[], shows: NonNullable<Draft["shows"]>): Draft {
  return {
    code: "loop",
    about: { kind: "thing", name: rule.name },
    reason:
      ring.length > 1
        ? `${ring.join(" and ")} trigger each other in a loop: each changes the condition of the other.`
        : `${rule.name} triggers itself in a loop: it changes its own condition.`,
    remedy: "Base one of them on a sensor or a mode instead of the other's output.",
    shows,
  };
}

/** For each rule those that look at what it sets. */
function followersOf(house: House): ReadonlyMap<Rule, readonly Rule[]> {
  const readers = new Map<string, Rule[]>();
  for (const rule of house.rules) for (const name of readBy(house, rule)) readers.set(name, [...(readers.get(name) ?? []), rule]);
  return new Map(
    house.rules.map((rule) => [rule, [...new Set([...setBy(house, rule)].flatMap((name) => readers.get(name) ?? []))]]),
  );
}

/** The shortest way from a rule back to itself, each rule on it setting what the next one looks at. */
function ringFrom(followers: ReadonlyMap<Rule, readonly Rule[]>, start: Rule): string[] | undefined {
  const ways: Rule[][] = [[start]];
  const seen = new Set<Rule>();
  for (const way of ways) {
    for (const next of followers.get(way.at(-1) as Rule) ?? []) {
      if (next === start) return way.map(({ name }) => name);
      if (seen.has(next)) continue;
      seen.add(next);
      ways.push([...way, next]);
    }
  }
  return undefined;
}

function setBy(house: House, rule: Rule): ReadonlySet<string> {
  const asked = asksOf({ ...house, rules: [rule] }).map(({ output }) => output);
  return new Set([...asked, ...setsIn(rule)]);
}

/** What a rule looks at, but for the values it asks for and tells of. */
function readBy(house: House, rule: Rule): string[] {
  const conditions = rule.sentences.map((sentence) =>
    "do" in sentence
      ? [sentence.when, sentence.provided, changing(sentence.when)]
      : [sentence.while, "hold" in sentence ? sentence.hold : []],
  );
  return [...thingsBehind(house, conditions)];
}

function changing(triggers: readonly { readonly kind: string; readonly of?: unknown }[]) {
  return triggers.flatMap((one) => (one.kind === "changes" ? [{ kind: "value", of: one.of }] : []));
}
