// The file of a house: opened, led to this version's tables, and set aside where it is damaged.
import { existsSync, renameSync } from "node:fs";
import Database from "libsql";
import { migrations } from "./schema.js";

export type File = Database.Database;

/** A file that cannot be used, and is not damaged. */
export class StorageError extends Error {}

/** Opens a house's file, made if there is none. @throws StorageError when it is of a later version */
export function openFile(path: string): File {
  const file = new Database(path);
  try {
    file.exec("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA busy_timeout = 5000");
    migrate(file, path);
  } catch (error) {
    file.close();
    throw error;
  }
  return file;
}

/** Opens a house's file to be read, also while the house runs. @throws StorageError when it is of another version */
export function readFile(path: string): File {
  const file = new Database(path, { readonly: true });
  const version = versionOf(file);
  if (version === migrations.length) return file;
  file.close();
  throw new StorageError(`its tables are of version ${version}, and this Modrik reads ${migrations.length}`);
}

function versionOf(file: File): number {
  return Number((file.prepare("PRAGMA user_version").all() as { user_version: number }[])[0]?.user_version);
}

function migrate(file: File, path: string): void {
  const version = versionOf(file);
  if (version > migrations.length)
    throw new StorageError(
      `${path} was written by a later version of Modrik (tables ${version}, this one knows ${migrations.length}).`,
    );
  for (const [step, sql] of migrations.entries()) {
    if (step < version) continue;
    file.exec(`BEGIN; ${sql}; PRAGMA user_version = ${step + 1}; COMMIT`);
  }
}

/** Whether an error says that what stands in a file is not valid, rather than that it cannot be got at. */
export function isDamage(error: unknown): boolean {
  const code = (error as { code?: unknown } | null)?.code;
  return code === "SQLITE_CORRUPT" || code === "SQLITE_NOTADB" || String(code).startsWith("SQLITE_CORRUPT_");
}

/** Puts a damaged file out of the way, with all that belongs to it; gives where it is now. */
export function setAside(path: string, at: number): string {
  const aside = `${path}.damaged-${new Date(at).toISOString().replace(/[:.]/g, "-")}`;
  for (const end of ["", "-wal", "-shm"]) if (existsSync(path + end)) renameSync(path + end, aside + end);
  return aside;
}
