// What depends on a sensor that is never unknown: silent, it goes on for days by what the sensor said last.
import { type Condition, type House, lastsOf, restOf, type Sensor, type Trial, visitExpressions } from "../house/index.js";
import { writeExpression } from "../language/index.js";
import { DAY, MINUTE } from "../time/index.js";
import { type Ask, constantOf } from "./asks.js";
import type { Draft } from "./finding.js";
import type { Inquiry } from "./inquiry.js";
import { isUnknown, silence } from "./scene.js";

/** What depends on a sensor that counts for ever: silent, it goes on as it last said. */
export function lastsForEver(inquiry: Inquiry): Draft[] {
  const found = new Map<Sensor, Ask[]>();
  for (const ask of inquiry.asks) {
    if (ask.way !== "held") continue;
    for (const sensor of inquiry.measuredIn([ask.conditions, ask.value]))
      if (!sensor.lastsForEver && !sensor.deviceHealth && lastsOf(inquiry.house, sensor) === undefined)
        found.set(sensor, [...(found.get(sensor) ?? []), ask]);
  }
  const held = [...found].map(([sensor, asks]): Draft => {
    let shows: Trial | undefined;
    for (const ask of asks) shows ??= showsStuck(inquiry, ask, sensor);
    const names = [...new Set(asks.map(({ rule }) => rule.name))];
    return {
      code: "lasts-for-ever",
      about: { kind: "thing", name: sensor.name },
      reason: `Readings of ${sensor.name} never expire: when it falls silent, ${names.join(", ")} ${names.length > 1 ? "keep" : "keeps"} using its last value.`,
      remedy:
        "Write `readings last 15 min` in `house { … }`, or `unknown after 15 min` here. If it is intended, write `lasts for ever`.",
      related: asks.slice(0, 1).map(({ about, rule }) => ({ about, says: `${rule.name} uses it` })),
      ...(shows && { shows }),
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
    [...scene.leadingTo(so), silence(sensor.name, at)],
    [{ claim: "always", condition, from: at, to: at + DAY }],
  );
}

/** A pair of `when`: what the one sets permanently, the other takes back, but never while the sensor of both is silent. */
function stuckPairs(inquiry: Inquiry): Draft[] {
  const { house, scene } = inquiry;
  return inquiry.asks.flatMap((ask): Draft[] => {
    const { event, output, value, rule } = ask;
    const rest = house.outputs.find(({ name }) => name === output);
    if (ask.way !== "for good" || !event || !rest || constantOf(ask) === restOf(rest)) return [];
    const back = inquiry.asks.find(
      (other) => other.output === output && other.way === "for good" && other.event && constantOf(other) === restOf(rest),
    );
    const sensor =
      back?.event && inquiry.measuredIn(event.when).find((one) => inquiry.measuredIn(back.event?.when).includes(one));
    if (!sensor || heedsUnknown(house, sensor.name)) return [];
    const fired = inquiry.firing(event, [], output);
    const after = fired && fired.at + MINUTE;
    const condition: Condition = { kind: "is", left: { kind: "value", of: output }, right: value };
    const shows =
      fired &&
      after !== undefined &&
      scene.shows(
        `${sensor.name} falls silent, and ${output} stays at ${writeExpression(value)}`,
        [...fired.stages, silence(sensor.name, after)],
        [{ claim: "always", condition, from: after, to: after + DAY }],
      );
    if (!shows) return [];
    return [
      {
        code: "lasts-for-ever",
        about: ask.about,
        reason: `What ${rule.name} sets stays when ${sensor.name} falls silent: without readings, nothing reverses it.`,
        remedy: `Use a state instead: \`while … until …\`, with \`unknown after\` or \`readings last\`; or add \`when ${sensor.name} is unknown do { … }\`.`,
        shows,
      },
    ];
  });
}

/** Whether something in the rules asks if a sensor is unknown. */
function heedsUnknown({ rules }: House, sensor: string): boolean {
  let found = false;
  visitExpressions(rules, (part) => {
    if (part.kind !== "is" || part.right.kind !== "unknown") return;
    found ||= part.left.kind === "value" && part.left.of === sensor;
  });
  return found;
}
