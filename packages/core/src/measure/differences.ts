// Where the rules would have done otherwise than what was recorded of the outputs.
import { type Run, valueAt } from "../engine/index.js";
import type { Series } from "../expression/index.js";
import { baseOf, misfit, type Output, ownOf, type Recorded, recordedValue, type Value } from "../house/index.js";
import { equalNumbers } from "../units/index.js";

/** A stretch in which an output was recorded as one thing and the rules wanted another. */
export interface Difference {
  readonly from: number;
  readonly to: number;
  readonly recorded: Value;
  /** Undefined where nobody knows. */
  readonly wanted: Value | undefined;
}

/** How an output that was recorded agrees with the rules. */
export interface OutputDifferences {
  readonly output: string;
  readonly title: string;
  /** ms in which it was known what it did. */
  readonly known: number;
  /** Of that time, in which the rules wanted the same; from 0 to 1. */
  readonly agrees: number;
  readonly differences: readonly Difference[];
}

/** Of every output that a recording tells of, in a run of the rules over it. An output is what it was recorded as last. */
export function differences(run: Run, recorded: readonly Recorded[]): OutputDifferences[] {
  return run.past.house.outputs.flatMap((output) => {
    const line = recordedLine(run, output, recorded);
    return line.times.length === 0 ? [] : [compared(run, output, line)];
  });
}

function compared({ past, from, to }: Run, output: Output, line: Series): OutputDifferences {
  const { name, title = name } = output;
  const wanted = past.line({ kind: "value", of: name });
  const inside = (at: number) => at > from && at < to;
  const times = [...new Set([from, ...line.times.filter(inside), ...wanted.times.filter(inside)])].sort((a, b) => a - b);
  const found: { from: number; to: number; was: number; wants: number }[] = [];
  let [known, agreed] = [0, 0];
  times.forEach((at, place) => {
    const next = times[place + 1] ?? to;
    const [was, wants] = [valueAt(line, at), valueAt(wanted, at)];
    if (Number.isNaN(was)) return;
    known += next - at;
    if (equalNumbers(was, wants)) {
      agreed += next - at;
      return;
    }
    const last = found.at(-1);
    if (last && last.to === at && last.was === was && Object.is(last.wants, wants)) last.to = next;
    else found.push({ from: at, to: next, was, wants });
  });
  return {
    output: name,
    title,
    known,
    agrees: known === 0 ? 1 : agreed / known,
    differences: found.map(({ from: begins, to: ends, was, wants }) => ({
      from: begins,
      to: ends,
      recorded: ownOf(was, output.type) as Value,
      wanted: Number.isNaN(wants) ? undefined : ownOf(wants, output.type),
    })),
  };
}

function recordedLine({ past }: Run, output: Output, recorded: readonly Recorded[]): Series {
  const line = { times: [] as number[], values: [] as number[] };
  for (const record of recorded) {
    if (record.name !== output.name) continue;
    const value = recordedValue(past.house, record);
    const fits = value !== undefined && misfit(output, value) === undefined;
    line.times.push(record.at);
    line.values.push(fits ? baseOf(value, output.type) : Number.NaN);
  }
  return line;
}
