// A stretch of the past, drawn; a cursor reads what everything was at a moment.
import { type Drawing, drawIn, type Reading, sayReading } from "@modrik/charts";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { Chart } from "./ask.js";
import { clockOf, dayOf } from "./say.js";

/** Of the whole: a step of the cursor. */
const STEP = 1 / 288;

export function Drawn({ chart }: { readonly chart: Chart }) {
  const element = useRef<HTMLDivElement>(null);
  const drawing = useRef<Drawing>(undefined);
  const [share, setShare] = useState<number>();
  const [from, to] = axisOf(chart);

  useEffect(() => {
    const place = element.current as HTMLDivElement;
    const made = drawIn(place);
    drawing.current = made;
    const observer = new ResizeObserver(() => made.resize());
    observer.observe(place);
    return () => {
      observer.disconnect();
      made.dispose();
    };
  }, []);

  useEffect(() => {
    const made = drawing.current;
    if (!made) return;
    made.resize();
    made.setOption(chart.options, true);
    const move = ({ offsetX }: { offsetX: number }) => {
      const at = made.convertFromPixel({ xAxisIndex: 0 }, offsetX) as unknown as number;
      if (Number.isFinite(at)) setShare(Math.min(1, Math.max(0, (at - from) / (to - from))));
    };
    const zr = made.getZr();
    zr.on("mousemove", move);
    zr.on("click", move);
    return () => {
      zr.off("mousemove", move);
      zr.off("click", move);
    };
  }, [chart, from, to]);

  function onKeyDown(event: KeyboardEvent): void {
    const step = { ArrowLeft: -STEP, ArrowRight: STEP, PageUp: -12 * STEP, PageDown: 12 * STEP }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    const next = Math.min(1, Math.max(0, (share ?? 1) + step));
    setShare(next);
    drawing.current?.point(from + next * (to - from));
  }

  const at = share === undefined ? undefined : from + share * (to - from);
  const readings = chart.readings as unknown as readonly Reading[];
  return (
    <div className="drawn">
      <div
        className="chart"
        ref={element}
        style={{ height: chart.height }}
        role="slider"
        tabIndex={0}
        aria-label="Moment of the history; arrow keys move it"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(100 * (share ?? 1))}
        aria-valuetext={at === undefined ? "no moment chosen" : momentAt(at)}
        onKeyDown={onKeyDown}
      />
      <section className="read" aria-label="Values at the cursor">
        <h2>{at === undefined ? "Point at the chart, or use the arrow keys" : momentAt(at)}</h2>
        {at !== undefined && <Values readings={readings} at={at} />}
      </section>
    </div>
  );
}

/** The axis reads the house's own clock as if it were UTC. */
const momentAt = (at: number) => `${dayOf(at, "UTC")}, ${clockOf(at, "UTC")}`;

function axisOf({ options }: Chart): readonly [from: number, to: number] {
  const [axis] = (options.xAxis ?? []) as readonly { readonly min: number; readonly max: number }[];
  return [axis?.min ?? 0, axis?.max ?? 1];
}

function Values({ readings, at }: { readonly readings: readonly Reading[]; readonly at: number }) {
  return (
    <dl>
      {readings.map((reading) => {
        const says = sayReading(reading, at);
        if (says === undefined) return null;
        return (
          <div key={`${reading.section} ${reading.name}`}>
            <dt>{reading.name}</dt>
            <dd>
              {reading.colour && says !== "unknown" && (
                <span className="swatch" style={{ background: says }} aria-hidden="true" />
              )}
              {says}
            </dd>
          </div>
        );
      })}
    </dl>
  );
}
