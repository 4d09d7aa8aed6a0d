// All that stands now: what wants attention, the house's modes, and zone by zone what is measured and what is done about it.
import { Button } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useAct, Wrong } from "./acting.js";
import { ask, type Coming, type Concern, type Notice } from "./ask.js";
import { useHouse, useHouseTime, useMayAct, useTitle } from "./house.js";
import { usePlace } from "./place.js";
import { lengthOf, momentOf } from "./say.js";
import { ZoneSection } from "./zone.js";

export function NowView() {
  const { now } = useHouse();
  return (
    <>
      <Attention />
      <HouseLine />
      <div className="zones">
        {now.zones.map((zone) => (
          <ZoneSection key={zone.name} zone={zone} />
        ))}
        <ComingUp />
      </div>
    </>
  );
}

/** As a house starts, many sensors are still unknown: more than so many are one line. */
const FEW = 4;

function Attention() {
  const { now } = useHouse();
  const { notices } = now;
  const unknown = now.concerns.filter(({ kind }) => kind === "unknown");
  const isFolded = unknown.length > FEW;
  const concerns = isFolded ? now.concerns.filter(({ kind }) => kind !== "unknown") : now.concerns;
  if (now.concerns.length + notices.length === 0) return <p className="fine quiet">Nothing wants attention.</p>;
  return (
    <section className="attention" aria-label="Wants attention">
      <ul>
        {concerns.map((concern) => (
          <ConcernLine key={`${concern.kind} ${concern.thing ?? ""} ${concern.says}`} concern={concern} />
        ))}
        {isFolded && (
          <li>
            <details>
              <summary className="doubtful">{unknown.length} sensors have sent no valid reading for too long</summary>
              <ul>
                {unknown.map((concern) => (
                  <ConcernLine key={concern.thing} concern={concern} />
                ))}
              </ul>
            </details>
          </li>
        )}
        {notices.map((notice) => (
          <NoticeLine key={notice.id} notice={notice} />
        ))}
      </ul>
    </section>
  );
}

const grave: ReadonlySet<Concern["kind"]> = new Set(["broker", "storage", "disobeys"]);

function ConcernLine({ concern: { kind, says, thing, since } }: { readonly concern: Concern }) {
  const { now } = useHouse();
  const time = useHouseTime();
  const title = useTitle();
  const [, go] = usePlace();
  return (
    <li>
      <span className={grave.has(kind) ? "wrong" : "doubtful"}>
        {thing !== undefined && kind === "paused" ? `Rule ${thing} ` : ""}
        {thing !== undefined && kind !== "paused" && (
          <button type="button" className="link" onClick={() => go({ open: thing })}>
            {title(thing)}
          </button>
        )}{" "}
        {says}
      </span>{" "}
      {since !== undefined && <span className="quiet">{momentOf(since, now.house.clock, time)}</span>}
    </li>
  );
}

function NoticeLine({ notice: { id, at, text, sentTo } }: { readonly notice: Notice }) {
  const { now } = useHouse();
  const time = useHouseTime();
  const mayAct = useMayAct();
  const [, go] = usePlace();
  const { act, isPending, error } = useAct();
  return (
    <li>
      <span className="quiet">{momentOf(at, now.house.clock, time)}</span> {text}{" "}
      <span className="quiet">{sentTo.length > 0 ? `sent to ${sentTo.join(", ")}` : "sent to nobody: no way is wired"}</span>{" "}
      <button type="button" className="link" onClick={() => go({ view: "log", of: `notice ${id}` })}>
        why
      </button>{" "}
      <Button
        variant="default"
        size="compact-xs"
        disabled={!mayAct || isPending}
        onClick={() => act({ path: `/notices/${id}/ticked`, method: "PUT", body: {}, says: `Ticked off: ${text}` })}
      >
        Tick off
      </Button>
      <Wrong error={error} />
    </li>
  );
}

/** Modes, dials of the whole house, countdowns, schedules. */
function HouseLine() {
  const { now } = useHouse();
  const time = useHouseTime();
  const title = useTitle();
  const [, go] = usePlace();
  const { modes, dials, countdowns, schedules, house } = now;
  const say = (instant: string) => momentOf(instant, house.clock, time);
  return (
    <ul className="line" aria-label="The house">
      {modes.map(({ name, value }) => (
        <Entry key={name} name={title(name)} value={value} onOpen={() => go({ open: name })} />
      ))}
      {dials
        .filter(({ name }) => !name.includes("."))
        .map(({ name, says }) => (
          <Entry key={name} name={title(name)} value={says} onOpen={() => go({ open: name })} />
        ))}
      {countdowns.map(({ name, running, until }) => (
        <Entry
          key={name}
          name={title(name)}
          value={running && until ? `${lengthOf(Date.parse(until) - time)} left` : "not running"}
          lit={running}
          onOpen={() => go({ open: name })}
        />
      ))}
      {schedules
        .filter(({ open }) => open)
        .map(({ name, until }) => (
          <Entry
            key={name}
            name={title(name)}
            value={until === null ? "always" : `until ${say(until)}`}
            onOpen={() => go({ open: name })}
          />
        ))}
    </ul>
  );
}

interface EntryProps {
  readonly name: string;
  readonly value: string;
  readonly lit?: boolean;
  readonly onOpen: () => void;
}

function Entry({ name, value, lit = false, onOpen }: EntryProps) {
  return (
    <li>
      <button type="button" className="entry" data-lit={lit} onClick={onOpen}>
        <span className="quiet">{name}</span> <strong>{value}</strong>
      </button>
    </li>
  );
}

/** ms of the page between two looks ahead. */
const AHEAD = 60_000;
const SHOWN = 8;

/** What comes by itself. */
function ComingUp() {
  const { now } = useHouse();
  const time = useHouseTime();
  const title = useTitle();
  const [, go] = usePlace();
  const { data } = useQuery({
    queryKey: ["coming"],
    queryFn: () => ask<Coming[]>("/coming"),
    refetchInterval: AHEAD,
    retry: false,
  });
  const ahead = (data ?? []).filter(({ at }) => Date.parse(at) > time).slice(0, SHOWN);
  if (ahead.length === 0) return null;
  return (
    <section className="zone" aria-labelledby="coming">
      <h2 id="coming">What comes next</h2>
      <ul className="rows">
        {ahead.map(({ at, thing, says, because }) => (
          <li key={thing}>
            <button type="button" className="row" title={because} onClick={() => go({ open: thing })}>
              <span>
                <span className="quiet">{momentOf(at, now.house.clock, time)}</span> {title(thing)}
              </span>
              <span className="value">{says}</span>
            </button>
          </li>
        ))}
      </ul>
      <p className="quiet small">If every sensor goes on saying what it says.</p>
    </section>
  );
}
