// A wire for what has none: simulated devices need topics, and nobody has to write them down to try a house.
import type { House, Wiring } from "modrik";

const MQTT = "mqtt";

/** What a house says of MQTT. Wires of other names are somebody else's. */
export function overMqtt(house: House): House {
  return { ...house, wirings: house.wirings.filter(({ by }) => by === MQTT) };
}

/** Sensors and outputs that are wired to nothing. */
export function unwired({ sensors, outputs, wirings }: House): { readonly sensors: string[]; readonly outputs: string[] } {
  const wired = new Set(wirings.map((one) => (one.kind === "reading" ? one.sensor : one.kind === "writing" ? one.output : "")));
  const left = (things: readonly { readonly name: string }[]) => things.flatMap(({ name }) => (wired.has(name) ? [] : [name]));
  return { sensors: left(sensors), outputs: left(outputs) };
}

/** The house with a topic for each sensor, output and way to people that has none: `house/room/heater`, `house/people/phone`. */
export function fullyWired(house: House): House {
  const own = overMqtt(house);
  const { sensors, outputs } = unwired(own);
  const root = house.name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, "_") || "house";
  const topicOf = (name: string) => `${root}/${name.replaceAll(".", "/")}`;
  const ways = new Set(waysIn(house).filter((way) => !own.wirings.some((one) => one.kind === "notices" && one.way === way)));
  const added: Wiring[] = [
    ...sensors.map((sensor): Wiring => ({ kind: "reading", by: MQTT, sensor, topic: topicOf(sensor) })),
    ...outputs.map(
      (output): Wiring => ({ kind: "writing", by: MQTT, output, topic: topicOf(output), confirmedBy: `${topicOf(output)}/is` }),
    ),
    ...[...ways].map((way): Wiring => ({ kind: "notices", by: MQTT, way, topic: topicOf(`people.${way}`) })),
  ];
  return { ...own, wirings: [...own.wirings, ...added] };
}

/** The ways to people that rules name. */
function waysIn({ rules }: House): string[] {
  const ways = new Set<string>();
  const look = (node: unknown): void => {
    if (typeof node !== "object" || node === null) return;
    const { kind, through } = node as { kind?: unknown; through?: unknown };
    if (kind === "tell" && typeof through === "string") ways.add(through);
    for (const part of Object.values(node)) look(part);
  };
  look(rules);
  return [...ways];
}
