// Houses and inputs made from a seed, as text of the language and as reports in whole seconds.
import type { House, PersonAction, Value } from "modrik";

export type Random = () => number;

/** Numbers in [0, 1): a linear congruential generator (constants of Numerical Recipes), good enough to vary tests. */
export function seeded(seed: number): Random {
  let state = (seed * 2654435761 + 12345) >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 4294967296;
  };
}

export function pick<Item>(random: Random, items: readonly Item[]): Item {
  return items[Math.floor(random() * items.length)] as Item;
}

const seconds = (random: Random) => `${pick(random, [1, 2, 3, 5, 8, 13, 20])} s`;
const numbers = ["19 °C", "20 °C", "21 °C", "68 °F", "room.target", "room.target + 1 K", "room.target - 0.5 K"];
const outputs = ["room.heater", "room.fan"] as const;

const words: Readonly<Record<string, readonly string[]>> = {
  "room.door": ["open", "closed"],
  "room.motion": ["moving", "still"],
  house_mode: ["day", "night", "away"],
  "room.heater": ["on", "off"],
  "room.fan": ["on", "off"],
};

function comparison(random: Random): string {
  const signal = pick(random, ["room.warm", "room.warm", "room.far"]);
  const [low, high] = pick(random, [
    ["19 °C", "21 °C"],
    ["20 °C", "20 °C"],
    ["room.target - 1 K", "room.target + 1 K"],
  ] as const);
  const bound = pick(random, ["above", "below", "at least", "at most"]);
  return pick(random, [
    () => `${signal} ${bound} ${pick(random, numbers)}`,
    () => `${signal} between ${low} and ${high}`,
    () => `${signal} below ${low} until above ${high}`,
    () => `${signal} above ${high} for ${seconds(random)} until below ${low} for ${seconds(random)}`,
    () => `${signal} is unknown`,
    () => `warmest ${bound} ${pick(random, numbers)}`,
    () => `room.warm below (if room.door is open then room.target - 1 K else ${low})`,
    () => "comfort is not white",
    () => `room.grade ${pick(random, ["at least fair", "below fair", "is poor"])}`,
    () => `room.warm.age ${pick(random, ["at least", "below"])} ${seconds(random)}`,
    () => `airing.remaining at most ${seconds(random)}`,
    () => `room.pump.last_amount ${pick(random, ["is unknown", "at least 15 ml", "below 35 ml"])}`,
    () => `middle ${bound} ${pick(random, numbers)}`,
    () => `warmth ${bound} ${pick(random, numbers)}`,
    // Rising, it passes these numbers at whole seconds; it is above them a millisecond later only.
    () => `slope ${pick(random, ["at least", "below"])} ${pick(random, numbers)}`,
    () => window(random),
  ])();
}

/** What turns at whole seconds only. */
function window(random: Random): string {
  const bound = pick(random, ["at least", "below"]);
  return pick(random, [
    () => `${pick(random, ["min", "max"])}(room.warm over ${seconds(random)}) ${bound} ${pick(random, numbers)}`,
    () => `${pick(random, ["min", "max"])}(room.warm over room.linger) ${bound} ${pick(random, numbers)}`,
    () => `rise(room.far over ${seconds(random)}) ${bound} ${pick(random, ["1 K", "-1 K", "0 K"])}`,
    () => `count(${state(random)} over ${seconds(random)}) ${bound} ${pick(random, ["1", "2"])}`,
    () => `time(${state(random)} over 20 s) ${bound} ${seconds(random)}`,
  ])();
}

function state(random: Random, verb = "is"): string {
  const name = pick(random, Object.keys(words));
  return `${name} ${verb} ${random() < 0.2 && verb === "is" ? "not " : ""}${pick(random, words[name] as readonly string[])}`;
}

