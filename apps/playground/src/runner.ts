// Runs and draws what is on the desk: simulated days, a trial, a recording; explains it, and lays another variant over it.
import { type ChartOptions, chartOf, linesOfChart } from "@modrik/charts";
import { fineness, momentAt } from "@modrik/look/moment";
import {
  type Air,
  askable,
  clockOf,
  DAY,
  type DrawableRun,
  differences,
  HOUR,
  type House,
  isIn,
  isSound,
  MINUTE,
  misfitsOf,
  type Provoked,
  type ProvokedLines,
  provoke,
  provokeLines,
  type Recorded,
  type Run,
  replay,
  runTrial,
  SECOND,
  type SimulationOptions,
  sayDate,
  sayLength,
  sayValue,
  type Trial,
  thingsIn,
  type Verdict,
  whatNext,
  whyAnything,
  whyNot,
} from "modrik";
import type { HouseText } from "modrik/language";
import { linksOf } from "./links.js";
import type { FromRunner, Look, Ran, Said, Setup, Subject, ToRunner } from "./messages.js";
import { fitting, followFiles } from "./open-house.js";
import { proposalOf } from "./proposal.js";
import { distributionOf, openedRecording } from "./recorded.js";
import { said } from "./said.js";
import { dateIn, optionsOf } from "./simulated-days.js";
import { readTimeline } from "./timeline.js";
import { comparisonOf } from "./variants.js";

/** How long one goes on writing before rooms are settled again. */
const THINKING_MS = 300;
/** How often it says how far it is. */
const PROGRESS_MS = 200;

