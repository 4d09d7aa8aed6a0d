// Runs and draws what is on the desk: simulated days, a trial, a recording; explains it, and lays another variant over it.
import { type ChartOptions, chartOf, chartOfComparison } from "@modrik/charts";
import { FormatError, openRecording } from "@modrik/formats";
import {
  type Air,
  aimsInCommon,
  clockOf,
  compare,
  DAY,
  dateOfDay,
  differences,
  exampleDay,
  expectable,
  expressionOf,
  HOUR,
  type House,
  isIn,
  isSound,
  labelOfCompared,
  MINUTE,
  measure,
  misfitsOf,
  provoke,
  type Recorded,
  type Run,
  replay,
  runTrial,
  SECOND,
  type Simulation,
  type SimulationOptions,
  sayCompared,
  sayDate,
  sayLength,
  sayValue,
  signalFigures,
  type Trial,
  thingsIn,
  thresholds,
  type Verdict,
  valueAt,
  whatNext,
  whyAnything,
  whyNot,
  writeExpectation,
  writeExpression,
} from "modrik";
import { type HouseText, openHouse } from "modrik/language";
import { linksOf } from "./links.js";
import type { Distribution, FromRunner, Look, Ran, Said, Setup, Subject, ToRunner } from "./messages.js";
import { fitting, followFiles } from "./open-house.js";
import { readTimeline, TIMELINE } from "./timeline.js";

/** How long one goes on writing before rooms are settled anew. */
const THINKING_MS = 300;
/** How often it says how far it is. */
const PROGRESS_MS = 200;

/** A run on the desk, and how to run it again up to an instant. */
interface Shown {
  readonly run: Run;
  readonly text: HouseText;
  readonly subject: Subject;
  readonly setup: Setup;
  readonly drawn: Pick<ChartOptions, "happened" | "verdicts">;
  readonly again: (keepAt: number) => Run;
}