function condition(random: Random, depth = 2): string {
  const inner = () => condition(random, depth - 1);
  const simple = [
    () => comparison(random),
    () => state(random),
    () => `${state(random, "has been")} for ${pick(random, [seconds(random), "room.linger"])}`,
    () => `${state(random, "was")} in the last ${seconds(random)}`,
    () => pick(random, ["during hours", "outside hours"]),
    () => pick(random, ["clock from 12:00:10 to 12:00:40", "clock from 12:01 to 12:00:30", "clock.time at least 12:01"]),
    () =>
      pick(random, [
        "clock from room.evening to 12:01:20",
        "clock.time below room.evening",
        "clock from 12:00:25 to room.evening",
      ]),
    () => pick(random, ["any door is open", "any door in hall is closed", "any warm below 19 °C"]),
    () => pick(random, ["airing is running", "not (airing is running)", `room.bell was pressed in the last ${seconds(random)}`]),
  ];
  const joined = [
    () => `(${inner()} and ${inner()})`,
    () => `(${inner()} or ${inner()})`,
    () => `not (${inner()})`,
    () => `(${inner()}) for ${seconds(random)}`,
    () => `(${inner()}) in the last ${seconds(random)}`,
    () => `(${inner()}) until (${inner()})`,
    () => `(${inner()}) until (${inner()}), at most ${seconds(random)} then pause ${seconds(random)}`,
  ];
  return pick(random, depth > 0 && random() < 0.5 ? joined : simple)();
}

/** What ends a wait, or what was set until then, when it comes. */
function moment(random: Random): string {
  return pick(random, [
    "hours begins",
    "hours ends",
    "airing ends",
    "room.door becomes open",
    "house_mode becomes away",
    "room.heater becomes off",
    "room.motion changes",
    "room.warm changes by 1 K",
  ]);
}

function set(random: Random): string {
  const ends = pick(random, [
    "",
    "",
    ` for ${seconds(random)}`,
    ` until ${condition(random, 1)}`,
    ` until (${condition(random, 1)}), at most ${seconds(random)}`,
    ` until ${pick(random, ["12:00:50", "room.evening"])}`,
    ` until ${moment(random)}`,
  ]);
  return pick(random, [
    () => `set ${pick(random, outputs)} to ${pick(random, ["on", "off", "rest"])}${ends}`,
    () => `set both to ${pick(random, ["on", "off", "rest"])}${ends}`,
    () => `set ${pick(random, ["room.low", "room.high"])} to ${pick(random, ["18 °C", "20 °C", "22 °C"])}${ends}`,
    () => `set room.evening to ${pick(random, ["12:00:30", "12:01:10"])}`,
    () => `set room.linger to ${pick(random, ["2 s", "9 s"])}${ends}`,
    () => `set room.lamp to ${pick(random, ["0 %", "40 %", "90 %", "rest"])}${ends}`,
    () => `apply cosy${ends}`,
    () => `set house_mode to ${pick(random, words.house_mode as readonly string[])}${ends}`,
    () => `set room.target to ${pick(random, ["18 °C", "20 °C", "22 °C", "room.target + 1 K"])}${ends}`,
  ])();
}

/** Steps that neither wait nor end by themselves. */
function plainStep(random: Random): string {
  return pick(random, [
    () => `toggle ${pick(random, outputs)}`,
    () => `${pick(random, ["raise", "lower"])} room.target by ${pick(random, ["0.5 K", "3 K"])}`,
    () => `release ${pick(random, [...outputs, "room.lamp", "both"])}`,
    () => `${pick(random, ["raise", "lower"])} ${pick(random, ["room.low", "room.high"])} by 1.5 K`,
    () => "apply narrow",
    () => `set ${pick(random, outputs)} to ${pick(random, ["on", "off"])}`,
    () => 'tell "plain"',
    () => pick(random, ["start airing", `start airing with ${seconds(random)}`, "stop airing"]),
    () => "apply cosy",
    () => `${pick(random, ["raise", "lower"])} room.lamp by ${pick(random, ["10 %", "60 %"])}`,
  ])();
}

function step(random: Random): string {
  return pick(random, [
    () => set(random),
    () => set(random),
    () => `tell "${pick(random, ["a", "b", "c"])}"${pick(random, ["", ` through phone, at most once in ${seconds(random)}`])}`,
    () => plainStep(random),
    () =>
      `if ${condition(random, 1)} { ${plainStep(random)} } else if ${condition(random, 0)} { ${plainStep(random)} } else { ${plainStep(random)} }`,
    () => `wait ${seconds(random)}`,
    () => `wait until (${condition(random, 1)}), at most ${seconds(random)}`,
    () => `wait until ${moment(random)}`,
    () =>
      `ramp room.lamp from ${pick(random, ["0 %", "20 %"])} to ${pick(random, ["60 %", "100 %"])} over ${pick(random, ["4 s", "8 s"])}`,
    () =>
      `dose room.pump ${pick(random, ["20 ml", "50 ml"])}${pick(random, ["", ` otherwise { ${plainStep(random)} tell "broken" }`])}`,
  ])();
}

