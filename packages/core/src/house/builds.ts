// Rooms by how they are built: figures for each square metre of floor, to begin with where nobody knows better.
import type { ZonePhysics } from "./house.js";

/** Heat that is stored after the classes of ISO 13790, table 12: light 110, medium 165 kJ/(K m²) of floor. */
export const builds = {
  /** Wood or panels, old windows. */
  light: { loses: 2.5, stores: 110e3, leaks: 0.6, soaks: 1.5 },
  /** Masonry. */
  solid: { loses: 1.8, stores: 165e3, leaks: 0.4, soaks: 2 },
  /** Masonry, insulated, new windows. */
  insulated: { loses: 0.8, stores: 165e3, leaks: 0.2, soaks: 2 },
} as const;

export type Build = keyof typeof builds;

/** m: floor to ceiling */
const HEIGHT = 2.5;

/** m² and build of a room of which nothing is said. */
export const usualRoom = { floor: 20, built: "solid" } as const;

/** The figures of a room of so many square metres, built so. */
export function roomOf(zone: string, floor: number, built: Build): ZonePhysics {
  const { loses, stores, leaks, soaks } = builds[built];
  return {
    zone,
    volume: floor * HEIGHT,
    loses: floor * loses,
    stores: floor * stores,
    leaks,
    soaks: floor * soaks,
    window: 0,
  };
}
