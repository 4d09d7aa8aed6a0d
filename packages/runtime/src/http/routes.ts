// Everything that can be asked of a running house over HTTP, a row each.
import {
  askable,
  type House,
  misfit,
  type PersonAction,
  readValue,
  type Slot,
  sayValue,
  type Value,
  whatNext,
  whyAnything,
  whyNot,
  writeDuration,
} from "modrik";
import { z } from "zod";
import type { Chosen } from "../archive/tasks.js";
import type { Doer } from "../running-house.js";
import type { Person } from "../storage/house-file.js";
import * as shapes from "./shapes.js";
import { giveToken } from "./token.js";
import type { View } from "./view.js";

/** A request that cannot be met, and why. */
export class Refusal extends Error {
  constructor(
    readonly status: 400 | 404 | 409 | 503,
    says: string,
    readonly remedy?: string,
  ) {
    super(says);
  }
}

/** An answer that is text already. */
export class Prepared {
  constructor(readonly text: string) {}
}

/** What comes with a request. */
export interface Asked<Params, Query, Body> {
  readonly params: Params;
  readonly query: Query;
  readonly body: Body;
  readonly by: Doer;
  /** Whose token it came with, where it came with one. */
  readonly person: Person | undefined;
}

/** A row: what is asked how, and what answers it. */
export interface Route {
  readonly method: "GET" | "PUT" | "POST" | "DELETE";
  /** `{name}` stands for the name of a thing. */
  readonly path: string;
  readonly operation: string;
  readonly says: string;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodObject;
  readonly answers: z.ZodType;
  /** Of what is answered as text. @default JSON */
  readonly media?: "text/csv";
  readonly does: (view: View, asked: Asked<{ name: string }, never, never>) => unknown;
}

type Of<Shape> = Shape extends z.ZodType<infer Out> ? Out : Record<string, never>;

/** A row with the types of its own parts. */
function route<Query extends z.ZodObject | undefined = undefined, Body extends z.ZodObject | undefined = undefined>(
  one: Omit<Route, "query" | "body" | "does"> & {
    readonly query?: Query;
    readonly body?: Body;
    readonly does: (view: View, asked: Asked<{ name: string }, Of<Query>, Of<Body>>) => unknown;
  },
): Route {
  return one as unknown as Route;
}

const get = (path: string, operation: string, says: string, answers: z.ZodType, does: (view: View) => unknown): Route =>
  route({ method: "GET", path, operation, says, answers, does });

/** A list of things, and each of them. */
function listed<Thing extends { readonly name: string }>(
  path: string,
  operation: string,
  what: string,
  shape: z.ZodType<Thing>,
  all: (view: View) => readonly Thing[],
): Route[] {
  return [
    get(path, `${operation}s`, `All ${what}s.`, shape.array(), all),
    route({
      method: "GET",
      path: `${path}/{name}`,
      operation,
      says: `One ${what}.`,
      answers: shape,
      does: (view, { params }) => oneOf(all(view), params.name, what),
    }),
  ];
}

function oneOf<Thing extends { readonly name: string }>(things: readonly Thing[], name: string, what: string): Thing {
  const found = things.find((one) => one.name === name);
  if (found) return found;
  const some = things.slice(0, 20).map((one) => one.name);
  throw new Refusal(
    404,
    `The house has no ${what} called "${name}".`,
    some.length > 0 ? `It has ${some.join(", ")}.` : "It has none.",
  );
}

