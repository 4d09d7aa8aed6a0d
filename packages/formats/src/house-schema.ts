// The shape of a house as JSON: the language's own words. Types, checks and the JSON Schema come from this one source, and
// the compiler asks for every field of the house, and for every kind where there are several.
import type {
  Condition,
  Countdown,
  DayTime,
  Dial,
  Drive,
  Effect,
  Expectation,
  Expression,
  Guard,
  Happening,
  House,
  Keep,
  Let,
  NeverTogether,
  Occurrence,
  Output,
  PeopleHabit,
  Permit,
  Preset,
  Profile,
  Recorded,
  RoomPhysics,
  Rule,
  Schedule,
  Sensor,
  Sentence,
  Setting,
  Step,
  SunEvent,
  Target,
  Trial,
  Trigger,
  Until,
  ValueType,
  Weather,
  Wiring,
  WordType,
  ZonePhysics,
} from "modrik";
import { type Unit, units } from "modrik";
import { z } from "zod";

type IsOptional<Of, Field extends keyof Of> = Record<never, never> extends Pick<Of, Field> ? true : false;

/** A row for each field; what may be left out is marked so. */
type Shape<Of> = {
  readonly [Field in keyof Of]-?: IsOptional<Of, Field> extends true
    ? z.ZodExactOptional<z.ZodType<Exclude<Of[Field], undefined>>>
    : z.ZodType<Of[Field]>;
};

type OfKind<Union, Kind> = Union extends { readonly kind: infer Own } ? (Kind extends Own ? Union : never) : never;

/** An object with exactly these fields. Zod cannot say that its fields are read only: that is said here, once. */
function object<Of>(shape: Shape<Of>): z.ZodType<Of> {
  return z.strictObject(shape as unknown as z.ZodRawShape) as unknown as z.ZodType<Of>;
}

/** One of several kinds, each with its own fields. */
function kinds<Union extends { readonly kind: string }>(
  shapes: {
    readonly [Kind in Union["kind"]]: Shape<Omit<OfKind<Union, Kind>, "kind">>;
  },
): z.ZodType<Union> {
  const options = Object.entries(shapes).map(([kind, shape]) =>
    z.strictObject({ kind: z.literal(kind), ...(shape as z.ZodRawShape) }),
  );
  return z.discriminatedUnion("kind", options as [z.ZodObject<{ kind: z.ZodLiteral<string> }>]) as unknown as z.ZodType<Union>;
}

function list<Of>(of: z.ZodType<Of>): z.ZodType<readonly Of[]> {
  return z.array(of).readonly();
}

const maybe = <Of>(of: z.ZodType<Of>): z.ZodExactOptional<z.ZodType<Of>> => z.exactOptional(of);

