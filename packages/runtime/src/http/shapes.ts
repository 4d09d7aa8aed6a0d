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
    speed: z.number().describe("How many times as fast as real its time goes."),
    handLasts: z.string().describe("How long a hand lasts at most, where nobody says."),
    version: z.string(),
  })
  .meta({ id: "House" });

export const reading = z
  .object({
    ...titled,
    value: value.nullable().describe("Null when unknown."),
    unit: z.string().optional(),
    says: z.string().describe("The value as people read it."),
    heardAt: instant.optional().describe("When it was last heard, since the house runs."),
    goneAt: instant.optional().describe("When it becomes unknown, if it is not heard until then."),
    health: z.boolean().optional().describe("It says how the device is, not the room."),
  })
  .meta({ id: "Reading" });

export const output = z
  .object({
    ...titled,
    value: value.nullable(),
    unit: z.string().optional(),
    says: z.string(),
    words: z.array(z.string()).optional().describe("What it can be, where that is words."),
    range: z.tuple([value, value]).optional(),
    colour: z.boolean().optional().describe("It is a colour."),
    isOn: z.boolean().describe("It does something else than at rest."),
    since: instant.optional(),
    because: z.string().describe("Why, in a few words."),
    briefly: z.string().describe("Why, in fewer words, by the titles of rules and guards."),
    rule: z.string().optional(),
    guard: z.string().optional().describe("The guard that does not permit what was wanted."),
    stays: z
      .object({ until: instant, says: z.string() })
      .optional()
      .describe("Until when it stays so for certain, and what holds it."),
    hand: z
      .object({
        until: instant.nullable().describe("Null: until somebody releases it."),
        endsWith: z.array(z.string()).describe("Modes whose change ends it before."),
        who: z.string().optional(),
        refused: z.string().optional().describe("The guard that does not permit it."),
      })
      .optional()
      .describe("Somebody switched it by hand."),
    handEndsWith: z.array(z.string()).describe("Modes whose change would end a hand that was given no time."),
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
    words: z.array(z.string()).optional(),
    atFirst: value,
    before: z
      .object({ value, says: z.string(), until: instant })
      .optional()
      .describe("What it was before it was last changed, as far as is remembered."),
    who: z.string().optional().describe("Who of the people set it last."),
  })
  .meta({ id: "Dial" });

export const mode = z
  .object({ ...titled, value: z.string(), words: z.array(z.string()), atFirst: z.string() })
  .meta({ id: "Mode" });

export const zone = z
  .object({ ...titled, sensors: z.array(reading), outputs: z.array(name), dials: z.array(name) })
  .meta({ id: "Zone" });

export const countdown = z
  .object({ ...titled, running: z.boolean(), until: instant.optional(), usual: z.string().describe("How long it lasts.") })
  .meta({ id: "Countdown" });

export const preset = z
  .object({
    ...titled,
    sets: z.array(name),
    changes: z
      .array(z.object({ name, now: z.string(), then: z.string() }))
      .describe("What would be otherwise, if it were applied now."),
  })
  .meta({ id: "Preset" });

const letShape = z
  .object({ ...titled, value: value.nullable(), unit: z.string().optional(), says: z.string(), means: z.string() })
  .meta({ id: "Let" });

export { letShape as let };

export const schedule = z
  .object({ ...titled, open: z.boolean(), until: instant.nullable().describe("Null when it never changes.") })
  .meta({ id: "Schedule" });

export const rule = z
  .object({
    ...titled,
    standing: z.enum(["urgent", "plain", "background", "watch"]),
    sentences: z.array(z.string()),
    runnable: z.boolean().describe("It has steps, which a person may run."),
    paused: z.object({ until: instant.nullable() }).optional(),
  })
  .meta({ id: "Rule" });

export const guard = z.object({ ...titled, sentences: z.array(z.string()) }).meta({ id: "Guard" });

export const notice = z
  .object({
    id: z.int(),
    at: instant,
    text: z.string(),
    through: z.string().optional(),
    sentTo: z.array(z.string()).describe("Topics it went to; none where nothing is wired."),
    rule: z.string().optional(),
    ticked: z.object({ at: instant, who: z.string() }).optional().describe("Somebody has seen to it."),
  })
  .meta({ id: "Notice" });

export const concern = z
  .object({
    kind: z.enum(["broker", "storage", "dry", "unknown", "disobeys", "battery", "paused", "problem"]),
    says: z.string(),
    thing: name.optional(),
    since: instant.optional(),
  })
  .meta({ id: "Concern", description: "Something that is not as it should be." });

export const coming = z
  .object({ at: instant, thing: name, says: z.string(), because: z.string().optional() })
  .meta({ id: "Coming", description: "What a thing becomes, if every sensor goes on saying what it says." });

export const person = z
  .object({ name, may: z.enum(["act", "look"]), at: instant })
  .meta({ id: "Person", description: "Somebody who has a token." });

export const me = z
  .object({ name, may: z.enum(["act", "look"]), hasToken: z.boolean() })
  .meta({ id: "Me", description: "Who asks, and what they may." });

