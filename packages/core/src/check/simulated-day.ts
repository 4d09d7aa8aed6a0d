// Which outputs go on in a day of the simulated house.
import { type House, offWordOf } from "../house/index.js";
import { stage } from "../physics/index.js";
import { DAY, HOUR, MINUTE } from "../time/index.js";

/** An output that went on at an instant. */
export interface Start {
  readonly at: number;
  readonly output: string;
}

/** In their order, in the house's first weather, an hour after it began. */
export function startsOfDay(house: House): readonly Start[] {
  const { from, play } = stage(house, { lasts: DAY, every: MINUTE, runUp: HOUR }, {});
  const starts: Start[] = [];
  const offs = new Map(house.outputs.map((output) => [output.name, offWordOf(output)]));
  const running = new Set<string>();
  play({
    sent: (changes) => {
      for (const { at, output, value } of changes) {
        const off = offs.get(output);
        if (off === undefined || value === undefined || value === off) running.delete(output);
        else if (!running.has(output)) {
          running.add(output);
          if (at >= from) starts.push({ at, output });
        }
      }
    },
  });
  return starts;
}

/** How often one of two outputs goes on after the other. */
export function turnsBetween(starts: readonly Start[], one: string, other: string): number {
  const own = starts.filter(({ output }) => output === one || output === other);
  return own.filter(({ output }, place) => place > 0 && own[place - 1]?.output !== output).length;
}