export const routes: readonly Route[] = [
  get("/now", "now", "All that stands now, at one instant.", shapes.now, (view) => view.now()),
  get("/house", "house", "The house, and how it fares.", shapes.house, (view) => view.house()),
  get("/healthz", "health", "Whether all is well: answers 503 where it is not.", shapes.health, (view) => view.health()),
  ...listed("/zones", "zone", "zone", shapes.zone, (view) => view.zones()),
  ...listed("/outputs", "output", "output", shapes.output, (view) => view.outputs()),
  route({
    method: "PUT",
    path: "/outputs/{name}/hand",
    operation: "takeByHand",
    says: "Switches an output by hand: for a time, until a moment, or until a mode changes. Guards stand above it.",
    body: shapes.switches,
    answers: shapes.output,
    async does(view, { params, body, by }) {
      const { type, range } = oneOf(view.running.house.outputs, params.name, "output");
      const value = readSaid({ type, range }, params.name, body.value);
      const lasts = lastingOf(view, body);
      const action: PersonAction = { kind: "switches", output: params.name, value, ...(lasts !== undefined && { lasts }) };
      const end = body.until === undefined || lasts === "until released" ? lasting(lasts) : ` until ${body.until}`;
      await act(view, action, `set ${params.name} to ${sayValue(type, value)}${end}`, by);
      return oneOf(view.outputs(), params.name, "output");
    },
  }),
  route({
    method: "DELETE",
    path: "/outputs/{name}/hand",
    operation: "releaseHand",
    says: "Gives an output back to its rules.",
    answers: shapes.output,
    async does(view, { params, by }) {
      oneOf(view.running.house.outputs, params.name, "output");
      await act(view, { kind: "releases", output: params.name }, `release ${params.name}`, by);
      return oneOf(view.outputs(), params.name, "output");
    },
  }),
  ...listed("/dials", "dial", "dial", shapes.dial, (view) => view.dials()),
  route({
    method: "PUT",
    path: "/dials/{name}",
    operation: "setDial",
    says: "Sets a dial.",
    body: shapes.setsValue,
    answers: shapes.dial,
    async does(view, { params, body, by }) {
      await set(view, view.running.house.dials, "dial", params.name, body.value, by);
      return oneOf(view.dials(), params.name, "dial");
    },
  }),
  route({
    method: "GET",
    path: "/dials/{name}/points",
    operation: "points",
    says: "What a dial or a mode does: the switch points of the rules that read it, with a value it has or might have.",
    query: shapes.pointsAsked,
    answers: shapes.explanation.array(),
    does(view, { params: { name }, query }) {
      const { dials, modes } = view.running.house;
      const thing = oneOf<House["dials"][number] | House["modes"][number]>([...dials, ...modes], name, "dial or mode");
      const value = query.value === undefined ? view.running.value(name) : readSaid(thing, name, query.value);
      return view.points(name, value);
    },
  }),
  ...listed("/modes", "mode", "mode", shapes.mode, (view) => view.modes()),
  route({
    method: "PUT",
    path: "/modes/{name}",
    operation: "setMode",
    says: "Sets a mode.",
    body: shapes.setsValue,
    answers: shapes.mode,
    async does(view, { params, body, by }) {
      await set(view, view.running.house.modes, "mode", params.name, body.value, by);
      return oneOf(view.modes(), params.name, "mode");
    },
  }),
  ...listed("/countdowns", "countdown", "countdown", shapes.countdown, (view) => view.countdowns()),
  route({
    method: "PUT",
    path: "/countdowns/{name}",
    operation: "runCountdown",
    says: "Starts a countdown, again where it runs, for another time if one is given; or stops it.",
    body: shapes.runs,
    answers: shapes.countdown,
    async does(view, { params, body, by }) {
      oneOf(view.running.house.countdowns, params.name, "countdown");
      const lasts = durationOf(body.lasts);
      if (body.running)
        await act(
          view,
          { kind: "starts", countdown: params.name, ...(lasts !== undefined && { lasts }) },
          `start ${params.name}${lasting(lasts)}`,
          by,
        );
      else await act(view, { kind: "stops", countdown: params.name }, `stop ${params.name}`, by);
      return oneOf(view.countdowns(), params.name, "countdown");
    },
  }),
  ...listed("/presets", "preset", "preset", shapes.preset, (view) => view.presets()),
  route({
    method: "POST",
    path: "/presets/{name}",
    operation: "applyPreset",
    says: "Applies a preset.",
    body: shapes.nothing,
    answers: shapes.preset,
    async does(view, { params, by }) {
      const preset = oneOf(view.presets(), params.name, "preset");
      await act(view, { kind: "applies", preset: params.name }, `apply ${params.name}`, by);
      return preset;
    },
  }),
  ...listed("/schedules", "schedule", "schedule", shapes.schedule, (view) => view.schedules()),
  ...listed("/lets", "let", "let", shapes.let, (view) => view.lets()),
  ...listed("/rules", "rule", "rule", shapes.rule, (view) => view.rules()),
  route({
    method: "PUT",
    path: "/rules/{name}/pause",
    operation: "pauseRule",
    says: "Pauses a rule, for a time or until it is resumed.",
    body: shapes.pauses,
    answers: shapes.rule,
    async does(view, { params, body, by }) {
      oneOf(view.running.house.rules, params.name, "rule");
      const lasts = durationOf(body.lasts);
      await act(
        view,
        { kind: "pauses", rule: params.name, ...(lasts !== undefined && { lasts }) },
        `pause ${params.name}${lasting(lasts)}`,
        by,
      );
      return oneOf(view.rules(), params.name, "rule");
    },
  }),
  route({
    method: "DELETE",
    path: "/rules/{name}/pause",
    operation: "resumeRule",
    says: "Lets a paused rule go on.",
    answers: shapes.rule,
    async does(view, { params, by }) {
      oneOf(view.running.house.rules, params.name, "rule");
      await act(view, { kind: "resumes", rule: params.name }, `resume ${params.name}`, by);
      return oneOf(view.rules(), params.name, "rule");
    },
  }),
  route({
    method: "POST",
    path: "/rules/{name}/run",
    operation: "runRule",
    says: "Runs the steps of a rule now.",
    body: shapes.nothing,
    answers: shapes.rule,
    async does(view, { params, by }) {
      oneOf(view.running.house.rules, params.name, "rule");
      await act(view, { kind: "runs", rule: params.name }, `run ${params.name}`, by);
      return oneOf(view.rules(), params.name, "rule");
    },
  }),
  ...listed("/guards", "guard", "guard", shapes.guard, (view) => view.guards()),
  route({
    method: "GET",
    path: "/notices",
    operation: "notices",
    says: "What people were told, oldest first.",
    query: shapes.stretch,
    answers: shapes.notice.array(),
    does: (view, { query }) => within(view, query, LONGEST, (from, to) => view.notices(from, to)),
  }),
  route({
    method: "PUT",
    path: "/notices/{name}/ticked",
    operation: "tickOff",
    says: "Ticks a notice off, by its id: somebody has seen to it.",
    body: shapes.nothing,
    answers: shapes.notice,
    async does(view, { params, by }) {
      const notice = view.notice(params.name);
      if (!notice) throw new Refusal(404, `There is no notice ${params.name} of the last 32 days.`, "See /notices.");
      await view.running.tick(notice.id, notice.text, by);
      return view.notice(params.name);
    },
  }),
  route({
    method: "GET",
    path: "/journal",
    operation: "journal",
    says: "What happened and because of what, and what people did, oldest first.",
    query: shapes.journalAsked,
    answers: shapes.entry.array(),
    async does(view, { query: { kinds, of, limit = USUAL, ...stretch } }) {
      const { from, to } = stretchIn(view, stretch, LONGEST_JOURNAL);
      const { clockAhead: ahead } = view.running;
      const asked = kinds === undefined ? undefined : shapes.kindsIn(kinds);
      return remembered(await view.archive.ask({ kind: "journal", from, to, kinds: asked, of, limit, ahead }));
    },
  }),
  route({
    method: "GET",
    path: "/history",
    operation: "history",
    says: "What a thing was: each report or change, and of what is long ago the hours.",
    query: shapes.historyAsked,
    answers: shapes.history,
    does(view, { query }) {
      const { sensors, outputs, dials, modes } = view.running.house;
      oneOf([...sensors, ...outputs, ...dials, ...modes], query.of, "sensor, output, dial or mode");
      const { from, to } = stretchIn(view, query, LONGEST);
      return view.history(query.of, from, to, query.limit ?? USUAL);
    },
  }),
  route({
    method: "GET",
    path: "/chart",
    operation: "chart",
    says: "A stretch of the past as a chart, with figures: of a zone, of chosen things, or of the house.",
    query: shapes.chartAsked,
    answers: shapes.chart,
    async does(view, { query }) {
      const { mean, theme = "light", width = 1000, height = 600 } = query;
      return remembered(
        await view.archive.ask({
          kind: "chart",
          ...chosenIn(view, query, "sensor or output"),
          mean: mean === "yes",
          theme,
          width,
          height,
          ahead: view.running.clockAhead,
        }),
      );
    },
  }),
  route({
    method: "GET",
    path: "/recording.csv",
    operation: "recording",
    says: "What was reported and switched in a stretch of the past, a row a moment.",
    query: shapes.recordingAsked,
    answers: z.string(),
    media: "text/csv",
    async does(view, { query }) {
      const { clockAhead: ahead } = view.running;
      return remembered(await view.archive.ask({ kind: "recording", ...chosenIn(view, query), ahead }));
    },
  }),
  get(
    "/coming",
    "coming",
    "What comes next: the next change of every output and mode within a day, if every sensor goes on saying what it says.",
    shapes.coming.array(),
    async ({ running, archive }) =>
      remembered(
        await archive.ask({
          kind: "coming",
          house: running.house,
          snapshot: running.snapshot(),
          ahead: running.clockAhead,
        }),
      ),
  ),
  route({
    method: "GET",
    path: "/me",
    operation: "me",
    says: "Who asks, and what they may.",
    answers: shapes.me,
    does: (_, { person, by }) => ({
      name: person?.name ?? by.who,
      may: person?.may ?? "act",
      hasToken: person !== undefined,
    }),
  }),
  get("/people", "people", "Those who have a token.", shapes.person.array(), (view) =>
    view.file.people().map(({ name, may, at }) => ({ name, may, at: new Date(at).toISOString() })),
  ),
  route({
    method: "POST",
    path: "/people",
    operation: "giveToken",
    says: "Makes a token for somebody, shown this once; one that they had before opens nothing any more.",
    body: shapes.gives,
    answers: shapes.given,
    does: (view, { body: { name, may } }) => ({ name, may, token: giveToken(view.file, name, may, Date.now()) }),
  }),
  route({
    method: "DELETE",
    path: "/people/{name}",
    operation: "takeToken",
    says: "Takes the token of somebody back.",
    answers: shapes.person,
    does(view, { params }) {
      const { name, may, at } = oneOf(view.file.people(), params.name, "person with a token");
      view.file.removePerson(name);
      view.streams?.endThoseOf(name);
      return { name, may, at: new Date(at).toISOString() };
    },
  }),
  route({
    method: "GET",
    path: "/why",
    operation: "why",
    says: "Why something is, or was, as it is, and why it is not otherwise; or why a notice was sent.",
    query: shapes.whyAsked,
    answers: shapes.explanation,
    does: answerWhy,
  }),
];

