// What happened, latest first: filtered by kind or thing, each line opens its cause.
import { Button, MultiSelect, Select } from "@mantine/core";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Wrong } from "./acting.js";
import { ask, type Entry, queryOf } from "./ask.js";
import { useHouse, useHouseTime, useTitle } from "./house.js";
import { usePlace } from "./place.js";
import { clockOf, dayOf } from "./say.js";
import { Why } from "./why.js";

const kinds: readonly { readonly value: Entry["kind"]; readonly label: string }[] = [
  { value: "output", label: "outputs" },
  { value: "person", label: "people" },
  { value: "notice", label: "notices" },
  { value: "problem", label: "problems" },
  { value: "mode", label: "modes" },
  { value: "dial", label: "dials" },
  { value: "message", label: "messages" },
  { value: "silence", label: "silences" },
  { value: "reading", label: "readings" },
];

/** Readings are many: they are shown when they are asked for. */
const usual = ["output", "person", "notice", "problem", "mode", "dial", "silence"];

const DAY = 86_400_000;
const LIMIT = 500;

export function LogView() {
  const [{ of = "" }, go] = usePlace();
  const { now } = useHouse();
  const title = useTitle();
  const [shown, setShown] = useState(usual);
  const thing = of.startsWith("notice ") ? "" : of;
  const { data, error, fetchNextPage, isFetching, refetch } = useInfiniteQuery({
    queryKey: ["journal", shown, thing],
    initialPageParam: undefined as number | undefined,
    queryFn: ({ pageParam: to = Date.parse(now.house.at) }) => pageOf(to, shown, thing),
    getNextPageParam: ({ from }) => from,
  });
  const entries = (data?.pages ?? []).flatMap((page) => page.entries);
  const things = [...now.outputs, ...now.modes, ...now.dials, ...now.zones.flatMap(({ sensors }) => sensors)].map(({ name }) => ({
    value: name,
    label: title(name),
  }));
  return (
    <>
      {of.startsWith("notice ") && (
        <section className="part" aria-label="Why this notice">
          <h2>Why this notice</h2>
          <Why notice={Number(of.slice("notice ".length))} />
        </section>
      )}
      <div className="fields">
        <MultiSelect label="What" data={[...kinds]} value={shown} onChange={setShown} hidePickedOptions={false} />
        <Select
          label="Of"
          placeholder="everything"
          clearable
          searchable
          data={dedupe(things)}
          value={thing === "" ? null : thing}
          onChange={(name) => go({ of: name ?? undefined })}
        />
        <Button variant="default" loading={isFetching} onClick={() => void refetch()}>
          Look again
        </Button>
      </div>
      <Wrong error={error} />
      {!isFetching && entries.length === 0 && !error && <p className="quiet">Nothing of that in this time.</p>}
      <Days entries={entries} />
      <Button variant="default" disabled={isFetching} onClick={() => void fetchNextPage()}>
        Earlier
      </Button>
    </>
  );
}

/** Names may be used by a mode and a dial alike: each stands once. */
function dedupe<Item extends { readonly value: string }>(items: readonly Item[]): Item[] {
  return [...new Map(items.map((item) => [item.value, item])).values()];
}

/**
 * A day of it up to an instant, that included, or the latest of that day where there is more; with where the page before it
 * ends. What stood at its beginning is not an event of it.
 */
async function pageOf(to: number, shown: readonly string[], of: string) {
  const from = new Date(to - DAY).toISOString();
  if (shown.length === 0) return { entries: [], from: to - DAY };
  const query = queryOf({ from, to: new Date(to).toISOString(), limit: LIMIT, kinds: shown.join(","), of: of || undefined });
  const all = await ask<Entry[]>(`/journal${query}`);
  // Where it is cut, its first instant may be cut in two: that is of the page before it.
  const begins = all.length === LIMIT ? (all[0]?.at ?? from) : from;
  return { entries: all.filter(({ at }) => at !== begins).reverse(), from: Date.parse(begins) };
}

function Days({ entries }: { readonly entries: readonly Entry[] }) {
  const { now } = useHouse();
  const days = new Map<string, Entry[]>();
  for (const entry of entries) {
    const day = dayOf(entry.at, now.house.clock);
    days.set(day, [...(days.get(day) ?? []), entry]);
  }
  return [...days].map(([day, list]) => (
    <section key={day} aria-labelledby={`day-${day}`}>
      <h2 id={`day-${day}`}>{day}</h2>
      <ul className="log">
        {list.map((entry, place) => (
          <Line key={`${entry.at} ${entry.kind} ${entry.thing} ${place}`} entry={entry} />
        ))}
      </ul>
    </section>
  ));
}

function Line({ entry }: { readonly entry: Entry }) {
  const { now } = useHouse();
  const time = useHouseTime();
  const title = useTitle();
  const [isOpen, setOpen] = useState(false);
  const { at, kind, thing, cause, who } = entry;
  const asked = kind === "output" || kind === "mode" || kind === "dial" || kind === "silence" ? thing : entry.rule;
  const canOpen = asked !== undefined && Date.parse(at) <= time;
  const says = sayEntry(entry, title);
  return (
    <li>
      <button type="button" className="row log-line" aria-expanded={isOpen} disabled={!canOpen} onClick={() => setOpen(!isOpen)}>
        <time className="quiet" dateTime={at}>
          {clockOf(at, now.house.clock, true)}
        </time>
        <span>
          {says} {who !== undefined && <span className="quiet">{who}</span>}{" "}
          {cause && <span className="quiet reason">{cause}</span>}
        </span>
      </button>
      {isOpen && asked !== undefined && <Why of={asked} at={at} />}
    </li>
  );
}

function sayEntry({ kind, thing = "", value, unit }: Entry, title: (name: string) => string) {
  const shown = typeof value === "number" ? `${Number(value.toPrecision(4))}${unit ? ` ${unit}` : ""}` : (value ?? "unknown");
  switch (kind) {
    case "notice":
      return <>“{shown}”</>;
    case "problem":
      return <span className="doubtful">{shown}</span>;
    case "message":
      return (
        <>
          “{shown}” to {thing}
        </>
      );
    case "silence":
      return <span className="doubtful">{title(thing)} fell silent</span>;
    case "person":
      return <>{shown}</>;
    default:
      return (
        <>
          {title(thing)} <strong>{shown}</strong>
        </>
      );
  }
}
