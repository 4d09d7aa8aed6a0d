// A chart in a page: a cursor reads what everything was at a moment, by pointer and by keys; the same in words below it.
import { type Chart, type Drawing, drawIn, type Reading, sayReading, tellReadings } from "@modrik/charts";
import { type KeyboardEvent, type ReactNode, useEffect, useEffectEvent, useLayoutEffect, useMemo, useRef, useState } from "react";
import { fineness, momentAt } from "./moment.js";

/** Of the whole: a step of the cursor. */
const STEP = 1 / 288;
const steps: Readonly<Record<string, number>> = { ArrowLeft: -1, ArrowRight: 1, PageUp: -12, PageDown: 12, Home: -288, End: 288 };

export interface DrawnProps {
  readonly chart: Pick<Chart, "options" | "height"> & { readonly readings?: unknown; readonly rows?: unknown };
  /** What the cursor is, for who cannot see it. */
  readonly label: string;
  /** What is drawn is no longer so. */
  readonly stale?: boolean;
  /** Where the cursor is put from outside, from 0 to 1. */
  readonly share?: number | undefined;
  /** The cursor was moved, by pointer or keys. */
  readonly onShare?: (share: number) => void;
  /** Somebody clicked or pressed Enter there; on what, where something is. */
  readonly onChoose?: (share: number, thing: string | undefined) => void;
  /** Somebody chose a thing among the values. */
  readonly onThing?: (thing: string) => void;
  /** Stands above the values. */
  readonly children?: ReactNode;
}

const between = (share: number) => Math.min(1, Math.max(0, share));

export function Drawn({ chart, label, stale = false, share: put, onShare, onChoose, onThing, children }: DrawnProps) {
  const element = useRef<HTMLDivElement>(null);
  const drawing = useRef<Drawing>(undefined);
  const [share, setShare] = useState<number | undefined>(put);
  const [from, to] = axisOf(chart);
  const readings = (chart.readings ?? []) as readonly Reading[];
  const rows = (chart.rows ?? []) as NonNullable<Chart["rows"]>;
  const shareAt = (made: Drawing, offsetX: number) => {
    const at = made.convertFromPixel({ xAxisIndex: 0 }, offsetX) as unknown as number;
    return Number.isFinite(at) ? between((at - from) / (to - from)) : undefined;
  };
  const pointed = useEffectEvent((made: Drawing, offsetX: number) => {
    const at = shareAt(made, offsetX);
    if (at !== undefined) setShare(at);
  });
  const clicked = useEffectEvent((made: Drawing, offsetX: number, offsetY: number) => {
    const at = shareAt(made, offsetX);
    if (at === undefined) return;
    setShare(at);
    const row = rows.find(({ top, height }) => offsetY >= top && offsetY <= top + height);
    onShare?.(at);
    onChoose?.(at, row?.things.length === 1 ? row.things[0] : undefined);
  });
  const drawCursor = useEffectEvent((made: Drawing, of = share) => {
    if (of !== undefined) made.point(momentAt(from, to, of));
  });

  // Drawn before anything is painted: what watches its size would else draw the chart before once more.
  useLayoutEffect(() => {
    const place = element.current as HTMLDivElement;
    const made = drawIn(place);
    drawing.current = made;
    const observer = new ResizeObserver(() => made.fit());
    observer.observe(place);
    const zr = made.getZr();
    zr.on("mousemove", ({ offsetX }: { offsetX: number }) => pointed(made, offsetX));
    // Values that are read stay when a pointer leaves, and so does the cursor.
    zr.on("globalout", () => queueMicrotask(() => drawCursor(made)));
    zr.on("click", ({ offsetX, offsetY }: { offsetX: number; offsetY: number }) => clicked(made, offsetX, offsetY));
    return () => {
      observer.disconnect();
      made.dispose();
    };
  }, []);

  useLayoutEffect(() => {
    const made = drawing.current;
    if (!made) return;
    made.draw(chart.options);
    // Of the chart before, it stands at another instant.
    drawCursor(made);
  }, [chart]);

  useEffect(() => {
    if (put === undefined) return;
    setShare(put);
    if (drawing.current) drawCursor(drawing.current, put);
  }, [put]);

  function onKeyDown(event: KeyboardEvent): void {
    if (event.key === "Enter" && share !== undefined) return onChoose?.(share, undefined);
    const step = steps[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const next = between((share ?? 0.5) + step * STEP);
    setShare(next);
    if (drawing.current) drawCursor(drawing.current, next);
    onShare?.(next);
  }

  const at = share === undefined ? undefined : momentAt(from, to, share);
  const when = at === undefined ? undefined : sayMoment(at, fineness(from, to));
  return (
    <div className="drawn" data-stale={stale}>
      <div
        className="chart"
        ref={element}
        style={{ height: chart.height }}
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * (share ?? 0.5))}
        aria-valuetext={when ?? "no moment chosen"}
        onKeyDown={onKeyDown}
      />
      <section className="read" aria-label="Values at the cursor">
        <h2>{when ?? "Point at the chart, or use the arrow keys"}</h2>
        {children}
        {at !== undefined && <Values readings={readings} at={at} {...(onThing && { onThing })} />}
      </section>
      <InWords readings={readings} from={from} to={to} />
    </div>
  );
}

/** A chart without a cursor. */
export function Plain({ chart, label }: { readonly chart: Pick<Chart, "options" | "height">; readonly label: string }) {
  const element = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const made = drawIn(element.current as HTMLDivElement);
    made.draw(chart.options);
    return () => made.dispose();
  }, [chart]);
  return <div className="chart" ref={element} style={{ height: chart.height }} role="img" aria-label={label} />;
}

/** The axis reads the house's own clock as if it were UTC. */
const day = new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", weekday: "short", day: "numeric", month: "short" });

const sayMoment = (at: number, step: number) =>
  `${day.format(at).replace(",", "")}, ${new Date(at).toISOString().slice(11, step < 60_000 ? 19 : 16)}`;

function axisOf({ options }: DrawnProps["chart"]): readonly [from: number, to: number] {
  const [axis] = (options.xAxis ?? []) as readonly { readonly min: number; readonly max: number }[];
  return [axis?.min ?? 0, axis?.max ?? 1];
}

interface ValuesProps {
  readonly readings: readonly Reading[];
  readonly at: number;
  readonly onThing?: (thing: string) => void;
}

function Values({ readings, at, onThing }: ValuesProps) {
  return (
    <dl>
      {readings.map((reading) => {
        const says = sayReading(reading, at);
        const { section, name, thing, colour } = reading;
        if (says === undefined) return null;
        return (
          <div key={`${section} ${name}`}>
            <dt>
              {onThing && thing !== undefined ? (
                <button type="button" className="plain" onClick={() => onThing(thing)}>
                  {name}
                </button>
              ) : (
                name
              )}
            </dt>
            <dd>
              {colour && says !== "unknown" && <span className="swatch" style={{ background: says }} aria-hidden="true" />}
              {says}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}

interface InWordsProps {
  readonly readings: readonly Reading[];
  readonly from: number;
  readonly to: number;
}

/** Reckoned when somebody wants it. */
function InWords({ readings, from, to }: InWordsProps) {
  const [isOpen, setOpen] = useState(false);
  const told = useMemo(() => (isOpen ? tellReadings(readings, from, to) : []), [isOpen, readings, from, to]);
  if (readings.length === 0) return null;
  return (
    <details className="words" onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary>The chart in words</summary>
      <dl>
        {told.map(({ section, name, says }) => (
          <div key={`${section} ${name}`}>
            <dt>
              {section}, {name}
            </dt>
            <dd>{says}</dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
