// Who may ask from elsewhere: who has the token of the house. It is shown once; the house keeps only its hash.
import { createHash, randomBytes, timingSafeEqual } from "node:crypto";
import type { HouseFile } from "../storage/house-file.js";

const hashOf = (token: string) => createHash("sha256").update(token).digest("hex");

/** A token of a house that has none yet. */
export function firstToken(file: HouseFile, now: number): string | undefined {
  if (file.tokens().length > 0) return undefined;
  const token = randomBytes(24).toString("base64url");
  file.addToken(hashOf(token), now);
  return token;
}

/** Whether a token is one of a house's; takes the same time whatever is wrong with it. */
export function isToken(file: HouseFile, token: string): boolean {
  const hash = Buffer.from(hashOf(token));
  return file
    .tokens()
    .map((known) => timingSafeEqual(Buffer.from(known), hash))
    .some(Boolean);
}