const USUAL = 1000;
const DAY = 86_400_000;
/** A stretch that is looked at is no longer: of the journal, which is put into words, less. */
const LONGEST = 32 * DAY;
const LONGEST_JOURNAL = 8 * DAY;
/** A year and what a leap year has more: it is put together next to the house. */
const LONGEST_CHART = 366 * DAY;

interface StretchAsked {
  readonly from?: string | undefined;
  readonly to?: string | undefined;
  readonly limit?: number | undefined;
}

function stretchIn(view: View, { from, to }: StretchAsked, longest: number): { readonly from: number; readonly to: number } {
  const end = to === undefined ? view.running.now : instantIn(view, to);
  const begin = from === undefined ? end - DAY : instantIn(view, from);
  if (begin > end) throw new Refusal(400, "It would end before it begins.", "Let from lie before to.");
  if (end - begin > longest) throw new Refusal(400, `A stretch is of ${longest / DAY} days at most.`, "Ask for it in parts.");
  return { from: begin, to: end };
}

function within<Item>(
  view: View,
  query: StretchAsked,
  longest: number,
  found: (from: number, to: number) => readonly Item[],
): Item[] {
  const { from, to } = stretchIn(view, query, longest);
  return found(from, to).slice(-(query.limit ?? USUAL));
}

