import { distinguishes, type House, type Mutant, mutantsOf, passes } from "modrik";
import type { HouseText } from "modrik/language";
import type { Io } from "../io.js";
import { inParallel } from "../pool.js";
import { whileShown } from "../progress.js";

/** A mistake that no trial finds. */
interface Survivor {
  readonly place?: string;
  readonly before: string;
  readonly after: string;
  readonly suggestion?: string;
}

export interface MutantReport {
  readonly mutants: number;
  readonly found: number;
  readonly survivors: readonly Survivor[];
}

/** Makes one mistake after another in a house and tells which of them no trial finds. */
export async function tryMutants(house: House, text: HouseText, print: boolean, io: Io): Promise<MutantReport> {
  const mutants = mutantsOf(house);
  const survived = new Set<number>();
  const tasks = mutants.map((_, place) => ({ kind: "mutant", place }) as const);
  await whileShown(io, `trying ${mutants.length} mistakes`, (progress) => {
    let done = 0;
    const onDone = (alive: boolean, place: number) => {
      if (alive) survived.add(place);
      progress.at(++done / mutants.length);
    };
    return inParallel<boolean>({ house, order: byDuration(house) }, tasks, onDone);
  });
  const survivors = mutants.flatMap((mutant, index) => (survived.has(index) ? [survivor(house, mutant, text)] : []));
  const report = { mutants: mutants.length, found: mutants.length - survivors.length, survivors };
  if (print) io.out.write(`\n${tell(report, io)}\n`);
  return report;
}

/** Names of the trials, the quickest first. */
function byDuration(house: House): string[] {
  const timed = house.trials.map((trial) => {
    const begun = performance.now();
    passes(house, trial);
    return { name: trial.name, lasted: performance.now() - begun };
  });
  return timed.sort((a, b) => a.lasted - b.lasted).map(({ name }) => name);
}

function survivor(house: House, mutant: Mutant, text: HouseText): Survivor {
  const { about, before, after } = mutant;
  const where = text.placeOf(about);
  const suggestion = distinguishes(house, mutant);
  return {
    ...(where && { place: `${where.file}:${where.line}` }),
    before,
    after,
    ...(suggestion !== undefined && { suggestion }),
  };
}

function tell({ mutants, found, survivors }: MutantReport, io: Io): string {
  const share = mutants === 0 ? 100 : Math.floor((100 * found) / mutants);
  const head = `${io.paint.bold(`${found} of ${mutants} mistakes`)} were found by the trials (${share} %).`;
  const lines = survivors.map(({ place, before, after, suggestion }) =>
    [
      io.paint.bold(place ?? ""),
      io.paint.red(`- ${before}`),
      io.paint.green(`+ ${after}`),
      `  ${suggestion === undefined ? "To catch this, add a trial whose result depends on it." : `To catch this, add a trial ${suggestion}, and say what you expect.`}`,
    ].join("\n"),
  );
  return [head, ...(survivors.length > 0 ? ["Not found:", "", lines.join("\n\n")] : []), ""].join("\n");
}
