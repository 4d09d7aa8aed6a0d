// What is declared or wired in a way that does not serve: zones, topics, colours, power, names.
import {
  baseOf,
  type House,
  isIn,
  offWordOf,
  sayValue,
  stepsIn,
  thingsIn,
  visitExpressions,
  type Wiring,
} from "../house/index.js";
import { shareOf } from "../measure/index.js";
import { MINUTE } from "../time/index.js";
import type { Ask } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

/** Regulating a zone that the output does not serve. */
export function wrongZones(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask): Draft[] => {
    if (ask.way !== "held") return [];
    const sensors = inquiry.measuredIn(ask.keep ? ask.keep.keep.value : ask.conditions);
    const output = inquiry.house.outputs.find(({ name }) => name === ask.output);
    const zone = ask.output.split(".")[0] as string;
    const served = [zone, ...(output?.serves ?? [])];
    if (sensors.length === 0 || sensors.some(({ name }) => served.some((one) => isIn(one, name)))) return [];
    const [sensor] = sensors;
    const own = inquiry.house.sensors.find(({ name }) => name === `${zone}.${sensor?.name.split(".")[1]}`);
    const other = sensor?.name.split(".")[0];
    // What is merely held may well look elsewhere, unless its own zone has such a sensor.
    if (!ask.keep && !own) return [];
    return [
      {
        code: "wrong-zone",
        about: ask.about,
        reason: `${ask.output} is in ${zone}, but is controlled by ${sensor?.name}, a sensor in another zone.`,
        remedy: `${own ? `Use ${own.name}, or declare` : "Declare"} that it serves that zone too: \`serves ${other}\`.`,
      },
    ];
  });
}

/** Two readings from one field, two outputs to one topic. */
export function doubleWiring({ house }: Inquiry): Draft[] {
  const seen = new Map<string, { about: Draft["about"]; name: string }>();
  const counts = new Map<string, number>();
  return house.wirings.flatMap((wiring): Draft[] => {
    const entry = counts.get(wiring.by) ?? 0;
    counts.set(wiring.by, entry + 1);
    const about: Draft["about"] = { kind: "wiring", by: wiring.by, entry };
    const source = sourceOf(wiring);
    if (!source) return [];
    const before = seen.get(source.key);
    seen.set(source.key, before ?? { about, name: source.name });
    if (!before || before.name === source.name) return [];
    const related = [{ about: before.about, says: before.name }];
    if (wiring.kind === "reading") {
      const field = wiring.at ?? wiring.record ?? "the whole message";
      return [
        {
          code: "one-source-twice",
          about,
          reason: `${source.name} and ${before.name} read the same field, ${field} of "${wiring.topic}".`,
          remedy: "Give one of them its own topic or field. For a second name of one reading, write a `let`.",
          related,
        },
      ];
    }
    return [
      {
        code: "one-topic-twice",
        about,
        reason: `${source.name} and ${before.name} both write to "${wiring.topic}": each overwrites the other.`,
        remedy: "Give each its own topic. To switch two together, make a group.",
        related,
      },
    ];
  });
}

function sourceOf(wiring: Wiring): { key: string; name: string } | undefined {
  // Buttons of one remote are told apart by their texts.
  if (wiring.kind === "reading") {
    const texts = (wiring.texts ?? []).flatMap(({ text, as }) => (as === "pressed" ? [text] : []));
    return {
      key: `from ${wiring.topic} ${wiring.at ?? ""} ${wiring.record ?? ""} ${texts.join(" ")}`.trim(),
      name: wiring.sensor,
    };
  }
  return wiring.kind === "writing" ? { key: `to ${wiring.topic}`, name: wiring.output } : undefined;
}

/** A lamp lit without its colour. */
export function halfSet(inquiry: Inquiry): Draft[] {
  const { house, asks } = inquiry;
  return house.outputs.flatMap((colour): Draft[] => {
    const { colourOf, name } = colour;
    const coloured = asks.filter(({ output }) => output === name);
    if (colourOf === undefined || coloured.some((ask) => ask.way === "held" && ask.conditions.length === 0)) return [];
    const together = (ask: Ask) => coloured.some((one) => one.rule === ask.rule);
    const lit = asks.find((ask) => ask.output === colourOf && !isDark(ask) && !together(ask));
    if (!lit) return [];
    const so = lit.way === "held" ? inquiry.scene.find(lit.conditions, { of: colourOf }) : undefined;
    const unknown = { kind: "is", left: { kind: "value", of: name }, right: { kind: "unknown" } } as const;
    const shows =
      so &&
      inquiry.scene.shows(`${colourOf} is on, its colour unknown`, inquiry.scene.leadingTo(so), [
        { claim: "holds", condition: unknown, at: so.at + MINUTE },
      ]);
    return [
      {
        code: "half-set",
        about: lit.about,
        reason: `${lit.rule.name} turns ${colourOf} on without setting its colour, ${name}: it keeps the last one.`,
        remedy: `Set both: \`hold ${colourOf} at …, ${name} at white\`.`,
        ...(shows && { shows }),
      },
    ];
  });
}