function instantIn({ running }: View, text: string): number {
  const at = /^\d{4}-\d{2}-\d{2}(T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?(Z|[+-]\d{2}:\d{2}))?$/.test(text)
    ? Date.parse(text)
    : Number.NaN;
  if (Number.isNaN(at)) throw new Refusal(400, `"${text}" is not an instant.`, "Write it as 2026-01-15T10:15:00Z.");
  return at - running.clockAhead;
}

function answerWhy(view: View, { query }: Asked<{ name: string }, z.infer<typeof shapes.whyAsked>, unknown>): unknown {
  const { running } = view;
  if (query.notice !== undefined) return view.whyNotice(query.notice) ?? noNotice(query.notice);
  if (query.of === undefined) throw new Refusal(400, "It is not said what is asked about.", "Write of=NAME, or notice=ID.");
  const of = query.of;
  const at = query.at === undefined ? running.now : instantIn(view, query.at);
  if (at > running.now) throw new Refusal(400, "That lies in the future.", "Ask about now or what has been.");
  // Of long ago only what led to it is read.
  const run = at >= running.run.from ? view.runOf(running.run.from, running.now) : view.runOf(at - DAY, at);
  if (at < run.from)
    throw new Refusal(404, "Nothing is remembered of that time.", `The journal begins at ${view.instant(run.from)}.`);
  if (query.not !== undefined) {
    oneOf(running.house.outputs, of, "output");
    return whyNot(run, of, at, query.not === "" ? undefined : query.not);
  }
  oneOf(
    askable(running.house).map((name) => ({ name })),
    of,
    "thing or rule",
  );
  const because = whyAnything(run, of, at);
  const isNow = query.at === undefined && running.house.outputs.some(({ name }) => name === of);
  return isNow ? { says: because.says, because: [...because.because, whatNext(running.runAhead(), of)] } : because;
}

