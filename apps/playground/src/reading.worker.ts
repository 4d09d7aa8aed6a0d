// Reads the house as it is written and answers a writer's questions; nothing that runs stands in its way.
import { exampleDay, isSound } from "modrik";
import { describe, hints } from "modrik/language";
import type { Answer, FromReader, Question, Setup, ToReader } from "./messages.js";
import { fitting, followFiles } from "./open-house.js";

/** How long a writer pauses before problems are told: what is half written is no mistake yet. */
const PAUSE_MS = 120;

const follow = followFiles();
let text = follow({});
let latest = 0;

function tell(message: FromReader): void {
  postMessage(message);
}

addEventListener("message", ({ data }: MessageEvent<ToReader>) => {
  if (data.kind === "ask") return tell({ kind: "answer", id: data.id, answer: answer(data.question) });
  const { id, setup, file } = data;
  latest = id;
  text = follow(setup.files);
  tell({ kind: "coloured", colours: { file, length: text.files[file]?.length ?? 0, tokens: text.tokens(file) } });
  setTimeout(() => id === latest && read(id, setup.set), PAUSE_MS);
});

function read(id: number, set: Setup["set"]): void {
  const { house } = text;
  const problems = text.problems.filter(({ allowed }) => allowed === undefined);
  const sound = isSound(text);
  const { dials, modes, weathers, zones } = house;
  const shown = sound ? hints(text, { at: exampleDay(house), values: fitting(house, set) }) : undefined;
  tell({ kind: "read", id, reading: { problems, sound, dials, modes, weathers, zones, hints: shown } });
}

function answer({ kind, file, text: written, at }: Question): Answer {
  const asked = text.with(file, written);
  if (kind === "complete") return asked.completions(file, at);
  return isSound(asked) ? describe(asked, file, at, { at: exampleDay(asked.house) }) : undefined;
}
