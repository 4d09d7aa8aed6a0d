// What people write out of habit, from other languages, keyboards and tongues, and what they mean by it. It is told with the
// right form and read on with, so that one slip is one problem.
import { type Unit, units } from "../units/index.js";

/** A table without what every object has: any word may be looked up in it, `constructor` too. */
const bare = <Of>(table: Readonly<Record<string, Of>>): Readonly<Record<string, Of>> => Object.assign(Object.create(null), table);

/** One thing to say of several words. */
const sameFor = (words: string, says: string) => bare(Object.fromEntries(words.split(" ").map((word) => [word, says])));

/** Signs, with the words that are meant; nothing where they should be left out. */
export const signHabits: Readonly<Record<string, readonly string[]>> = {
  "+/-": ["±"],
  "+/−": ["±"],
  ">=": ["at least"],
  "=>": ["at least"],
  "≥": ["at least"],
  "<=": ["at most"],
  "≤": ["at most"],
  ">": ["above"],
  "&&": ["and"],
  "&": ["and"],
  "||": ["or"],
  "|": ["or"],
  "==": ["is"],
  "!=": ["is", "not"],
  "≠": ["is", "not"],
  "!": ["not"],
  ";": [],
};

/** Units as they are said, or written in a hurry. */
const unitHabits: Readonly<Record<string, Unit>> = {
  "° C": "°C",
  "° c": "°C",
  "°c": "°C",
  deg: "°",
  degrees: "°",
  "deg C": "°C",
  "degrees C": "°C",
  "degrees Celsius": "°C",
  "degrees celsius": "°C",
  "deg F": "°F",
  "degrees F": "°F",
  "degrees Fahrenheit": "°F",
  C: "°C",
  Celsius: "°C",
  celsius: "°C",
  "° F": "°F",
  F: "°F",
  "%rh": "%RH",
  "%rH": "%RH",
  "% RH": "%RH",
  percent: "%",
  lux: "lx",
  watts: "W",
  watt: "W",
  seconds: "s",
  second: "s",
  secs: "s",
  sec: "s",
  minutes: "min",
  minute: "min",
  mins: "min",
  hours: "h",
  hour: "h",
  hrs: "h",
  hr: "h",
  days: "d",
  day: "d",
  Kelvin: "K",
  kelvin: "K",
  "W/°C": "W/K",
  "kJ/°C": "kJ/K",
  "MJ/°C": "MJ/K",
  "1/h": "/h",
  "per hour": "/h",
  ACH: "/h",
  ach: "/h",
  // A millilitre of water is a gram of it.
  "ml/h": "g/h",
  L: "l",
  litres: "l",
  liters: "l",
};

const anyOf = (words: readonly string[]) =>
  [...words]
    .sort((a, b) => b.length - a.length)
    .map((word) => word.replace(/[.*+?^${}()|[\]\\/]/g, "\\$&"))
    .join("|");
const notWord = "(?![\\p{L}\\p{N}_])";
const unitNames = anyOf([...Object.keys(units).filter((name) => name !== ""), ...Object.keys(unitHabits)]);

