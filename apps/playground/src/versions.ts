// Earlier versions of what was on the desk, to go back to or to compare with.
import type { Setup } from "./messages.js";

export interface Version {
  readonly id: number;
  /** ms since 1970. */
  readonly at: number;
  readonly setup: Setup;
}

const MOST = 40;

/** With another version, unless nothing but its time is new; the oldest give way, but for what was opened. */
export function withVersion(versions: readonly Version[], setup: Setup, at: number): readonly Version[] {
  const last = versions.at(-1);
  if (last && JSON.stringify(last.setup) === JSON.stringify(setup)) return versions;
  return [...versions.slice(0, 1), ...versions.slice(1).slice(2 - MOST), { id: (last?.id ?? 0) + 1, at, setup }];
}

/** Newest first, without the one that is on the desk; each by its time and what is different from the one before. */
export function versionNames(versions: readonly Version[]): { readonly value: string; readonly label: string }[] {
  return versions
    .slice(0, -1)
    .map(({ id, at, setup }, place) => ({
      value: String(id),
      label: `${clock.format(at)}, ${changeOf(versions[place - 1]?.setup, setup)}`,
    }))
    .reverse();
}

const clock = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", second: "2-digit" });

function changeOf(before: Setup | undefined, { files, set, weather, acts, from, days }: Setup): string {
  if (!before) return "as opened";
  const written = Object.keys({ ...before.files, ...files }).filter((name) => before.files[name] !== files[name]);
  const dials = Object.keys({ ...before.set, ...set }).filter((name) => before.set[name] !== set[name]);
  const parts = [
    ...written,
    ...dials.map((name) => `${name} ${set[name] ?? "as written"}`),
    ...(before.weather !== weather ? [weather ?? "first weather"] : []),
    ...(before.acts !== acts ? ["by hand"] : []),
    ...(before.from !== from || before.days !== days ? ["other days"] : []),
  ];
  return parts.length > 2 ? `${parts.slice(0, 2).join(", ")} and more` : parts.join(", ");
}
