// Every way in which a thing, a rule or a trial can be written wrong is found, at its place: a row for each branch of the
// binder that finds something.
import { parseHouse } from "modrik";
import { expect, test } from "vitest";

const room = `house "Test" { clock "Europe/Zurich" }
zone room {
  sensor warm: °C, -20..60 °C
  sensor damp: %RH
  sensor door: open/closed
  sensor grade: good < fair < poor
  sensor bell: press
  output heater: on/off
  output fan: on/off
  output lamp: 0..100 %
  output accent: colour of lamp
  dial target: 15..25 °C, at first 20 °C
}
mode shop: open/closed, at first closed
schedule hours { Mon..Fri 08:00 to 12:00 }
`;

/** A line after the room, and what is wrong with it: `column code`. */
const rows: readonly (readonly [text: string, ...problems: string[]])[] = [
  ["zone k { sensor s: °C, unknown after 1 min, unknown after 2 min }", "45 syntax"],
  ["zone k { output s: 0..100 %, on at least 5 min }", "30 type"],
  ["zone k { dial s: 1..5 K, at first room.target }", "35 unit"],
  ["zone k { output s: 0..100 %, at rest off }", "38 type"],
  ["zone k { output s: on/off, at rest 5 % }", "36 type"],
  ["zone k { output s: on/off, at rest ono }", "36 unknown-name"],
  ["let a = meen(room.warm)", "9 unknown-name"],
  ['let a = mean(room.warm, "x")', "9 syntax"],
  ["let a = abs(1 K, 2 K, 3 K)", "9 syntax"],
  ["let a = count(room.door is open)", "9 syntax"],
  ["let a = abs(room.door)", "13 type"],
  ["let a = sum(room.warm, room.target)", "9 unit"],
  ["let a = mean(every door)", "20 type"],
  ['rule r { when room.door changes by 2 K do { tell "x" } }', "36 syntax"],
  ["rule r { hold room.lamp at pick by clock.time { otherwise: 5 % } }", "36 type"],
  ["rule r { hold room.lamp at pick by hours { otherwise: 5 % } }", "36 type"],
  ["rule r { hold room.lamp at pick by room.door { open: 5 %, shut: 6 % } }", "28 incomplete-pick", "59 unknown-name"],
  ["rule r { }", "6 syntax"],
  ["rule r { keep room.door at open ± 1 K raise with room.fan }", "15 type"],
  ["rule r { keep room.warm at 20 °C ± 1 K raise with room.lamp in proportion over 2 K }", "34 syntax"],
  ["rule r { keep room.warm at 20 °C ± 2 K..1 K raise with room.fan }", "34 out-of-range"],
  ["rule r { keep room.warm at 20 °C ± -1 K raise with room.fan }", "36 out-of-range"],
  ["rule r { keep room.warm at 20 °C ± 1 K raise with room.fan raise with room.heater }", "60 syntax"],
  ["rule r { keep room.warm at 20 °C raise with room.fan in proportion over 2 K }", "45 syntax"],
  ["rule r { cycle room.accent on 5 min off 5 min }", "16 type"],
  ["trial t { from 2026-03-14 08:00 given room.warm is room.target expect room.fan is on }", "52 type"],
  ["let a = 5 °K", "11 syntax"],
  ["let a = 5 N", "9 unit"],
  ["zone k { output s: 5..28 °C }", "17 syntax"],
  ["rule r { while room.bell above 3 °C hold room.fan at on }", "16 type"],
  ["rule r { while any door hold room.fan at on }", "25 syntax"],
  ["rule r { while room.warm above room.door * 2 hold room.fan at on }", "32 type"],
  ["rule r { while room.warm above room.target + room.door hold room.fan at on }", "46 type"],
  ["rule r { while room.warm above -room.door hold room.fan at on }", "32 type"],
  ["mode n: a/b/a, at first a", "13 double-name"],
  ["mode n: a, at first a", "9 syntax"],
  ["zone k { output s: press }", "20 syntax"],
  ["let a: on/off = room.warm", "17 type"],
  ["let a: K = room.warm", "12 unit"],
  ["schedule s { daily 08:00 to 12:00 except Feb 30 }", "42 out-of-range"],
  ["schedule s { daily 08:00 to 12:00 except 2026-02-30 }", "42 out-of-range"],
  ["schedule s { daily room.warm to 12:00 }", "20 type"],
  ["schedule s { daily 24:30 to 12:00 }", "20 out-of-range"],
  ["profile p: on/off ramped { daily on from 08:00, off from 09:00 }", "9 type"],
  ['trial t { replay "x.csv" from 2026-03-14 08:00 to 2026-03-14 09:00 expect room.fan is on }', "18 unknown-name"],
  ["trial t { from 2026-03-14 08:00 at 08:10 room.warm moves to 20 °C expect room.fan is on }", "33 syntax"],
  ["trial t { expect room.fan is on }", "7 syntax"],
  ["zone k { output s: on/off, on at most 5 min then on at least 1 min }", "50 syntax"],
  ["physics { zone room { volume -4 m³, loses 3 W/K, stores 1 MJ/K } }", "30 out-of-range"],
  ["physics { zone room { volume 0 m³, loses 3 W/K, stores 1 MJ/K } }", "30 out-of-range"],
  ["zone k { sensor s: %RH, reads 200 as 0 %RH and 200 as 100 %RH }", "25 out-of-range"],
  ['wire w { room.door from "d" reading "1" as open }', "37 syntax"],
  ['wire w { room.door from "d" reading "1" as ajar, "0" as closed }', "37 syntax", "44 unknown-name"],
  ['rule r { when every 36 h do { tell "x" } }', "21 out-of-range"],
  ["rule r { when room.door do { dose room.fan 5 ml } }", "35 type"],
  ["rule r { when room.door do { ramp room.fan from on to off over 5 min } }", "35 type"],
  ["rule r { when room.door do { toggle room.lamp } }", "37 type"],
  ["rule r { when room.door do { raise room.fan by 3 K } }", "36 type"],
  ['rule r { when room.door do { end here tell "x" } }', "39 syntax"],
  ["group g = g", "7 syntax"],
  ["group g = room.warm", "11 type"],
  ["preset p { room.warm at 20 °C }", "12 type"],
  ["countdown c = 5 °C", "15 unit"],
  ["let a = b let b = a", "5 ring-of-lets"],
  ["zone k { sensor s: 5..1 °C }", "20 out-of-range"],
  ["zone k { sensor s: 1 °C..5 %RH }", "26 unit"],
  ["zone k { output s: colour of room.door }", "30 type"],
  ["zone k { dial s: 1..5 K, at first 9 K }", "35 out-of-range"],
  ["zone k { dial s: 1..5 K }", "15 syntax"],
  ["zone k { dial s: on/off, at first of }", "35 unknown-name"],
  ["trial t { from 08:00 expect room.fan is on }", "16 type"],
  ["rule r as soon { hold room.fan at on }", "11 syntax"],
  [
    "guard g { permit room.fan on only while room.door is closed permit room.fan off only while room.door is open }",
    "7 forbids-all",
  ],
  ["guard g { permit room.lamp above 3 K only while room.door is closed }", "34 unit"],
  ["guard g { permit room.warm on only while room.door is closed }", "18 type"],
  ["people { roof during hours }", "10 unknown-name"],
  ["people { room during hour }", "22 unknown-name"],
  ["weather w { outdoors 3 %RH }", "9 syntax", "22 unit"],
  ["physics { room.fan gives 3 W of sound }", "33 unknown-name"],
  ["physics { room.door ajar adds 7 /h of leak to outdoors }", "21 unknown-name"],
  ["rule r { while room.warm is between 3 °C and 4 °C hold room.fan at on }", "26 syntax"],
  ["rule r { hold room.accent at blu }", "30 unknown-name"],
  ["let a = 08:00 + 09:00", "9 type"],
  ["let a = 08:00 * 2", "9 type"],
  ["let a = room.warm / room.warm", "9 unit"],
  ["let a = room.warm / 2", "9 unit"],
];

