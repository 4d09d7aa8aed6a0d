// What is asked for in the language where a name or a word stands, in the words of its problems, and what of a house may
// stand there. A writer is offered by this what the parser asks for.

/** Names of a house, by the list they are in; of `tails` the last names that things have in several zones, of `ways` the ways to a person. */
export type NameList =
  | "zones"
  | "sensors"
  | "outputs"
  | "dials"
  | "modes"
  | "groups"
  | "lets"
  | "countdowns"
  | "presets"
  | "schedules"
  | "profiles"
  | "rules"
  | "weathers"
  | "tails"
  | "ways"
  /** Words that the thing just named may be. */
  | "states"
  | "units"
  | "types"
  /** What is known of things besides their values: `bench.door.age`. */
  | "facts"
  | "functions"
  /** What every house knows: `sun.elevation`, `sunrise`. */
  | "built in";

/** What may be asked for by a name. */
export const wantedNames = {
  "a countdown": ["countdowns"],
  "a lamp": ["outputs"],
  "a preset": ["presets"],
  "a rule": ["rules"],
  "a schedule": ["schedules"],
  "a sensor": ["sensors"],
  "a sensor or an output": ["sensors", "outputs"],
  "a sensor, dial, mode or output": ["sensors", "dials", "modes", "outputs"],
  "a thing or a schedule": ["sensors", "outputs", "dials", "modes", "lets", "countdowns", "schedules"],
  "a way to a person": ["ways"],
  "an output or sensor of a zone, e.g. bench.heater": ["outputs", "sensors"],
  "an output": ["outputs", "groups"],
  "an output, a dial or a mode": ["outputs", "groups", "dials", "modes"],
  "what happens to: a sensor, a dial or a mode": ["sensors", "dials", "modes"],
} satisfies Readonly<Record<string, readonly NameList[]>>;

export type WantedName = keyof typeof wantedNames;

/** What else may be asked for; whatever is not in here is new, as the name of a rule. */
const wantedWords: Readonly<Record<string, readonly NameList[]>> = {
  "a state": ["states"],
  "a unit such as °C, a range such as 0..100 %, or words such as open/closed": ["units", "types"],
  "a value": ["sensors", "outputs", "dials", "modes", "lets", "countdowns", "profiles", "built in", "facts", "functions"],
  "a unit": ["units"],
  "a weather": ["weathers"],
  "a word, a bound, otherwise or unknown": ["states"],
  "one of its words": ["states"],
  "the name of a zone": ["zones"],
  '"outdoors" or a zone': ["zones"],
  '"gives", or a word of the sensor': ["states"],
  "a state of the output": ["states"],
  "what there are several of: battery, sensor": ["tails"],
};

/** The lists that hold what is asked for so. */
export function listsFor(what: string): readonly NameList[] {
  const all: Readonly<Record<string, readonly NameList[]>> = { ...wantedNames, ...wantedWords };
  return Object.hasOwn(all, what) ? (all[what] as readonly NameList[]) : [];
}
