// Runs, judges and draws the house beside the page: slow work, that a writer does not wait for.
import { chartOf } from "@modrik/charts";
import {
  checkHouse,
  clockOf,
  type House,
  isIn,
  isSound,
  MINUTE,
  runTrials,
  type Simulation,
  sayDate,
  simulate,
  why,
} from "modrik";
import type { HouseText } from "modrik/language";
import type { FromRunner, Look, Setup, ToRunner, TrialLine } from "./messages.js";
import { fitting, followFiles } from "./open-house.js";

const follow = followFiles();
let latest = 0;
let run: Simulation | undefined;
let look: Look | undefined;

function tell(message: FromRunner): void {
  postMessage(message);
}

addEventListener("message", ({ data }: MessageEvent<ToRunner>) => {
  switch (data.kind) {
    case "run":
      latest = data.id;
      // Whatever else has come in meanwhile is heard first, so that only the latest setup is run.
      setTimeout(() => data.id === latest && runSetup(data.id, data.setup));
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

function runSetup(id: number, { files, weather, set }: Setup): void {
  const text = follow(files);
  if (!isSound(text)) return;
  const { house } = text;
  const begun = performance.now();
  const chosen = house.weathers.find(({ name }) => name === weather);
  const options = { set: fitting(house, set), ...(chosen && { weather: chosen }) };
  // A writer sees the day at once, from rooms as they were; when they pause, from rooms that have been lived in.
  const before = run?.weather.name === (chosen ?? house.weathers[0])?.name ? run?.airs : undefined;
  run = simulate(house, { ...options, ...(before && { airs: before }) });
  const ms = performance.now() - begun;
  draw();
  const about = `${sayDate(clockOf(house.clock), run.from)}, ${run.weather.title ?? run.weather.name}`;
  tell({ kind: "ran", id, about, trials: judge(house), ms });
  // A writer who goes on does not wait for what they are about to change.
  setTimeout(() => {
    if (id !== latest) return;
    if (before) {
      run = simulate(house, options);
      draw();
    }
    check(id, text);
  }, THINKING_MS);
}

const THINKING_MS = 300;

function check(id: number, text: HouseText): void {
  const findings = checkHouse(text.house, text).flatMap(({ code, severity, place, reason, remedy, allowed }) =>
    place && allowed === undefined ? [{ code, severity, place, reason, remedy }] : [],
  );
  tell({ kind: "checked", id, findings });
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
