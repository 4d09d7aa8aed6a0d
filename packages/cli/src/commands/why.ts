import { existsSync } from "node:fs";
import {
  askable,
  clockOf,
  dayOfDate,
  type Explanation,
  type House,
  noticesOf,
  type Run,
  readTimeOfDay,
  sayDate,
  whatNext,
  whyAnything,
  whyNot,
  whyNotice,
} from "modrik";
import { CallError } from "../call-error.js";
import { writeExplanation } from "../explanation.js";
import { fileBeside, readSoundHouse } from "../house-files.js";
import { type Io, pathIn } from "../io.js";
import { oneOf } from "../run-options.js";
import { type FoundRun, type SourceOptions, sourceOf } from "../run-source.js";

export interface WhyOptions extends Omit<SourceOptions, "live"> {
  readonly live?: boolean;
  /** The file of the running house, where that is not next to it. */
  readonly db?: string;
  readonly at?: string;
  readonly json?: boolean;
}

/** What is asked: about an output, why it is not otherwise, or about a notice. */
type Question =
  | { readonly kind: "why"; readonly output: string }
  | { readonly kind: "why not"; readonly output: string; readonly wanted?: string }
  | { readonly kind: "notice"; readonly number: number };

/** Answers a question about a simulated run, or a trial. */
export async function explain(words: readonly string[], options: WhyOptions, io: Io): Promise<boolean> {
  const { question, path } = questionIn(words, io);
  const own = readSoundHouse(path, io);
  if (!own) return false;
  const { live, db, ...others } = options;
  const asked = await sourceOf(own, live ? { ...others, live: db ?? fileBeside(path, io) } : others, io);
  // A running house is explained as it ran, also where its files were edited since.
  const house = live ? asked.run().run.past.house : own;
  if (question.kind === "notice") return answerNotice(asked.run(), question.number, options.json === true, io);
  const isOutput = house.outputs.some(({ name }) => name === question.output);
  if (question.kind === "why not") oneOf(house.outputs, question.output, "output");
  else
    oneOf(
      askable(house).map((name) => ({ name })),
      question.output,
      "thing or rule",
    );
  if (options.at === undefined && !live)
    throw new CallError("Missing --at: which time should be explained?", 'Write --at 10:15, or --at "2026-01-16 06:40".');
  const at = options.at === undefined ? asked.span.to : instantOf(house, asked.span, options.at, live === true);
  const { run, about } = asked.run(at);
  const found = question.kind === "why" ? whyAnything(run, question.output, at) : answerNot(run, question, at);
  const next = isOutput && run.kept?.at === at ? [whatNext(run, question.output)] : [];
  const wrong = problemsBefore(run, at);
  if (options.json)
    print(
      { run: about, at: new Date(at).toISOString(), ...found, next: next[0], ...(wrong.length > 0 && { problems: wrong }) },
      io,
    );
  else {
    tell(`At ${sayDate(clockOf(house.clock), at)} (${about})`, [found, ...next], io);
    for (const { at: when, text } of wrong)
      io.out.write(`${io.paint.yellow(`a problem at ${sayDate(clockOf(house.clock), when)}: ${text}`)}\n`);
  }
  return true;
}

/** Why it does not have a value that it can have. */
function answerNot(run: Run, { output, wanted }: Extract<Question, { kind: "why not" }>, at: number): Explanation {
  try {
    return whyNot(run, output, at, wanted);
  } catch (error) {
    if (error instanceof RangeError && wanted !== undefined) throw new CallError(`${error.message}.`);
    throw error;
  }
}

/** The last things that went wrong before the time asked about. */
const SHOWN = 3;
function problemsBefore({ past, from }: Run, at: number) {
  return past.problems(from, at).slice(-SHOWN);
}

/** `bench.heater`, `not porch.lamp`, `not porch.lamp on`, `notice 3`, each with a house after it or not. */
function questionIn(words: readonly string[], io: Io): { question: Question; path: string | undefined } {
  const [first, second, third, fourth] = words;
  if (first === "notice") {
    const number = Number(second);
    if (!Number.isSafeInteger(number) || number < 1)
      throw new CallError(
        second === undefined ? "Which notice?" : `"${second}" is not a notice number.`,
        "Write modrik why notice 1.",
      );
    return { question: { kind: "notice", number }, path: third };
  }
  if (first !== "not") return { question: { kind: "why", output: first ?? "" }, path: second };
  if (second === undefined) throw new CallError("Which output?", "Write modrik why not porch.lamp --at 18:30.");
  // A value stands between the output and the house; alone, it is what is not a file or folder.
  const isPath = third !== undefined && fourth === undefined && existsSync(pathIn(io, third));
  const wanted = isPath ? undefined : third;
  return {
    question: { kind: "why not", output: second, ...(wanted !== undefined && { wanted }) },
    path: isPath ? third : fourth,
  };
}

interface Span {
  readonly from: number;
  readonly to: number;
}

function answerNotice({ run, about }: FoundRun, number: number, json: boolean, io: Io): boolean {
  const told = noticesOf(run);
  if (number > told.length) {
    const clock = clockOf(run.past.house.clock);
    const list = told.map(({ at, text }, index) => `${index + 1}: ${sayDate(clock, at)} "${text}"`).join("\n  ");
    throw new CallError(
      `This run has no notice ${number} (${about}).`,
      told.length === 0 ? "No notice was sent." : `It has:\n  ${list}`,
    );
  }
  const found = whyNotice(run, number);
  if (json) print({ run: about, ...found }, io);
  else tell(about, [found], io);
  return true;
}

function print(answer: object, io: Io): void {
  io.out.write(`${JSON.stringify(answer, null, 2)}\n`);
}

function tell(head: string, parts: readonly Explanation[], io: Io): void {
  io.out.write(`${io.paint.dim(head)}\n${parts.flatMap((part) => writeExplanation(part)).join("\n")}\n`);
}

/** A time on the first day of a run at which it goes on, or the last such time of one that goes on still; or a date and time. */
function instantOf(house: House, { from, to }: Span, text: string, isLive: boolean): number {
  const clock = clockOf(house.clock);
  const [, date, time = ""] = /^(?:(\d{4}-\d{2}-\d{2})[ T])?([\d:]+)$/.exec(text.trim()) ?? [];
  const ms = readTimeOfDay(time);
  const [year = 0, month = 0, day = 0] = (date ?? "").split("-").map(Number);
  const on = date === undefined ? clock.local(isLive ? to : from).day : dayOfDate(year, month, day);
  if (ms === undefined || on === undefined)
    throw new CallError(`"${text}" is not a time.`, 'Write --at 10:15, or --at "2026-01-16 06:40".');
  const same = clock.instant(on, ms);
  const other = isLive ? same > to && on - 1 : same < from && on + 1;
  const at = date === undefined && other !== false ? clock.instant(other, ms) : same;
  if (at >= from && at <= to) return at;
  throw new CallError(`${text} is outside this run.`, `It lasts from ${sayDate(clock, from)} to ${sayDate(clock, to)}.`);
}
