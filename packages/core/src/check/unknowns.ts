// What is unknown, and nobody thought of: a sign without a case for it, a rule that releases its output because of another sensor.
import { type Condition, type Expression, lastsOf, type Rule, restOf, type Sensor, thingsIn } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { writeDuration } from "../units/index.js";
import type { Ask } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import { isUnknown, silence } from "./scene.js";

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
        reason: `${ask.output} shows ${sensor.name}, which is unknown ${when}. It then keeps its last value.`,
        remedy: "Add a case for unknown: `pick by … { …, unknown: … }`.",
        ...(shows && { shows }),
      },
    ];
  });
}

/** What people depend on, by its name: a lamp may be anything. */
const telling = /(?:^|[._\s])(?:sign|signal|warning|alarm|alert|siren|beacon|buzzer)s?(?:$|[._\s])/i;

/** On/off signs and alarms: off, as if all were well, while what they depend on is unknown. */
export function signOff(inquiry: Inquiry): Draft[] {
  const { house, asks } = inquiry;
  return asks.flatMap((ask): Draft[] => {
    const output = house.outputs.find(({ name }) => name === ask.output);
    if (ask.way !== "held" || ask.keep || !output || !telling.test(`${output.name} ${output.title ?? ""}`)) return [];
    if (output.type.kind !== "words" || !output.type.words.includes("off") || sameWord(ask.value, restOf(output))) return [];
    const handled = JSON.stringify(asks.filter((one) => one.output === ask.output).map(({ conditions }) => conditions));
    return inquiry.sensorsIn(ask.conditions).flatMap((sensor): Draft[] => {
      if (handled.includes(JSON.stringify(isUnknown(sensor.name))) || lastsOf(house, sensor) === undefined) return [];
      const shows = showsLetGo(inquiry, ask, sensor);
      if (!shows) return [];
      return [
        {
          code: "no-unknown-case",
          about: ask.about,
          reason: `${ask.output} is ${String(restOf(output))} while ${sensor.name} is unknown, as if all were well.`,
          remedy: `If people go by it, write what it shows then: \`while … or ${sensor.name} is unknown\`.`,
          shows,
        },
      ];
    });
  });
}

function sameWord(value: Expression, rest: unknown): boolean {
  return value.kind === "word" && value.word === rest;
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
          reason: `${ask.rule.name} ${what} while ${sensor.name} is unknown, even if the others report.`,
          remedy: "Write what should happen then: `pick by … { …, unknown: … }`, `first_known(…, …)`, or `… is unknown or …`.",
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
  const known: Condition = { kind: "not", of: isUnknown(sensor.name) };
  const so = Number.isNaN(lasts) ? undefined : scene.find([...conditions, known], { of: output });
  if (!so) return undefined;
  const at = so.at + MINUTE;
  const asked: Condition = { kind: "is", left: { kind: "value", of: output }, right: value };
  return scene.shows(
    `${sensor.name} falls silent, and nothing is asked of ${output}`,
    [...scene.leadingTo(so), silence(sensor.name, at)],
    [
      { claim: "always", condition: asked, from: so.at, to: at + lasts - MINUTE },
      { claim: "never", condition: asked, from: at + lasts, to: at + lasts + 10 * MINUTE },
    ],
  );
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
  const known: Condition = { kind: "not", of: isUnknown(sensor) };
  const so = scene.find([...conditions, known], { of: output });
  if (!so) return undefined;
  const at = so.at + MINUTE;
  const shown: Condition = { kind: "not", of: isUnknown(output) };
  return scene.shows(
    `${sensor} is unknown, and ${output} goes on`,
    [so, silence(sensor, at)],
    [isUnknown(sensor), shown].map((condition) => ({
      claim: "always",
      condition,
      from: at + after,
      to: at + after + 10 * MINUTE,
    })),
  );
}
