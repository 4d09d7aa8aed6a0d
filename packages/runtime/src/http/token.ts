// Who may ask from elsewhere: who has a token of the house. It is shown once; the house keeps only its hash.
import { createHash, randomBytes, timingSafeEqual } from "node:crypto";
import type { HouseFile, May, Person } from "../storage/house-file.js";

const hashOf = (token: string) => createHash("sha256").update(token).digest("hex");

/** A token of a house that has none yet. */
export function firstToken(file: HouseFile, now: number): string | undefined {
  return file.people().length > 0 ? undefined : giveToken(file, "owner", "act", now);
}

/** A token for somebody; one that they had before opens nothing any more. */
export function giveToken(file: HouseFile, name: string, may: May, now: number): string {
  const token = randomBytes(24).toString("base64url");
  file.removePerson(name);
  file.addPerson(hashOf(token), { name, may, at: now });
  return token;
}

/** Whose token it is; takes the same time whatever is wrong with it. */
export function personOf(file: HouseFile, token: string): Person | undefined {
  const hash = Buffer.from(hashOf(token));
  const all = file.people().map((one) => ({ one, same: timingSafeEqual(Buffer.from(one.hash), hash) }));
  const found = all.find(({ same }) => same)?.one;
  return found && { name: found.name, may: found.may, at: found.at };
}