export const given = z
  .object({ name, may: z.enum(["act", "look"]), token: z.string().describe("Shown this once.") })
  .meta({ id: "GivenToken" });

export const now = z
  .object({
    house,
    concerns: z.array(concern),
    notices: z.array(notice).describe("Those that nobody has ticked off, of the last two days, latest first."),
    zones: z.array(zone),
    outputs: z.array(output),
    dials: z.array(dial),
    modes: z.array(mode),
    countdowns: z.array(countdown),
    schedules: z.array(z.lazy(() => schedule)),
    paused: z.array(z.object({ rule: name, until: instant.nullable() })),
  })
  .meta({ id: "Now", description: "All that stands now, at one instant." });

const figure = z.number();
export const figures = z
  .object({
    outputs: z.array(
      z.object({
        name,
        title: z.string(),
        starts: z.int(),
        onTime: figure.describe("Milliseconds."),
        share: figure.describe("Of the stretch, from 0 to 1."),
        energy: figure.optional().describe("kWh, where it is said what it uses."),
      }),
    ),
    kept: z.array(
      z.object({
        rule: name,
        says: z.string().describe("What is kept."),
        unit: z.string(),
        inBand: figure.nullable().describe("Of the time in which the sentence applied, from 0 to 1; null where it did not."),
        lowest: figure.nullable(),
        highest: figure.nullable(),
      }),
    ),
  })
  .meta({ id: "Figures" });

export const chart = z
  .object({
    from: instant,
    to: instant,
    options: z.record(z.string(), z.unknown()).describe("A chart of ECharts, as data."),
    height: figure.describe("Pixels it needs."),
    readings: z.array(z.record(z.string(), z.unknown())).describe("What a cursor reads of it."),
    figures,
  })
  .meta({ id: "Chart" });

const entryKinds = ["reading", "silence", "dial", "mode", "output", "notice", "message", "problem", "person"] as const;

export const entry = z
  .object({
    at: instant,
    kind: z.enum(entryKinds),
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
export const switches = z.strictObject({
  value,
  lasts,
  until: z
    .string()
    .max(200)
    .describe('A time of day such as "22:00", a schedule (until it next begins or ends), or "released".')
    .optional(),
});
export const pauses = z.strictObject({ lasts });
export const runs = z.strictObject({ running: z.boolean(), lasts });
export const gives = z.strictObject({
  name: z
    .string()
    .trim()
    .regex(/^[\p{L}\p{N} ._@-]{1,80}$/u, "a name has letters, digits and spaces, 80 at most"),
  may: z.enum(["act", "look"]),
});
export const pointsAsked = z.object({
  value: z.string().max(200).optional().describe("As if it had this value. Left out: as it is."),
});
export const nothing = z.strictObject({});

const time = z.string().max(40).optional();
export const stretch = z.object({
  from: time.describe("From when on, in UTC. Left out: a day before the end."),
  to: time.describe("Until when, in UTC. Left out: now."),
  limit: z.coerce.number().int().min(1).max(10_000).optional().describe("At most so many, the latest. Left out: 1000."),
});
/** Kinds of entries, as they are asked for. */
export const kindsIn = (text: string): string[] => text.split(",").map((kind) => kind.trim());

export const journalAsked = stretch.extend({
  kinds: z
    .string()
    .max(200)
    .refine((text) => kindsIn(text).every((kind) => (entryKinds as readonly string[]).includes(kind)), {
      error: `kinds are ${entryKinds.join(", ")}, with commas between`,
    })
    .optional()
    .describe("Only of these kinds, with commas between. Left out: of all."),
  of: name.optional().describe("Only of this thing or rule."),
});
export const historyAsked = stretch.extend({ of: name.describe("A sensor, output, dial or mode.") });
const pixels = z.coerce.number().int().min(200).max(4000).optional();
const chosen = {
  from: time.describe("From when on, in UTC. Left out: a day before the end."),
  to: time.describe("Until when, in UTC. Left out: now."),
  zone: name.optional().describe("All that is in this zone."),
  of: z.string().max(2000).optional().describe("Names of sensors and outputs with commas between, in place of a zone."),
};
export const chartAsked = z.object({
  ...chosen,
  mean: z.enum(["yes", "no"]).optional().describe("The mean of the chosen sensors of one unit too."),
  theme: z.enum(["light", "dark"]).optional(),
  width: pixels,
  height: pixels,
});
export const recordingAsked = z.object(chosen);
export const whyAsked = z.object({
  of: name.describe("Anything that has a value, or a rule.").optional(),
  notice: z.coerce.number().int().min(0).describe("A notice, by its id.").optional(),
  at: time.describe("When, in UTC. Left out: now."),
  not: z.string().max(200).optional().describe("Why it does not have this value. With an empty value: why it is not otherwise."),
});
export const eventsAsked = z.object({
  after: z.coerce.number().int().min(0).optional().describe("The id of the last event heard."),
});
