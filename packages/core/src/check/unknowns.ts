// A sign that shows something which can be unknown, without a case for that.
import { type Condition, type Expression, lastsOf } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { writeDuration } from "../units/index.js";
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
