// The texts of a house, for a page in which they are written: read whole, written one by one.
import { z } from "zod";

/** Where the texts of a house are kept. */
export interface HouseTexts {
  /** As people call the house, and its texts by the names of their files. */
  read(): { readonly name: string; readonly files: Readonly<Record<string, string>> };
  /**
   * Writes one. It is refused where the file is not as it was `before` any more: somebody else has changed it meanwhile.
   * @throws TextsRefused with a sentence for whoever wrote
   */
  write(name: string, text: string, before: string | undefined): void;
}

/** A text that was not written, and why. */
export class TextsRefused extends Error {}

export const textWritten = z.object({
  name: z.string().min(1).max(200),
  text: z.string().max(1_000_000),
  before: z.string().max(1_000_000).nullable(),
});

/** Texts are longer than all else that is sent to a house. */
export const TEXT_BODY = 3_000_000;
