// What stands in requests and answers: one place for their types, their checks and their description.
import { z } from "zod";

/** A number in the thing's own unit, or one of its words. */
const value = z.union([z.number(), z.string().max(200)]);
const instant = z.iso.datetime().describe("An instant, in UTC.");
const name = z.string().min(1).max(200);
const titled = { name, title: z.string().optional(), note: z.string().optional() };

export interface Told {
  readonly says: string;
  readonly because: readonly Told[];
}

export const explanation: z.ZodType<Told> = z
  .lazy(() => z.object({ says: z.string(), because: z.array(explanation) }))
  .meta({ id: "Explanation" });

export const problem = z
  .object({ says: z.string(), remedy: z.string().optional() })
  .meta({ id: "Problem", description: "What was wrong with a request, and what to do about it." });

export const house = z
  .object({
    name: z.string(),
    clock: z.string().describe("IANA time zone."),
    at: instant,
    runningSince: instant,
    broker: z.enum(["there", "away"]),
    storage: z.enum(["fine", "refuses"]),
    dry: z.boolean().describe("Nothing is sent to devices."),
    version: z.string(),
  })
  .meta({ id: "House" });

export const reading = z
  .object({
    ...titled,
    value: value.nullable().describe("Null when unknown."),
    unit: z.string().optional(),
    says: z.string().describe("The value as people read it."),
  })
  .meta({ id: "Reading" });

export const output = z
  .object({
    ...titled,
    value: value.nullable(),
    unit: z.string().optional(),
    says: z.string(),
    words: z.array(z.string()).optional().describe("What it can be, where that is words."),
    since: instant.optional(),
    because: z.string().describe("Why, in a few words."),
    rule: z.string().optional(),
    hand: z
      .object({ until: instant.nullable().describe("Null: until a mode changes.") })
      .optional()
      .describe("Somebody switched it by hand."),
    disobeys: z.boolean().describe("Its device says that it does something else."),
    tried: z.string().optional().describe("What was seen when the outputs were tried."),
  })
  .meta({ id: "Output" });

export const dial = z
  .object({
    ...titled,
    value,
    unit: z.string().optional(),
    says: z.string(),
    range: z.tuple([value, value]).optional(),
    step: z.number().optional(),
    atFirst: value,
  })
  .meta({ id: "Dial" });

export const mode = z
  .object({ ...titled, value: z.string(), words: z.array(z.string()), atFirst: z.string() })
  .meta({ id: "Mode" });

export const zone = z
  .object({ ...titled, sensors: z.array(reading), outputs: z.array(name), dials: z.array(name) })
  .meta({ id: "Zone" });

export const countdown = z.object({ ...titled, running: z.boolean(), until: instant.optional() }).meta({ id: "Countdown" });

export const preset = z.object({ ...titled, sets: z.array(name) }).meta({ id: "Preset" });

export const schedule = z
  .object({ ...titled, open: z.boolean(), until: instant.nullable().describe("Null when it never changes.") })
  .meta({ id: "Schedule" });

export const rule = z
  .object({
    ...titled,
    standing: z.enum(["urgent", "plain", "background", "watch"]),
    sentences: z.array(z.string()),
    paused: z.object({ until: instant.nullable() }).optional(),
  })
  .meta({ id: "Rule" });

export const guard = z.object({ ...titled, sentences: z.array(z.string()) }).meta({ id: "Guard" });

export const notice = z
  .object({ at: instant, text: z.string(), through: z.string().optional(), rule: z.string().optional() })
  .meta({ id: "Notice" });

export const entry = z
  .object({
    at: instant,
    kind: z.enum(["reading", "silence", "dial", "mode", "output", "notice", "message", "problem", "person"]),
    thing: z.string().optional(),
    value: value.optional(),
    unit: z.string().optional(),
    rule: z.string().optional(),
    cause: z.string().optional(),
    who: z.string().optional(),
    from: z.string().optional(),
  })
  .meta({ id: "Entry" });

export const history = z
  .object({
    name,
    unit: z.string().optional(),
    reports: z.array(z.object({ at: instant, value: value.nullable() })),
    hours: z
      .array(z.object({ at: instant, count: z.int(), mean: z.number(), low: z.number(), high: z.number() }))
      .describe("Of what is too old to be kept whole."),
  })
  .meta({ id: "History" });

export const health = z
  .object({ fine: z.boolean(), broker: z.enum(["there", "away"]), storage: z.enum(["fine", "refuses"]) })
  .meta({
    id: "Health",
  });

// ── Asked ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

/** How long: milliseconds, or text such as "30 min". */
const lasts = z
  .union([z.number().positive(), z.string().max(40)])
  .describe('Milliseconds, or text such as "30 min".')
  .optional();

export const setsValue = z.strictObject({ value });
export const switches = z.strictObject({ value, lasts });
export const pauses = z.strictObject({ lasts });
export const runs = z.strictObject({ running: z.boolean() });
export const nothing = z.strictObject({});

const time = z.string().max(40).optional();
export const stretch = z.object({
  from: time.describe("From when on, in UTC. Left out: a day before the end."),
  to: time.describe("Until when, in UTC. Left out: now."),
  limit: z.coerce.number().int().min(1).max(10_000).optional().describe("At most so many, the latest. Left out: 1000."),
});
export const historyAsked = stretch.extend({ of: name.describe("A sensor, output, dial or mode.") });
export const whyAsked = z.object({
  of: name.describe("Anything that has a value, or a rule."),
  at: time.describe("When, in UTC. Left out: now."),
  not: z.string().max(200).optional().describe("Why it does not have this value. With an empty value: why it is not otherwise."),
});
export const eventsAsked = z.object({
  after: z.coerce.number().int().min(0).optional().describe("The id of the last event heard."),
});