/** @param tell sends to the page */
export function startRunner(tell: (message: FromRunner) => void): (message: ToRunner) => void {
  const follow = followFiles();
  const followOther = followFiles();
  let latest = 0;
  let asked: { readonly setup: Setup; readonly subject: Subject } | undefined;
  let shown: Shown | undefined;
  let look: Look | undefined;
  /** Of the last simulated days: rooms as they were when they began. */
  let lived: { readonly weather: string; readonly from: number; readonly airs: ReadonlyMap<string, Air> } | undefined;
  let recording: { readonly name: string; readonly records: readonly Recorded[] } | undefined;
  let beside: { readonly setup: Setup; readonly name: string } | undefined;

  return (message) => {
    switch (message.kind) {
      case "run":
        latest = message.id;
        asked = message;
        // Whatever else has come in meanwhile is heard first, so that only the latest is run.
        setTimeout(() => message.id === latest && runSubject(message.id, message.setup, message.subject));
        break;
      case "draw":
        look = message.look;
        draw();
        overlay();
        break;
      case "explain":
        explain(message.share, message.thing);
        break;
      case "next":
        comes(message.share, message.thing);
        break;
      case "beside":
        beside = message.setup && { setup: message.setup, name: message.name };
        overlay();
        break;
      case "propose":
        propose();
        break;
      case "open recording":
        open(message.name, message.text, message.modified);
        break;
      case "distribute":
        distribute(message.name, message.side);
        break;
      default:
        throw new RangeError(`no such message: ${JSON.stringify(message satisfies never)}`);
    }
  };

  // ── Running ─────────────────────────────────────────────────────────────────────────────────────────────────────────

  function runSubject(id: number, setup: Setup, subject: Subject): void {
    const text = follow(setup.files);
    if (!isSound(text)) return;
    const done = (one: Shown, more: Partial<Ran> & Pick<Ran, "about">) => {
      shown = one;
      draw();
      tell({ kind: "ran", ran: { ...plainly(id, one), ...more } });
    };
    const broken = (error: unknown) => {
      if (!(error instanceof RangeError)) throw error;
      const about = "It could not be run";
      if (shown) tell({ kind: "ran", ran: { ...plainly(id, shown), subject, about, notes: [sentence(error.message)] } });
    };
    try {
      if (subject.kind === "days") runDays(id, text, setup, done);
      else if (subject.kind === "trial") done(...trialShown(text, setup, subject));
      else done(...recordingShown(text, setup, subject));
    } catch (error) {
      broken(error);
    }
  }

  function runDays(
    id: number,
    text: HouseText,
    setup: Setup,
    done: (one: Shown, more: Partial<Ran> & Pick<Ran, "about">) => void,
  ): void {
    const date = dateIn(text.house, setup);
    const { house, happenings, problems } = readTimeline(text, setup.acts, date, setup.days);
    const options = optionsOf(house, setup);
    let said = performance.now();
    const onProgress = (share: number) => {
      if (setup.days === 1 || performance.now() - said < PROGRESS_MS) return;
      said = performance.now();
      tell({ kind: "progress", id, share });
    };
    const simulated = (more: SimulationOptions) => provoke(house, happenings, { ...options, onProgress, ...more });
    const tellRun = (run: ReturnType<typeof simulated>) => {
      lived = { weather: run.weather.name, from: run.from, airs: run.airs };
      const one = { run, text, setup, subject: { kind: "days" } as const, drawn: { happened: run.happened } };
      const again = (keepAt: number) =>
        simulated({ airs: run.airs, runUp: DAY, settles: false, keepAt, lasts: keepAt - run.from + 1 });
      const about = `${sayDate(clockOf(house.clock), run.from).slice(0, 10)}, ${run.weather.title ?? run.weather.name}`;
      done({ ...one, again }, { about, notes: notesOf(run), problems });
    };
    const weather = options.weather?.name ?? house.weathers[0]?.name;
    const before = lived?.weather === weather && lived?.from === options.from ? lived : undefined;
    const isLong = setup.days > 1;
    // A writer sees a day at once, from rooms as they were; when they pause, from rooms that have been lived in. Of many days
    // the first hours do not count for so much.
    tellRun(simulated(before ? { airs: before.airs, runUp: isLong ? DAY : HOUR } : {}));
    // A writer who goes on does not wait for what they are about to change.
    if (before && !isLong) setTimeout(() => id === latest && tellRun(simulated({})), THINKING_MS);
    setTimeout(() => id === latest && overlay(), THINKING_MS);
  }

  function trialShown(text: HouseText, setup: Setup, subject: Extract<Subject, { kind: "trial" }>) {
    const { house } = text;
    const trial = house.trials.find(({ name }) => name === subject.name);
    if (!trial) throw new RangeError(`there is no trial called "${subject.name}" any more`);
    const result = runTrial(house, trial);
    if (result.broken !== undefined) throw new RangeError(result.broken);
    const { run, happened, verdicts, passed } = result;
    const one: Shown = {
      run,
      text,
      setup,
      subject,
      drawn: { happened, verdicts },
      again: (keepAt) => runTrial(house, trial, { keepAt }).run,
    };
    const failed = verdicts.filter((verdict) => !verdict.passed);
    const about = `${passed ? "passes" : "fails"}: ${trial.title ?? trial.name}`;
    return [one, { about, zone: zoneOf(house, trial, verdicts), notes: failed.map(({ says }) => `Not so: ${says}.`) }] as const;
  }

  function recordingShown(text: HouseText, setup: Setup, subject: Extract<Subject, { kind: "recording" }>) {
    const { house } = text;
    if (!recording) throw new RangeError("there is no recording yet");
    const { name } = recording;
    const own = recording.records.flatMap((record) => {
      const thing = subject.columns[record.name];
      return thing ? [{ ...record, name: thing }] : [];
    });
    if (own.length === 0) throw new RangeError(`no column of ${name} is given to a thing of the house`);
    const options = { set: fitting(house, setup.set) };
    const run = replay(house, own, options);
    const notes = misfitsOf(house, own).map((one) => `${one.name} ${one.says}. Left out: ${one.count} reports.`);
    const differing = differences(run, own).flatMap(({ output, title, agrees, known, differences: all }) => {
      const share = known > 0 ? `${((100 * agrees) / known).toFixed(1)} % the same` : "not recorded";
      const clock = clockOf(house.clock);
      const type = house.outputs.find((one) => one.name === output)?.type;
      const [first] = all;
      const say = (value: Parameters<typeof sayValue>[1]) => (type ? sayValue(type, value) : String(value));
      const where = first
        ? `; first ${sayDate(clock, first.from)} for ${sayLength(first.to - first.from)}: recorded ${say(first.recorded)}, by the rules ${say(first.wanted)}`
        : "";
      return [{ output, says: `${title}: ${share}${where}` }];
    });
    const about = `${name}, ${sayDate(clockOf(house.clock), run.from)} to ${sayDate(clockOf(house.clock), run.to)}; what the rules do moves nothing in it`;
    const one: Shown = { run, text, setup, subject, drawn: {}, again: (keepAt) => replay(house, own, { ...options, keepAt }) };
    return [one, { about, notes, differences: differing }] as const;
  }

  function draw(): void {
    if (!shown || !look) return;
    const { run, drawn } = shown;
    const zone = run.past.house.zones.some(({ name }) => name === look?.zone) ? look.zone : undefined;
    const chart = chartOf(run, { ...look, zone, ...drawn, thin: true, dense: true, title: "" });
    tell({ kind: "drawn", chart });
  }

  // ── Explaining ──────────────────────────────────────────────────────────────────────────────────────────────────────

  function instantAt({ run }: Shown, share: number): number {
    const step = run.to - run.from > 2 * HOUR ? MINUTE : SECOND;
    return Math.min(run.to, Math.round((run.from + share * (run.to - run.from)) / step) * step);
  }

  function explain(share: number, thing: string | undefined): void {
    if (!shown) return;
    const { run, text } = shown;
    const { house } = run.past;
    const at = instantAt(shown, share);
    const names =
      thing === undefined ? house.outputs.filter(({ name }) => isIn(look?.zone, name)).map(({ name }) => name) : [thing];
    const said = names.flatMap((name): Said[] => {
      const output = house.outputs.find((one) => one.name === name);
      const { rule } = output ? run.past.reason(name, at) : { rule: undefined };
      // What nobody asks for is of interest for why it is not on; beside others it is enough to say so.
      const isUnasked = output !== undefined && rule === undefined;
      const isIdle = isUnasked && thing !== undefined;
      const explanation = isIdle ? whyNot(run, name, at) : whyAnything(run, name, at);
      return [{ thing: name, kind: isIdle ? "why not" : "why", explanation, links: linksOf(text, run, name, at, isUnasked) }];
    });
    tell({ kind: "explained", when: whenIn(run, at), share, thing, said });
  }

  /** What comes next: the house is run again up to then, and kept. */
  function comes(share: number, thing: string): void {
    if (!shown?.run.past.house.outputs.some(({ name }) => name === thing)) return;
    const at = instantAt(shown, share);
    const run = shown.again(Math.min(at, shown.run.to - 1));
    if (run.kept) tell({ kind: "next", thing, share, says: whatNext({ ...run, to: run.kept.at }, thing) });
  }

  // ── Another variant ─────────────────────────────────────────────────────────────────────────────────────────────────

  function overlay(): void {
    if (!beside || shown?.subject.kind !== "days" || !look) return;
    const { setup, name } = beside;
    const { run, setup: now } = shown;
    try {
      const text = followOther(setup.files);
      if (!isSound(text)) throw new RangeError(`the variant "${name}" has errors in its text`);
      const date = dateOfDay(clockOf(run.past.house.clock).local(run.from).day);
      const { house, happenings } = readTimeline(text, setup.acts, date, now.days);
      const options = optionsOf(house, { ...setup, from: date, days: now.days, weather: now.weather });
      const other = provoke(house, happenings, options);
      if (other.from !== run.from || other.to !== run.to)
        throw new RangeError("its clock is another one: the two are not of the same time");
      const variants = [
        { name: "now", run, house: run.past.house, set: fitting(run.past.house, now.set) },
        { name, run: other, house, set: fitting(house, setup.set) },
      ];
      const aims = aimsInCommon(variants);
      const measured = variants.map((one, place) => ({
        name: one.name,
        measures: measure(one.run, { aims: aims[place] ?? [] }),
      }));
      const figures = compare(measured);
      const rows = figures
        .map((figure) => ({
          label: labelOfCompared(figure),
          values: figure.values.map((value) => sayCompared(figure, value)),
          best: figure.best,
        }))
        .filter(({ values }) => new Set(values).size > 1);
      const chart = chartOfComparison(variants, { ...look, zone: undefined, height: 320, title: "" });
      tell({
        kind: "compared",
        comparison: { chart, names: variants.map((one) => one.name), rows, same: figures.length - rows.length },
      });
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      tell({ kind: "compared", comparison: undefined, broken: sentence(error.message) });
    }
  }

  // ── A trial of what was let happen ──────────────────────────────────────────────────────────────────────────────────

  function propose(): void {
    if (shown?.subject.kind !== "days" || !asked) return;
    const { run, text, setup } = shown;
    const simulation = run as Simulation;
    const { house } = run.past;
    const happened = shown.drawn.happened ?? [];
    const clock = clockOf(house.clock);
    const [first] = happened;
    const begins = first ? Math.max(run.from, Math.floor(Math.min(...happened.map(({ at }) => at)) / HOUR) * HOUR) : run.from;
    const last = Math.max(...happened.map(({ to }) => to));
    const ends = first ? Math.min(run.to, Math.ceil((last + HOUR) / HOUR) * HOUR) : run.to;
    const moment = (at: number) => sayDate(clock, at);
    // Where a day ends, the clock of a trial says so by its date.
    const span = ends - begins === DAY ? "for 24 h" : `to ${moment(ends)}`;
    const unmoved = new Set(simulation.unmoved);
    const given = [...house.sensors, ...house.dials, ...house.modes].flatMap(({ name, type, ...rest }) => {
      if (type.kind === "press") return [];
      const isDial = house.dials.some((one) => one.name === name) || house.modes.some((one) => one.name === name);
      // Of doors and people in simulated rooms, what is given would stay so.
      if (!isDial && type.kind !== "number" && !unmoved.has(name)) return [];
      const base = valueAt(run.past.line({ kind: "value", of: name }), begins);
      if (Number.isNaN(base)) return [];
      const value = rounded(writeExpression(expressionOf(base, type)));
      const usual = "atFirst" in rest ? String((rest as { atFirst: unknown }).atFirst) : undefined;
      return isDial && usual === value.split(" ")[0] ? [] : [`${name} is ${value}`];
    });
    const head = [
      `from ${moment(begins)} ${span}`,
      `simulated, weather ${simulation.weather.name}`,
      ...(given.length > 0 ? [`given ${given.join(",\n    ")}`] : []),
      ...setup.acts
        .split("\n")
        .map((line) => line.trim())
        .filter((line) => line !== ""),
    ];
    const hasWeather = house.weathers.some(({ name }) => name === simulation.weather.name);
    const lines = hasWeather ? head : head.map((line) => (line.startsWith("simulated") ? "simulated" : line));
    const tried = text.with(TIMELINE, `trial proposed_here {\n${lines.join("\n")}\n}`);
    const trial = tried.house.trials.find(({ name }) => name === "proposed_here");
    const [problem] = tried.problems.filter(({ place }) => place.file === TIMELINE);
    const broken = problem ? `${problem.reason} ${problem.remedy ?? ""}`.trim() : undefined;
    const offers = trial && isSound(tried) ? expectable(runTrial(tried.house, trial).run).map(writeExpectation) : [];
    tell({ kind: "proposed", head: lines.join("\n"), offers, ...(broken !== undefined && { broken }) });
  }

  // ── Recordings ──────────────────────────────────────────────────────────────────────────────────────────────────────

  function open(name: string, text: string, modified: number): void {
    const clock = asked ? follow(asked.setup.files).house.clock : "UTC";
    try {
      const { form, records, notes } = openRecording(text, { clock, now: modified });
      recording = { name, records };
      const columns = new Map<string, { name: string; unit: string; count: number; first: string }>();
      for (const { name: column, value, unit = "" } of records) {
        const known = columns.get(column);
        if (known) known.count++;
        else
          columns.set(column, {
            name: column,
            unit,
            count: 1,
            first: value === undefined ? "unknown" : `${value} ${unit}`.trim(),
          });
      }
      const figures = signalFigures(records);
      tell({ kind: "recording", recording: { name, form, notes, columns: [...columns.values()], figures } });
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      tell({ kind: "recording", recording: undefined, broken: `${name} cannot be read. ${error.message}` });
    }
  }

  function distribute(name: string, side: "below" | "above" | undefined): void {
    if (!recording) return;
    try {
      const { house } = asked ? follow(asked.setup.files) : openHouse({});
      const found = thresholds(recording.records, name, place(house), side ? { side } : {});
      tell({ kind: "distributed", distribution: { thresholds: found, bins: binsOf(recording.records, name) } });
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      tell({ kind: "distributed", distribution: undefined, broken: sentence(error.message) });
    }
  }
}

