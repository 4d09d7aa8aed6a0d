// What is unknown, and nobody thought of: a sign without a case for it, a rule that lets go through another sensor, one
// that goes on by a sensor that is never unknown.
import {
  type Condition,
  type Expression,
  type House,
  lastsOf,
  type Rule,
  restOf,
  type Sensor,
  thingsIn,
  visitExpressions,
} from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { DAY, MINUTE } from "../time/index.js";
import { writeDuration } from "../units/index.js";
import { type Ask, constantOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";

/** Of outputs with colours, or with words other than on and off. */
export function noUnknownCase(inquiry: Inquiry): Draft[] {
  return inquiry.asks.flatMap((ask): Draft[] => {
    const type = inquiry.house.outputs.find(({ name }) => name === ask.output)?.type;
    const isSign = type?.kind === "colour" || (type?.kind === "words" && !type.words.includes("off"));
    if (ask.way !== "held" || !isSign) return [];
    const choice = choiceIn(inquiry, ask.value);
    const [sensor] = choice ? inquiry.sensorsIn(choice) : [];
    if (!choice || !sensor) return [];
    const lasts = lastsOf(inquiry.house, sensor);
    const after = lasts ? inquiry.scene.figure(lasts) : Number.NaN;
    const when = Number.isNaN(after) ? "before its first report" : `${writeDuration(after)} after its last report`;
    const shows = Number.isNaN(after) ? undefined : showsStale(inquiry, ask.output, ask.conditions, sensor.name, after);
    return [
      {
        code: "no-unknown-case",
        about: ask.about,
        reason: `${ask.output} shows ${sensor.name}, which is unknown ${when}; it then goes on showing what it last did.`,
        remedy: "Give unknown a value of its own: `pick by … { …, unknown: … }`.",
        ...(shows && { shows }),
      },
    ];
  });
}

// ── What another sensor makes unknown ───────────────────────────────────────────────────────────────────────────────────

/** A target, or a condition behind a name, that is unknown where a sensor is that one does not think of. */
export function unknownElsewhere(inquiry: Inquiry): Draft[] {
  const seen = new Set<string>();
  return inquiry.asks.flatMap((ask) => {
    if (ask.way !== "held") return [];
    return hiddenSensors(inquiry, ask).flatMap((sensor): Draft[] => {
      const key = `${ask.rule.name}#${ask.sentence} ${sensor.name}`;
      const shows = seen.has(key) ? undefined : showsLetGo(inquiry, ask, sensor);
      if (!shows) return [];
      seen.add(key);
      const what = ask.keep ? "keeps nothing" : `does not hold ${ask.output}`;
      return [
        {
          code: "no-unknown-case",
          about: ask.about,
          reason: `${ask.rule.name} ${what} while ${sensor.name} is unknown, however well the others report.`,
          remedy: "Say what is meant then: `pick by … { …, unknown: … }`, `first_known(…, …)`, or `… is unknown or …`.",
          shows,
        },
      ];
    });
  });
}

/** Sensors that grow too old behind what a sentence aims at, or behind a let that it names; not those it speaks of itself. */
function hiddenSensors(inquiry: Inquiry, { keep, value, conditions, rule, sentence }: Ask): Sensor[] {
  const own = rule.sentences[sentence] as Rule["sentences"][number];
  const aims = keep ? [keep.keep.at, keep.keep.tolerance ?? []] : [value];
  const spoken = new Set(thingsIn([keep ? keep.keep.value : value, "while" in own && own.while ? own.while : []]));
  return inquiry
    .sensorsIn([aims, keep ? keep.keep.value : [], conditions])
    .filter((sensor) => !spoken.has(sensor.name) && lastsOf(inquiry.house, sensor) !== undefined);
}

function showsLetGo(inquiry: Inquiry, { output, conditions, value }: Ask, sensor: Sensor) {
  const { scene, house } = inquiry;
  const lasts = scene.figure(lastsOf(house, sensor) as Expression);
  const rest = house.outputs.find(({ name }) => name === output);
  const known: Condition = { kind: "not", of: isUnknown(sensor.name) };
  const so = Number.isNaN(lasts) || !rest ? undefined : scene.find([...conditions, known], { of: output });
  if (!so) return undefined;
  const at = so.at + MINUTE;
  const silent = { at, values: new Map(), faults: [{ kind: "falls silent" as const, name: sensor.name }] };
  const asked: Condition = { kind: "is", left: { kind: "value", of: output }, right: value };
  return scene.shows(
    `${sensor.name} falls silent, and nothing is asked of ${output}`,
    [so, silent],
    [
      { claim: "always", condition: asked, from: so.at, to: at + lasts - MINUTE },
      { claim: "never", condition: asked, from: at + lasts, to: at + lasts + 10 * MINUTE },
    ],
  );
}

const isUnknown = (of: string): Condition => ({ kind: "is", left: { kind: "value", of }, right: { kind: "unknown" } });

// ── What is never unknown ───────────────────────────────────────────────────────────────────────────────────────────────

/** What goes by a sensor that counts for ever: silent, it goes on as it last said. */
export function lastsForEver(inquiry: Inquiry): Draft[] {
  const found = new Map<Sensor, Ask[]>();
  for (const ask of inquiry.asks) {
    if (ask.way !== "held") continue;
    for (const sensor of inquiry.measuredIn([ask.conditions, ask.value]))
      if (!sensor.lastsForEver && !sensor.deviceHealth && lastsOf(inquiry.house, sensor) === undefined)
        found.set(sensor, [...(found.get(sensor) ?? []), ask]);
  }
  const held = [...found].map(([sensor, asks]): Draft => {
    const shown = asks.flatMap((ask) => showsStuck(inquiry, ask, sensor) ?? []);
    const names = [...new Set(asks.map(({ rule }) => rule.name))];
    return {
      code: "lasts-for-ever",
      about: { kind: "thing", name: sensor.name },
      reason: `A reading of ${sensor.name} counts for ever: when it falls silent, ${names.join(", ")} ${names.length > 1 ? "go" : "goes"} on by what it said last.`,
      remedy:
        "Write `readings last 15 min` in `house { … }`, or `unknown after 15 min` here; `lasts for ever` says that it is meant.",
      related: asks.slice(0, 1).map(({ about, rule }) => ({ about, says: `${rule.name} goes by it` })),
      ...(shown[0] && { shows: shown[0] }),
    };
  });
  return [...held, ...stuckPairs(inquiry)];
}

function showsStuck(inquiry: Inquiry, { output, conditions, value }: Ask, sensor: Sensor) {
  const { scene } = inquiry;
  const so = scene.find([...conditions, { kind: "not", of: isUnknown(sensor.name) }], { of: output });
  if (!so) return undefined;
  const at = so.at + MINUTE;
  const condition: Condition = { kind: "is", left: { kind: "value", of: output }, right: value };
  return scene.shows(
    `${sensor.name} falls silent, and ${output} goes on for a day`,
    [...scene.leadingTo(so), { at, values: new Map(), faults: [{ kind: "falls silent", name: sensor.name }] }],
    [{ claim: "always", condition, from: at, to: at + DAY }],
  );
}

/** A pair of `when`: what the one sets for good, the other takes back, but never while the sensor of both is silent. */
function stuckPairs(inquiry: Inquiry): Draft[] {
  const { house, scene } = inquiry;
  return inquiry.asks.flatMap((ask): Draft[] => {
    const { event, output, value, rule } = ask;
    const rest = house.outputs.find(({ name }) => name === output);
    if (ask.way !== "for good" || !event || !rest || constantOf(ask) === restOf(rest)) return [];
    const back = inquiry.asks.find(
      (other) => other.output === output && other.way === "for good" && other.event && constantOf(other) === restOf(rest),
    );
    const sensor = back?.event && inquiry.measuredIn(event.when).find((one) => isIn(one, inquiry.measuredIn(back.event?.when)));
    if (!sensor || heedsUnknown(house, sensor.name)) return [];
    const fired = inquiry.firing(event, [], output);
    const after = fired && fired.at + MINUTE;
    const condition: Condition = { kind: "is", left: { kind: "value", of: output }, right: value };
    const silent = (at: number) => ({ at, values: new Map(), faults: [{ kind: "falls silent" as const, name: sensor.name }] });
    const shows =
      fired &&
      after !== undefined &&
      scene.shows(
        `${sensor.name} falls silent, and ${output} stays at ${writeExpression(value)}`,
        [...fired.stages, silent(after)],
        [{ claim: "always", condition, from: after, to: after + DAY }],
      );
    if (!shows) return [];
    return [
      {
        code: "lasts-for-ever",
        about: ask.about,
        reason: `What ${rule.name} sets stays while ${sensor.name} is silent: nothing then turns what takes it back.`,
        remedy: `Hold it instead: \`while … until …\`, with \`unknown after\` or \`readings last\`; or add \`when ${sensor.name} is unknown do { … }\`.`,
        shows,
      },
    ];
  });
}

const isIn = (sensor: Sensor, among: readonly Sensor[]) => among.includes(sensor);

/** Whether something in the rules asks if a sensor is unknown. */
function heedsUnknown({ rules }: House, sensor: string): boolean {
  let found = false;
  visitExpressions(rules, (part) => {
    if (part.kind !== "is" || part.right.kind !== "unknown") return;
    found ||= part.left.kind === "value" && part.left.of === sensor;
  });
  return found;
}

/** What a value is picked by, where it has no case for unknown. */
function choiceIn(inquiry: Inquiry, value: Expression): Expression | undefined {
  if (value.kind === "value") {
    const named = inquiry.house.lets.find(({ name }) => name === value.of);
    return named && choiceIn(inquiry, named.value);
  }
  if (value.kind === "if") return value.condition;
  if (value.kind !== "pick") return undefined;
  return value.cases.some((one) => one.if === "unknown") ? undefined : value.by;
}

function showsStale(inquiry: Inquiry, output: string, conditions: readonly Condition[], sensor: string, after: number) {
  const { scene } = inquiry;
  const known: Condition = { kind: "not", of: { kind: "is", left: { kind: "value", of: sensor }, right: { kind: "unknown" } } };
  const so = scene.find([...conditions, known], { of: output });
  if (!so) return undefined;
  const at = so.at + MINUTE;
  const unknown: Condition = { kind: "is", left: { kind: "value", of: sensor }, right: { kind: "unknown" } };
  const shown: Condition = { kind: "not", of: { kind: "is", left: { kind: "value", of: output }, right: { kind: "unknown" } } };
  return scene.shows(
    `${sensor} is unknown, and ${output} goes on`,
    [so, { at, values: new Map(), faults: [{ kind: "falls silent", name: sensor }] }],
    [unknown, shown].map((condition) => ({ claim: "always", condition, from: at + after, to: at + after + 10 * MINUTE })),
  );
}
