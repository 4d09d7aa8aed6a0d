// What befalls sensors and outputs of a world: as a timeline tells it, or as somebody orders it of simulated devices.
import { baseOfNumber, type Expression, type Occurrence, ownValue, unitOf } from "../house/index.js";
import { MINUTE } from "../time/index.js";
import { units } from "../units/index.js";
import type { World } from "./world.js";

/** Lets it befall, at an instant and until another; gives whether it was something of that kind. */
export function befall(world: World, what: Occurrence, at: number, to: number): boolean {
  const { house } = world.engine;
  switch (what.kind) {
    case "is": {
      if (!house.sensors.some(({ name }) => name === what.name)) return false;
      const value = ownValue(house, what.name, what.value);
      if (value === undefined) world.forget(what.name, at);
      else world.tell(what.name, value, at);
      return true;
    }
    case "moves to": {
      const value = ownValue(house, what.name, what.value);
      if (typeof value === "number") world.move(what.name, value, at, to);
      return true;
    }
    case "jumps to": {
      const value = ownValue(house, what.name, what.value);
      if (value !== undefined) world.jump(what.name, value, at, at + (baseOfNumber(what.for) ?? 0));
      return true;
    }
    case "falls silent":
      world.silence(what.name);
      return true;
    case "sticks":
      world.stick(what.name, at);
      return true;
    case "refuses":
      world.refuse(what.name);
      return true;
    case "is pressed":
      world.engine.press(what.name, at);
      return true;
    case "reports every":
      world.reportEvery(what.name, baseOfNumber(what.by) ?? MINUTE, at);
      return true;
    case "wobbles by":
      world.wobble(what.name, inOwnSize(world, what.by, what.name));
      return true;
    case "obeys late":
      world.obeyLate(what.name, baseOfNumber(what.by) ?? 0);
      return true;
    case "arrives late":
      world.arriveLate(what.name, baseOfNumber(what.by) ?? 0);
      return true;
    default:
      return false;
  }
}

/** A difference in the size of a thing's own unit. */
function inOwnSize(world: World, expression: Expression, name: string): number {
  return (baseOfNumber(expression) ?? 0) / units[unitOf(world.engine.house, name) ?? ""].factor;
}
