// Asking the house: with the token that was given, in the name of who sits here.
import type { Answer } from "@modrik/runtime";

export type Now = Answer<"now">;
export type Zone = Answer<"zone">;
export type Reading = Answer<"reading">;
export type Output = Answer<"output">;
export type Dial = Answer<"dial">;
export type Mode = Answer<"mode">;
export type Countdown = Answer<"countdown">;
export type Schedule = Answer<"schedule">;
export type Preset = Answer<"preset">;
export type Let = Answer<"let">;
export type Rule = Answer<"rule">;
export type Guard = Answer<"guard">;
export type Notice = Answer<"notice">;
export type Concern = Answer<"concern">;
export type Coming = Answer<"coming">;
export type Entry = Answer<"entry">;
export type Chart = Answer<"chart">;
export type Person = Answer<"person">;
export type Me = Answer<"me">;
export type Explanation = Answer<"explanation">;

/** What the house refused, in its own words. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    says: string,
    readonly remedy?: string,
  ) {
    super(says);
  }
}

const TOKEN = "modrik.token";
const WHO = "modrik.who";
/** ms: who is not answered until then is not connected. */
const PATIENCE = 20_000;

/** A link with a token in it, such as the command prints, leaves it here and not in the address. */
export function takeTokenFromAddress(): void {
  const [, token] = /(?:^#|&)token=([\w-]+)/.exec(location.hash) ?? [];
  if (token === undefined) return;
  localStorage.setItem(TOKEN, token);
  history.replaceState(undefined, "", location.pathname);
}

export const keepToken = (token: string) => localStorage.setItem(TOKEN, token);
export const forgetToken = () => localStorage.removeItem(TOKEN);

export const whoIsHere = () => localStorage.getItem(WHO) ?? "";
export const keepWho = (name: string) => localStorage.setItem(WHO, name);

/** What goes with every request. */
export function credentials(): Record<string, string> {
  const token = localStorage.getItem(TOKEN);
  const who = whoIsHere();
  return {
    ...(token && { authorization: `Bearer ${token}` }),
    // Headers are plain ASCII; the house takes letters out that are none.
    ...(who && { "modrik-who": who.normalize("NFKD").replace(/[^\x20-\x7e]/g, "") }),
  };
}

/** Where something of the house is, seen from the page. */
export const at = (path: string) => new URL(`..${path}`, new URL(".", document.baseURI)).href;

/**
 * Asks something of the house.
 * @throws Refused with the words of the house; TypeError when it cannot be reached
 */
export async function ask<Answered>(path: string, method = "GET", body?: unknown): Promise<Answered> {
  const response = await answered(path, method, body);
  return (await response.json()) as Answered;
}

/** The same, where the answer is not JSON. */
export async function answered(path: string, method = "GET", body?: unknown): Promise<Response> {
  const response = await fetch(at(path), {
    method,
    headers: { ...credentials(), ...(body !== undefined && { "content-type": "application/json" }) },
    ...(body !== undefined && { body: JSON.stringify(body) }),
    signal: AbortSignal.timeout(PATIENCE),
  });
  if (response.ok) return response;
  const { says, remedy } = (await response.json().catch(() => ({}))) as { says?: string; remedy?: string };
  throw new Refused(response.status, says ?? `The house answered ${response.status}.`, remedy);
}

/** `?a=1&b=2` of what is there. */
export function queryOf(parts: Readonly<Record<string, string | number | undefined>>): string {
  const known = Object.entries(parts).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]]));
  return known.length === 0 ? "" : `?${new URLSearchParams(known)}`;
}
