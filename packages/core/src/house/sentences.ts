// Sentences of rules and guards as text of the language, one line each.
import { type Weekday, writeDays } from "../time/index.js";
import type { Occasion, Text, Trigger } from "./expression.js";
import type { Drive, Expectation, Keep, Permit, Sentence, Step, Target, Until } from "./house.js";
import { writeDayTime, writeExpression } from "./write.js";

/** `while … keep … raise with …`, `when … do { … }`. */
export function writeSentence(sentence: Sentence): string {
  if ("do" in sentence) {
    const provided = sentence.provided ? ` provided ${writeExpression(sentence.provided)}` : "";
    const again = sentence.ifTriggeredAgain === "start over" ? "" : ` if triggered again, ${sentence.ifTriggeredAgain}`;
    return `when ${sentence.when.map(writeTrigger).join(" or when ")}${provided} do ${writeSteps(sentence.do)}${again}`;
  }
  const head = sentence.while ? `while ${writeExpression(sentence.while)} ` : "";
  if ("hold" in sentence) return `${head}hold ${sentence.hold.map(writeTarget).join(", ")}`;
  if ("keep" in sentence) return `${head}keep ${writeKeep(sentence.keep)}`;
  const { outputs, on, off } = sentence.cycle;
  return `${head}cycle ${outputs.join(", ")} on ${writeExpression(on)} off ${writeExpression(off)}`;
}

function writeTarget({ output, value }: Target): string {
  return `${output} at ${writeExpression(value)}`;
}

function writeKeep({ value, at, tolerance, raiseWith, lowerWith }: Keep): string {
  const target = "low" in at ? `between ${writeExpression(at.low)} and ${writeExpression(at.high)}` : `at ${writeExpression(at)}`;
  const band = tolerance ? ` ± ${writeTolerance(tolerance)}` : "";
  const drives = [writeDrive("raise", raiseWith), writeDrive("lower", lowerWith)].join("");
  return `${writeExpression(value)} ${target}${band}${drives}`;
}

function writeTolerance({ below, above }: NonNullable<Keep["tolerance"]>): string {
  const [one, other] = [writeExpression(below), writeExpression(above)];
  return one === other ? one : `-${one}..+${other}`;
}

function writeDrive(way: "raise" | "lower", drive: Drive | undefined): string {
  if (!drive) return "";
  const { outputs, proportion } = drive;
  const cycle = proportion?.cycle ? `, cycle ${writeExpression(proportion.cycle)}` : "";
  const following = proportion ? ` in proportion over ${writeExpression(proportion.over)}${cycle}` : "";
  return ` ${way} with ${outputs.join(", ")}${following}`;
}

/** `at 07:30 on Mon..Fri`, `bench.door has been open for 5 min`. */
export function writeTrigger(trigger: Trigger): string {
  switch (trigger.kind) {
    case "at":
      return `at ${writeDayTime(trigger.at)}${onDays(trigger.days)}`;
    case "every":
      return `every ${writeExpression(trigger.every)}${onDays(trigger.days)}`;
    case "the house starts":
      return trigger.kind;
    default:
      return writeOccasion(trigger);
  }
}

function onDays(days: readonly Weekday[]): string {
  return days.length === 7 ? "" : ` on ${writeDays(days)}`;
}

function writeOccasion(occasion: Occasion): string {
  switch (occasion.kind) {
    case "becomes true":
      return writeExpression(occasion.condition);
    case "begins":
    case "ends":
      return `${occasion.schedule} ${occasion.kind}`;
    case "runs out":
      return `${occasion.countdown} ends`;
    case "changes":
      return `${occasion.of} changes${occasion.by ? ` by ${writeExpression(occasion.by)}` : ""}`;
    default:
      throw new RangeError(`no such occasion: ${JSON.stringify(occasion satisfies never)}`);
  }
}

