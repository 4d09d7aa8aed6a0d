// Every happening of a timeline once, and every action of a person: what befalls a house is what the page says. The compiler
// asks for a row for each kind.
import { type Occurrence, parseHouse, runTrials } from "modrik";
import { describe, expect, test } from "vitest";

const house = `house "H" { clock "Europe/Zurich" }
zone z {
  sensor x: °C, unknown after 10 min
  sensor y: °C
  sensor bell: press
  output o: on/off
  output p: on/off
  output q: on/off
  dial target: 10..30 °C, at first 20 °C
}
mode m: day/night, at first day
countdown c = 10 min
preset cosy { z.p at on, z.target at 25 °C }
wire w { z.y from "z/y" z.q to "z/q" writing on as "1", off as "0" confirmed by "z/q/is" zone z alive while "z/here" reads "yes" }
rule r { while z.x below z.target hold z.o at on }
rule s { while c is running hold z.p at on }
rule bell { when m becomes night or when z.bell is pressed do { set z.p to on for 5 min } }
rule clocked { when at 09:00 do { tell "nine" } }
rule watched { when z.q disobeys for 1 min do { tell "stubborn" } }
rule warm { while z.y above 30 °C hold z.q at on }
rule anew { when the house starts do { tell "hello" } }
`;

type Row = readonly [happens: string, expects: readonly string[]];