test.each(rows)("%s", (text, ...wrong) => {
  const { problems } = parseHouse({ "house.modrik": room + text });
  expect(problems.map(({ code, place }) => `${place.column} ${code}`)).toEqual(wrong);
  for (const { place, reason, remedy } of problems) {
    expect(place.line).toBe(room.split("\n").length);
    expect(reason).toMatch(/^\S.*[.?]$/s);
    expect(remedy).toMatch(/\S/);
  }
});

/** Declarations that cannot be read whole, and what else would be said where their names stand. */
const unread: readonly (readonly [inZone: string, outside: string, used: string])[] = [
  ["sensor t: °C, unknown afer 10 min", "", "z.t below 20 °C"],
  ["sensor t: °C, wired to 5", "", "z.t below 20 °C"],
  ["sensor t: °C,", "", "z.t below 20 °C"],
  ["sensor t:", "", "z.t below 20 °C"],
  ["sensor t", "", "z.t below 20 °C"],
  ["sensor t: °X", "", "z.t below 20 °C"],
  ["sensor t °C", "", "z.t below 20 °C"],
  ["output p: on/off, on at lest 4 min", "", "z.p is on"],
  ["output p: on/off, off without control", "", "z.p is on"],
  ["output p on/off", "", "z.p is on"],
  ["output p: walking/", "", "z.p is walking"],
  ["dial d: 15..25 °C, at frist 20 °C", "", "z.d below 20 °C"],
  ["dial d 15..25 °C, at first 20 °C", "", "z.d below 20 °C"],
  ["dial d = 20 °C", "", "z.d below 20 °C"],
  ["let x = z.u below", "", "z.x"],
  ["countdown c: 5 min", "", "z.c is running"],
  ["", "mode m: day/night, at frist day", "m is day"],
  ["", "mode m = day/night, at first day", "m is day"],
  ["", "mode m: a/", "m is a"],
  ["", "let x = z.u below", "x"],
  ["", "let x = z.u is", "x"],
  ["", "schedule s { Mondy 07:00 to 08:00 }", "during s"],
  ["", "schedule s = Mon 07:00 to 08:00", "during s"],
  ["", "profile p { daily 19 °C frm 07:00 }", "z.u below p"],
  ["", "profile p daily 19 °C from 07:00", "z.u below p"],
];

