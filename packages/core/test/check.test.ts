// What reasoning finds: in situations people fall into, nowhere else, and with timelines that hold what they say.
import { checkHouse, type Finding, type House, isSound, parseHouse, runTrial, runTrials, writeHouse, writeTrial } from "modrik";
import { type HouseText, openHouse } from "modrik/language";
import { houseText, seeded } from "modrik/testing";
import { describe, expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";
import { fallen, parseLindenYard, traps } from "./examples.js";

const SEEDS = Number(process.env.MODRIK_SEEDS ?? 60);
const FIRST = Number(process.env.MODRIK_FIRST ?? 1);

/** By what each situation that is written wrong is told: a problem of reading, one of reasoning, or a trial. */
const toldBy: Readonly<Record<string, string>> = {
  chatter_at_a_single_point: "chatter",
  contact_at_rest: "rests-on",
  dark_while_someone_is_there: "already-past",
  direction_of_a_setting: "trial",
  each_branch_tried: "trial",
  equal_value_of_both: "overlap",
  flip_instead_of_on: "toggle",
  gap_between_rules: "gap",
  grade_skipped: "trial",
  hand_against_rule: "trial",
  heating_and_cooling_at_once: "trial",
  hold_between_reports: "slow-report",
  lamp_lights_its_own_sensor: "trial",
  limit_moved_past_the_reading: "no-way-back",
  lost_command: "trial",
  mean_with_a_dead_member: "trial",
  minute_already_begun: "trial",
  missing_is_not_zero: "trial",
  mode_begins_past_the_point: "looked-at-once",
  no_way_back: "no-way-back",
  offsets_that_add_up: "trial",
  past_the_point_when_the_run_ends: "already-past",
  pump_checked_only_at_its_start: "looked-at-once",
  quantity_of_the_room: "device-health",
  renamed_sensor: "unknown-name",
  restart_inside_the_band: "trial",
  schedule_and_rule_on_one_device: "trial",
  short_visit: "trial",
  stale_timer: "trial",
  start_up_delay_of_a_pump: "trial",
  target_far_enough: "trial",
  text_that_is_no_number: "trial",
  unit_changed_at_the_source: "trial",
  wetting_by_the_clock: "trial",
  window_past_midnight: "unreachable",
};

const name = (file: string) => file.replace(".modrik", "");

test("each situation is there right and wrong, and both have the same trials", () => {
  expect(Object.keys(traps).map(name).sort()).toEqual(Object.keys(toldBy).sort());
  expect(Object.keys(fallen).sort()).toEqual(Object.keys(traps).sort());
  for (const [file, text] of Object.entries(fallen)) {
    const wrong = parseHouse({ [file]: text });
    if (isSound(wrong)) expect(wrong.house.trials, file).toEqual(parseHouse({ [file]: traps[file] as string }).house.trials);
  }
});

test.each(Object.entries(fallen))("%s, written wrong, is told", (file, text) => {
  const parsed = openHouse({ [file]: text });
  const codes = new Set<string>(parsed.problems.map(({ code }) => code));
  if (isSound(parsed)) {
    for (const { code } of checkHouse(parsed.house, parsed)) codes.add(code);
    if (runTrials(parsed.house).some(({ passed }) => !passed)) codes.add("trial");
  }
  expect([...codes]).toContain(toldBy[name(file)]);
});

const alarms = (findings: readonly Finding[]) =>
  findings.filter(({ allowed }) => allowed === undefined).map(({ code, reason }) => `${code}: ${reason}`);

const checkOf = (text: HouseText) => checkHouse(text.house, text);

test("there is no false alarm on the example houses", () => {
  expect(alarms(checkOf(parseLindenYard()))).toEqual([]);
  for (const [file, text] of Object.entries(traps)) expect(alarms(checkOf(openHouse({ [file]: text }))), file).toEqual([]);
});

/** The house with the timeline of a finding instead of its own trials, by way of the text that is printed. */
function written(house: House, finding: Finding): House {
  const text = `${writeHouse({ ...house, trials: [] })}${writeTrial(finding.shows as NonNullable<Finding["shows"]>)}`;
  const parsed = parseHouse({ "house.modrik": text });
  expect(
    parsed.problems.filter(({ severity }) => severity === "error").map(({ reason, place }) => `${place.line} ${reason}\n${text}`),
  ).toEqual([]);
  return parsed.house;
}

function expectShown(house: House, finding: Finding, of: string): void {
  const [result] = runTrials(written(house, finding));
  const failed = result?.verdicts.filter(({ passed }) => !passed).map(({ says }) => says);
  expect({ of, code: finding.code, reason: finding.reason, failed }).toEqual({
    of,
    code: finding.code,
    reason: finding.reason,
    failed: [],
  });
}

test("what is certain is shown by the timeline it prints", () => {
  const shown = Object.entries(fallen).flatMap(([file, text]) => {
    const parsed = parseHouse({ [file]: text });
    if (!isSound(parsed)) return [];
    const certain = checkHouse(parsed.house).filter((finding) => finding.certain);
    for (const finding of certain) expectShown(parsed.house, finding, file);
    return certain.map(({ code }) => code);
  });
  expect(new Set(shown)).toEqual(
    new Set(["chatter", "already-past", "overlap", "gap", "looked-at-once", "no-way-back", "no-unknown-case", "ordered-word"]),
  );
});

test("the same house with other names of zones has the same findings", () => {
  const codes = (house: HouseText) =>
    checkOf(house)
      .map(({ code, certain, reason }) => `${code} ${certain} ${reason.length > 0}`)
      .sort();
  let renamed = 0;
  for (const [file, text] of Object.entries(fallen)) {
    const open = openHouse({ [file]: text });
    if (!isSound(open)) continue;
    const other = open.house.zones.reduce((house, { name: zone }) => {
      const result = house.rename(zone, `${zone}_quarter`);
      return "text" in result ? result.text : house;
    }, open as HouseText);
    if (other !== open) renamed++;
    expect([file, codes(other)]).toEqual([file, codes(open)]);
  }
  expect(renamed).toBeGreaterThan(10);
});

test("generated houses are checked without a crash, and what is certain is shown", forMany(SEEDS), () => {
  let certain = 0;
  for (let seed = FIRST; seed < FIRST + SEEDS; seed++) {
    const { house } = parseHouse({ "house.modrik": houseText(seeded(seed)) });
    for (const finding of checkHouse(house)) {
      if (!finding.certain) continue;
      certain++;
      expectShown(house, finding, `seed ${seed}`);
    }
  }
  expect(certain).toBeGreaterThan(SEEDS / 10);
});

test.each<[string, string, string]>([
  ["no-way-back", "a memory that never ends", "rule r { while z.x below 20 °C until above 60 °C hold z.o at on }"],
  [
    "already-past",
    "a switch by the clock that a start misses",
    "rule r { when at 08:00 do { set z.o to on } when at 18:00 do { set z.o to off } }",
  ],
  [
    "already-past",
    "a switch by a schedule",
    "schedule s { daily 08:00 to 18:00 } rule r { when s begins do { set z.o to on } when s ends do { set z.o to off } }",
  ],
  [
    "conflict",
    "events on two measured values",
    "zone y { sensor h: %RH, unknown after 10 min } rule r { when z.x above 29 °C do { set z.o to on } } rule s { when y.h below 41 %RH do { set z.o to off } }",
  ],
  [
    "ordered-word",
    "a middle word, and nothing for those above",
    "zone y { sensor air: good < fair < poor } rule r { while y.air is fair hold z.o at on }",
  ],
  [
    "crossing-targets",
    "two dials that can be set across each other",
    "zone y { dial low: 15..25 °C, at first 18 °C dial high: 20..30 °C, at first 24 °C output k: on/off } rule r { keep z.x between y.low and y.high ± 0.5 K raise with z.o lower with y.k }",
  ],
  ["never-happens", "a silence that never comes", 'rule r { when z.door is unknown do { tell "The door is silent." } }'],
  [
    "short-cycles",
    "a small room with a strong heater and a narrow band",
    "rule r { keep z.x at 20 °C ± 0.1 K raise with z.o } physics { zone z { volume 30 m³, loses 60 W/K, stores 60 kJ/K } z.o gives 2 kW of heat } weather cold { outdoors 0 °C, swings 2 K }",
  ],
  [
    "wrong-zone",
    "a held output that looks at another zone, which its own could tell",
    "zone y { sensor x: °C, unknown after 10 min output q: on/off } rule r { while z.x below 18 °C until above 20 °C hold y.q at on }",
  ],
  ["already-past", "a dose at a crossing", "rule r { when z.x above 30 °C do { dose z.pump 100 ml } }"],
  [
    "looked-at-once",
    "an `if` among the steps",
    "rule r { when at 08:00 do { if z.x below 20 °C { set z.o to on } } } rule s { when at 18:00 do { release z.o } }",
  ],
  [
    "unreachable",
    "a general case before the special one",
    "rule r { while z.door is open hold z.pump at on } rule s { while z.door is open and m is night hold z.pump at off }",
  ],
  [
    "chatter",
    "two sentences that meet at one point",
    "rule r { when z.x below 20 °C do { set z.o to on } when z.x above 20 °C do { set z.o to off } }",
  ],
  [
    "one-sided-wait",
    "a wait on the way out alone",
    "rule r { while z.x below 20 °C until above 22 °C for 5 min hold z.o at on }",
  ],
  [
    "slow-report",
    "a window finer than the reports",
    "rule r { while mean(z.x over 2 min) below 20 °C until above 22 °C hold z.o at on } trial t { from 2026-03-14 08:00 for 1 h given z.x is 21 °C at 08:00 z.x reports every 5 min expect z.o is off }",
  ],
  [
    "unreachable",
    "two of equal conditions",
    "rule r { while z.door is open hold z.pump at on } rule s { while z.door is open hold z.pump at off }",
  ],
  [
    "unreachable",
    "two of equal conditions, their parts the other way round",
    "rule r { while z.door is open and m is day hold z.lamp at 20 % } rule s { while m is day and z.door is open hold z.lamp at 80 % }",
  ],
  [
    "unreachable",
    "what a stronger one always holds",
    "rule r as urgent { hold z.pump at off } rule s { while z.door is open hold z.pump at on }",
  ],
  [
    "no-way-back",
    "a flap that nothing closes",
    "zone w { output flap: open/closed } rule r { while z.x above 25 °C until below 23 °C hold w.flap at open }",
  ],
  [
    "no-way-back",
    "a flap that is opened for a time",
    "zone w { output flap: open/closed } rule r { when z.door is open do { set w.flap to open for 10 min } }",
  ],
  [
    "no-way-back",
    "an urgent off for good",
    "rule r { while z.door is open hold z.o at on } rule s as urgent { when z.bell is pressed do { set z.o to off } }",
  ],
  [
    "no-way-back",
    "an urgent toggle",
    "rule r { while z.door is open hold z.o at on } rule s as urgent { when z.bell is pressed do { toggle z.o } }",
  ],
  [
    "no-way-back",
    "an urgent off for good in a preset",
    "preset quiet { z.o at off, z.lamp at 0 % } rule r { while z.door is open hold z.o at on } rule s as urgent { when z.bell is pressed do { apply quiet } }",
  ],
  [
    "no-unknown-case",
    "a target that is unknown through another sensor",
    "zone w { sensor phone: home/away, unknown after 1 h } let wanted = if w.phone is home then 20 °C else 16 °C rule r { keep z.x at wanted ± 1 K raise with z.o }",
  ],
  [
    "no-unknown-case",
    "a condition behind a name",
    "zone w { sensor damp: %RH, unknown after 20 min } let wet = w.damp above 60 %RH rule r { while wet and z.door is open hold z.o at on }",
  ],
  [
    "no-unknown-case",
    "a sign that is off while nobody knows",
    "zone w { sensor dust: ppm, unknown after 5 min output sign: on/off } rule r { while w.dust above 58 ppm until below 50 ppm hold w.sign at on }",
  ],
  [
    "no-unknown-case",
    "an output that is called an alarm",
    'zone w { sensor level: %, unknown after 5 min output horn "Flood alarm": on/off } rule r { while w.level above 80 % hold w.horn at on }',
  ],
  [
    "lasts-for-ever",
    "a sensor that never grows old",
    "zone w { sensor t: °C } rule r { keep w.t at 20 °C ± 1 K raise with z.o }",
  ],
  [
    "lasts-for-ever",
    "a pair of events",
    "rule r { when z.x below 18 °C do { set z.o to on } when z.x above 20 °C do { set z.o to off } }",
  ],
  [
    "mirrored-permits",
    "two guards that wait for each other",
    "rule r { while z.x below 20 °C hold z.o at on } rule s { while z.door is open hold z.pump at on } guard g { permit z.o on only while z.pump is off permit z.pump on only while z.o is not on }",
  ],
  [
    "toggle",
    "a flap whose state nobody knows",
    "zone w { output flap: open/closed } rule r { when z.bell is pressed do { toggle w.flap } }",
  ],
  ["loop", "a rule that chases itself", "rule r { while z.door is open and z.o is off hold z.o at on }"],
])("%s: %s", (code, _, rules) => {
  const text = `house "A" { clock "UTC" }
    zone z { sensor x: °C, 0..60 °C, unknown after 15 min sensor f: °F sensor door: open/closed sensor bell: press
      output o: on/off output pump: on/off, delivers 10 ml/s output lamp: 0..100 % }
    mode m: day/night, at first day ${rules}`;
  const { house, problems } = parseHouse({ "a.modrik": text });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  expect(checkHouse(house).map((finding) => finding.code)).toContain(code);
});

/** Near to a problem, and none: what is written on purpose is not told of. */
test.each<[string, string]>([
  [
    "a flap that rests",
    "zone w { output flap: open/closed, at rest closed } rule r { while z.door is open hold w.flap at open }",
  ],
  [
    "a flap that is closed by another sentence",
    "zone w { output flap: open/closed } rule r { while z.door is open hold w.flap at open while z.door is closed hold w.flap at closed }",
  ],
  [
    "a flap that a guard closes",
    "zone w { output flap: open/closed } rule r { while m is day hold w.flap at open } guard g { permit w.flap open only while z.door is closed }",
  ],
  [
    "a flap that rests, and is toggled",
    "zone w { output flap: open/closed, at rest closed } rule r { when z.bell is pressed do { toggle w.flap } }",
  ],
  ["a flap that is always open", "zone w { output flap: open/closed } rule r { hold w.flap at open }"],
  [
    "a sign that thinks of the unknown",
    "zone w { sensor dust: ppm, unknown after 5 min output sign: on/off } rule r { while w.dust above 58 ppm until below 50 ppm or w.dust is unknown hold w.sign at on }",
  ],
  [
    "a sign with a sentence of its own for it",
    "zone w { sensor dust: ppm, unknown after 5 min output sign: on/off } rule r { while w.dust above 58 ppm until below 50 ppm hold w.sign at on while w.dust is unknown hold w.sign at on }",
  ],
  [
    "a heater that is off while nobody knows",
    "zone w { sensor t: °C, unknown after 5 min output heater: on/off } rule r { while w.t below 18 °C until above 19 °C hold w.heater at on }",
  ],
  [
    "a wide gap, which is an evening",
    "rule r { while z.x below 15 °C hold z.lamp at 20 % while z.x above 25 °C hold z.lamp at 80 % }",
  ],
  [
    "one value at both ends",
    "rule r { while z.x below 15 °C until above 16 °C hold z.o at on while z.x above 15.1 °C until below 15 °C hold z.o at on }",
  ],
  [
    "a special case before the general one",
    "rule r { while z.door is open and m is night hold z.lamp at 20 % } rule s { while z.door is open hold z.lamp at 80 % }",
  ],
  [
    "two that never hold together",
    "rule r { while m is night hold z.lamp at 20 % } rule s { while m is day hold z.lamp at 80 % }",
  ],
  [
    "a stronger standing",
    "rule r as urgent { while z.door is open hold z.lamp at 20 % } rule s { while m is day hold z.lamp at 80 % }",
  ],
  [
    "a hand that takes it back elsewhere",
    "rule r { when z.bell is pressed do { set z.o to on } when m becomes night do { release z.o } }",
  ],
  [
    "two buttons, one each way",
    "rule r { when z.bell is pressed do { set z.o to on } when z.x below 10 °C do { set z.o to off } }",
  ],
  ["a toggle of a button", "rule r { when z.bell is pressed do { toggle z.o } }"],
  ["a protected switch", "rule r { while z.x below 20 °C hold z.kept at on }"],
  [
    "events of a value and a contact, of which the later is meant to win",
    "rule r { when z.x above 29 °C do { set z.o to on } } rule s { when z.door is open do { set z.o to off } }",
  ],
  ["the last of several words", "zone y { sensor air: good < fair < poor } rule r { while y.air is poor hold z.o at on }"],
  [
    "a word for each of several",
    "zone y { sensor air: good < fair < poor } rule r { while y.air is fair hold z.lamp at 20 % while y.air is poor hold z.lamp at 80 % }",
  ],
  [
    "two dials that cannot cross",
    "zone y { dial low: 15..20 °C, at first 18 °C dial high: 22..30 °C, at first 24 °C } rule r { keep z.x between y.low and y.high ± 0.5 K raise with z.o lower with z.kept }",
  ],
  ["a band", "rule r { while z.x below 20 °C until above 21 °C hold z.o at on }"],
  ["a bound that must last", "rule r { while z.x below 20 °C for 10 min hold z.o at on }"],
  ["a smoothed value that moves a lamp with it", "rule r { hold z.lamp at scale(z.x, 10..30 °C to 0..100 %) }"],
  ["a moment of a button", "rule r { when z.bell is pressed do { set z.o to on for 10 min } }"],
  ["a moment of the clock", "rule r { when at 07:00 do { set z.o to on for 10 min } }"],
  ["a moment that comes again and again", "rule r { when z.door is open or when every 10 min do { set z.o to on for 10 min } }"],
  [
    "a state that covers what a moment leaves",
    "rule r { when z.door is open do { set z.o to on for 10 min } while z.door is open hold z.o at on }",
  ],
  ["a notice that is provided", 'rule r { when z.door is open provided m is night do { tell "open" } }'],
  ["waits on both sides", "rule r { while z.x below 20 °C for 5 min until above 22 °C for 5 min hold z.o at on }"],
  [
    "a contact that lasts longer than it is fresh by reporting again",
    "rule r { while z.door has been open for 30 min hold z.o at on }",
  ],
  [
    "has been, which says whose time it is",
    "rule r { while z.x below 20 °C until above 22 °C and z.door has been open for 5 min hold z.o at on }",
  ],
  [
    "a colour with its unknown case",
    "rule r { hold z.lamp at 50 %, z.tint at pick by z.x { below 10 °C: blue, otherwise: amber, unknown: violet } }",
  ],
  ["a colour that is always said", "rule r { hold z.tint at white } rule s { while z.door is open hold z.lamp at 50 % }"],
  ["a chain that ends", "rule r { while z.door is open hold z.o at on } rule s { while z.o is on hold z.kept at on }"],
  ["a comparison inside its range", "rule r { while z.x at least 30 °C until below 28 °C hold z.o at on }"],
  ["a season", "schedule s { only Jun 1..Aug 31 daily 08:00 to 20:00 } rule r { while during s hold z.o at on }"],
  [
    "a mode that a moment finds",
    "schedule s { Mon..Fri 06:00 to 09:00 } rule r { when at 07:00 provided during s do { set z.o to on for 1 h } }",
  ],
  [
    "heating and cooling with room between",
    "rule r { keep z.x at 19 °C ± 0.5 K raise with z.o } rule s { keep z.x at 25 °C ± 0.5 K lower with z.kept }",
  ],
  ["an output that reaches further", "zone y { sensor x: °C } rule r { keep y.x at 20 °C ± 0.5 K raise with z.far }"],
  [
    "off when control is lost",
    "zone y { output q: on/off, off when control is lost } rule r { while z.door is open hold y.q at on }",
  ],
  [
    "a sensor that is meant to last for ever",
    "zone y { sensor t: °C, lasts for ever } rule r { while y.t below 20 °C until above 22 °C hold z.o at on }",
  ],
  [
    "a pair of events with one more for silence",
    "rule r { when z.x below 18 °C until above 19 °C do { set z.o to on } when z.x above 22 °C or z.x is unknown do { set z.o to off } } rule s { when z.x is unknown do { set z.o to off } }",
  ],
  [
    "a target that has its unknown case",
    "zone y { sensor phone: home/away, unknown after 1 h } let wanted = pick by y.phone { home: 20 °C, away: 16 °C, unknown: 18 °C } rule r { while z.x below wanted until above 24 °C hold z.o at on }",
  ],
  [
    "an urgent off for a time",
    "rule r { while z.door is open hold z.o at on } rule s as urgent { when z.bell is pressed do { set z.o to off for 10 min } }",
  ],
  [
    "an urgent off that is released",
    "rule r { while z.door is open hold z.o at on } rule s as urgent { when z.bell is pressed do { set z.o to off } when m becomes night do { release z.o } }",
  ],
  [
    "an off of the same standing as what is held",
    "rule r { while z.door is open hold z.o at on } rule s { when z.bell is pressed do { set z.o to off } }",
  ],
  [
    "a guard of one side only",
    "rule r { while z.door is open hold z.o at on } rule s { while m is night hold z.kept at on } guard g { permit z.o on only while z.kept is off }",
  ],
  [
    "two that never run together",
    "rule r { while z.door is open hold z.o at on } rule s { while m is night hold z.kept at on } guard g { never together z.o, z.kept, 3 min apart }",
  ],
  [
    "numbered names",
    "let level1 = z.x + 1 K let level2 = z.x + 2 K rule r { while z.x below 20 °C until above 22 °C hold z.o at on }",
  ],
])("is quiet about %s", (_, rules) => {
  const text = `house "A" { place 47 N, 8 E clock "UTC" readings last 30 min }
    zone z { sensor x: °C, 0..60 °C, unknown after 30 min sensor door: open/closed sensor bell: press
      output o: on/off output kept: on/off, on at least 5 min, off at least 5 min output lamp: 0..100 % output tint: colour of lamp
      output far: on/off, serves y }
    mode m: day/night, at first day ${rules.includes("zone y") ? "" : "zone y { sensor w: °C }"} ${rules}`;
  const { house, problems } = parseHouse({ "a.modrik": text });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  // A piece of a house does not use all of it.
  const tints = (code: string) => code === "half-set" && !rules.includes("tint");
  expect(alarms(checkHouse(house)).filter((one) => !one.startsWith("unused") && !tints(one.split(":")[0] ?? ""))).toEqual([]);
});

test("what is allowed is told with its reason, and stands at its place", () => {
  const text = `house "A" { clock "UTC" readings last 15 min }
zone z { sensor t: °C output o: on/off }
rule r {
  # allow chatter: it is a relay that
  # does not mind
  while z.t below 20 °C
  hold z.o at on
}
# allow toggle: it is a game
rule s { when at 20:00 do { toggle z.o } }
rule u { when at 21:00 do { toggle z.o } }
# allow togle: misspelt
rule v { when at 22:00 do { tell "a" } }
# allow gap: there is none
rule w { when at 23:00 do { tell "a" } }
`;
  const findings = checkOf(openHouse({ "a.modrik": text }));
  expect(findings.map(({ code, allowed, place }) => [code, allowed, place?.line])).toEqual([
    ["chatter", "it is a relay that", 7],
    ["toggle", "it is a game", 10],
    ["toggle", undefined, 11],
    ["allows-nothing", undefined, 12],
    ["allows-nothing", undefined, 14],
  ]);
});

describe("outputs of different quantities that start each other", () => {
  /** A cellar whose cooler makes the air damp, and whose dryer may make it warm. */
  const cellar = (dryerGives: string) => {
    const { house, problems } = parseHouse({
      "a.modrik": `house "Cellar" { clock "UTC" readings last 15 min }
        zone cellar {
          sensor temperature: °C
          sensor humidity: %RH
          output cooler: on/off, on at least 5 min, off at least 5 min
          output dryer: on/off, on at least 5 min, off at least 5 min
        }
        rule cool { keep cellar.temperature at 12 °C ± 0.3 K lower with cellar.cooler }
        rule dry { keep cellar.humidity at 70 %RH ± 1 %RH lower with cellar.dryer }
        physics {
          zone cellar { volume 30 m³, loses 8 W/K, stores 0.1 MJ/K, leaks 1 /h }
          cellar.cooler gives -900 W of heat
          cellar.dryer gives ${dryerGives} of heat
          cellar.dryer gives -400 g/h of water
        }
        weather mild { outdoors 12 °C, swings 2 K, humidity 85 %RH }`,
    });
    expect(problems).toEqual([]);
    return checkHouse(house).filter(({ code }) => code === "alternating");
  };

  test("are told, with what each would do alone", () => {
    const [found, ...others] = cellar("1200 W");
    expect(others).toEqual([]);
    expect(found?.reason).toMatch(
      /^cellar.cooler and cellar.dryer start each other: \d+ turns in a simulated day. Alone, cellar.cooler would start \d+ times instead of \d+, and cellar.dryer \d+ times instead of \d+\.$/,
    );
  });

  test("are not, where the one does nothing to the other", () => expect(cellar("0 W")).toEqual([]));
});

test.each([
  ["on/off, off when control is lost", undefined],
  ["on/off, on when control is lost", "z.o stays on whenever the controller fails."],
  ["open/closed, at rest closed, closed when control is lost", undefined],
  ["open/closed, at rest open, open when control is lost", "z.o stays open whenever the controller fails."],
  ["off/low/high, low when control is lost", "z.o stays low whenever the controller fails."],
  ["0..100 %, 0 % when control is lost", undefined],
  ["0..100 %, 20 % when control is lost", "z.o stays 20 % whenever the controller fails."],
  ["5..28 °C, at rest 8 °C, 8 °C when control is lost", undefined],
  ["5..28 °C, at rest 8 °C, 20 °C when control is lost", "z.o stays 20 °C whenever the controller fails."],
])("rests-on: %s", (type, says) => {
  const { house, problems } = parseHouse({ "a.modrik": `house "A" { clock "UTC" } zone z { output o: ${type} }` });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  const [found] = checkHouse(house).filter(({ code }) => code === "rests-on");
  expect(found?.reason).toBe(says);
});

test("a flap that stays open is shown to stay so once it is cool again", () => {
  const text = `house "A" { clock "UTC" readings last 15 min } zone w { sensor t: °C, 0..60 °C output flap: open/closed }
    rule r { while w.t above 25 °C until below 23 °C hold w.flap at open }`;
  const { house } = parseHouse({ "a.modrik": text });
  const [found] = checkHouse(house).filter(({ code }) => code === "no-way-back");
  expect(found?.certain).toBe(true);
  const { passed, run } = runTrial(house, found?.shows as NonNullable<Finding["shows"]>);
  expect(passed).toBe(true);
  const { values } = run.past.line({ kind: "value", of: "w.t" });
  expect(values.some((value) => value > 25)).toBe(true);
  expect(values.at(-1)).toBeLessThan(23);
});
