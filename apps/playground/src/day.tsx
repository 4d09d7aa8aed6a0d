// The simulated day, drawn; a click or the arrow keys choose a moment to be explained.
import { type ChartDescription, type Drawing, drawIn } from "@modrik/charts";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";

interface DayProps {
  readonly chart: ChartDescription | undefined;
  readonly stale: boolean;
  readonly onSize: (width: number, height: number) => void;
  /** A share of the day, from 0 to 1. */
  readonly onMoment: (share: number) => void;
}

/** Five minutes of a day. */
const STEP = 1 / 288;

export function Day({ chart, stale, onSize, onMoment }: DayProps) {
  const element = useRef<HTMLDivElement>(null);
  const drawing = useRef<Drawing>(undefined);
  const size = useRef(onSize);
  const choose = useRef<(share: number) => void>(() => {});
  const [share, setShare] = useState(0.5);
  size.current = onSize;
  choose.current = (wanted) => {
    const kept = Math.min(1, Math.max(0, wanted));
    setShare(kept);
    onMoment(kept);
  };

  useEffect(() => {
    const place = element.current as HTMLDivElement;
    const made = drawIn(place);
    drawing.current = made;
    made.getZr().on("click", ({ offsetX }: { offsetX: number }) => {
      const at = made.convertFromPixel({ xAxisIndex: 0 }, offsetX) as unknown as number;
      const [from, to] = spanOf(made);
      choose.current((at - from) / (to - from));
    });
    const observer = new ResizeObserver(() => {
      made.resize();
      size.current(place.clientWidth, place.clientHeight);
    });
    observer.observe(place);
    return () => {
      observer.disconnect();
      made.dispose();
    };
  }, []);

  useEffect(() => {
    if (chart) drawing.current?.setOption(chart, true);
  }, [chart]);

  function onKeyDown(event: KeyboardEvent): void {
    const step = { ArrowLeft: -STEP, ArrowRight: STEP, PageUp: -12 * STEP, PageDown: 12 * STEP }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    choose.current(share + step);
  }

  return (
    <div
      className="day"
      data-stale={stale}
      ref={element}
      role="slider"
      tabIndex={0}
      aria-label="Moment of the simulated day; arrow keys move it"
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(100 * share)}
      onKeyDown={onKeyDown}
    />
  );
}

function spanOf(drawing: Drawing): [number, number] {
  const { xAxis } = (drawing as unknown as { getOption(): { xAxis: { min: number; max: number }[] } }).getOption();
  return [xAxis[0]?.min ?? 0, xAxis[0]?.max ?? 1];
}
