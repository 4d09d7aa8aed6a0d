// One script, and by its name one of three workers: fetched once, they do not wait for one another.
import { startJudge } from "./judge.js";
import type { ToJudge, ToReader, ToRunner } from "./messages.js";
import { startReader } from "./reader.js";
import { startRunner } from "./runner.js";

const tell = (message: unknown) => postMessage(message);

const roles: Readonly<Record<string, () => (message: never) => void>> = {
  reads: () => startReader(tell) as (message: never) => void,
  runs: () => startRunner(tell) as (message: never) => void,
  judges: () => startJudge(tell) as (message: never) => void,
};

const hear = roles[self.name]?.() as ((message: ToReader | ToRunner | ToJudge) => void) | undefined;
addEventListener("message", ({ data }: MessageEvent<ToReader | ToRunner | ToJudge>) => hear?.(data));