/** Of the house, only where it is: its sensors' ranges are not those of a file's columns. */
const place = (house: House): House => ({ ...house, sensors: [] });

const BINS = 24;

/** Shares of its reports, from its lowest to its highest. */
function binsOf(records: readonly Recorded[], name: string): Distribution["bins"] {
  const values = records.flatMap((one) =>
    one.name === name && typeof one.value === "number" && Number.isFinite(one.value) ? [one.value] : [],
  );
  const low = values.reduce((a, b) => Math.min(a, b), Number.POSITIVE_INFINITY);
  const high = values.reduce((a, b) => Math.max(a, b), Number.NEGATIVE_INFINITY);
  if (!(high > low)) return [];
  const size = (high - low) / BINS;
  const counts = new Array<number>(BINS).fill(0);
  for (const value of values) {
    const bin = Math.min(BINS - 1, Math.floor((value - low) / size));
    counts[bin] = (counts[bin] ?? 0) + 1;
  }
  return counts.map((count, bin) => ({ from: low + bin * size, to: low + (bin + 1) * size, share: count / values.length }));
}

function optionsOf(house: House, { weather, set, from, days }: Setup): SimulationOptions & { from: number } {
  const chosen = house.weathers.find(({ name }) => name === weather);
  const begins = from === undefined ? exampleDay(house) : clockOf(house.clock).instant(Date.parse(`${from}T00:00Z`) / DAY, 0);
  return {
    set: fitting(house, set),
    from: begins,
    lasts: endOf(house, begins, days) - begins,
    ...(chosen && { weather: chosen }),
  };
}

