// What stands now in the house, kept in step with it: fetched when something happens, and its time told from then on.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { ask, type Me, type Now, Refused } from "./ask.js";
import { type Connection, listen } from "./events.js";

/** The house, as the page has it. */
export interface Known {
  readonly now: Now;
  readonly me: Me;
  readonly connection: Connection;
  /** Titles of things by their names. */
  readonly titles: ReadonlyMap<string, string>;
  /** When it was fetched, on the page's own clock. */
  readonly fetchedAt: number;
}

const KnownContext = createContext<Known | undefined>(undefined);

export function useHouse(): Known {
  const known = useContext(KnownContext);
  if (!known) throw new Error("nothing is known of the house yet");
  return known;
}

/** The title of a thing, or its name. */
export function useTitle(): (name: string) => string {
  const { titles } = useHouse();
  return (name) => titles.get(name) ?? name;
}

/** Whether who sits here may change anything. */
export function useMayAct(): boolean {
  const { me, connection } = useHouse();
  return me.may === "act" && connection.kind === "live";
}

/** ms: a sensor that says the same again is not an event, and yet it was heard. */
const AGES = 30_000;
/** ms after which what nothing is shown without is asked again. */
const AGAIN = 5000;
/** ms between two fetches at the least; a slow network sets its own pace beyond that. */
const PACE = 250;

interface HouseProps {
  readonly children: ReactNode;
  /** While nothing is known yet. */
  readonly waiting: (connection: Connection, error: unknown) => ReactNode;
}

export function HouseProvider({ children, waiting }: HouseProps) {
  const [connection, setConnection] = useState<Connection>({ kind: "connecting" });
  const client = useQueryClient();
  const now = useQuery({ queryKey: ["now"], queryFn: () => ask<Now>("/now"), refetchInterval: AGES });
  const me = useQuery({
    queryKey: ["me"],
    queryFn: () => ask<Me>("/me"),
    // Without it nothing is shown: as long as it did not arrive, it is asked again.
    refetchInterval: ({ state }) => state.data === undefined && !isUnknown(state.error) && AGAIN,
  });
  useEffect(() => {
    const fetchNow = paced(() => client.refetchQueries({ queryKey: ["now"] }));
    return listen(fetchNow, (turned) => {
      setConnection(turned);
      // Who was away may have lost the right to look.
      if (turned.kind === "live") void client.refetchQueries({ queryKey: ["me"] });
    });
  }, [client]);
  const titles = useMemo(() => titlesOf(now.data), [now.data]);
  const known = useMemo<Known | undefined>(
    () => now.data && me.data && { now: now.data, me: me.data, connection, titles, fetchedAt: now.dataUpdatedAt },
    [now.data, now.dataUpdatedAt, me.data, connection, titles],
  );
  const refused = [now.error, me.error].find(isUnknown);
  if (!known || refused) return waiting(connection, refused ?? now.error ?? me.error);
  return <KnownContext value={known}>{children}</KnownContext>;
}

/** Whether the house does not know who asks: asking again would not help. */
const isUnknown = (error: unknown) => error instanceof Refused && error.status === 401;

/** Does something at once, and again after a pause if it was asked for meanwhile: never two at a time. */
function paced(act: () => Promise<unknown>): () => void {
  let isBusy = false;
  let again = false;
  const go = async () => {
    isBusy = true;
    const began = performance.now();
    await act().catch(() => {});
    const took = performance.now() - began;
    setTimeout(
      () => {
        isBusy = false;
        if (!again) return;
        again = false;
        void go();
      },
      Math.max(PACE, took),
    );
  };
  return () => {
    if (isBusy) again = true;
    else void go();
  };
}

function titlesOf(now: Now | undefined): ReadonlyMap<string, string> {
  if (!now) return new Map();
  const { zones, outputs, dials, modes, countdowns, schedules } = now;
  const zoneOf = new Map(zones.map(({ name, title }) => [name, title ?? name]));
  const all = [...zones.flatMap(({ sensors }) => sensors), ...outputs, ...dials, ...modes, ...countdowns, ...schedules];
  return new Map(all.map(({ name, title }) => [name, title ?? plainName(name, zoneOf)]));
}

/** `Bench room, temperature` of `bench.temperature`. */
function plainName(name: string, zones: ReadonlyMap<string, string>): string {
  const [zone = "", own] = name.split(".");
  if (own === undefined) return zone.replaceAll("_", " ");
  return `${zones.get(zone) ?? zone}, ${own.replaceAll("_", " ")}`;
}

// ── Time ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

const seconds = (() => {
  let second = Math.floor(Date.now() / 1000);
  const told = new Set<() => void>();
  setInterval(() => {
    second = Math.floor(Date.now() / 1000);
    for (const tell of told) tell();
  }, 1000);
  return {
    subscribe: (tell: () => void) => {
      told.add(tell);
      return () => told.delete(tell);
    },
    now: () => second,
  };
})();

/** The time of the house, a second at a time; while it is not heard, it stands. */
export function useHouseTime(): number {
  const { now, fetchedAt, connection } = useHouse();
  useSyncExternalStore(seconds.subscribe, seconds.now);
  const began = Date.parse(now.house.at);
  const latest = useRef(began);
  if (connection.kind === "live") latest.current = began + Math.max(0, Date.now() - fetchedAt) * now.house.speed;
  return latest.current;
}