const rows: Readonly<Record<Occurrence["kind"], readonly Row[]>> = {
  is: [
    ["at 08:10 z.x is 15 °C", ["z.o is off from 08:00 to 08:10", "z.o is on from 08:10"]],
    ["at 08:10 z.x is unknown", ["z.x is unknown from 08:20"]],
    ["at 08:10 z.target is 25 °C", ["z.o is on from 08:10"]],
    ["at 08:10 m is night", ["z.p is on from 08:10 to 08:15", "z.p is off from 08:15"]],
  ],
  "is pressed": [["at 08:10 z.bell is pressed", ["z.p is on from 08:10 to 08:15"]]],
  "falls silent": [["at 08:10 z.x falls silent", ["z.x is 22 °C at 08:18", "z.x is unknown from 08:19"]]],
  sticks: [["at 08:10 z.x sticks at 08:20 z.x is 15 °C", ["never z.o is on", "z.x between 22 °C and 22 °C at 09:20"]]],
  refuses: [["at 08:10 z.q refuses at 08:11 z.y is 35 °C", ['told "stubborn" at 08:12', "z.q disobeys at 08:30"]]],
  "obeys late": [
    [
      "at 08:05 z.q obeys 90 s late at 08:10 z.y is 35 °C",
      [
        "z.q disobeys from 08:10 to 08:11:30",
        "never z.q disobeys from 08:11:30 to 09:00",
        'told "stubborn" at 08:11',
        'problem "disobeys" at 08:10',
      ],
    ],
  ],
  "jumps to": [
    [
      "at 08:10 z.x jumps to 15 °C for 5 min",
      ["z.o is off from 08:00 to 08:10", "z.o is on from 08:10 to 08:15", "z.o is off from 08:15"],
    ],
  ],
  "moves to": [
    [
      "from 08:10 to 08:20 z.x moves to 12 °C",
      ["z.x is 17 °C at 08:15", "z.x is 12 °C at 08:20", "z.o is on from 08:13 to 09:20"],
    ],
  ],
  "reports every": [
    ["at 08:10 z.x reports every 9 min", ["never z.x is unknown"]],
    ["at 08:10 z.x reports every 15 min", ["z.x is unknown at 08:24", "z.x is 22 °C at 08:26"]],
  ],
  "wobbles by": [
    [
      "at 08:05 z.x is 20 °C at 08:10 z.x wobbles by 1 K",
      ["count(z.o is on) at least 3", "z.x between 19 °C and 21 °C from 08:10 to 09:00"],
    ],
  ],
  "arrives late": [
    ["at 08:10 z.x arrives 3 min late at 08:20 z.x is 15 °C", ["z.o is off from 08:00 to 08:23", "z.o is on from 08:23"]],
  ],
  message: [
    ['at 08:10:30 message "z/y" reads "35"', ["z.q is on at 08:10:30"]],
    ['at 08:10 message "z/here" reads "no"', ["z.x is 22 °C at 08:09", "z.x is unknown from 08:10", "z.y is unknown from 08:10"]],
    [
      'at 08:10 message "z/here" reads "no" at 08:20 message "z/here" reads "yes"',
      ["z.x is unknown from 08:10 to 08:20", "z.x is 22 °C from 08:21"],
    ],
    ['at 08:10 message "z/here" reads "no" at 08:11 message "z/y" reads "35"', ["z.y is unknown from 08:10", "never z.q is on"]],
    [
      'at 08:10 message "z/here" reads "yes" at 08:11:10 message "z/y" reads "35"',
      ["z.x is 22 °C from 08:00", "z.q is on at 08:11:10"],
    ],
    ['at 08:10 message "z/q/is" reads "1"', ["z.q disobeys from 08:10", 'told "stubborn" at 08:11']],
  ],
  "the house restarts": [["at 08:10 the house restarts", ['told "hello" at 08:10']]],
  "the house is down": [
    ["at 08:10 the house is down for 20 min", ['told "hello" at 08:30', 'never told "hello" from 08:01 to 08:30']],
    [
      "at 08:10 the house is down for 20 min at 08:15 the house is down for 5 min",
      ['told "hello" at 08:30', 'count(told "hello") is 2'],
    ],
    [
      "at 08:10 the house is down for 20 min at 08:15 the house is down for 20 min",
      ['told "hello" at 08:35', 'count(told "hello") is 2'],
    ],
    ["at 08:10 the house is down for 20 min at 08:15 the house restarts", ['told "hello" at 08:30']],
    ["at 10:10 the house is down for 40 min", ['count(told "hello") is 1']],
  ],
  "the clock jumps": [
    ["at 08:10 the clock jumps by 30 min", ['told "nine" at 08:30']],
    ["at 09:10 the clock jumps by -30 min", ['count(told "nine") is 1']],
    ["at 08:58 the clock jumps by 4 min", ['told "nine" at 08:58', 'count(told "nine") is 1']],
  ],
  "person sets": [
    ["at 08:10 person sets z.p to on until 08:45", ["z.p is on from 08:10 to 08:45", "z.p is off from 08:45"]],
    ["at 08:10 person sets m to night until 08:30", ["m is night from 08:10 to 08:30", "m is night at 08:31"]],
    ["at 08:10 person sets z.o to on", ["z.o is on from 08:10 to 10:10", "z.o is off from 10:10"]],
    ["at 08:10 person sets z.o to on for 5 min", ["z.o is on from 08:10 to 08:15", "z.o is off from 08:15"]],
    ["at 08:10 person sets z.target to 25 °C", ["z.o is on from 08:10"]],
  ],
  "person releases": [
    ["at 08:10 person sets z.o to on at 08:20 person releases z.o", ["z.o is on from 08:10 to 08:20", "z.o is off from 08:20"]],
  ],
  "person pauses": [
    [
      "at 08:01 z.x is 15 °C at 08:10 person pauses r for 5 min",
      ["z.o is on at 08:09", "z.o is off from 08:10 to 08:15", "z.o is on from 08:15"],
    ],
  ],
  "person resumes": [
    [
      "at 08:01 z.x is 15 °C at 08:10 person pauses r at 08:20 person resumes r",
      ["z.o is off from 08:10 to 08:20", "z.o is on from 08:20"],
    ],
  ],
  "person applies": [
    ["at 08:10 person applies cosy", ["z.p is on from 08:10 to 10:10", "z.p is off from 10:10", "z.o is on from 08:10"]],
  ],
  "person starts": [["at 08:10 person starts c", ["z.p is on from 08:10 to 08:20", "z.p is off from 08:20"]]],
  "person stops": [
    ["at 08:10 person starts c at 08:15 person stops c", ["z.p is on from 08:10 to 08:15", "z.p is off from 08:15"]],
  ],
  "person runs": [["at 08:10 person runs bell", ["z.p is on from 08:10 to 08:15", "z.p is off from 08:15"]]],
};

describe("what befalls a house", () => {
  test.each(Object.values(rows).flat())("%s", (happens, expects) => {
    const trial = `trial t { from 2026-03-14 08:00 to 10:30 given z.x is 22 °C, z.y is 20 °C ${happens}
      ${expects.map((claim) => `expect ${claim}`).join(" ")} }`;
    const parsed = parseHouse({ "a.modrik": house + trial });
    expect(parsed.problems.map(({ reason }) => reason)).toEqual([]);
    const [result] = runTrials(parsed.house);
    const failed = result?.verdicts.flatMap(({ says, passed }) => (passed ? [] : [says]));
    expect(failed).toEqual([]);
    expect(result?.verdicts).toHaveLength(expects.length);
  });
});
