// What a running house keeps in its file, read while it runs, or after.
import { statSync } from "node:fs";
import { type Recorded, type Run, typeOf } from "modrik";
import { CallError } from "./call-error.js";
import { type Io, pathIn } from "./io.js";

/** What stands in the file of a house. */
export interface KeptHouse {
  /** What was reported and switched. */
  readonly records: readonly Recorded[];
  /** The last days, as they can be explained. */
  readonly run: Run;
}

export const isHouseFile = (file: string) => /\.db$/i.test(file);

/** How far back is read to explain: what was so for longer is known too, if not since when. */
const EXPLAINED = 7 * 86_400_000;

/** @throws CallError when there is no such file, or it is not that of a house */
export async function openHouseFile(file: string, io: Io): Promise<KeptHouse> {
  const path = pathIn(io, file);
  if (!statSync(path, { throwIfNoEntry: false })?.isFile())
    throw new CallError(
      `There is no file "${file}".`,
      "A house that runs, or ran, has one: modrik run makes it, beside the house or where --db says.",
    );
  // Loaded where it is needed: most commands never do.
  const { HouseFile, StorageError } = await import("@modrik/runtime");
  let kept: InstanceType<typeof HouseFile> | undefined;
  try {
    kept = new HouseFile(path, { readOnly: true });
    const { to = 0 } = kept.span() ?? {};
    const { snapshot, journal } = kept.resume(to - EXPLAINED);
    if (!snapshot) throw new CallError(`Nothing stands in ${file} yet.`, "Let the house run for a moment.");
    const { house } = journal;
    const names = new Set([...house.sensors, ...house.outputs, ...house.dials, ...house.modes].map(({ name }) => name));
    const records = kept.history(0, Number.MAX_SAFE_INTEGER).map((record) => {
      const type = names.has(record.name) ? typeOf(house, record.name) : undefined;
      return type?.kind === "number" && type.unit !== "" && record.value !== undefined ? { ...record, unit: type.unit } : record;
    });
    const run = { past: journal, from: journal.beginning, to: snapshot.at, kept: { at: snapshot.at, snapshot } };
    return { records, run };
  } catch (error) {
    if (error instanceof StorageError || (error as { code?: unknown }).code !== undefined || error instanceof RangeError)
      throw new CallError(
        `${file} is not the file of a house, or is damaged: ${(error as Error).message}`,
        "Name the .db file that modrik run made.",
      );
    throw error;
  } finally {
    kept?.close();
  }
}
