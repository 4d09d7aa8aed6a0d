// Judges what is on the desk: its trials, what reasoning finds in it, what its trials never tried, which value of a dial is
// best. None of it stands in the way of what is drawn.
import { chartOfTuning } from "@modrik/charts";
import {
  checkHouse,
  clockOf,
  coverage,
  DAY,
  exampleDay,
  type House,
  isSound,
  type Margin,
  numberLines,
  planTuning,
  readKnob,
  runTrial,
  sayEnergy,
  sayKnob,
  sayMargin,
  sayRounded,
  sayShare,
  settleTuning,
  type Trial,
  type TriedSetting,
  trySetting,
  type Value,
} from "modrik";
import { type HouseText, openHouse } from "modrik/language";
import { linkTo, placeIn } from "./links.js";
import type { Files, FromJudge, Look, Remark, Setup, ToJudge, TrialLine, TuningResult } from "./messages.js";
import { fitting, followFiles } from "./open-house.js";

/** How long one goes on writing before anything is judged. */
const PAUSE_MS = 250;
/** How long it judges before it listens again. */
const STRETCH_MS = 40;

/** @param tell sends to the page */
export function startJudge(tell: (message: FromJudge) => void): (message: ToJudge) => void {
  const follow = followFiles();
  let latest = 0;
  let tuning = 0;
  let setup: Setup | undefined;

  return (message) => {
    switch (message.kind) {
      case "judge":
        latest = message.id;
        setup = message.setup;
        setTimeout(() => void (message.id === latest && judge(message.id, message.setup)), PAUSE_MS);
        break;
      case "cover":
        void cover(message.id);
        break;
      case "tune":
        void tune(message.id, message.knob, message.days, message.look);
        break;
      case "stop tuning":
        tuning = 0;
        break;
      case "prove":
        prove(message.id, message.files);
        break;
      default:
        throw new RangeError(`no such message: ${JSON.stringify(message satisfies never)}`);
    }
  };

  /** What comes in meanwhile ends it. */
  async function judge(id: number, { files, set }: Setup): Promise<void> {
    const text = follow(files);
    if (!isSound(text)) return;
    const { house } = text;
    const lines: TrialLine[] = [];
    let begun = performance.now();
    for (const trial of house.trials) {
      lines.push(lineOf(text, trial));
      if (performance.now() - begun < STRETCH_MS) continue;
      await listening();
      if (id !== latest) return;
      begun = performance.now();
    }
    tell({ kind: "judged", id, trials: lines });
    await listening();
    if (id !== latest) return;
    const findings = checkHouse(house, text).flatMap(({ code, severity, place, reason, remedy, allowed }): Remark[] =>
      place && allowed === undefined ? [{ code, severity, place, reason, remedy }] : [],
    );
    tell({ kind: "checked", id, findings, lines: numberLines(house, { at: exampleDay(house), values: fitting(house, set) }) });
  }

  async function cover(id: number): Promise<void> {
    const text = setup && follow(setup.files);
    if (!text || !isSound(text)) return;
    tell({ kind: "covered", id, share: 0 });
    await listening();
    const { points } = coverage(text.house, (share) => tell({ kind: "covered", id, share: Math.min(share, 0.99) }));
    const untested = points
      .filter(({ seen }) => seen === 0)
      .map(({ kind, says, suggestion, about }) => ({
        kind,
        says,
        ...(suggestion !== undefined && { suggestion }),
        link: linkTo(text, about, "name" in about ? about.name : "rule" in about ? `rule ${about.rule}` : "there")[0],
      }));
    tell({ kind: "covered", id, share: 1, tested: points.length - untested.length, untested });
  }

  async function tune(id: number, said: string, days: number, look: Look): Promise<void> {
    tuning = id;
    const text = setup && follow(setup.files);
    if (!setup || !text || !isSound(text)) return;
    const { house } = text;
    const { weather: name, set } = setup;
    try {
      const plan = planTuning(house, [readKnob(house, said)]);
      const weather = house.weathers.find((one) => one.name === name);
      const options = { set: fitting(house, set), lasts: days * DAY, ...(weather && { weather }) };
      const tried: TriedSetting[] = [];
      for (let place = 0; place < plan.settings.length; place++) {
        tried.push(trySetting(house, plan, place, options));
        tell({ kind: "tuned", id, share: tried.length / (plan.settings.length + 1) });
        await listening();
        if (id !== tuning) break;
      }
      const settled = settleTuning(house, plan, tried);
      const chart = chartOfTuning(house, settled, { theme: look.theme, width: look.width, height: 340, title: "" });
      tell({ kind: "tuned", id, share: 1, result: { ...tableOf(house, settled), chart } });
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      const { message } = error;
      tell({ kind: "tuned", id, share: 1, broken: `${message.charAt(0).toUpperCase()}${message.slice(1)}.` });
    }
  }

  function prove(id: number, files: Files): void {
    const text = openHouse(files);
    const trials = isSound(text) ? text.house.trials.map((trial) => lineOf(text, trial)) : [];
    tell({ kind: "proven", id, trials, problems: text.problems.map(({ reason }) => reason) });
  }
}

