// The thread in which the past is read.
import { HouseFile } from "../storage/house-file.js";
import { type ArchiveTask, doTask } from "./tasks.js";

export default function work({ path, task }: { readonly path: string; readonly task: ArchiveTask }): string | undefined {
  // Opened again each time: it may have been set aside meanwhile.
  const file = new HouseFile(path, { readOnly: true });
  try {
    return doTask(file, task);
  } finally {
    file.close();
  }
}