const text = z.string();
const number = z.number();
const name = z.string().min(1);
const titled = { name, title: maybe(text), note: maybe(text) };
const unit = z.enum(Object.keys(units) as [Unit, ...Unit[]]);
const words = z.array(text).min(1).readonly();
const date = z.string().regex(/^\d{4}-\d{2}-\d{2}$/);
const colour = z.string().regex(/^#[0-9a-f]{6}$/);
const sun: z.ZodType<SunEvent> = z.enum(["sunrise", "sunset", "dawn", "dusk"]);
const weekday = z.union([0, 1, 2, 3, 4, 5, 6].map((day) => z.literal(day as 0 | 1 | 2 | 3 | 4 | 5 | 6)));
const days = list(weekday);
const pair = <Of>(of: z.ZodType<Of>) => z.tuple([of, of]).readonly();
const range = pair(number);
const value = z.union([number, text]);

// ── Values and conditions ───────────────────────────────────────────────────────────────────────────────────────────────

const expression: z.ZodType<Expression> = z.lazy(() => anyExpression).meta({ id: "Expression" });
const several = list(expression);
const ends = object<{ readonly low: Expression; readonly high: Expression }>({ low: expression, high: expression });
const dayTime = object<DayTime>({ sun: maybe(sun), time: expression });
const oneOf = <const Words extends readonly [string, ...string[]]>(...said: Words) => z.enum(said);
const caseOf = object<{ readonly if: Condition | "otherwise" | "unknown"; readonly then: Expression }>({
  if: z.union([expression, oneOf("otherwise", "unknown")]),
  then: expression,
});
const sides = { left: expression, right: expression };
const held = { condition: expression, duration: expression };
const between = { value: expression, low: expression, high: expression };

const anyExpression = kinds<Expression>({
  number: { value: number, unit },
  word: { word: text, of: words },
  time: { ms: number },
  date: { date },
  instant: { date, ms: number },
  colour: { colour },
  unknown: {},
  value: { of: name },
  age: { of: name },
  remaining: { countdown: name },
  "last amount": { output: name },
  rest: { of: name },
  "begins in": { schedule: name },
  "ends in": { schedule: name },
  during: { schedule: name },
  sun: { what: oneOf("elevation", "azimuth") },
  "sun time": { event: sun },
  clock: { what: oneOf("time", "weekday", "date") },
  plus: sides,
  minus: sides,
  times: sides,
  divided: sides,
  above: sides,
  below: sides,
  "at least": sides,
  "at most": sides,
  is: sides,
  negative: { of: expression },
  not: { of: expression },
  if: { condition: expression, then: expression, else: expression },
  pick: { by: expression, cases: list(caseOf) },
  "of several": { function: oneOf("mean", "median", "min", "max", "sum", "spread", "first_known"), of: several, known: number },
  call: {
    function: oneOf("abs", "round", "dew_point", "absolute_humidity", "vapour_pressure_deficit", "felt_temperature"),
    of: several,
  },
  clamp: between,
  between,
  scale: { value: expression, from: ends, to: ends },
  over: { function: oneOf("mean", "min", "max", "rise", "time", "count"), value: expression, over: expression },
  pressed: { sensor: name },
  running: { countdown: name },
  disobeys: { output: name },
  and: { of: several },
  or: { of: several },
  for: held,
  "in the last": held,
  until: { condition: expression, reset: expression, atMost: maybe(expression), pause: maybe(expression) },
  "clock between": { from: dayTime, to: dayTime },
  count: { condition: expression },
  "time true": { condition: expression },
  share: { condition: expression },
  told: { text },
  problem: { text },
  sent: { text, to: text },
});

const filledText = list(z.union([text, expression]));

// ── What there is ───────────────────────────────────────────────────────────────────────────────────────────────────────

const wordType = object<WordType>({ kind: z.literal("words"), words, ordered: z.boolean() });
const types = { words: { words, ordered: z.boolean() }, number: { unit }, time: {}, colour: {}, press: {} };
const valueType = kinds<ValueType>(types);

const sensor = object<Sensor>({
  ...titled,
  type: valueType,
  range: maybe(range),
  unknownAfter: maybe(expression),
  lastsForEver: maybe(z.literal(true)),
  scale: maybe(number),
  offset: maybe(number),
  reads: maybe(pair(object<{ readonly raw: number; readonly value: number }>({ raw: number, value: number }))),
  smoothOver: maybe(expression),
  reportsEvery: maybe(expression),
  reportsOnChangeOf: maybe(expression),
  lags: maybe(expression),
  wobblesBy: maybe(expression),
  movesAtMost: maybe(object<NonNullable<Sensor["movesAtMost"]>>({ by: expression, in: expression })),
  deviceHealth: maybe(z.literal(true)),
});

type AtLeast = Output["atLeast"][number];
const lasting = { word: text, duration: expression };
const atLeast = object<AtLeast>(lasting);
const output = object<Output>({
  ...titled,
  type: valueType,
  range: maybe(range),
  colourOf: maybe(name),
  atRest: maybe(value),
  atLeast: list(atLeast),
  atMost: list(object<Output["atMost"][number]>({ ...lasting, then: atLeast })),
  uses: maybe(expression),
  delivers: maybe(object<NonNullable<Output["delivers"]>>({ rate: expression, after: maybe(expression) })),
  withoutControl: maybe(value),
  serves: maybe(list(name)),
});

const dial = object<Dial>({ ...titled, type: valueType, range: maybe(range), atFirst: value, step: maybe(number) });

const target = object<Target>({ output: name, value: expression });
const fixedTime = object<{ readonly sun?: SunEvent; readonly ms: number }>({ sun: maybe(sun), ms: number });
type Dates = NonNullable<Schedule["only"]>[number];
const dates = kinds<Dates>({
  dates: { from: number, to: number },
  yearly: { from: range, to: range },
});
type Opening = Schedule["openings"][number];
const spans = list(object<Opening["spans"][number]>({ from: fixedTime, to: fixedTime }));
const schedule = object<Schedule>({
  ...titled,
  openings: list(object<Opening>({ days, spans })),
  except: maybe(list(dates)),
  only: maybe(list(dates)),
  file: maybe(text),
  events: maybe(list(range)),
});
type ProfileDay = Profile["days"][number];
const points = list(object<ProfileDay["points"][number]>({ from: fixedTime, value: expression }));
const profile = object<Profile>({
  ...titled,
  type: valueType,
  range: maybe(range),
  ramped: z.boolean(),
  days: list(object<ProfileDay>({ days, points })),
});

// ── Rules and guards ────────────────────────────────────────────────────────────────────────────────────────────────────

const occasions = {
  "becomes true": { condition: expression },
  begins: { schedule: name },
  ends: { schedule: name },
  "runs out": { countdown: name },
  changes: { of: name, by: maybe(expression) },
};
const trigger = kinds<Trigger>({
  ...occasions,
  at: { at: dayTime, days },
  every: { every: expression, days },
  "the house starts": {},
});
const until = kinds<Until>({ ...occasions, state: { condition: expression }, at: { at: dayTime } });

const forHowLong = { for: maybe(expression), until: maybe(until), atMost: maybe(expression) };
const steps: z.ZodType<readonly Step[]> = z.lazy(() => list(step)).meta({ id: "Steps" });
type Branch = OfKind<Step, "if">["branches"][number];
const step = kinds<Step>({
  set: { name, to: expression, ...forHowLong },
  toggle: { name },
  raise: { name, by: expression },
  lower: { name, by: expression },
  ramp: { outputs: z.array(name), from: expression, to: expression, over: expression },
  dose: { output: name, amount: expression, otherwise: maybe(steps) },
  release: { output: name },
  apply: { preset: name, ...forHowLong },
  start: { countdown: name, with: maybe(expression) },
  stop: { countdown: name },
  wait: { for: expression },
  "wait until": { until, atMost: maybe(expression) },
  if: { branches: list(object<Branch>({ if: expression, do: steps })), else: steps },
  tell: { text: filledText, through: maybe(text), onceIn: maybe(expression) },
  send: { text: filledText, to: filledText },
  "end here": {},
});

const drive = object<Drive>({
  outputs: list(name),
  proportion: maybe(object<NonNullable<Drive["proportion"]>>({ over: expression, cycle: maybe(expression) })),
});
const holding = { while: maybe(expression) };
type Of<Field extends string> = Extract<Sentence, { readonly [Name in Field]: unknown }>;
const keep = object<Keep>({
  value: expression,
  at: z.union([ends, expression]),
  tolerance: maybe(object<NonNullable<Keep["tolerance"]>>({ below: expression, above: expression })),
  raiseWith: maybe(drive),
  lowerWith: maybe(drive),
});
const sentence: z.ZodType<Sentence> = z.union([
  object<Of<"hold">>({ ...holding, hold: list(target) }),
  object<Of<"keep">>({ ...holding, keep }),
  object<Of<"cycle">>({
    ...holding,
    cycle: object<Of<"cycle">["cycle"]>({ outputs: list(name), on: expression, off: expression }),
  }),
  object<Of<"do">>({
    when: list(trigger),
    provided: maybe(expression),
    do: steps,
    ifTriggeredAgain: oneOf("start over", "ignore", "wait"),
  }),
]);
const rule = object<Rule>({ ...titled, standing: oneOf("urgent", "plain", "background", "watch"), sentences: list(sentence) });

const permit = object<Permit>({
  output: name,
  what: z.union([
    object<{ readonly word: string }>({ word: text }),
    object<{ readonly above: Expression }>({ above: expression }),
    object<{ readonly below: Expression }>({ below: expression }),
  ]),
  onlyWhile: expression,
});

const neverTogether = object<NeverTogether>({ outputs: list(name), apart: maybe(expression) });

// ── Trials ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

const told = { name, value: expression };
const occurrence = kinds<Occurrence>({
  is: told,
  "moves to": told,
  "falls silent": { name },
  sticks: { name },
  refuses: { name },
  "is pressed": { name },
  "jumps to": { ...told, for: expression },
  "reports every": { name, by: expression },
  "wobbles by": { name, by: expression },
  "arrives late": { name, by: expression },
  "obeys late": { name, by: expression },
  "person sets": { ...told, for: maybe(expression), until: maybe(expression) },
  "person pauses": { name, for: maybe(expression) },
  "person releases": { name },
  "person resumes": { name },
  "person applies": { name },
  "person starts": { name },
  "person stops": { name },
  "person runs": { name },
  message: { topic: text, reads: text },
  "the house restarts": {},
  "the house is down": { for: expression },
  "the clock jumps": { by: expression },
});
const when: z.ZodType<Happening["when"]> = z.union([
  object<Extract<Happening["when"], { readonly at: unknown }>>({ at: expression, to: maybe(expression) }),
  object<{ readonly later: number }>({ later: number }),
]);
const recorded = object<Recorded>({ at: number, name: text, value: maybe(value), unit: maybe(unit) });
const expectation = object<Expectation>({
  claim: oneOf("holds", "never", "always", "whenever"),
  condition: expression,
  then: maybe(expression),
  within: maybe(expression),
  by: maybe(expression),
  at: maybe(expression),
  from: maybe(expression),
  to: maybe(expression),
});
const trial = object<Trial>({
  ...titled,
  from: expression,
  lasts: maybe(expression),
  to: maybe(expression),
  replay: maybe(text),
  recorded: maybe(list(recorded)),
  cold: maybe(z.literal(true)),
  simulated: maybe(object<NonNullable<Trial["simulated"]>>({ weather: maybe(name) })),
  given: list(object<Setting>({ name, value: expression })),
  happenings: list(object<Happening>({ when, what: occurrence })),
  expectations: list(expectation),
});

// ── The simulated house and its wiring ──────────────────────────────────────────────────────────────────────────────────

const zone = object<ZonePhysics>({
  zone: name,
  built: maybe(oneOf("light", "solid", "insulated")),
  floor: maybe(number),
  volume: number,
  loses: number,
  stores: number,
  leaks: number,
  soaks: number,
  window: number,
  glass: maybe(number),
  couples: maybe(number),
  wood: maybe(number),
});
const given = oneOf("heat", "water", "light", "air");
const effect = kinds<Effect>({
  gives: { output: name, what: given, amount: number, from: maybe(name), lagging: maybe(number) },
  "word gives": { output: name, word: text, what: given, amount: number, from: maybe(name), lagging: maybe(number) },
  leak: { sensor: name, word: text, perHour: number, to: name },
  holds: { sensor: name, amount: number },
  float: { sensor: name, word: text, below: number },
  gains: { sensor: name, amount: number },
  soil: { sensor: name, area: number, depth: number },
  surface: { sensor: name, warmth: number },
  outdoors: { zone: name },
  draws: { output: name, sensor: name },
  waters: { output: name, sensor: name },
  passes: { zone: name, other: name, amount: number },
});
const weather = object<Weather>({
  ...titled,
  recording: maybe(text),
  recorded: maybe(list(recorded)),
  outdoors: number,
  swings: number,
  seasons: maybe(number),
  humidity: number,
  cloud: number,
  fronts: maybe(number),
  seed: maybe(number),
});
const habit = object<PeopleHabit>({
  zone: name,
  during: name,
  every: maybe(number),
  breathes: maybe(number),
  showers: maybe(number),
  cooks: maybe(number),
  airs: maybe(number),
  props: maybe(number),
  opensAbove: maybe(number),
  coat: maybe(number),
});
const wired = { by: text, topic: text };
type TextAs = NonNullable<OfKind<Wiring, "reading">["texts"]>[number];
type WordAs = NonNullable<OfKind<Wiring, "writing">["texts"]>[number];
const wiring = kinds<Wiring>({
  alive: { ...wired, zone: name, reads: text },
  notices: { ...wired, way: text },
  reading: {
    ...wired,
    sensor: name,
    at: maybe(text),
    record: maybe(text),
    texts: maybe(list(object<TextAs>({ text, as: value }))),
  },
  writing: {
    ...wired,
    output: name,
    text: maybe(text),
    texts: maybe(list(object<WordAs>({ word: value, text }))),
    confirmedBy: maybe(text),
    againEvery: maybe(number),
    retained: maybe(z.literal(true)),
  },
});

/** A whole house. */
export const houseSchema = object<House>({
  name: text,
  note: maybe(text),
  place: maybe(object<NonNullable<House["place"]>>({ latitude: number, longitude: number })),
  clock: text,
  handLasts: maybe(expression),
  readingsLast: maybe(expression),
  zones: list(object<House["zones"][number]>(titled)),
  sensors: list(sensor),
  outputs: list(output),
  dials: list(dial),
  modes: list(object<House["modes"][number]>({ ...titled, type: wordType, atFirst: text })),
  groups: list(object<House["groups"][number]>({ ...titled, members: list(name) })),
  lets: list(object<Let>({ ...titled, type: kinds<Let["type"]>({ ...types, truth: {} }), value: expression })),
  countdowns: list(object<Countdown>({ ...titled, lasts: expression })),
  presets: list(object<Preset>({ ...titled, targets: list(target) })),
  schedules: list(schedule),
  profiles: list(profile),
  rules: list(rule),
  guards: list(object<Guard>({ ...titled, permits: list(permit), neverTogether: maybe(list(neverTogether)) })),
  trials: list(trial),
  physics: object<RoomPhysics>({ zones: list(zone), effects: list(effect) }),
  weathers: list(weather),
  people: list(habit),
  wirings: list(wiring),
});
