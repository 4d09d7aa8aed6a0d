// The house being written: its wish goes to the worker as it changes, what comes back is kept.
import type { ChartDescription } from "@modrik/charts";
import type { Explanation } from "modrik";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Answer, FromWorker, Look, Question, Reading, Remark, ToWorker, TrialLine, Wish } from "./messages.js";

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

export function useHouse(wish: Wish, look: Look | undefined) {
  const worker = useRef<Worker>(undefined);
  const id = useRef(0);
  const [reading, setReading] = useState<Reading>();
  const [findings, setFindings] = useState<readonly Remark[]>(none);
  const [ran, setRan] = useState<Ran>();
  const [chart, setChart] = useState<ChartDescription>();
  const [explained, setExplained] = useState<Explained>();
  const [working, setWorking] = useState(true);
  const share = useRef<number>(undefined);
  const asked = useRef(new Map<number, (answer: Answer) => void>());
  const questions = useRef(0);

  const send = useCallback((message: ToWorker) => worker.current?.postMessage(message), []);

  useEffect(() => {
    const made = new Worker(new URL("./simulation.worker.ts", import.meta.url), { type: "module" });
    made.addEventListener("message", ({ data }: MessageEvent<FromWorker>) => {
      if (data.kind === "drawn") setChart(data.chart);
      else if (data.kind === "explained") setExplained(data);
      else if (data.kind === "answer") {
        asked.current.get(data.id)?.(data.answer);
        asked.current.delete(data.id);
      } else if (data.id !== id.current) return;
      else if (data.kind === "read") {
        setReading(data.reading);
        setFindings(none);
        setWorking(data.reading.sound);
      } else if (data.kind === "checked") setFindings(data.findings);
      else {
        setRan(data);
        setWorking(false);
        if (share.current !== undefined) made.postMessage({ kind: "explain", share: share.current });
      }
    });
    worker.current = made;
    return () => made.terminate();
  }, []);

  useEffect(() => {
    setWorking(true);
    const timer = setTimeout(() => send({ kind: "run", id: ++id.current, wish }), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [wish, send]);

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
        send({ kind: "ask", id: number, question });
      }),
    [send],
  );

  return { ask, reading, findings, ran, chart, explained, explain, working };
}
