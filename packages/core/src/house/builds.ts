// Rooms by how they are built: figures for each square metre of floor, to begin with where nobody knows better.
import type { Build, ZonePhysics } from "./house.js";

/**
 * Heat that is stored after the classes of ISO 13790, table 12: light 110, medium 165 kJ/(K m²) of floor; between air and walls
 * 3.45 W/(m² K) over 4.5 m² of walls for each of floor (ISO 13790, 7.2.2.2).
 */
export const builds = {
  /** Wood or panels, old windows. */
  light: { loses: 2.5, stores: 110e3, leaks: 0.6, soaks: 1.5, couples: 15.5 },
  /** Masonry. */
  solid: { loses: 1.8, stores: 165e3, leaks: 0.4, soaks: 2, couples: 15.5 },
  /** Masonry, insulated, new windows. */
  insulated: { loses: 0.8, stores: 165e3, leaks: 0.2, soaks: 2, couples: 15.5 },
} as const satisfies Record<Build, object>;

/**
 * J/(m³ K) of air and what stands in a room: 10 kJ/K for each square metre of floor (ISO 52016-1, 6.5.11), at 2.5 m height.
 * Where walls stand apart from the air, the rest of what a room stores is theirs.
 */
export const FURNISHED = 4000;

/** ms in which walls and wood of a built room follow the humidity of its air. */
const WOOD = 2 * 3600e3;

/** m: floor to ceiling */
const HEIGHT = 2.5;

/** m² and build of a room of which nothing is said. */
export const usualRoom = { floor: 20, built: "solid" } as const;

/** Of panes of two sheets, not quite clean: the light that comes through; the sky that is seen from them, in degrees. */
const CLEAR = 0.65;
const SKY = 65;
/** What walls, floor and ceiling throw back. */
const THROWN = 0.5;

/**
 * %: share of the daylight outdoors that gets into a room by its panes, 0.1 at a time: the mean daylight factor of BS 8206-2,
 * T W θ / (A (1 - R²)), with A all that encloses it.
 */
function daylightOf(floor: number, glass: number): number {
  const around = 2 * floor + 4 * Math.sqrt(floor) * HEIGHT;
  const share = (CLEAR * glass * SKY) / (around * (1 - THROWN ** 2));
  return Math.min(100, Math.round(share * 10) / 10);
}

/** The figures of a room of so many square metres, built so, with so many square metres of panes. */
export function roomOf(floor: number, built: Build, glass = 0) {
  const { loses, stores, leaks, soaks, couples } = builds[built];
  return {
    volume: floor * HEIGHT,
    loses: floor * loses,
    stores: floor * stores,
    leaks,
    soaks: floor * soaks,
    window: daylightOf(floor, glass),
    couples: floor * couples,
    wood: WOOD,
  };
}

export type RoomFigure = keyof ReturnType<typeof roomOf>;

/** m² of a room: as said, else as its volume asks for. */
export function floorOf({ floor, volume }: Pick<ZonePhysics, "floor"> & Partial<Pick<ZonePhysics, "volume">>): number {
  return floor ?? (volume === undefined ? usualRoom.floor : volume / HEIGHT);
}

/** The figures of a room that nobody said: they follow from its floor and how it is built. */
export function assumedOf(room: ZonePhysics): RoomFigure[] {
  if (room.built === undefined) return [];
  const usual = roomOf(floorOf(room), room.built, room.glass);
  // A room of which neither floor nor volume was said is a usual one; else its volume is its own.
  const sized = room.floor !== undefined || room.volume === usualRoom.floor * HEIGHT;
  const names = Object.keys(usual) as RoomFigure[];
  return names.filter((name) => room[name] === usual[name] && (name !== "volume" || sized));
}
