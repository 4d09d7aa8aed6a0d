// The time a house lives by: real, or faster.

/** A clock that goes on evenly. Instants are whole milliseconds since 1970 UTC. */
export interface HouseClock {
  /** Never goes back. */
  now(): number;
  /** How far the clock on the wall is ahead of it: that one may be set, ahead or back. In milliseconds. */
  ahead(): number;
  /** How many times as fast as real: devices and wires are not. */
  readonly speed: number;
  /** Calls back once, at an instant or as soon as it has gone by; gives what takes it back. */
  wake(at: number, then: () => void): () => void;
}

/** As far ahead as a timer is set: further is looked at again then. */
const LONGEST = 3_600_000;

/**
 * The clock of this machine.
 * @param speed how many times as fast as the real one; only at 1 does it follow the clock on the wall
 * @param from what it begins with, in milliseconds since 1970 UTC
 */
export function machineClock({ speed = 1, from = Date.now() }: { speed?: number; from?: number } = {}): HouseClock {
  const began = performance.now();
  const now = () => from + Math.floor((performance.now() - began) * speed);
  return {
    now,
    ahead: () => (speed === 1 ? Date.now() - now() : 0),
    speed,
    wake(at, then) {
      let timer: NodeJS.Timeout;
      const look = () => {
        const left = (at - now()) / speed;
        if (left <= 0) then();
        else timer = setTimeout(look, Math.ceil(Math.min(left, LONGEST)));
      };
      timer = setTimeout(look, Math.ceil(Math.max(0, Math.min((at - now()) / speed, LONGEST))));
      return () => clearTimeout(timer);
    },
  };
}
