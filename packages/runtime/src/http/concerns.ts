// What is not as it should be in a running house, the gravest first: what somebody who looks on should see at once.
import type { Seen, View } from "./view.js";

const DAY = 86_400_000;
/** Percent: below it a battery should be changed. */
const LOW = 20;

/** Problems that stand as long as their cause, and are told by that. */
const standing: ReadonlySet<string> = new Set(["silent", "disobeys"]);

/** @param zones and outputs as they are now */
export function concernsOf(view: View, zones: readonly Seen<"zone">[], outputs: readonly Seen<"output">[]): Seen<"concern">[] {
  const { running } = view;
  const { past, to } = running.run;
  const sensors = zones.flatMap((zone) => zone.sensors);
  const paused = Object.entries(running.snapshot().paused);
  // Of the same problem, the last time it was seen.
  const problems = new Map(
    past
      .problems(to - DAY, to)
      .filter(({ code }) => !standing.has(code))
      .map(({ at, text }) => [text, at]),
  );
  return [
    ...(running.isUp
      ? []
      : [{ kind: "broker" as const, says: "The broker is away. The rules go on; devices are told when it is back." }]),
    ...(running.refusedSince === undefined
      ? []
      : [
          {
            kind: "storage" as const,
            says: "The disk refuses what happens. The rules go on; it is tried again.",
            since: view.instant(running.refusedSince),
          },
        ]),
    ...(running.isDry ? [{ kind: "dry" as const, says: "Nothing is sent to devices: the house runs dry." }] : []),
    ...outputs
      .filter(({ disobeys }) => disobeys)
      .map(({ name, says }) => ({
        kind: "disobeys" as const,
        says: `should be ${says}, and its device says otherwise`,
        thing: name,
      })),
    ...sensors
      .filter(({ name, value }) => value === null && !isPress(view, name))
      .map(({ name, heardAt }) => ({
        kind: "unknown" as const,
        says:
          heardAt === undefined
            ? "has sent no valid reading since the house started"
            : "is unknown: no valid reading has come for too long",
        thing: name,
        ...(heardAt !== undefined && { since: heardAt }),
      })),
    ...sensors
      .filter(({ health, unit, value }) => health && unit === "%" && typeof value === "number" && value < LOW)
      .map(({ name, says }) => ({ kind: "battery" as const, says: `is low: ${says}`, thing: name })),
    ...paused.map(([rule, until]) => ({
      kind: "paused" as const,
      says: until === null ? "is paused until somebody resumes it" : "is paused",
      thing: rule,
    })),
    ...[...problems].reverse().map(([text, at]) => ({
      kind: "problem" as const,
      says: `${text.charAt(0).toUpperCase()}${text.slice(1)}.`,
      since: view.instant(at),
    })),
  ];
}

function isPress({ running }: View, sensor: string): boolean {
  return running.house.sensors.some(({ name, type }) => name === sensor && type.kind === "press");
}