/** Midnight so many local days later: one of them may have 23 hours. */
function endOf(house: House, from: number, days: number): number {
  const clock = clockOf(house.clock);
  return clock.instant(clock.local(from).day + days, 0);
}

const dateIn = (house: House, { from }: Setup) => from ?? dateOfDay(clockOf(house.clock).local(exampleDay(house)).day);

function notesOf({ unmoved, idle, assumed, past }: Simulation): string[] {
  const names = (list: readonly string[]) =>
    `${list.slice(0, 4).join(", ")}${list.length > 4 ? ` and ${list.length - 4} more` : ""}`;
  const problems = past.problems(Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY);
  return [
    ...(assumed ? ["Nothing is said of its rooms: usual ones are taken."] : []),
    ...(unmoved.length > 0 ? [`No room moves ${names(unmoved)}: what the first trial gives stays so.`] : []),
    ...(idle.length > 0 ? [`No room answers to ${names(idle)}.`] : []),
    ...(problems.length > 0
      ? [`Problems while running: ${problems[0]?.text}${problems.length > 1 ? `, and ${problems.length - 1} more` : ""}.`]
      : []),
  ];
}

/** Its axis: the house's own clock as if it were UTC. */
function axisOf({ past, from, to }: Run): [from: number, to: number] {
  const { day, ms } = clockOf(past.house.clock).local(from);
  const begins = day * DAY + ms;
  return [begins, begins + to - from];
}