function isDark({ value }: Ask): boolean {
  return (value.kind === "word" && value.word === "off") || (value.kind === "number" && value.value === 0);
}

/** What is on when the controller has no power. */
export function restsOn({ house }: Inquiry): Draft[] {
  return house.outputs.flatMap((output): Draft[] => {
    const { name, type, atRest, withoutControl } = output;
    if (withoutControl === undefined || shareOf(output)(baseOf(withoutControl, type)) === 0) return [];
    const off = offWordOf(output) ?? `at ${sayValue(type, atRest ?? 0)}`;
    const isSwitch = type.kind === "words" && type.words.includes("on");
    return [
      {
        code: "rests-on",
        about: { kind: "thing", name },
        reason: `${name} stays ${sayValue(type, withoutControl)} whenever the controller fails.`,
        remedy: isSwitch
          ? "Wire it normally open, or limit it in the device."
          : `Use a device that is ${off} without power, or limit it in the device.`,
      },
    ];
  });
}

/** Names that differ by a letter. */
export function nearNames({ house }: Inquiry): Draft[] {
  const names = [...house.sensors, ...house.outputs, ...house.dials, ...house.modes, ...house.lets].map(({ name }) => name);
  // Only within one zone is a name taken for another.
  const before = new Map<string, string[]>();
  return names.flatMap((name): Draft[] => {
    const zone = name.includes(".") ? (name.split(".")[0] as string) : "";
    const others = before.get(zone) ?? [];
    const near = others.find((other) => isNear(other, name));
    before.set(zone, [...others, name]);
    if (near === undefined) return [];
    return [
      {
        code: "near-names",
        about: { kind: "thing", name },
        reason: `${name} and ${near} differ by one letter and are easy to confuse.`,
        remedy: "Rename one of them: `modrik rename OLD NEW` changes it everywhere.",
        related: [{ about: { kind: "thing", name: near }, says: near }],
      },
    ];
  });
}

/** With one letter more, less or changed; numbered names are meant to be alike. */
function isNear(one: string, other: string): boolean {
  const [short, otherShort] = [one, other].map((name) => name.split(".").at(-1));
  if (!short || !otherShort || Math.min(short.length, otherShort.length) < 5 || /\d/.test(short + otherShort)) return false;
  return oneEdit(short, otherShort);
}

function oneEdit(one: string, other: string): boolean {
  const [short, long] = one.length <= other.length ? [one, other] : [other, one];
  if (long.length - short.length > 1) return false;
  let start = 0;
  while (start < short.length && short[start] === long[start]) start++;
  const rest = long.length === short.length ? start + 1 : start;
  return short.slice(rest) === long.slice(start + 1);
}

/** Sensors, outputs and dials that nobody uses. */
export function unused({ house, asks }: Inquiry): Draft[] {
  // A house without rules is one that somebody begins.
  if (house.rules.length === 0) return [];
  const used = new Set<string>(usedIn(house));
  for (const { output } of asks) used.add(output);
  const drafts = [
    ...house.sensors.filter(({ deviceHealth }) => !deviceHealth).map(({ name }) => [name, "read"] as const),
    ...house.outputs.map(({ name }) => [name, "asked for"] as const),
    ...house.dials.map(({ name }) => [name, "used"] as const),
  ];
  return drafts
    .filter(([name]) => !used.has(name))
    .map(([name, how]) => ({
      code: "unused",
      about: { kind: "thing", name },
      reason: `${name} is not ${how} by any rule, guard or let.`,
      remedy: "Use it, remove it, or, if it is only shown, write `# allow unused: reason` on the line before it.",
    }));
}

/** All that rules, guards, lets, profiles, presets and outputs name, in texts and triggers too. */
function usedIn({ rules, guards, lets, profiles, presets, outputs }: House): string[] {
  const steps = rules.flatMap(({ sentences }) => sentences.flatMap((sentence) => ("do" in sentence ? stepsIn(sentence.do) : [])));
  const named = steps.flatMap(({ step }) => ("name" in step ? [step.name] : []));
  const triggers = rules.flatMap(({ sentences }) =>
    sentences.flatMap((sentence) =>
      "do" in sentence ? sentence.when.flatMap((one) => (one.kind === "changes" ? [one.of] : [])) : [],
    ),
  );
  const others: string[] = [];
  visitExpressions([rules, guards, lets], (part) => {
    if (part.kind === "pressed") others.push(part.sensor);
    if (part.kind === "age") others.push(part.of);
    if (part.kind === "last amount") others.push(part.output);
    if (part.kind === "disobeys") others.push(part.output);
  });
  return [
    ...thingsIn([rules, guards, lets, profiles, presets, outputs]),
    ...named,
    ...triggers,
    ...others,
    ...presets.flatMap(({ targets }) => targets.map(({ output }) => output)),
  ];
}
