// Reads, runs and draws the house beside the page, so that typing never waits.
import { chartOf } from "@modrik/charts";
import {
  checkHouse,
  clockOf,
  complete,
  describe,
  exampleDay,
  type House,
  hints,
  isIn,
  isSound,
  MINUTE,
  misfit,
  parseHouse,
  runTrials,
  type Simulation,
  sayDate,
  simulate,
  why,
} from "modrik";
import { lindenYardCalendars } from "./linden-yard.js";
import type { Answer, FromWorker, Look, Question, ToWorker, TrialLine, Wish } from "./messages.js";

let latest = 0;
/** The last house read, and whether it had no errors. */
let last: { house: House; sound: boolean } | undefined;
let run: Simulation | undefined;
let look: Look | undefined;

function tell(message: FromWorker): void {
  postMessage(message);
}

addEventListener("message", ({ data }: MessageEvent<ToWorker>) => {
  switch (data.kind) {
    case "run":
      latest = data.id;
      // Whatever else has come in meanwhile is heard first, so that only the latest wish is run.
      setTimeout(() => data.id === latest && runWish(data.id, data.wish));
      break;
    case "ask":
      tell({ kind: "answer", id: data.id, answer: answer(data.question) });
      break;
    case "draw":
      look = data.look;
      draw();
      break;
    case "explain":
      explain(data.share);
      break;
    default:
      throw new RangeError(`no such message: ${JSON.stringify(data satisfies never)}`);
  }
});

function runWish(id: number, { files, weather, set }: Wish): void {
  const parsed = parseHouse(files, { calendars: lindenYardCalendars });
  const { house } = parsed;
  const problems = parsed.problems.filter(({ allowed }) => allowed === undefined);
  const sound = isSound(parsed);
  last = { house, sound };
  const { dials, modes, weathers, zones } = house;
  const shown = sound ? hints(house, files, { at: exampleDay(house), values: fitting(house, set) }) : undefined;
  tell({ kind: "read", id, reading: { problems, sound, dials, modes, weathers, zones, hints: shown } });
  if (!sound) return;
  const begun = performance.now();
  const chosen = house.weathers.find(({ name }) => name === weather);
  run = simulate(house, { set: fitting(house, set), ...(chosen && { weather: chosen }) });
  const ms = performance.now() - begun;
  draw();
  const about = `${sayDate(clockOf(house.clock), run.from)}, ${run.weather.title ?? run.weather.name}`;
  tell({ kind: "ran", id, about, trials: judge(house), ms });
  // A writer who goes on does not wait for what they are about to change.
  setTimeout(() => id === latest && check(id, house, files), THINKING_MS);
}

const THINKING_MS = 300;

function check(id: number, house: House, files: Wish["files"]): void {
  const findings = checkHouse(house, files).flatMap(({ code, severity, place, reason, remedy, allowed }) =>
    place && allowed === undefined ? [{ code, severity, place, reason, remedy }] : [],
  );
  tell({ kind: "checked", id, findings });
}

function answer({ kind, text, at }: Question): Answer {
  if (!last) return undefined;
  if (kind === "complete") return complete(last.house, text, at);
  return last.sound ? describe(last.house, text, at, { at: exampleDay(last.house) }) : undefined;
}

/** Values that still fit the house, whose dials may have been changed in the text. */
function fitting(house: House, set: Wish["set"]): Wish["set"] {
  return Object.fromEntries(
    Object.entries(set).filter(([name, value]) => {
      const dial = [...house.dials, ...house.modes].find((one) => one.name === name);
      return dial !== undefined && misfit(dial, value) === undefined;
    }),
  );
}

function judge(house: House): TrialLine[] {
  return runTrials(house).map(({ trial, passed, verdicts }) => ({
    name: trial.name,
    title: trial.title ?? "",
    passed,
    failed: verdicts.find((verdict) => !verdict.passed)?.says ?? "",
  }));
}

function draw(): void {
  if (!run || !look) return;
  tell({ kind: "drawn", chart: chartOf(run, { ...look, title: "" }).options });
}

function explain(share: number): void {
  if (!run) return;
  const day = run;
  const at = Math.round((day.from + share * (day.to - day.from)) / MINUTE) * MINUTE;
  const zone = look?.zone;
  const here = day.past.house.outputs.filter(({ name }) => isIn(zone, name));
  const outputs = here.map(({ name }) => why(day, name, at));
  tell({ kind: "explained", when: sayDate(clockOf(day.past.house.clock), at), outputs });
}