function event(random: Random): string {
  const triggers = Array.from({ length: 1 + Math.floor(random() * 2) }, () =>
    pick(random, [
      () => condition(random),
      () => condition(random),
      () => pick(random, ["hours begins", "hours ends"]),
      () => pick(random, ["room.door changes", "house_mode changes", "room.warm changes by 1 K", "comfort changes"]),
      () => `at ${pick(random, ["12:00:30", "12:01:05", "room.evening"])}`,
      () => pick(random, ["every 7 s", "every 20 s", "the house starts"]),
      () => pick(random, ["room.bell is pressed", "airing ends"]),
    ])(),
  );
  const provided = random() < 0.4 ? `\n  provided ${condition(random, 1)}` : "";
  const steps = Array.from({ length: 1 + Math.floor(random() * 3) }, () => `    ${step(random)}`).join("\n");
  const again = pick(random, ["", "", "\n  if triggered again, ignore", "\n  if triggered again, wait"]);
  return `  when ${triggers.join("\n  or when ")}${provided}\n  do {\n${steps}\n  }${again}`;
}

function held(random: Random): string {
  const head = random() < 0.85 ? `  while ${condition(random)}\n` : "";
  const lamp = pick(random, ["30 %", "80 %", "100 %"]);
  const says = pick(random, [
    () => `hold ${pick(random, outputs)} at ${pick(random, ["on", "off"])}`,
    () => `hold room.lamp at ${lamp}, room.fan at on`,
    () => `keep room.warm at room.target ± ${pick(random, ["0.5 K", "1 K", "-0.5..+1 K"])} raise with room.heater`,
    () => "keep room.warm at room.target ± 1 K raise with room.heater lower with room.fan",
    () => "keep room.warm between 19 °C and 21 °C ± 0.5 K raise with room.heater lower with room.fan",
    () => "keep room.warm between room.low and room.high ± 0.5 K raise with room.heater lower with room.fan",
    () => `hold both at ${pick(random, ["on", "off"])}`,
    () => "keep room.far at 20 °C ± 1 K lower with room.fan",
    () => "keep room.far at 20 °C ± 1 K raise with room.lamp",
    () => "keep room.warm at room.target ± 1 K raise with room.valve",
    () => "keep room.warm between room.low and room.high ± 0.5 K raise with room.valve lower with room.lamp",
    () => `cycle ${pick(random, ["room.lamp", "room.valve"])} on ${seconds(random)} off ${seconds(random)}`,
    () => "keep room.warm at room.target raise with room.lamp in proportion over 2 K",
    () => "keep room.warm at 20 °C raise with room.heater in proportion over 2 K, cycle 8 s",
    () => `cycle ${pick(random, outputs)} on ${seconds(random)} off ${seconds(random)}`,
    () =>
      `hold room.lamp at pick by room.far { below 19 °C: 20 %, above 20 °C: 100 %, otherwise: 60 %${pick(random, ["", ", unknown: 5 %"])} }`,
  ])();
  // A cycle takes its share where it begins: what turns just behind an instant begins it at the next for the plain definitions.
  const isApart = says.includes(", cycle") && /over|slope|age|remaining/.test(head);
  return `${isApart ? "" : head}  ${says}`;
}

function rule(random: Random, index: number): string {
  const standing = pick(random, ["", "", "", " as urgent", " as background", " as watch"]);
  const states = Array.from({ length: Math.floor(random() * 2) }, () => held(random));
  const events = Array.from({ length: Math.floor(random() * 3) }, () => event(random));
  const sentences = [...states, ...events];
  // Sentences without `while` come first in their rule.
  sentences.sort(
    (a, b) =>
      Number(a.startsWith("  while") || a.startsWith("  when")) - Number(b.startsWith("  while") || b.startsWith("  when")),
  );
  return `rule r${index}${standing} {\n${(sentences.length > 0 ? sentences : [held(random)]).join("\n")}\n}`;
}