function noNotice(id: number): never {
  throw new Refusal(404, `There is no notice ${id}, or what led to it is not remembered.`, "See /notices.");
}

/** A stretch, and what of it. */
function chosenIn(
  view: View,
  { from, to, zone, of }: z.infer<typeof shapes.recordingAsked>,
  what: "sensor or output" | "sensor, output, dial or mode" = "sensor, output, dial or mode",
): Chosen {
  const { zones, sensors, outputs, dials, modes } = view.running.house;
  const known = what === "sensor or output" ? [...sensors, ...outputs] : [...sensors, ...outputs, ...dials, ...modes];
  if (zone !== undefined) oneOf(zones, zone, "zone");
  const things = of === undefined ? undefined : of.split(",").map((name) => name.trim());
  for (const name of things ?? []) oneOf(known, name, what);
  return { ...stretchIn(view, { from, to }, LONGEST_CHART), zone, things };
}

function remembered(answer: string | undefined): Prepared {
  if (answer !== undefined) return new Prepared(answer);
  throw new Refusal(404, "Nothing is remembered of that time.", "Choose a later stretch.");
}

/** How long a hand lasts, by its length or its end. */
function lastingOf(view: View, { lasts, until }: z.infer<typeof shapes.switches>): number | "until released" | undefined {
  if (until === undefined) return durationOf(lasts);
  if (lasts !== undefined) throw new Refusal(400, "Both a time and an end are given.", "Give lasts or until.");
  if (until === "released") return "until released";
  const end = view.momentOf(until);
  if (end !== undefined) return end - view.running.now;
  throw new Refusal(
    400,
    `"${until}" is not an end.`,
    `Write a time of day such as 22:00, released, or a schedule: ${view.running.house.schedules.map(({ name }) => name).join(", ") || "this house has none"}.`,
  );
}

function set(
  view: View,
  things: House["dials"] | House["modes"],
  what: string,
  name: string,
  said: number | string,
  by: Doer,
): Promise<void> {
  const thing: { readonly name: string } & Slot = oneOf<House["dials"][number] | House["modes"][number]>(things, name, what);
  const value = readSaid(thing, name, said);
  return view.running.set(name, value, `set ${name} to ${sayValue(thing.type, value)}`, by);
}

function act(view: View, action: PersonAction, did: string, by: Doer): Promise<void> {
  return view.running.person(action, did, by);
}

function readSaid(slot: Slot, name: string, said: number | string): Value {
  const read = typeof said === "string" ? readValue(slot, said) : misfitOf(slot, said);
  if ("value" in read) return read.value;
  throw new Refusal(400, `${name} cannot be ${JSON.stringify(said)}: ${read.misfit}.`);
}

function misfitOf(slot: Slot, value: number): { readonly value: number } | { readonly misfit: string } {
  const why = misfit(slot, value);
  return why === undefined ? { value } : { misfit: why };
}

const YEAR = 366 * DAY;

function durationOf(said: number | string | undefined): number | undefined {
  if (said === undefined) return undefined;
  const read = typeof said === "number" ? { value: said } : readValue({ type: { kind: "number", unit: "ms" } }, said);
  const ms = "value" in read ? Math.round(Number(read.value)) : Number.NaN;
  if (ms > 0 && ms <= YEAR) return ms;
  throw new Refusal(400, `"${said}" is not a time that it can last.`, 'Write it as "30 min", up to a year.');
}

const lasting = (lasts: number | "until released" | undefined) =>
  lasts === undefined ? "" : typeof lasts === "number" ? ` for ${writeDuration(lasts)}` : ` ${lasts}`;
