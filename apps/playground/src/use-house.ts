// The house on the desk: its setup goes to the workers as it changes, what comes back is kept until something newer comes.
import type { Chart } from "@modrik/charts";
import type { Explanation, NumberLine } from "modrik";
import { startTransition, useCallback, useEffect, useMemo, useReducer, useRef } from "react";
import type {
  Answer,
  Colours,
  Comparison,
  Distribution,
  FromJudge,
  FromReader,
  FromRunner,
  Look,
  Question,
  Ran,
  Reading,
  RecordingInfo,
  Remark,
  Said,
  Setup,
  Subject,
  ToJudge,
  ToReader,
  ToRunner,
  TrialLine,
  TuningResult,
  UntestedPoint,
} from "./messages.js";

export interface Explained {
  readonly when: string;
  readonly share: number;
  readonly thing: string | undefined;
  readonly said: readonly Said[];
}

/** All that came back. */
export interface Known {
  readonly colours?: Colours;
  readonly reading?: Reading;
  readonly findings: readonly Remark[];
  readonly lines: readonly NumberLine[];
  readonly ran?: Ran;
  readonly chart?: Chart;
  readonly explained?: Explained;
  readonly next?: { readonly thing: string; readonly share: number; readonly says: Explanation };
  readonly compared?: { readonly comparison: Comparison | undefined; readonly broken?: string };
  readonly proposed?: { readonly head: string; readonly offers: readonly string[]; readonly broken?: string } | undefined;
  readonly recorded?: { readonly recording: RecordingInfo | undefined; readonly broken?: string };
  readonly distributed?: { readonly distribution: Distribution | undefined; readonly broken?: string };
  readonly trials: readonly TrialLine[];
  /** Whether all of the latest have been judged. */
  readonly isJudged: boolean;
  readonly covered?:
    | { readonly share: number; readonly tested?: number; readonly untested?: readonly UntestedPoint[] }
    | undefined;
  readonly tuned?: { readonly share: number; readonly result?: TuningResult; readonly broken?: string } | undefined;
  readonly proven?: { readonly id: number; readonly trials: readonly TrialLine[]; readonly problems: readonly string[] };
  /** What is shown is not yet that of what is written. */
  readonly isWorking: boolean;
  /** How far a long run is, from 0 to 1. */
  readonly progress?: number | undefined;
  /** What broke in a worker: a fault of ours, that must not pass unseen. */
  readonly fault?: string | undefined;
}

/** What says nothing new is no change: nothing is drawn for it. */
function withNews(before: Known, news: Partial<Known>): Known {
  const isNew = Object.entries(news).some(([name, value]) => before[name as keyof Known] !== value);
  return isNew ? { ...before, ...news } : before;
}

const nothing: Known = { findings: [], lines: [], trials: [], isJudged: false, isWorking: true };

function start(name: string, onFault: (fault: string) => void): Worker {
  const worker = new Worker(new URL("./house.worker.ts", import.meta.url), { type: "module", name });
  worker.addEventListener("error", ({ message }) => onFault(message || `the worker that ${name} could not be fetched`));
  return worker;
}

/** A message without its number. */
type Numberless<Message> = Message extends { readonly id: number } ? Omit<Message, "id"> : Message;

export interface House extends Known {
  readonly ask: (question: Question) => Promise<Answer>;
  readonly toRunner: (message: Numberless<ToRunner>) => void;
  readonly toJudge: (message: Numberless<ToJudge>) => number;
  /** Something that came back is no longer wanted. */
  readonly forget: (what: Partial<Known>) => void;
}

