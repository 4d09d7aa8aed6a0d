// What was: a zone's curves with their bands, outputs under what they move; two rooms against their mean; figures, and a file.
import { Button, MultiSelect, SegmentedControl, Select, useComputedColorScheme } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import { Drawn } from "@modrik/look/drawn";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Wrong } from "./acting.js";
import { answered, ask, type Chart, queryOf } from "./ask.js";
import { Figures } from "./figures.js";
import { useHouse } from "./house.js";
import { usePlace } from "./place.js";
import { dayOf, momentOf } from "./say.js";

const DAY = 86_400_000;
const spans = { day: DAY, week: 7 * DAY, month: 31 * DAY } as const;
type SpanName = keyof typeof spans | "other";

/** What the history is of: a zone, or things that were chosen. */
const CHOSEN = "chosen:";

interface Stretch {
  readonly from: number;
  /** Without an end: up to now. */
  readonly to: number | undefined;
}

export function HistoryView() {
  const { now } = useHouse();
  const [{ of = now.zones[0]?.name ?? "" }, go] = usePlace();
  const [span, setSpan] = useState<SpanName>("day");
  const [stretch, setStretch] = useState<Stretch>({ from: 0, to: undefined });
  const theme = useComputedColorScheme("light");
  const { ref, width } = useElementSize();
  const chosen = of.startsWith(CHOSEN) ? of.slice(CHOSEN.length).split(",").filter(Boolean) : undefined;
  const time = Date.parse(now.house.at);
  const to = stretch.to ?? time;
  const from = span === "other" ? stretch.from : to - spans[span];
  // Up to now, a look each minute of the page is enough, or as a good part of the stretch is new.
  const [minute, setMinute] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setMinute((before) => before + 1), 60_000);
    return () => clearInterval(timer);
  }, []);
  const what = chosen ? { of: chosen.join(","), mean: "yes" } : { zone: of };
  const end = stretch.to === undefined ? undefined : new Date(stretch.to).toISOString();
  const begin = span === "other" ? new Date(stretch.from).toISOString() : undefined;
  const size = Math.round(width / 20) * 20;
  const { data, error, isFetching, isPlaceholderData } = useQuery({
    queryKey: [
      "chart",
      what,
      span,
      begin,
      end,
      theme,
      size,
      end === undefined ? `${minute} ${Math.floor((24 * time) / (to - from))}` : "",
    ],
    queryFn: () =>
      ask<Chart>(
        `/chart${queryOf({
          ...what,
          from: begin ?? new Date((stretch.to ?? Date.parse(now.house.at)) - spans[span as keyof typeof spans]).toISOString(),
          to: end,
          theme,
          width: size,
          height: 420,
        })}`,
      ),
    enabled: size >= 200 && (!chosen || chosen.length > 0),
    placeholderData: keepPreviousData,
    retry: false,
  });

  function step(by: number): void {
    const length = to - from;
    const end = to + by * length;
    if (end >= time) setStretch({ from: time - length, to: span === "other" ? time : undefined });
    else setStretch({ from: end - length, to: end });
  }

  return (
    <>
      <div className="fields">
        <Select
          label="Of"
          allowDeselect={false}
          value={chosen ? CHOSEN : of}
          onChange={(value) => value && go({ of: value })}
          data={[
            ...now.zones.map(({ name, title = name }) => ({ value: name, label: title })),
            { value: CHOSEN, label: "chosen things, with their mean" },
          ]}
        />
        {chosen && <Choose chosen={chosen} onChoose={(names) => go({ of: `${CHOSEN}${names.join(",")}` })} />}
        <SegmentedControl
          aria-label="How long"
          value={span}
          onChange={(value) => {
            setSpan(value as SpanName);
            if (value === "other") setStretch({ from, to });
          }}
          data={[
            { value: "day", label: "day" },
            { value: "week", label: "week" },
            { value: "month", label: "month" },
            { value: "other", label: "other" },
          ]}
        />
        <Button variant="default" onClick={() => step(-1)}>
          Earlier
        </Button>
        <Button variant="default" disabled={to >= time} onClick={() => step(1)}>
          Later
        </Button>
        <Download what={what} from={from} to={to} />
      </div>
      {span === "other" && <OtherSpan key={`${from} ${to}`} stretch={{ from, to }} onSet={setStretch} />}
      <p className="quiet" role="status">
        {data ? spanOf(data, now.house.clock) : chosen?.length === 0 ? "Choose at least one thing." : "Asking…"}
        {isFetching && data && " · asking…"}
      </p>
      <Wrong error={error} />
      <div ref={ref} data-old={isPlaceholderData}>
        {data && !error && <Drawn chart={data} label="Moment of the history; arrow keys move it" />}
      </div>
      {data && !error && <Figures figures={data.figures} />}
    </>
  );
}