/** A run on the desk, and how to run it again up to an instant. */
interface Shown {
  readonly run: Run;
  /** What was run first to be drawn: of one zone, and of nothing else. */
  readonly sketch?: { readonly run: DrawableRun; readonly zone: string | undefined };
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
      const begins = Date.parse(dateIn(text.house, setup));
      const none = { id, happened: [], from: begins, to: begins + setup.days * DAY, problems: [] };
      const about = "It could not be run";
      tell({ kind: "ran", ran: { ...(shown ? plainly(id, shown) : none), subject, about, notes: [said(error)] } });
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
    let toldAt = performance.now();
    const onProgress = (share: number) => {
      if (setup.days === 1 || performance.now() - toldAt < PROGRESS_MS) return;
      toldAt = performance.now();
      tell({ kind: "progress", id, share });
    };
    const simulated = (more: SimulationOptions) => provoke(house, happenings, { ...options, onProgress, ...more });
    const tellRun = (run: Provoked | ProvokedLines, shows: Pick<Shown, "run" | "sketch">) => {
      const { from, weather: under, airs, happened } = run;
      lived = { weather: under.name, from, airs };
      const again = (keepAt: number) => simulated({ airs, runUp: DAY, settles: false, keepAt, lasts: keepAt - from + 1 });
      const one = Object.assign(shows, { text, setup, subject: { kind: "days" } as const, drawn: { happened }, again });
      const about = `${sayDate(clockOf(house.clock), from).slice(0, 10)}, ${under.title ?? under.name}`;
      done(one, { about, notes: notesOf(run), problems });
    };
    const tellWhole = (more: SimulationOptions) => {
      const run = simulated(more);
      tellRun(run, { run });
    };
    /** Only what is drawn now; the rest is run when somebody asks for it. */
    const tellSketch = (more: SimulationOptions) => {
      const zone = zoneIn(house, look);
      const { from, lasts } = options;
      const lines = linesOfChart(house, { from, to: from + lasts }, { zone });
      const run = provokeLines(house, happenings, lines, { ...options, ...more });
      let whole: Provoked | undefined;
      tellRun(run, {
        sketch: { run, zone },
        get run() {
          whole ??= simulated(more);
          return whole;
        },
      });
    };
    const weather = options.weather?.name ?? house.weathers[0]?.name;
    const before = lived?.weather === weather && lived?.from === options.from ? lived : undefined;
    const isLong = setup.days > 1;
    // A writer sees a day at once, from rooms as they were; when they pause, from rooms that have been lived in. Of many days
    // the first hours do not count for so much.
    if (before && !isLong) tellSketch({ airs: before.airs, runUp: HOUR });
    else tellWhole(before ? { airs: before.airs, runUp: DAY } : {});
    // A writer who goes on does not wait for what they are about to change.
    if (before && !isLong) setTimeout(() => id === latest && tellWhole({}), THINKING_MS);
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
    const { sketch, drawn, text } = shown;
    const zone = zoneIn(text.house, look);
    const chart = chartOf((sketch?.zone === zone ? sketch?.run : undefined) ?? shown.run, {
      ...look,
      zone,
      ...drawn,
      thin: true,
      dense: true,
      title: "",
    });
    tell({ kind: "drawn", chart });
  }

  // ── Explaining ──────────────────────────────────────────────────────────────────────────────────────────────────────

  function explain(share: number, wanted: string | undefined): void {
    if (!shown) return;
    const { run, text } = shown;
    const { house } = run.past;
    // What was asked about may have gone out of the text meanwhile.
    const thing = wanted !== undefined && askable(house).includes(wanted) ? wanted : undefined;
    const at = momentAt(run.from, run.to, share);
    const names =
      thing === undefined ? house.outputs.filter(({ name }) => isIn(look?.zone, name)).map(({ name }) => name) : [thing];
    const said = names.flatMap((name): Said[] => {
      const output = house.outputs.find((one) => one.name === name);
      const { rule } = output ? run.past.reason(name, at) : { rule: undefined };
      // What nobody asks for is of interest for why it is not on; for one of several it is enough to say so.
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
    const at = momentAt(shown.run.from, shown.run.to, share);
    const run = shown.again(Math.min(at, shown.run.to - 1));
    if (run.kept) tell({ kind: "next", thing, share, says: whatNext({ ...run, to: run.kept.at }, thing) });
  }

  // ── What else is asked ──────────────────────────────────────────────────────────────────────────────────────────────

  function overlay(): void {
    if (!beside || shown?.subject.kind !== "days" || !look) return;
    const { setup, name } = beside;
    try {
      const comparison = comparisonOf(shown, { text: followOther(setup.files), setup, name }, look);
      tell({ kind: "compared", comparison });
    } catch (error) {
      tell({ kind: "compared", comparison: undefined, broken: said(error) });
    }
  }

  function propose(): void {
    if (shown?.subject.kind !== "days") return;
    tell({ kind: "proposed", ...proposalOf(shown.run as Provoked, shown.text, shown.setup.acts) });
  }

  function open(name: string, text: string, modified: number): void {
    const clock = asked ? follow(asked.setup.files).house.clock : "UTC";
    try {
      const { records, info } = openedRecording(name, text, { clock, now: modified });
      recording = { name, records };
      tell({ kind: "recording", recording: info });
    } catch (error) {
      tell({ kind: "recording", recording: undefined, broken: `${name} cannot be read. ${said(error)}` });
    }
  }

  function distribute(name: string, side: "below" | "above" | undefined): void {
    if (!recording || !asked) return;
    try {
      const distribution = distributionOf(recording.records, name, follow(asked.setup.files).house, side);
      tell({ kind: "distributed", distribution });
    } catch (error) {
      tell({ kind: "distributed", distribution: undefined, broken: said(error) });
    }
  }
}

/** The zone that is looked at, where the house still has it. */
const zoneIn = ({ zones }: House, look: Look | undefined) => zones.find(({ name }) => name === look?.zone)?.name;

function notesOf({ unmoved, idle, assumed, takenOutdoors, past }: Provoked | ProvokedLines): string[] {
  const names = (list: readonly string[]) =>
    `${list.slice(0, 4).join(", ")}${list.length > 4 ? ` and ${list.length - 4} more` : ""}`;
  const problems = past.problems(Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY);
  return [
    ...(assumed ? ["Nothing is said of its rooms: usual ones are taken."] : []),
    ...(takenOutdoors.length > 0 ? [`Taken for the outdoors: ${takenOutdoors.join(", ")}.`] : []),
    ...(unmoved.length > 0 ? [`No room moves ${names(unmoved)}: what the first trial gives stays so.`] : []),
    ...(idle.length > 0 ? [`No room answers to ${names(idle)}.`] : []),
    ...(problems.length > 0
      ? [`Problems while running: ${problems[0]?.text}${problems.length > 1 ? `, and ${problems.length - 1} more` : ""}.`]
      : []),
  ];
}

/** Its axis: the house's own clock as if it were UTC. */
function axisOf({ past, from, to }: DrawableRun): [from: number, to: number] {
  const { day, ms } = clockOf(past.house.clock).local(from);
  const begins = day * DAY + ms;
  return [begins, begins + to - from];
}

function plainly(id: number, shown: Shown): Omit<Ran, "about"> {
  const { sketch, subject, drawn } = shown;
  const run = sketch?.run ?? shown.run;
  const [from, to] = axisOf(run);
  const happened = (drawn.happened ?? []).map(({ at, says }) => ({ at: at - run.from + from, says }));
  return { id, subject, notes: [], happened, from, to, problems: [] };
}

/** With seconds where what is looked at is short. */
function whenIn({ past, from, to }: Run, at: number): string {
  const clock = clockOf(past.house.clock);
  const { ms } = clock.local(at);
  const seconds = fineness(from, to) >= MINUTE ? "" : `:${String(Math.floor(ms / SECOND) % 60).padStart(2, "0")}`;
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
