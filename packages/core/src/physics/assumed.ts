// Rooms for a house that says nothing of them: each zone a usual room, and what its rules drive acts on it as such things do.
import { type Effect, type Given, type House, type Keep, type RoomPhysics, roomOf, usualRoom } from "../house/index.js";
import { type Dimension, dimensionOf } from "../units/index.js";
import { outdoorsIn } from "./open-air.js";

/** What an output gives that raises a quantity: W, g/h, lx; one that lowers it takes the same, or blows air in. */
const raises: Partial<Record<Dimension, readonly [what: Given, amount: number]>> = {
  temperature: ["heat", 1500],
  "relative humidity": ["water", 300],
  light: ["light", 400],
};

/** m³/h of a fan that lowers CO₂. */
const AIRING = 120;

/** Zones that are taken for the outdoors by their names, where a house says nothing of its rooms. */
const calledOutdoors: ReadonlySet<string> = new Set(["outside", "outdoors", "outdoor"]);

/** The house with rooms: its own, or assumed ones where it has none. */
export function withRooms(house: House): House {
  return house.physics.zones.length > 0 ? house : { ...house, physics: assumedPhysics(house) };
}

/** Zones of a house without rooms that are none either. */
function openZones(house: House): string[] {
  const called = house.zones.filter(({ name }) => calledOutdoors.has(name)).map(({ name }) => name);
  return [...new Set([...outdoorsIn(house), ...called])];
}

/** Usual rooms, and an effect for each output that a `keep` drives; what is said without a room, of tanks, stays. */
function assumedPhysics(house: House): RoomPhysics {
  const { floor, built } = usualRoom;
  const open = openZones(house);
  const rooms = house.zones.filter(({ name }) => !open.includes(name));
  const zones = rooms.map(({ name }) => ({ zone: name, floor, built, ...roomOf(floor, built), window: 2 }));
  const effects = house.rules.flatMap(({ sentences }) =>
    sentences.flatMap((one) => ("keep" in one ? effectsOf(house, one.keep) : [])),
  );
  const known = new Set<string>();
  return {
    zones,
    effects: [
      ...house.physics.effects.filter(({ kind }) => kind !== "outdoors"),
      ...open.map((zone): Effect => ({ kind: "outdoors", zone })),
      ...effects.filter((effect) => {
        const name = "output" in effect ? effect.output : "";
        return !known.has(name) && known.add(name);
      }),
    ],
  };
}

function effectsOf(house: House, { value, raiseWith, lowerWith }: Keep): Effect[] {
  const sensor = value.kind === "value" ? house.sensors.find(({ name }) => name === value.of) : undefined;
  if (sensor?.type.kind !== "number") return [];
  const dimension = dimensionOf(sensor.type.unit);
  const given = raises[dimension];
  const give = (outputs: readonly string[], sign: number) =>
    given ? outputs.map((output): Effect => ({ kind: "gives", output, what: given[0], amount: sign * given[1] })) : [];
  const air =
    dimension === "concentration"
      ? (lowerWith?.outputs ?? []).map(
          (output): Effect => ({ kind: "gives", output, what: "air", amount: AIRING, from: "outdoors" }),
        )
      : [];
  return [...give(raiseWith?.outputs ?? [], 1), ...give(lowerWith?.outputs ?? [], -1), ...air];
}