test.each(unread)("is told once, not wherever it is used: %s %s", (inZone, outside, used) => {
  const lines = [
    'house "Test" { clock "UTC" }',
    "zone z {",
    `  ${inZone}`,
    "  sensor u: °C",
    "  output o: on/off",
    "}",
    outside,
    `rule r { while ${used} hold z.o at on }`,
    `trial t { from 2026-03-14 10:00 to 12:00 expect ${used === "z.x" || used === "x" ? "z.o is on" : used} at 11:00 }`,
  ];
  const { problems } = parseHouse({ "test.modrik": lines.join("\n") });
  const errors = problems.filter(({ severity }) => severity === "error");
  expect(errors.map(({ place, reason }) => `${place.line} ${reason}`)).toHaveLength(1);
  const line = inZone === "" ? 7 : 3;
  expect(errors[0]?.place.line).toBe(line);
});

/** A line that ends too soon, what goes on after it, and what is to be written there. */
const brokenOff: readonly (readonly [line: string, after: string, wanted: string])[] = [
  ["rule r { while room.warm below", "hold room.fan at on }", "Write a value after it."],
  ["rule r { while room.warm below 20 °C and", "hold room.fan at on }", "Write a condition after it."],
  ["rule r { while not", "keep room.warm at 20 °C ± 1 K raise with room.heater }", "Write a condition after it."],
  ["rule r { while", "hold room.fan at on }", "Write a condition after it."],
  ["rule r { while during", "hold room.fan at on }", "Write the name of a schedule after it."],
  ["rule r { while room.warm below 20 °C for", "hold room.fan at on }", "Write a length of time after it, such as 5 min."],
  ["rule r { while room.door is", "hold room.fan at on }", "Write a value after it."],
  ["rule r { hold room.fan at", "}", "Write a value after it."],
  ["rule r { hold", "}", "Write the name of an output after it."],
  ["rule r { keep room.warm at 20 °C ±", "raise with room.heater }", "Write a value after it."],
  ["rule r { keep room.warm at", "raise with room.heater }", "Write a value after it."],
  ["rule r { keep room.warm at 20 °C ± 1 K raise with", "lower with room.fan }", "Write the name of an output after it."],
  ["rule r { when room.door is open provided", "do { set room.fan to on } }", "Write a condition after it."],
  ["rule r { when room.door is open do { set room.fan to", 'tell "open" } }', "Write a value after it."],
  ["rule r { when room.door is open do { tell", "set room.fan to on } }", "Write a text in quotes after it."],
  ["rule r { when room.door is open do { wait", 'tell "open" } }', "Write a length of time after it, such as 5 min."],
  ["let a = room.warm +", "let b = room.warm", "Write a value after it."],
  ["let a = if room.door is open then 1 else", "rule r { hold room.fan at on }", "Write a value after it."],
  ["let a = max(room.warm,", "let b = room.warm", "Take it out, or write a value after it."],
  ["guard g { permit room.fan on only while", "}", "Write a condition after it."],
  ["let a = room.warm -", "", "Write a value after it."],
  ["let a = max(room.warm, room.damp", "let b = room.warm", 'Write ")" after it.'],
  ["rule r { keep room.warm", "}", 'Write "at" or "between" after it.'],
  ["rule r { cycle room.fan on 10 min", "}", 'Write "off" after it.'],
  ["rule r { when room.door is open do { set room.fan", 'tell "open" } }', 'Write "to" after it.'],
  ["rule r { when room.door is open", "}", 'Write "do" after it.'],
  ["schedule s { Mon 08:00 to", "}", "Write a value after it."],
  ["schedule s { Mon 08:00 to", "Tue 09:00 to 10:00 }", "Write a value after it."],
  ["preset p { room.fan at on,", "}", "Take it out, or write the name of an output, a dial or a mode after it."],
  [
    "rule r { while room.warm below 20 °C",
    "}",
    "A while goes on with and, or, until or for, and then needs hold, keep or cycle.",
  ],
  ["trial t { from 2026-03-14 10:00 to", "expect room.fan is on at 11:00 }", "Write a value after it."],
  ["trial t { simulated given", "}", "Write the name of a sensor, dial, mode or output after it."],
];

