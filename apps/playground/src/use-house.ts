// The house being written: its setup goes to the workers as it changes, what comes back is kept.
import type { ChartDescription } from "@modrik/charts";
import type { Explanation } from "modrik";
import { useCallback, useEffect, useRef, useState } from "react";
import type {
  Answer,
  Colours,
  FromReader,
  FromRunner,
  Look,
  Question,
  Reading,
  Remark,
  Setup,
  ToReader,
  ToRunner,
  TrialLine,
} from "./messages.js";

/** How long a writer pauses before the house is run anew. */
const PAUSE_MS = 120;

const none: readonly Remark[] = [];

export interface Ran {
  readonly about: string;
  readonly trials: readonly TrialLine[];
  readonly ms: number;
}

export interface Explained {
  readonly when: string;
  readonly outputs: readonly Explanation[];
}

export function useHouse(setup: Setup, file: string, look: Look | undefined) {
  const reader = useRef<Worker>(undefined);
  const runner = useRef<Worker>(undefined);
  const id = useRef(0);
  const [colours, setColours] = useState<Colours>();
  const [reading, setReading] = useState<Reading>();
  const [findings, setFindings] = useState<readonly Remark[]>(none);
  const [ran, setRan] = useState<Ran>();
  const [chart, setChart] = useState<ChartDescription>();
  const [explained, setExplained] = useState<Explained>();
  const [working, setWorking] = useState(true);
  const share = useRef<number>(undefined);
  const asked = useRef(new Map<number, (answer: Answer) => void>());
  const questions = useRef(0);

  const send = useCallback((message: ToRunner) => runner.current?.postMessage(message), []);

  useEffect(() => {
    const made = new Worker(new URL("./reading.worker.ts", import.meta.url), { type: "module" });
    made.addEventListener("message", ({ data }: MessageEvent<FromReader>) => {
      if (data.kind === "coloured") setColours(data.colours);
      else if (data.kind === "answer") {
        asked.current.get(data.id)?.(data.answer);
        asked.current.delete(data.id);
      } else if (data.id === id.current) {
        setReading(data.reading);
        setFindings(none);
        if (!data.reading.sound) setWorking(false);
      }
    });
    reader.current = made;
    return () => made.terminate();
  }, []);

  useEffect(() => {
    const made = new Worker(new URL("./simulation.worker.ts", import.meta.url), { type: "module" });
    made.addEventListener("message", ({ data }: MessageEvent<FromRunner>) => {
      if (data.kind === "drawn") setChart(data.chart);
      else if (data.kind === "explained") setExplained(data);
      else if (data.id !== id.current) return;
      else if (data.kind === "checked") setFindings(data.findings);
      else {
        setRan(data);
        setWorking(false);
        if (share.current !== undefined) made.postMessage({ kind: "explain", share: share.current });
      }
    });
    runner.current = made;
    return () => made.terminate();
  }, []);

  useEffect(() => {
    setWorking(true);
    const now = ++id.current;
    const written: ToReader = { kind: "write", id: now, setup, file };
    reader.current?.postMessage(written);
    const timer = setTimeout(() => send({ kind: "run", id: now, setup }), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [setup, file, send]);

  useEffect(() => {
    if (look) send({ kind: "draw", look });
    if (look && share.current !== undefined) send({ kind: "explain", share: share.current });
  }, [look, send]);

  const explain = useCallback(
    (at: number) => {
      share.current = at;
      send({ kind: "explain", share: at });
    },
    [send],
  );

  /** What may stand at a place of a text, or what stands there. */
  const ask = useCallback(
    (question: Question) =>
      new Promise<Answer>((resolve) => {
        const number = ++questions.current;
        asked.current.set(number, resolve);
        const message: ToReader = { kind: "ask", id: number, question };
        reader.current?.postMessage(message);
      }),
    [],
  );

  return { ask, colours, reading, findings, ran, chart, explained, explain, working };
}