function guard(random: Random, index: number): string {
  const permits = [
    `permit ${pick(random, outputs)} on only while ${condition(random, 1)}`,
    `permit room.pump on only while ${condition(random, 1)}`,
    `never together ${pick(random, ["room.heater, room.fan", "room.fan, room.heater", "room.pump, room.fan, room.lamp"])}${pick(random, ["", ", 4 s apart", ", 9 s apart"])}`,
    `permit room.lamp above ${pick(random, ["40 %", "60 %"])} only while ${condition(random, 1)}`,
  ];
  return `guard g${index} { ${pick(random, permits)} }`;
}

/** A stretch of two minutes, each with the time of day its clock shows; a house made for one is full of these. */
export interface Stretch {
  readonly clock: string;
  readonly from: number;
  readonly minutes: readonly [first: string, second: string];
  /** What stands between the minutes as the clock is changed, and is never shown. */
  readonly never?: string;
}

export const noon: Stretch = { clock: "UTC", from: Date.parse("2026-03-14T12:00Z"), minutes: ["12:00", "12:01"] };
/** Around both changes of a clock: the second minute follows the first, by an hour more, or less. */
export const changes: readonly Stretch[] = [
  { clock: "Europe/Zurich", from: Date.parse("2026-03-29T00:59Z"), minutes: ["01:59", "03:00"], never: "02:30:05" },
  { clock: "Europe/Zurich", from: Date.parse("2026-10-25T00:59Z"), minutes: ["02:59", "02:00"] },
];

/** A house at another stretch of time than noon. */
function at(text: string, { clock, minutes: [first, second], never = `${second}:05` }: Stretch): string {
  const moved = text
    .replaceAll("12:01:05", never)
    .replaceAll("12:00", first)
    .replaceAll("12:01", second)
    .replace('clock "UTC"', `clock "${clock}"`);
  // What a profile says stands in the order of the clock.
  return moved.replace(/daily (\d\d °C .*) }/g, (_, points: string) => {
    const sorted = points.split(", ").sort((a, b) => ((a.split("from ")[1] ?? "") < (b.split("from ")[1] ?? "") ? -1 : 1));
    return `daily ${sorted.join(", ")} }`;
  });
}

/** A house of one room and a hall, as text. */
export function houseText(random: Random, stretch = noon): string {
  return at(textAtNoon(random), stretch);
}

function textAtNoon(random: Random): string {
  const least = pick(random, ["", ", on at least 5 s", ", on at least 3 s, off at least 8 s"]);
  return [
    'house "Generated" { clock "UTC" }',
    "zone room {",
    "  sensor warm: °C, unknown after 20 s",
    "  sensor far: °C",
    "  sensor door: open/closed",
    "  sensor motion: moving/still, unknown after 30 s",
    `  output heater: on/off${least}`,
    `  output fan: on/off${pick(random, ["", "", ", on at most 8 s then off at least 5 s"])}`,
    "  output pump: on/off, delivers 10 ml/s after 1 s",
    "  sensor grade: poor < fair < good",
    "  sensor bell: press",
    `  output lamp: 0..100 %${pick(random, ["", "", ", at rest 20 %"])}`,
    `  output valve: open/closed, at rest ${pick(random, ["open", "closed"])}`,
    "  dial target: 15..25 °C, at first 20 °C",
    "  dial linger: 1..60 s, at first 5 s",
    "  dial evening: time, at first 12:00:40",
    "  dial low: 15..25 °C, at first 19 °C",
    "  dial high: 15..25 °C, at first 21 °C",
    "}",
    "zone hall {",
    "  sensor door: open/closed, unknown after 40 s",
    "  sensor warm: °C",
    "}",
    "group both = room.heater, room.fan",
    "mode house_mode: day/night/away, at first day",
    "let warmest = max(room.warm, room.far)",
    "let comfort = pick by room.warm { below 19 °C: blue, below 21 °C: white, otherwise: red, unknown: violet }",
    `let middle = ${pick(random, ["mean", "median", "first_known", "spread", "min"])}(room.warm, room.far)`.replace(
      /spread.*/,
      "room.target + spread(room.warm, room.far)",
    ),
    "countdown airing = 9 s",
    "preset narrow { room.low at 20 °C, room.high at 20 °C, room.fan at on }",
    "preset cosy { room.heater at on, room.lamp at 70 %, room.target at 22 °C }",
    "profile warmth { daily 19 °C from 12:00:15, room.target from 12:00:50, 22 °C from 12:01:20 }",
    "profile slope ramped { daily 18 °C from 12:00, 22 °C from 12:00:40, 22 °C from 11:59 }",
    "schedule hours { daily 12:00:20 to 12:00:45, 12:01 to 12:01:40 }",
    ...Array.from({ length: 1 + Math.floor(random() * 3) }, (_, index) => rule(random, index)),
    ...Array.from({ length: Math.floor(random() * 2.5) }, (_, index) => guard(random, index)),
  ].join("\n");
}