test.each(brokenOff)("what is missing at the end of a line is told there: %s", (line, after, wanted) => {
  const { problems } = parseHouse({ "house.modrik": `${room}${line}\n${after}\n` });
  const [first] = problems;
  expect(problems).toHaveLength(1);
  expect(first?.place.line).toBe(room.split("\n").length);
  expect(first?.place.to).toBe(room.length + line.length);
  expect(first?.remedy).toBe(wanted);
});

test("what begins a line may also be a state or a thing of one's own", () => {
  const text = `${room}mode m: wait/keep, at first wait
let release = 20 °C
let most = max(room.warm,
  release)
rule r { while m is
  wait
  and (room.warm below
  release) hold room.fan at on }`;
  expect(parseHouse({ "house.modrik": text }).problems).toEqual([]);
});

test("things of a zone on one line are read behind one that is broken", () => {
  const zone = (broken: string) => `house "T" { clock "UTC" } zone z { ${broken} sensor u: °C output o: on/off }
rule r { while z.u below 20 °C hold z.o at on }`;
  for (const broken of [
    "sensor t: °X",
    "sensor t: °C, unknown after",
    "output p on/off",
    "sensor t: °C,",
    "dial d: 1..2 K, at frist 1 K",
  ]) {
    const { problems } = parseHouse({ "test.modrik": zone(broken) });
    expect([broken, ...problems.map(({ place }) => place.line)]).toEqual([broken, 1]);
  }
});

test("what a broken line does not declare is told all the same", () => {
  const text = `house "T" { clock "UTC" }
zone z { sensor t: °C, unknown afer 10 min
  output o: on/off }
rule r { while z.t below 20 °C and z.other is open hold z.o at on }`;
  const { problems } = parseHouse({ "test.modrik": text });
  expect(problems.map(({ place, reason }) => [place.line, reason])).toEqual([
    [2, 'Unexpected "afer", in zone z.'],
    [4, 'There is no thing called "z.other".'],
  ]);
});

test("a file of mistakes alone, as one that is no text at all, is read to its end", () => {
  const { problems } = parseHouse({ "test.modrik": "§\n".repeat(150_000) });
  expect(problems.length).toBeGreaterThan(149_999);
  expect(problems.at(-1)?.place.line).toBeGreaterThan(149_999);
});
