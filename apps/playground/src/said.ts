// What went wrong by what was asked, as a sentence; a fault of ours goes on.
import { FormatError } from "@modrik/formats";

/** @throws what is not a mistake of who asked */
export function said(error: unknown): string {
  if (!(error instanceof RangeError || error instanceof FormatError)) throw error;
  const { message } = error;
  return `${message.charAt(0).toUpperCase()}${message.slice(1)}${message.endsWith(".") ? "" : "."}`;
}