export function useHouse(setup: Setup, subject: Subject, file: string, look: Look | undefined): House {
  const [known, learn] = useReducer(withNews, nothing);
  const reader = useRef<Worker>(undefined);
  const runner = useRef<Worker>(undefined);
  const judge = useRef<Worker>(undefined);
  const id = useRef(0);
  const asked = useRef(new Map<number, (answer: Answer) => void>());
  const questions = useRef(0);

  // What the worker that runs has to know besides the run: told again to one that takes its place.
  const standing = useRef(new Map<string, Numberless<ToRunner>>());
  const longRun = useRef(false);

  const startRunner = useCallback(() => {
    runner.current?.terminate();
    runner.current = start("runs", (fault) => learn({ fault, isWorking: false }));
    runner.current.addEventListener("message", ({ data }: MessageEvent<FromRunner>) => {
      if (data.kind === "ran" && data.ran.id === id.current) longRun.current = false;
      // Of what is drawn nobody who writes has to wait.
      startTransition(() => learn(newsOfRun(data, id.current)));
    });
    for (const message of standing.current.values()) runner.current.postMessage(message);
  }, []);
  const toRunner = useCallback(
    (message: Numberless<ToRunner>) => {
      if (message.kind !== "run") {
        if (message.kind === "draw" || message.kind === "beside" || message.kind === "open recording")
          standing.current.set(message.kind, message);
        runner.current?.postMessage(message);
        return;
      }
      // Many days are not waited for once something else is wanted.
      if (longRun.current) startRunner();
      longRun.current = message.setup.days > 1;
      runner.current?.postMessage({ ...message, id: id.current });
    },
    [startRunner],
  );
  const toJudge = useCallback((message: Numberless<ToJudge>) => {
    const number = message.kind === "judge" ? id.current : ++questions.current;
    judge.current?.postMessage({ ...message, id: number });
    return number;
  }, []);

  useEffect(() => {
    reader.current = start("reads", (fault) => learn({ fault }));
    startRunner();
    judge.current = start("judges", (fault) => learn({ fault }));
    reader.current.addEventListener("message", ({ data }: MessageEvent<FromReader>) => {
      if (data.kind === "coloured") learn({ colours: data.colours });
      else if (data.kind === "answer") {
        asked.current.get(data.id)?.(data.answer);
        asked.current.delete(data.id);
      } else if (data.id === id.current) {
        const isBroken = !data.reading.sound;
        learn({ reading: data.reading, ...(isBroken && { findings: [], isWorking: false }) });
      }
    });
    judge.current.addEventListener("message", ({ data }: MessageEvent<FromJudge>) => learn(newsOfJudging(data, id.current)));
    return () => {
      for (const one of [reader, runner, judge]) one.current?.terminate();
    };
  }, [startRunner]);

  useEffect(() => {
    const now = ++id.current;
    learn({ isWorking: true, isJudged: false, progress: undefined, fault: undefined });
    const written: ToReader = { kind: "write", id: now, setup, file };
    reader.current?.postMessage(written);
    toRunner({ kind: "run", setup, subject });
  }, [setup, subject, file, toRunner]);

  // What is opened is shown first, and judged then: few machines have a core for each.
  const isShown = known.ran !== undefined;
  // biome-ignore lint/correctness/useExhaustiveDependencies: judged again with each number that is given above
  useEffect(() => {
    if (isShown) toJudge({ kind: "judge", setup });
  }, [isShown, setup, subject, file, toJudge]);

  useEffect(() => {
    if (look) toRunner({ kind: "draw", look });
  }, [look, toRunner]);

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

  return useMemo(() => ({ ...known, ask, toRunner, toJudge, forget: learn }), [known, ask, toRunner, toJudge]);
}

function newsOfRun(data: FromRunner, latest: number): Partial<Known> {
  switch (data.kind) {
    case "progress":
      return data.id === latest ? { progress: data.share } : {};
    case "drawn":
      return { chart: data.chart };
    case "ran":
      return data.ran.id === latest ? { ran: data.ran, isWorking: false, progress: undefined } : {};
    case "explained":
      return { explained: data };
    case "next":
      return { next: data };
    case "compared":
      return { compared: data };
    case "proposed":
      return { proposed: data };
    case "recording":
      return { recorded: data };
    case "distributed":
      return { distributed: data };
    default:
      throw new RangeError(`no such message: ${JSON.stringify(data satisfies never)}`);
  }
}

function newsOfJudging(data: FromJudge, latest: number): Partial<Known> {
  switch (data.kind) {
    case "judged":
      return data.id === latest ? { trials: data.trials, isJudged: true } : {};
    case "checked":
      return data.id === latest ? { findings: data.findings, lines: data.lines } : {};
    case "covered":
      return { covered: data };
    case "tuned":
      return { tuned: data };
    case "proven":
      return { proven: data };
    default:
      throw new RangeError(`no such message: ${JSON.stringify(data satisfies never)}`);
  }
}