function plainly(id: number, { run, subject, drawn }: Shown): Omit<Ran, "about"> {
  const [from, to] = axisOf(run);
  const happened = (drawn.happened ?? []).map(({ at, says }) => ({ at: at - run.from + from, says }));
  return { id, subject, notes: [], happened, from, to, problems: [] };
}

/** With seconds where what is looked at is short. */
function whenIn({ past, from, to }: Run, at: number): string {
  const clock = clockOf(past.house.clock);
  const { ms } = clock.local(at);
  const seconds = to - from > 2 * HOUR ? "" : `:${String(Math.floor(ms / SECOND) % 60).padStart(2, "0")}`;
  return `${sayDate(clock, at)}${seconds}`;
}

/** Where most of what a trial speaks of is. */
function zoneOf(house: House, { happenings, given }: Trial, verdicts: readonly Verdict[]): string | undefined {
  const named = [
    ...verdicts.flatMap(({ expectation }) => thingsIn(expectation)),
    ...verdicts.flatMap(({ expectation }) => thingsIn(expectation)),
    ...happenings.flatMap(({ what }) => ("name" in what ? [what.name] : [])),
    ...given.map(({ name }) => name),
  ];
  const counts = house.zones.map(({ name }) => ({ name, count: named.filter((one) => isIn(name, one)).length }));
  return counts.reduce<(typeof counts)[number] | undefined>((a, b) => (!a || b.count > a.count ? b : a), undefined)?.name;
}

/** To two digits after the point: nobody gives a room more exactly. */
const rounded = (text: string) => text.replace(/-?\d+\.\d{3,}/, (number) => String(Math.round(Number(number) * 100) / 100));

const sentence = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}${text.endsWith(".") ? "" : "."}`;