export const habits = {
  sign: new RegExp(anyOf(Object.keys(signHabits)), "y"),
  comment: /\/\/[^\n\r]*|\/\*(?:(?!\*\/)[^\n\r])*(?:\*\/)?/y,
  text: /[“„”«»]([^“”„«»"\n\r]*)[“”«»]|'([^'"\n\r]*)'/y,
  dash: /[–—]/y,
  unit: new RegExp(`[ \\t\\u00a0]*(${anyOf(Object.keys(unitHabits))})${notWord}`, "uy"),
  decimalComma: new RegExp(`\\d+,\\d+(?![\\d,])(?=[ \\t\\u00a0]*(?:${unitNames})${notWord})`, "uy"),
  degrees: /(\d{1,3})°[ \t]*(\d{1,2})['′](?:[ \t]*(\d{1,2}(?:\.\d+)?)["″])?[ \t]*([NSEW])(?![\p{L}\p{N}_])/uy,
  // `the heater`, where none of the language's own words follows.
  article: /the[ \t]+(?=[\p{L}_])(?!(?:house|clock|power|last|past|time|start|beginning|begin|end)(?![\p{L}\p{N}_]))/uy,
  // `isn't`
  negation: /(is|was)n['’]?t(?![\p{L}\p{N}_])/uy,
  // What one of the three after it may begin with, as most numbers are none of them: a date with its time as computers write
  // it, a date by day, month and year, `1h30`.
  oddNumber: /\d{1,4}(?:-\d{2}-\d{2}T|\.\d{1,2}\.\d|[ \t]?h[ \t]?\d)/y,
  instant: /(\d{4}-\d{2}-\d{2})T(\d{2}:\d{2}(?::\d{2})?)(?![\d:])/y,
  dayFirst: /(\d{1,2})\.(\d{1,2})\.(\d{4})(?![\d.])/y,
  hoursAndMinutes: /(\d{1,2})[ \t]?h[ \t]?(\d{2})(?![\p{L}\p{N}_:.]|[ \t]*(?:ms|min|s|h|d)(?![\p{L}\p{N}_]))/uy,
  halfDay: /(\d{1,2})(?:[:.](\d{2}))?[ \t\u00a0]*([ap])\.?m\.?(?![\p{L}\p{N}_])/iuy,
} as const;

export function meantUnit(written: string): Unit {
  return unitHabits[written] as Unit;
}

/** `7:30 pm` as a time of day. */
export function meantTime([, hours, minutes = "00", half = "a"]: RegExpExecArray): string {
  const hour = (Number(hours) % 12) + (half.toLowerCase() === "p" ? 12 : 0);
  return `${String(hour).padStart(2, "0")}:${minutes}`;
}

/** `14.3.2026` as a date. */
export function meantDate([, day = "", month = "", year = ""]: RegExpExecArray): string {
  return [year, month.padStart(2, "0"), day.padStart(2, "0")].join("-");
}

/** Other wordings of the first words of a construct: of figures, and of what things are declared with. */
export const wordings: Readonly<Record<string, readonly string[]>> = {
  floor: ["area", "size", "surface"],
  volume: ["air"],
  loses: ["losses", "loss", "lose"],
  stores: ["capacity", "mass", "store", "inertia"],
  leaks: ["ventilation", "infiltration", "leakage", "leak"],
  soaks: ["soak", "buffers"],
  glass: ["glazing", "panes", "windows"],
  built: ["build", "building", "construction"],
  outdoors: ["outdoor", "outside", "temperature", "mean"],
  swings: ["swing", "amplitude"],
  seasons: ["season"],
  humidity: ["humid", "moisture"],
  cloud: ["clouds", "cloudy", "overcast"],
  breathes: ["breathe", "breathing"],
  "showers for": ["shower for", "showers", "shower"],
  "cooks for": ["cook for", "cooks", "cook"],
  "airs every": ["air every", "ventilates every"],
  "at first": ["default", "first", "initially", "initial", "starts at", "start"],
  "at rest": ["default", "rest", "initially", "initial", "normally", "idle"],
  step: ["steps of", "in steps of", "steps", "increment"],
  "unknown after": ["unknown", "stale after", "expires after", "valid for", "timeout"],
  "lasts for ever": ["for ever", "forever", "never unknown"],
  "smooth over": ["smoothed over", "smoothing over", "averaged over", "average over"],
  "reports every": ["every", "interval", "reports each", "updates every", "polled every"],
  "reports on change of": ["on change of", "reports on changes of", "reports changes of"],
  lags: ["lag", "delay"],
  "wobbles by": ["wobbles", "noise", "jitter", "accuracy", "precision"],
  offset: ["calibrate by", "calibrate", "calibration", "correction", "corrected by"],
  "device health": ["health", "diagnostic"],
  uses: ["power", "draws", "consumes", "needs"],
  delivers: ["flow", "pumps", "delivers at"],
  at: ["path", "field", "pointer"],
  "person sets": ["someone sets", "somebody sets", "a person sets", "user sets"],
  "the house restarts": ["house restarts", "the house reboots", "restart", "reboot"],
  "comes and goes every": ["comes every", "goes every", "comes and goes each", "comes in every"],
  "the house is down for": [
    "power fails for",
    "the power fails for",
    "power is out for",
    "the power is out for",
    "house is down for",
    "the house goes down for",
    "house goes down for",
  ],
  "confirmed by": ["confirmed", "confirmed from", "confirmed at", "confirms by"],
  "again every": ["every", "repeated every", "repeat every"],
  retained: ["retain", "retaining"],
  for: ["during"],
  through: ["to", "via"],
  ", at most once in": [
    ", at most once an",
    ", at most once a",
    "at most once an",
    "at most once a",
    ", at most once per",
    ", at most once every",
    "at most once in",
    "at most once per",
    ", once in",
  ],
  tell: ["notify", "say", "alert", "message", "announce", "notice"],
  set: ["change"],
  toggle: ["flip"],
  wait: ["delay", "pause", "sleep"],
  raise: ["increase"],
  lower: ["decrease", "reduce"],
  send: ["publish"],
  dose: ["pour", "deliver"],
  "end here": ["exit", "return", "stop here"],
};

/** How declarations are begun elsewhere. */
export const declarationHabits: Readonly<Record<string, string>> = bare({
  room: "zone",
  area: "zone",
  var: "let",
  const: "let",
  define: "let",
  timer: "countdown",
  scene: "preset",
  automation: "rule",
  test: "trial",
  zones: "zone",
  rooms: "zone",
  sensors: "sensor",
  outputs: "output",
  dials: "dial",
  modes: "mode",
  groups: "group",
  presets: "preset",
  schedules: "schedule",
  profiles: "profile",
  rules: "rule",
  guards: "guard",
  trials: "trial",
});

/** What a house says of itself, by other names. */
export const houseHabits: Readonly<Record<string, readonly string[]>> = {
  clock: ["timezone", "tz"],
  place: ["location", "position", "coordinates"],
};

/** What somebody does to the air with an output: which way it moves. */
export const driveHabits: Readonly<Record<string, "raise" | "lower">> = bare({
  heat: "raise",
  warm: "raise",
  humidify: "raise",
  moisten: "raise",
  increase: "raise",
  cool: "lower",
  dry: "lower",
  dehumidify: "lower",
  decrease: "lower",
  reduce: "lower",
});

/** Kinds of value by other names. */
export const typeHabits: Readonly<Record<string, string>> = {
  temperature: "°C",
  celsius: "°C",
  fahrenheit: "°F",
  humidity: "%RH",
  light: "lx",
  illuminance: "lx",
  brightness: "lx",
  lux: "lx",
  power: "W",
  watt: "W",
  watts: "W",
  energy: "kWh",
  pressure: "hPa",
  co2: "ppm",
  boolean: "on/off",
  bool: "on/off",
  binary: "on/off",
  switch: "on/off",
  relay: "on/off",
  plug: "on/off",
  socket: "on/off",
  valve: "open/closed",
  shutter: "open/closed",
  blind: "open/closed",
  lock: "locked/unlocked",
  contact: "open/closed",
  door: "open/closed",
  window: "open/closed",
  motion: "moving/still",
  movement: "moving/still",
  presence: "present/absent",
  occupancy: "present/absent",
  leak: "wet/dry",
  button: "press",
  dimmer: "0..100 %",
  percentage: "0..100 %",
  percent: "0..100 %",
  thermostat: "5..30 °C",
};

/** `47°06' N` in degrees alone. */
export function meantDegrees([, degrees, minutes, seconds = "0", direction]: RegExpExecArray): string {
  const whole = Number(degrees) + Number(minutes) / 60 + Number(seconds) / 3600;
  return `${Number(whole.toFixed(4))} ${direction}`;
}

/** Moments of a schedule or a countdown, by other names. */
export const momentHabits: readonly (readonly [written: readonly string[], meant: "begins" | "ends"])[] = [
  [["starts"], "begins"],
  ...["stops running", "stops", "finishes", "elapses", "expires", "runs out", "has ended", "has finished", "has elapsed"].map(
    (written) => [written.split(" "), "ends"] as const,
  ),
];

/** Lengths of time after `every` that are said without a number. */
export const everyHabits: Readonly<Record<string, string>> = bare({
  second: "1 s",
  minute: "1 min",
  hour: "1 h",
  day: "1 d",
});

/** `an hour` */
export const lengthHabits: readonly (readonly [written: readonly string[], meant: string])[] = [
  [["half", "an", "hour"], "30 min"],
  ...["a", "an", "one"].flatMap((word) =>
    Object.entries(everyHabits).map(([unit, meant]) => [[word, unit], meant] as [string[], string]),
  ),
];

/** Before a length of time: how `in the last` is said otherwise, and what goes without saying after `for`. */
export const lastHabits: readonly (readonly string[])[] = [
  ["in", "last"],
  ["within", "last"],
  ["within", "the", "last"],
  ["during", "the", "last"],
  ["in", "the", "past"],
  ["within", "the", "past"],
];
export const forHabits: readonly (readonly string[])[] = [
  ["at least"],
  ["the", "last"],
  ["the", "past"],
  ["more", "than"],
  ["longer", "than"],
  ["over"],
];
/** Instead of `for`, where a length of time follows. */
export const soLongHabits: readonly (readonly string[])[] = [["since"], ["longer", "than"], ["more", "than"], ["during"]];

/** How a sensor is said to fall silent. */
export const silenceHabits: readonly (readonly string[])[] = [
  ["stops", "reporting"],
  ["stops", "sending"],
  ["stops"],
  ["goes", "silent"],
  ["goes", "offline"],
  ["fails"],
  ["drops", "out"],
  ["dies"],
  ["disappears"],
];

/** Words for `expect`, and for where a trial begins. */
export const expectHabits: readonly string[] = ["assert", "check", "verify", "ensure", "expects", "should"];
export const beginHabits: readonly string[] = ["on", "at", "start", "starts", "begin", "begins", "date"];

const atSensor = "Units, scale and offset of a reading are said where its sensor is declared.";

/** What goes on with a wiring elsewhere, and what to write. */
export const wireHabits: Readonly<Record<string, string>> = bare({
  in: atSensor,
  unit: atSensor,
  scale: atSensor,
  offset: atSensor,
  reading: 'Texts stand in quotes: reading "true" as open, "false" as closed.',
  writing: 'Texts stand in quotes: writing on as "1", off as "0".',
});

const theMean = "Write the mean and how far it goes from there: outdoors 0 °C, swings 5 K.";

/** What weather is called, and what to write. */
export const weatherHabits: Readonly<Record<string, string>> = bare({
  sunny: "Write cloud 10 %.",
  sun: "Write cloud 10 %.",
  clear: "Write cloud 10 %.",
  cloudy: "Write cloud 80 %.",
  overcast: "Write cloud 100 %.",
  from: 'Write the file behind the name: weather … from "weather.csv".',
  to: theMean,
  between: theMean,
  "..": theMean,
  ...sameFor(
    "rain wind snow pressure",
    "It is not simulated; there are outdoors … °C, swings … K, seasons … K, humidity … %RH, cloud … % and fronts every … h.",
  ),
});

/** What the outdoors are called. */
export const outdoorsHabits: ReadonlySet<string> = new Set("outside outdoor out ambient exterior".split(" "));

/** Of a profile, other words for `ramped`. */
export const rampedHabits: readonly string[] = ["ramp", "ramps", "linear", "smooth", "gradual", "interpolated"];

/** What does not speak MQTT itself. */
export const otherWays: ReadonlySet<string> = new Set(
  "http https rest web websocket zigbee zwave matter thread knx modbus ble bluetooth coap serial rs485 onewire".split(" "),
);

/** What rooms are said to be, and what to write. */
export const roomHabits: Readonly<Record<string, string>> = bare({
  ...sameFor("height high tall ceiling", "Write the volume: floor times height, e.g. volume 50 m³."),
  ...sameFor(
    "insulation insulated heavy massive brick stone concrete wood wooden timber",
    "Write built light, solid or insulated.",
  ),
  ...sameFor("temperature humidity starts begins", "What a simulated day begins with is found by running days before it."),
  ...sameFor("heater heating fan output", "What outputs do stands beside the zones: bench.heater gives 1.5 kW of heat."),
  ...sameFor("outdoors outside garden", "Of a zone outdoors nothing else is said: garden is outdoors, and no zone garden { … }."),
  ...sameFor("people occupants persons", "Who is there is said in people { … }."),
});

/** What is said for `by` of a change. */
export const byHabits: readonly (readonly string[])[] = [
  ["by", "at least"],
  ["by", "more", "than"],
  ["more", "than"],
  ["at least"],
];

/** Words for several things at once, and what to write: of each thing something is said by itself. */
export const severalHabits: Readonly<Record<string, string>> = bare({
  all: "Write not any … is not …, of things with one name, or say it of each: … and ….",
  each: "Write not any … is not …, of things with one name, or say it of each: … and ….",
  every: "Write not any … is not …, of things with one name, or say it of each: … and ….",
  no: "Write not any … is …, of things with one name, or not (… or …).",
  none: "Write not any … is …, of things with one name, or not (… or …).",
  both: "Say it of each: … and ….",
  either: "Say it of each: … or ….",
  neither: "Write not (… or …).",
});

const twoBounds = "For two bounds write until: below 18 °C until above 19 °C.";
export const howFast = "Write how much in which time: rise(… over 10 min) above 1 K, of what falls below -1 K.";

/** Words that are said of a number, and what to write. */
export const numberHabits: Readonly<Record<string, string>> = bare({
  rising: howFast,
  increasing: howFast,
  falling: howFast,
  decreasing: howFast,
  known: "Write is not unknown.",
  unavailable: "Write is unknown.",
});

/** Words for how far an output goes, as a share of its range. */
export const shareHabits: Readonly<Record<string, number>> = bare({
  full: 1,
  fully: 1,
  max: 1,
  maximum: 1,
  highest: 1,
  half: 0.5,
  min: 0,
  minimum: 0,
  lowest: 0,
  zero: 0,
  none: 0,
  nothing: 0,
});

/** What goes on with a condition elsewhere, and what to write. */
export const conditionHabits: Readonly<Record<string, string>> = bare({
  unless: "Write and not (…).",
  until: "After until comes a bound, or a condition in ( ): until above 20 °C.",
  hysteresis: twoBounds,
  tolerance: twoBounds,
  "±": twoBounds,
  are: "Say it of each: … is open and … is open.",
  by: "How far it is from there belongs to the bound: below … - 1 K, above … + 1 K.",
  on: "Days belong to a schedule: schedule … { Mon 08:00 to 12:00 }.",
  "..": "Days belong to a schedule: schedule … { Mon..Fri 08:00 to 12:00 }, then during ….",
});

const triggerForm = "What happens stands behind when: when … do { … }.";
const conditionForm = "What has to be so stands behind while, or behind provided: when … provided … do { … }.";
const actionForm = "What is done stands behind its condition: while … hold X at on, or when … do { … }.";

/** What parts of a rule are called elsewhere, and how they are said. */
export const sentenceHabits: Readonly<Record<string, string>> = bare({
  ...sameFor("trigger triggers event events triggered", triggerForm),
  ...sameFor("condition conditions", conditionForm),
  ...sameFor("action actions then run execute perform", actionForm),
});

const oneStepEach = "Each has a step of its own: set … to …, then set … to ….";
const whichWay = "Write raise with … if it raises the value, lower with … if it lowers it.";

/** What goes on with steps elsewhere, and what to write. */
export const stepHabits: Readonly<Record<string, string>> = bare({
  over: "For a change over a time write ramp … from … to … over 10 min.",
  fade: "Write ramp … from … to … over 10 min.",
  dim: "Write ramp … from … to … over 10 min.",
  after: "Write wait 5 min before it.",
  in: "Write wait 5 min before it.",
  every: "Write , at most once in 10 min after a tell. What comes again and again has a rule of its own: when every 10 min.",
  else: "Put it inside: do { if … { … } else { … } }.",
  ...sameFor(
    "repeat loop for while",
    "Nothing is repeated in steps: write them as often as they come, or a rule with when every 10 min.",
  ),
  ...sameFor(
    "call run trigger execute activate fire",
    "Rules do not call one another: set a mode or start a countdown that the other waits for; apply sets a preset.",
  ),
});

/** Functions by other names. */
export const functionHabits: Readonly<Record<string, string>> = bare({
  average: "mean",
  avg: "mean",
  maximum: "max",
  highest: "max",
  largest: "max",
  minimum: "min",
  lowest: "min",
  smallest: "min",
  total: "sum",
  absolute: "abs",
  dewpoint: "dew_point",
  trend: "rise",
  change: "rise",
});

/** What every house knows, by other names. */
export const builtInHabits: Readonly<Record<string, string>> = bare({
  now: "clock.time",
  time_of_day: "clock.time",
  current_time: "clock.time",
  today: "clock.weekday",
  day_of_week: "clock.weekday",
  dayofweek: "clock.weekday",
});

const times = "Write clock from 07:00 to 08:00, or clock.time at least 07:00.";
const dates = "Say it in a schedule: schedule winter { only Oct 15..Apr 10 daily 00:00 to 24:00 }, then during winter.";
const weekdays = "Write clock.weekday is Sat, or a schedule: schedule … { Sat, Sun 08:00 to 22:00 }, then during ….";
const sun = "Write clock from sunrise to sunset, or how high it stands: sun.elevation above 0°.";
const darkness = "Write clock from sunset to sunrise, or what a sensor reads: … below 20 lx.";
const presence =
  "Nobody knows by itself who is there: ask sensors, any motion is moving in the last 30 min, or a mode that is set.";

/** What is known elsewhere without a thing that tells it, and what to write. */
export const nameHabits: Readonly<Record<string, string>> = bare({
  ...sameFor("hour hours minute minutes", times),
  ...sameFor("month season winter summer spring autumn", dates),
  ...sameFor("weekend weekends weekdays workday workdays", weekdays),
  ...sameFor("mon tue wed thu fri sat monday tuesday wednesday thursday friday saturday sunday", weekdays),
  ...sameFor("sun daytime daylight", sun),
  ...sameFor("dark darkness night nighttime", darkness),
  ...sameFor("home away presence occupancy occupied somebody someone anyone anybody nobody", presence),
  mode: "Name the mode itself: shop is open.",
  holiday: 'Read them from a calendar: schedule holidays from calendar "holidays.ics", then during holidays.',
  it: "Name the thing: hall.door is open; of the dark write clock from sunset to sunrise.",
  horizon: "Write 0°.",
  ...sameFor("startup boot booted", "Write when the house starts."),
});

/** What to write where a line of a guard begins otherwise. */
export const permitted = "A guard says what is permitted: permit X on only while not (…).";

/** What devices are said to be elsewhere. */
const inWire = 'How a device says it stands in wire: reading "0" as open, "1" as closed; writing on as "0", off as "1".';
const fromWire =
  'How a device is reached stands in wire: wire mqtt { hall.temperature from "hall/air" }, of an output hall.lamp to "hall/lamp".';
export const deviceHabits = bare({
  ...sameFor("inverted invert inverse active normally", inWire),
  ...sameFor("topic mqtt address id pin gpio", fromWire),
});

/** Of a number, what is said of its range. */
export const rangeHabits = bare({
  ...sameFor("min minimum max maximum limit limits", "A range stands in the place of the unit: 0..40 °C."),
  unit: "The unit stands behind the colon: °C.",
});

/** What stands within a phrase in the place of one of its words, and what to write. */
export const phraseHabits: Readonly<Record<string, Readonly<Record<string, string>>>> = bare({
  to: bare({ and: oneStepEach, ",": oneStepEach }),
  from: bare({ to: "It begins somewhere: ramp x from x to … over … begins where x is." }),
});

/** The same of what moves what is kept. */
export const drivenHabits = sameFor("with by using through", whichWay);

/** Verbs that are a state: `opens` is `is open`. */
export const stateVerbs: Readonly<Record<string, string>> = bare({ opens: "open", closes: "closed" });

/** Verbs that bring something to a state: `open z.valve`. */
export const openingVerbs: Readonly<Record<string, string>> = bare({
  open: "open",
  close: "closed",
  shut: "closed",
});

/** The same, of what has a name with a dot: other things are run and enabled too. */
export const runningVerbs: Readonly<Record<string, string>> = bare({
  run: "on",
  activate: "on",
  enable: "on",
  deactivate: "off",
  disable: "off",
});

/** What stands between a thing and how it should be. */
export const shouldBe: readonly (readonly string[])[] = [
  "must be",
  "should be",
  "shall be",
  "has to be",
  "is to be",
  "will be",
  "goes",
].map((words) => words.split(" "));

const forbidden = "What must not be is said in a guard: guard g { permit X on only while not (…) }.";
export const forbiddingHabits = sameFor("never block forbid prevent disallow inhibit deny", forbidden);

/** What somebody keeps is called so too. */
export const keepHabits: ReadonlySet<string> = new Set(["maintain", "regulate", "control", "stabilize"]);

/** Verbs before a bound: `rises above` is `above`, and when waits for it. */
export const boundVerbs: ReadonlySet<string> = new Set([
  "becomes",
  "gets",
  "goes",
  "turns",
  "stays",
  "rises",
  "climbs",
  "falls",
  "drops",
  "sinks",
]);

/** What they are followed by for a bound. */
export const boundHabits: Readonly<Record<string, "above" | "below">> = bare({ over: "above", beyond: "above", under: "below" });

/** `greater than`: the bound that is meant. */
export const comparativeHabits: Readonly<Record<string, "above" | "below">> = bare({
  greater: "above",
  more: "above",
  higher: "above",
  warmer: "above",
  longer: "above",
  shorter: "below",
  less: "below",
  lower: "below",
  smaller: "below",
  colder: "below",
});