function spanOf({ from, to }: Chart, zone: string): string {
  return `${momentOf(from, zone, 0)} to ${momentOf(to, zone, dayOf(from, zone) === dayOf(to, zone) ? Date.parse(from) : 0)}`;
}

interface ChooseProps {
  readonly chosen: readonly string[];
  readonly onChoose: (names: readonly string[]) => void;
}

function Choose({ chosen, onChoose }: ChooseProps) {
  const { now, titles } = useHouse();
  const groups = now.zones.map(({ name, title = name, sensors, outputs }) => ({
    group: title,
    items: [...sensors.map((one) => one.name), ...outputs].map((value) => ({ value, label: titles.get(value) ?? value })),
  }));
  return <MultiSelect label="Things" searchable data={groups} value={[...chosen]} onChange={onChoose} hidePickedOptions />;
}

interface OtherSpanProps {
  readonly stretch: { readonly from: number; readonly to: number };
  readonly onSet: (stretch: { readonly from: number; readonly to: number }) => void;
}

/** From when on, until when: on the clock of this device. */
function OtherSpan({ stretch, onSet }: OtherSpanProps) {
  const [from, setFrom] = useState(localOf(stretch.from));
  const [to, setTo] = useState(localOf(stretch.to));
  const [begin, end] = [Date.parse(from), Date.parse(to)];
  const isWrong = !(begin < end);
  return (
    <form
      className="fields"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isWrong) onSet({ from: begin, to: end });
      }}
    >
      <label>
        From <input type="datetime-local" value={from} onChange={({ currentTarget }) => setFrom(currentTarget.value)} />
      </label>
      <label>
        To <input type="datetime-local" value={to} onChange={({ currentTarget }) => setTo(currentTarget.value)} />
      </label>
      <Button type="submit" variant="default" disabled={isWrong}>
        Show
      </Button>
      {isWrong && <span className="wrong">It would end before it begins.</span>}
    </form>
  );
}

function localOf(at: number): string {
  const date = new Date(at);
  return new Date(at - date.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

interface DownloadProps {
  readonly what: Readonly<Record<string, string>>;
  readonly from: number;
  readonly to: number;
}

/** Fetched with the token, which a plain link could not send. */
function Download({ what, from, to }: DownloadProps) {
  const [error, setError] = useState<unknown>();
  const { mean: _, ...chosen } = what;
  async function download(): Promise<void> {
    try {
      const query = queryOf({ ...chosen, from: new Date(from).toISOString(), to: new Date(to).toISOString() });
      const file = await (await answered(`/recording.csv${query}`, "GET", undefined)).blob();
      const link = document.createElement("a");
      link.href = URL.createObjectURL(file);
      link.download = `${Object.values(chosen).join("-") || "house"}-${new Date(from).toISOString().slice(0, 10)}.csv`;
      link.click();
      URL.revokeObjectURL(link.href);
      setError(undefined);
    } catch (failed) {
      setError(failed);
    }
  }
  return (
    <>
      <Button variant="default" onClick={() => void download()}>
        Download CSV
      </Button>
      <Wrong error={error} />
    </>
  );
}
