// The shape of a house as JSON: the language's own words. Types, checks and the JSON Schema come from this one source.
import { type Expression, type House, type Step, type Unit, units } from "modrik";
import { z } from "zod";

const name = z.string().min(1);
const titled = { name, title: z.string().optional(), note: z.string().optional() };
const unit = z.enum(Object.keys(units) as [Unit, ...Unit[]]);
const words = z.array(z.string()).min(1).readonly();
const date = z.string().regex(/^\d{4}-\d{2}-\d{2}$/);
const colour = z.string().regex(/^#[0-9a-f]{6}$/);
const sun = z.enum(["sunrise", "sunset", "dawn", "dusk", "noon", "midnight"]) as unknown as z.ZodType<"sunrise">;
const weekday = z.union([0, 1, 2, 3, 4, 5, 6].map((day) => z.literal(day as 0 | 1 | 2 | 3 | 4 | 5 | 6)));
const days = z.array(weekday).readonly();
const range = z.tuple([z.number(), z.number()]).readonly();
const value = z.union([z.number(), z.string()]);

// ── Values and conditions ───────────────────────────────────────────────────────────────────────────────────────────────

const expression: z.ZodType<Expression> = z.lazy(() => anyExpression).meta({ id: "Expression" });
const several = z.array(expression).readonly();
const ends = z.strictObject({ low: expression, high: expression });
const dayTime = z.strictObject({ sun: sun.optional(), time: expression });
const kind = <const Kinds extends readonly [string, ...string[]]>(...kinds: Kinds) => z.enum(kinds);
const caseOf = z.strictObject({ if: z.union([expression, kind("otherwise", "unknown")]), then: expression });

const anyExpression = z.union([
  z.strictObject({ kind: kind("number"), value: z.number(), unit }),
  z.strictObject({ kind: kind("word"), word: z.string(), of: words }),
  z.strictObject({ kind: kind("time"), ms: z.number() }),
  z.strictObject({ kind: kind("date"), date }),
  z.strictObject({ kind: kind("instant"), date, ms: z.number() }),
  z.strictObject({ kind: kind("colour"), colour }),
  z.strictObject({ kind: kind("unknown") }),
  z.strictObject({ kind: kind("value", "age"), of: name }),
  z.strictObject({ kind: kind("begins in", "ends in", "during"), schedule: name }),
  z.strictObject({ kind: kind("sun"), what: kind("elevation", "azimuth") }),
  z.strictObject({ kind: kind("sun time"), event: sun }),
  z.strictObject({ kind: kind("clock"), what: kind("time", "weekday", "date") }),
  z.strictObject({
    kind: kind("plus", "minus", "times", "divided", "above", "below", "at least", "at most", "is"),
    left: expression,
    right: expression,
  }),
  z.strictObject({ kind: kind("negative", "not"), of: expression }),
  z.strictObject({ kind: kind("if"), condition: expression, then: expression, else: expression }),
  z.strictObject({ kind: kind("pick"), by: expression, cases: z.array(caseOf).readonly() }),
  z.strictObject({
    kind: kind("of several"),
    function: kind("mean", "median", "min", "max", "sum", "spread", "first_known"),
    of: several,
    known: z.number(),
  }),
  z.strictObject({
    kind: kind("call"),
    function: kind("abs", "round", "dew_point", "absolute_humidity", "vapour_pressure_deficit", "feels_like"),
    of: several,
  }),
  z.strictObject({ kind: kind("clamp", "between"), value: expression, low: expression, high: expression }),
  z.strictObject({ kind: kind("scale"), value: expression, from: ends, to: ends }),
  z.strictObject({
    kind: kind("over"),
    function: kind("mean", "min", "max", "rise", "time", "count"),
    value: expression,
    over: expression,
  }),
  z.strictObject({ kind: kind("pressed"), sensor: name }),
  z.strictObject({ kind: kind("running"), countdown: name }),
  z.strictObject({ kind: kind("disobeys"), output: name }),
  z.strictObject({ kind: kind("and", "or"), of: several }),
  z.strictObject({ kind: kind("for", "in the last"), condition: expression, duration: expression }),
  z.strictObject({
    kind: kind("until"),
    condition: expression,
    reset: expression,
    atMost: expression.optional(),
    pause: expression.optional(),
  }),
  z.strictObject({ kind: kind("clock between"), from: dayTime, to: dayTime }),
  z.strictObject({ kind: kind("count", "time true", "share"), condition: expression }),
  z.strictObject({ kind: kind("told", "problem"), text: z.string() }),
  z.strictObject({ kind: kind("sent"), text: z.string(), to: z.string() }),
]) as unknown as z.ZodType<Expression>;

const text = z.array(z.union([z.string(), expression])).readonly();

// ── What there is ───────────────────────────────────────────────────────────────────────────────────────────────────────

const wordType = z.strictObject({ kind: kind("words"), words, ordered: z.boolean() });
const valueType = z.union([
  z.strictObject({ kind: kind("number"), unit }),
  wordType,
  z.strictObject({ kind: kind("time", "colour", "press") }),
]);
const rawPoint = z.strictObject({ raw: z.number(), value: z.number() });

const sensor = z.strictObject({
  ...titled,
  type: valueType,
  range: range.optional(),
  unknownAfter: expression.optional(),
  scale: z.number().optional(),
  offset: z.number().optional(),
  reads: z.tuple([rawPoint, rawPoint]).readonly().optional(),
  smoothOver: expression.optional(),
  deviceHealth: z.literal(true).optional(),
});

const atLeast = z.strictObject({ word: z.string(), duration: expression });
const output = z.strictObject({
  ...titled,
  type: valueType,
  range: range.optional(),
  colourOf: name.optional(),
  atRest: value.optional(),
  atLeast: z.array(atLeast).readonly(),
  atMost: z.array(atLeast.extend({ then: atLeast })).readonly(),
  uses: expression.optional(),
  delivers: z.strictObject({ rate: expression, after: expression.optional() }).optional(),
  withoutControl: value.optional(),
  serves: z.array(name).readonly().optional(),
});

const dial = z.strictObject({
  ...titled,
  type: valueType,
  range: range.optional(),
  atFirst: value,
  step: z.number().optional(),
});

const target = z.strictObject({ output: name, value: expression });
const fixedTime = z.strictObject({ sun: sun.optional(), ms: z.number() });
const monthDay = z.tuple([z.number(), z.number()]).readonly();
const dates = z.union([
  z.strictObject({ kind: kind("dates"), from: z.number(), to: z.number() }),
  z.strictObject({ kind: kind("yearly"), from: monthDay, to: monthDay }),
]);
const schedule = z.strictObject({
  ...titled,
  openings: z
    .array(z.strictObject({ days, spans: z.array(z.strictObject({ from: fixedTime, to: fixedTime })).readonly() }))
    .readonly(),
  except: z.array(dates).readonly().optional(),
  only: z.array(dates).readonly().optional(),
  file: z.string().optional(),
  events: z
    .array(z.tuple([z.number(), z.number()]).readonly())
    .readonly()
    .optional(),
});
const profile = z.strictObject({
  ...titled,
  type: valueType,
  range: range.optional(),
  ramped: z.boolean(),
  days: z
    .array(z.strictObject({ days, points: z.array(z.strictObject({ from: fixedTime, value: expression })).readonly() }))
    .readonly(),
});

// ── Rules and guards ────────────────────────────────────────────────────────────────────────────────────────────────────

const occasions = [
  z.strictObject({ kind: kind("becomes true"), condition: expression }),
  z.strictObject({ kind: kind("begins", "ends"), schedule: name }),
  z.strictObject({ kind: kind("runs out"), countdown: name }),
  z.strictObject({ kind: kind("changes"), of: name, by: expression.optional() }),
] as const;
const trigger = z.union([
  ...occasions,
  z.strictObject({ kind: kind("at"), at: dayTime, days }),
  z.strictObject({ kind: kind("every"), every: expression, days }),
  z.strictObject({ kind: kind("the house starts") }),
]);
const until = z.union([
  ...occasions,
  z.strictObject({ kind: kind("state"), condition: expression }),
  z.strictObject({ kind: kind("at"), at: dayTime }),
]);

const steps: z.ZodType<readonly Step[]> = z.lazy(() => z.array(step).readonly()).meta({ id: "Steps" });
const step = z.union([
  z.strictObject({ kind: kind("set"), name, to: expression, for: expression.optional(), until: until.optional() }),
  z.strictObject({ kind: kind("toggle"), name }),
  z.strictObject({ kind: kind("raise", "lower"), name, by: expression }),
  z.strictObject({ kind: kind("ramp"), output: name, from: expression, to: expression, over: expression }),
  z.strictObject({ kind: kind("dose"), output: name, amount: expression }),
  z.strictObject({ kind: kind("release"), output: name }),
  z.strictObject({ kind: kind("apply"), preset: name }),
  z.strictObject({ kind: kind("start"), countdown: name, with: expression.optional() }),
  z.strictObject({ kind: kind("stop"), countdown: name }),
  z.strictObject({ kind: kind("wait"), for: expression }),
  z.strictObject({ kind: kind("wait until"), until, atMost: expression.optional() }),
  z.strictObject({
    kind: kind("if"),
    branches: z.array(z.strictObject({ if: expression, do: steps })).readonly(),
    else: steps,
  }),
  z.strictObject({ kind: kind("tell"), text, through: z.string().optional(), onceIn: expression.optional() }),
  z.strictObject({ kind: kind("send"), text, to: text }),
  z.strictObject({ kind: kind("end here") }),
]) as unknown as z.ZodType<Step>;

const drive = z.strictObject({
  outputs: z.array(name).readonly(),
  proportion: z.strictObject({ over: expression, cycle: expression.optional() }).optional(),
});
const holding = { while: expression.optional() };
const sentence = z.union([
  z.strictObject({ ...holding, hold: z.array(target).readonly() }),
  z.strictObject({
    ...holding,
    keep: z.strictObject({
      value: expression,
      at: z.union([ends, expression]),
      tolerance: z.strictObject({ below: expression, above: expression }).optional(),
      raiseWith: drive.optional(),
      lowerWith: drive.optional(),
    }),
  }),
  z.strictObject({
    ...holding,
    cycle: z.strictObject({ outputs: z.array(name).readonly(), on: expression, off: expression }),
  }),
  z.strictObject({
    when: z.array(trigger).readonly(),
    provided: expression.optional(),
    do: steps,
    ifTriggeredAgain: kind("start over", "ignore", "wait"),
  }),
]);
const rule = z.strictObject({
  ...titled,
  standing: kind("urgent", "plain", "background"),
  sentences: z.array(sentence).readonly(),
});

const permit = z.strictObject({
  output: name,
  what: z.union([
    z.strictObject({ word: z.string() }),
    z.strictObject({ above: expression }),
    z.strictObject({ below: expression }),
  ]),
  onlyWhile: expression,
});

// ── Trials ──────────────────────────────────────────────────────────────────────────────────────────────────────────────

const occurrence = z.union([
  z.strictObject({ kind: kind("is", "moves to"), name, value: expression }),
  z.strictObject({ kind: kind("falls silent", "sticks", "refuses", "is pressed"), name }),
  z.strictObject({ kind: kind("jumps to"), name, value: expression, for: expression }),
  z.strictObject({ kind: kind("reports every", "wobbles by", "arrives late"), name, by: expression }),
  z.strictObject({ kind: kind("person sets"), name, value: expression, for: expression.optional() }),
  z.strictObject({ kind: kind("person pauses"), name, for: expression.optional() }),
  z.strictObject({
    kind: kind("person releases", "person resumes", "person applies", "person starts", "person stops", "person runs"),
    name,
  }),
  z.strictObject({ kind: kind("message"), topic: z.string(), reads: z.string() }),
  z.strictObject({ kind: kind("the house restarts") }),
  z.strictObject({ kind: kind("the house is down"), for: expression }),
  z.strictObject({ kind: kind("the clock jumps"), by: expression }),
]);
const trial = z.strictObject({
  ...titled,
  from: expression,
  lasts: expression.optional(),
  to: expression.optional(),
  replay: z.string().optional(),
  recorded: z.array(z.object({ at: z.number(), name: z.string(), value: value.optional(), unit: unit.optional() })).optional(),
  simulated: z.strictObject({ weather: name.optional() }).optional(),
  given: z.array(z.strictObject({ name, value: expression })).readonly(),
  happenings: z
    .array(
      z.strictObject({
        when: z.union([z.strictObject({ at: expression, to: expression.optional() }), z.strictObject({ later: z.number() })]),
        what: occurrence,
      }),
    )
    .readonly(),
  expectations: z
    .array(
      z.strictObject({
        claim: kind("holds", "never", "always", "whenever"),
        condition: expression,
        then: expression.optional(),
        within: expression.optional(),
        by: expression.optional(),
        at: expression.optional(),
        from: expression.optional(),
        to: expression.optional(),
      }),
    )
    .readonly(),
});

// ── The simulated house and its wiring ──────────────────────────────────────────────────────────────────────────────────

const physics = z.strictObject({
  zones: z
    .array(
      z.strictObject({
        zone: name,
        volume: z.number(),
        loses: z.number(),
        stores: z.number(),
        leaks: z.number(),
        soaks: z.number(),
        window: z.number(),
      }),
    )
    .readonly(),
  effects: z
    .array(
      z.union([
        z.strictObject({ kind: kind("gives"), output: name, what: kind("heat", "water", "light"), amount: z.number() }),
        z.strictObject({ kind: kind("leak"), sensor: name, word: z.string(), perHour: z.number(), to: name }),
        z.strictObject({ kind: kind("passes"), zone: name, other: name, amount: z.number() }),
      ]),
    )
    .readonly(),
});
const weather = z.strictObject({
  ...titled,
  recording: z.string().optional(),
  outdoors: z.number(),
  swings: z.number(),
  humidity: z.number(),
  cloud: z.number(),
  fronts: z.number().optional(),
  seed: z.number().optional(),
});
const habit = z.strictObject({ zone: name, during: name, every: z.number().optional(), breathes: z.number().optional() });
const by = z.string();
const wiring = z.union([
  z.strictObject({ kind: kind("alive"), by, zone: name, topic: z.string(), reads: z.string() }),
  z.strictObject({ kind: kind("notices"), by, way: z.string(), topic: z.string() }),
  z.strictObject({
    kind: kind("reading"),
    by,
    sensor: name,
    topic: z.string(),
    at: z.string().optional(),
    record: z.string().optional(),
    texts: z
      .array(z.strictObject({ text: z.string(), as: value }))
      .readonly()
      .optional(),
  }),
  z.strictObject({
    kind: kind("writing"),
    by,
    output: name,
    topic: z.string(),
    text: z.string().optional(),
    texts: z
      .array(z.strictObject({ word: value, text: z.string() }))
      .readonly()
      .optional(),
    confirmedBy: z.string().optional(),
    againEvery: z.number().optional(),
  }),
]);

/** A whole house. */
export const houseSchema = z.strictObject({
  name: z.string(),
  note: z.string().optional(),
  place: z.strictObject({ latitude: z.number(), longitude: z.number() }).optional(),
  clock: z.string(),
  handLasts: expression.optional(),
  zones: z.array(z.strictObject(titled)).readonly(),
  sensors: z.array(sensor).readonly(),
  outputs: z.array(output).readonly(),
  dials: z.array(dial).readonly(),
  modes: z.array(z.strictObject({ ...titled, type: wordType, atFirst: z.string() })).readonly(),
  groups: z.array(z.strictObject({ ...titled, members: z.array(name).readonly() })).readonly(),
  lets: z
    .array(z.strictObject({ ...titled, type: z.union([valueType, z.strictObject({ kind: kind("truth") })]), value: expression }))
    .readonly(),
  countdowns: z.array(z.strictObject({ ...titled, lasts: expression })).readonly(),
  presets: z.array(z.strictObject({ ...titled, targets: z.array(target).readonly() })).readonly(),
  schedules: z.array(schedule).readonly(),
  profiles: z.array(profile).readonly(),
  rules: z.array(rule).readonly(),
  guards: z.array(z.strictObject({ ...titled, permits: z.array(permit).readonly() })).readonly(),
  trials: z.array(trial).readonly(),
  physics,
  weathers: z.array(weather).readonly(),
  people: z.array(habit).readonly(),
  wirings: z.array(wiring).readonly(),
}) as unknown as z.ZodType<House>;