function writeUntil(until: Until): string {
  // Its own `at most` would be taken for that of a wait.
  if (until.kind === "state" && until.condition.kind === "until") return `(${writeExpression(until.condition)})`;
  if (until.kind === "state") return writeExpression(until.condition);
  return until.kind === "at" ? writeDayTime(until.at) : writeOccasion(until);
}

function writeSteps(steps: readonly Step[]): string {
  return `{ ${steps.map(writeStep).join(" ")} }`;
}

function writeStep(step: Step): string {
  switch (step.kind) {
    case "set": {
      const ends = step.for ? ` for ${writeExpression(step.for)}` : step.until ? ` until ${writeUntil(step.until)}` : "";
      return `set ${step.name} to ${writeExpression(step.to)}${ends}`;
    }
    case "toggle":
      return `toggle ${step.name}`;
    case "raise":
    case "lower":
      return `${step.kind} ${step.name} by ${writeExpression(step.by)}`;
    case "ramp": {
      const [from, to, over] = [step.from, step.to, step.over].map(writeExpression);
      return `ramp ${step.output} from ${from} to ${to} over ${over}`;
    }
    case "dose":
      return `dose ${step.output} ${writeExpression(step.amount)}`;
    case "release":
      return `release ${step.output}`;
    case "apply":
      return `apply ${step.preset}`;
    case "start":
      return `start ${step.countdown}${step.with ? ` with ${writeExpression(step.with)}` : ""}`;
    case "stop":
      return `stop ${step.countdown}`;
    case "wait":
      return `wait ${writeExpression(step.for)}`;
    case "wait until":
      return `wait until ${writeUntil(step.until)}${step.atMost ? `, at most ${writeExpression(step.atMost)}` : ""}`;
    case "if": {
      const branches = step.branches.map((one) => `if ${writeExpression(one.if)} ${writeSteps(one.do)}`).join(" else ");
      return step.else.length > 0 ? `${branches} else ${writeSteps(step.else)}` : branches;
    }
    case "tell": {
      const through = step.through === undefined ? "" : ` through ${step.through}`;
      return `tell ${writeText(step.text)}${through}${step.onceIn ? `, at most once in ${writeExpression(step.onceIn)}` : ""}`;
    }
    case "send":
      return `send ${writeText(step.text)} to ${writeText(step.to)}`;
    case "end here":
      return step.kind;
    default:
      throw new RangeError(`no such step: ${JSON.stringify(step satisfies never)}`);
  }
}

function writeText(text: Text): string {
  return `"${text.map((part) => (typeof part === "string" ? escaped(part) : `{${writeExpression(part)}}`)).join("")}"`;
}

function escaped(text: string): string {
  return text.replace(/[\\"]/g, "\\$&").replace(/\n/g, "\\n").replace(/[{}]/g, "$&$&");
}

/** A text in quotes, that says just these signs. */
export function quoted(text: string): string {
  return `"${escaped(text)}"`;
}

/** `bench.dryer is on by 07:10:05`, `never (…)`. */
export function writeExpectation({ claim, condition, then, within, by, at, from, to }: Expectation): string {
  const words = [claim === "holds" ? "" : `${claim} `, writeExpression(condition)];
  if (then) words.push(` then ${writeExpression(then)}`);
  if (within) words.push(` within ${writeExpression(within)}`);
  if (by) words.push(` by ${writeExpression(by)}`);
  if (at) words.push(` at ${writeExpression(at)}`);
  if (from) words.push(` from ${writeExpression(from)}`);
  if (to) words.push(` to ${writeExpression(to)}`);
  return words.join("");
}

/** `permit … only while …`. */
export function writePermit({ output, what, onlyWhile }: Permit): string {
  const permitted =
    "word" in what
      ? what.word
      : "above" in what
        ? `above ${writeExpression(what.above)}`
        : `below ${writeExpression(what.below)}`;
  return `permit ${output} ${permitted} only while ${writeExpression(onlyWhile)}`;
}