/** Lets what has come in be heard. */
const listening = () => new Promise<void>((heard) => setTimeout(heard));

function lineOf(text: HouseText, trial: Trial): TrialLine {
  const { house } = text;
  const { passed, verdicts, run, broken } = runTrial(house, trial);
  const { ms } = clockOf(house.clock).local(run.from);
  const onAxis = (at: number) => ms + at - run.from;
  const narrowest = narrowestOf(verdicts.flatMap(({ margin }) => (margin ? [margin] : [])));
  return {
    name: trial.name,
    title: trial.title ?? "",
    passed,
    ...(broken !== undefined && { broken }),
    from: ms,
    lasts: run.to - run.from,
    verdicts: verdicts.map((one) => ({
      says: one.says,
      passed: one.passed,
      from: onAxis(one.from),
      to: onAxis(one.to),
      ...(one.margin && { margin: sayMargin(one.margin) }),
    })),
    ...(narrowest && { margin: sayMargin(narrowest) }),
    place: placeIn(text, { kind: "thing", name: trial.name }),
  };
}

/** In value; in time where no number came near, and not where it is exact to the second on purpose. */
function narrowestOf(margins: readonly Margin[]): Margin | undefined {
  const inValue = margins.filter(({ unit }) => unit !== "ms");
  const considered = inValue.length > 0 ? inValue : margins.filter(({ value }) => Math.abs(value) >= 1000);
  return considered.reduce<Margin | undefined>((a, b) => (!a || b.steps < a.steps ? b : a), undefined);
}

function tableOf(
  house: House,
  { plan, tried, front, recommended, says }: ReturnType<typeof settleTuning>,
): Omit<TuningResult, "chart"> {
  const [knob] = plan.knobs;
  const hasEnergy = tried.some(({ energy }) => energy !== undefined);
  const rows = tried
    .map((one, place) => ({ one, place }))
    .sort((a, b) => Number(a.one.values[0]) - Number(b.one.values[0]))
    .map(({ one, place }) => ({
      value: one.values[0] as Value,
      cells: [
        knob ? sayKnob(house, knob, one.values[0] as Value).replace(/^.*?( = |: )/, "") : "",
        one.distance === undefined ? "-" : `${sayRounded(one.distance)} ${one.unit}`,
        sayShare(one.inBand),
        sayRounded(one.startsADay),
        ...(hasEnergy ? [one.energy === undefined ? "-" : sayEnergy(one.energy)] : []),
      ],
      isToday: place === 0,
      isBest: place === recommended,
      isFront: front.includes(place),
    }));
  return { says, rows, head: [knob?.name ?? "", "distance", "in band", "starts a day", ...(hasEnergy ? ["energy"] : [])] };
}