/** What a person does at a second to a house that was made so, mostly nothing. */
export function actionsAt(random: Random, { rules }: House): PersonAction[] {
  const runnable = rules.filter(({ sentences }) => sentences.some((one) => "do" in one));
  return actions(random).filter((action) => action.kind !== "runs" || runnable.some(({ name }) => name === action.rule));
}

function actions(random: Random): PersonAction[] {
  if (random() > 0.06) return [];
  const output = pick(random, outputs);
  const lasts = pick(random, [undefined, 3000, 11000]);
  const during = lasts === undefined ? {} : { lasts };
  const rule = "r0";
  return pick<PersonAction[]>(random, [
    [{ kind: "switches", output, value: pick(random, ["on", "off"]), ...during }],
    [{ kind: "switches", output, value: pick(random, ["on", "off"]), lasts: "until released" }],
    [{ kind: "switches", output: "room.lamp", value: pick(random, [0, 50]), ...during }],
    [{ kind: "releases", output }],
    [{ kind: "pauses", rule, ...during }],
    [{ kind: "resumes", rule }],
    [{ kind: "applies", preset: "cosy" }],
    [{ kind: "applies", preset: "narrow" }],
    [{ kind: "starts", countdown: "airing", ...during }],
    [{ kind: "stops", countdown: "airing" }],
    [{ kind: "runs", rule }],
  ]);
}

/** What is reported or set at a second, often nothing and often the same as before. */
export function inputsAt(random: Random, { minutes: [minute] } = noon): Map<string, Value> {
  const [hour = 0, past = 0] = minute.split(":").map(Number);
  const inputs = new Map<string, Value>();
  if (random() < 0.25) inputs.set("room.warm", pick(random, [18, 18.5, 19, 19.5, 20, 20.5, 21, 22]));
  if (random() < 0.15) inputs.set("room.far", pick(random, [18, 19, 20, 21, 22]));
  if (random() < 0.12) inputs.set("room.door", pick(random, ["open", "closed"]));
  if (random() < 0.12) inputs.set("room.motion", pick(random, ["moving", "still"]));
  if (random() < 0.08) inputs.set("room.grade", pick(random, ["poor", "fair", "good"]));
  if (random() < 0.06) inputs.set("room.bell", "pressed");
  if (random() < 0.03) inputs.set("room.target", pick(random, [18, 20, 20.5, 22]));
  if (random() < 0.06) inputs.set("hall.door", pick(random, ["open", "closed"]));
  if (random() < 0.06) inputs.set("hall.warm", pick(random, [18, 19, 20]));
  // A dial that would cross the other is refused, which depends on what was set before it: one of them at a time.
  if (random() < 0.04) inputs.set(pick(random, ["room.low", "room.high"]), pick(random, [18, 19.5, 20, 21, 22]));
  if (random() < 0.03) inputs.set("room.evening", (hour * 60 + past) * 60_000 + pick(random, [25, 40, 70, 100]) * 1000);
  if (random() < 0.03) inputs.set("room.linger", pick(random, [1, 5, 20]));
  if (random() < 0.03) inputs.set("house_mode", pick(random, ["day", "night", "away"]));
  return inputs;
}
