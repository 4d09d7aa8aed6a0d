// Why, and why not, sentence by sentence: each kind of condition where it is true, false and unknown, and whoever else decides.
import { askable, type Explanation, Journal, parseHouse, type Run, runTrials, why, whyAnything, whyNot } from "modrik";
import { describe, expect, test } from "vitest";
import { engineOf, type Input, play, START } from "./playing.js";

interface Story {
  readonly name: string;
  readonly rules: string;
  readonly inputs: readonly Input[];
  readonly seconds: number;
  readonly outputs?: string;
  readonly why: readonly string[];
  readonly whyNot: readonly string[];
}

const stories: readonly Story[] = [
  {
    name: "above true",
    rules: "rule r { while z.x above 20 °C hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [30, "z.x", 26],
    ],
    seconds: 60,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.x is 26 °C, above 20 °C"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "and one lacks",
    rules: "rule r { while z.x above 20 °C and z.door is open hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [10, "z.door", "closed"],
    ],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.door is closed, not open, since 12:00:10",
    ],
    whyNot: ["z.o is off, not on", "  rule r would set it to on, but not now", "    z.door is closed, not open, since 12:00:10"],
  },
  {
    name: "or both",
    rules: "rule r { while z.x above 20 °C or z.door is open hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [20, "z.door", "open"],
    ],
    seconds: 60,
    why: [
      "z.o is on, since 12:00:10",
      "  rule r holds it",
      "    these are true",
      "      z.x is 25 °C, above 20 °C",
      "      z.door is open, since 12:00:20",
    ],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "in the last",
    rules: "rule r { while z.door was open in the last 2 min hold z.o at on }",
    inputs: [
      [10, "z.door", "open"],
      [30, "z.door", "closed"],
    ],
    seconds: 60,
    why: [
      "z.o is on, since 12:00:10",
      "  rule r holds it",
      "    z.door was open in the last 2 min: last open at 12:00:30; that counts until 12:02:30",
    ],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "until holds",
    rules: "rule r { while z.x above 20 °C until below 18 °C hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [30, "z.x", 19],
    ],
    seconds: 60,
    why: [
      "z.o is on, since 12:00:10",
      "  rule r holds it",
      "    z.x above 20 °C until below 18 °C: true since 12:00:10",
      "      z.x is 19 °C, not below 18 °C",
    ],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "until over",
    rules: "rule r { while z.x above 20 °C until below 18 °C hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [30, "z.x", 17],
    ],
    seconds: 60,
    why: [
      "z.o is off, since 12:00:30",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x above 20 °C until below 18 °C: not true since 12:00:30",
      "      z.x is 17 °C, not above 20 °C",
    ],
    whyNot: ["z.o is off, not on", "  rule r would set it to on, but not now", "    z.x is 17 °C, not above 20 °C: 3 K too low"],
  },
  {
    name: "hand",
    rules: "rule r { while z.x above 20 °C hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [20, (e, at) => e.person({ kind: "switches", output: "z.o", value: "off" }, at)],
    ],
    seconds: 60,
    why: ["z.o is off, since 12:00:20", "  a person switched it by hand"],
    whyNot: [
      "z.o is off, not on",
      "  a person switched it to off by hand, which is stronger than any rule",
      "  rule r would set it to on, but something stronger applies",
      "    a person switched it by hand",
    ],
  },
  {
    name: "guard",
    rules: "rule r { while z.x above 20 °C hold z.o at on } guard g { permit z.o on only while z.door is closed }",
    inputs: [
      [10, "z.x", 25],
      [10, "z.door", "open"],
    ],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  guard g does not permit it",
      "    z.door is open, not closed, since 12:00:10",
      "  this rule asks for it now",
      "    rule r holds it",
      "      z.x is 25 °C, above 20 °C",
    ],
    whyNot: [
      "z.o is off, not on",
      "  guard g does not permit it: permit z.o on only while z.door is closed",
      "    z.door is open, not closed, since 12:00:10",
      "  rule r would set it to on, but something stronger applies",
      "    guard g does not permit it",
    ],
  },
  {
    name: "stronger",
    rules: "rule r { while z.x above 20 °C hold z.o at on } rule u as urgent { while z.door is open hold z.o at off }",
    inputs: [
      [10, "z.x", 25],
      [20, "z.door", "open"],
    ],
    seconds: 60,
    why: ["z.o is off, since 12:00:20", "  rule u holds it", "    z.door is open, since 12:00:20"],
    whyNot: [
      "z.o is off, not on",
      "  rule u sets it to off",
      "  rule r would set it to on, but something stronger applies",
      "    rule u is stronger, or comes first",
    ],
  },
  {
    name: "countdown",
    rules: "countdown c = 5 min rule s { when z.door becomes open do { start c } } rule r { while c is running hold z.o at on }",
    inputs: [
      [10, "z.door", "closed"],
      [20, "z.door", "open"],
    ],
    seconds: 60,
    why: ["z.o is on, since 12:00:20", "  rule r holds it", "    c is running"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "mean",
    rules: "rule r { while mean(z.x over 1 min) above 20 °C hold z.o at on }",
    inputs: [
      [0, "z.x", 10],
      [30, "z.x", 40],
    ],
    seconds: 60,
    why: ["z.o is on, since 12:00:45", "  rule r holds it", "    mean(z.x over 1 min) is 25 °C, above 20 °C"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "two sensors",
    rules: "rule r { while z.x above z.y + 2 K hold z.o at on }",
    inputs: [
      [10, "z.x", 21],
      [10, "z.y", 20],
    ],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x is 21 °C, not above 22 °C (z.y + 2 K)",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.x is 21 °C, not above 22 °C (z.y + 2 K): 1 K too low",
    ],
  },
  {
    name: "least",
    rules: "rule r { while z.x above 20 °C hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [30, "z.x", 15],
    ],
    seconds: 60,
    outputs: "output o: on/off, on at least 2 min",
    why: [
      "z.o is on, since 12:00:10",
      "  it should be off, but its minimum time lasts until 12:02:10",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x is 15 °C, not above 20 °C",
    ],
    whyNot: ["z.o is on, not off", "  it should be off, but its minimum time lasts until 12:02:10"],
  },
  {
    name: "step for good",
    rules: "rule r { when z.door becomes open do { set z.o to on } }",
    inputs: [
      [10, "z.door", "closed"],
      [20, "z.door", "open"],
    ],
    seconds: 60,
    why: ["z.o is on, since 12:00:20", "  rule r set it at 12:00:20"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "two rules",
    rules: "rule r { while z.x above 20 °C hold z.o at on } rule q { while z.x above 24 °C hold z.o at on }",
    inputs: [[10, "z.x", 22]],
    seconds: 60,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.x is 22 °C, above 20 °C"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "step",
    rules: "rule r { when z.door becomes open do { set z.o to on for 2 min } }",
    inputs: [
      [10, "z.door", "closed"],
      [20, "z.door", "open"],
    ],
    seconds: 60,
    why: ["z.o is on, since 12:00:20", "  rule r set it at 12:00:20"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "above false",
    rules: "rule r { while z.x above 20 °C hold z.o at on }",
    inputs: [[10, "z.x", 18]],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x is 18 °C, not above 20 °C",
    ],
    whyNot: ["z.o is off, not on", "  rule r would set it to on, but not now", "    z.x is 18 °C, not above 20 °C: 2 K too low"],
  },
  {
    name: "above unknown",
    rules: "rule r { while z.x above 20 °C hold z.o at on }",
    inputs: [],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x is unknown and cannot be compared with 20 °C",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.x is unknown and cannot be compared with 20 °C",
    ],
  },
  {
    name: "is true",
    rules: "rule r { while z.door is open hold z.o at on }",
    inputs: [[10, "z.door", "open"]],
    seconds: 60,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.door is open, since 12:00:10"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "is false",
    rules: "rule r { while z.door is open hold z.o at on }",
    inputs: [[10, "z.door", "closed"]],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.door is closed, not open, since 12:00:10",
    ],
    whyNot: ["z.o is off, not on", "  rule r would set it to on, but not now", "    z.door is closed, not open, since 12:00:10"],
  },
  {
    name: "not",
    rules: "rule r { while not z.door is open hold z.o at on }",
    inputs: [[10, "z.door", "closed"]],
    seconds: 60,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.door is closed, not open, since 12:00:10"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "between",
    rules: "rule r { while z.x between 18 °C and 22 °C hold z.o at on }",
    inputs: [[10, "z.x", 20]],
    seconds: 60,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.x is 20 °C, between 18 °C and 22 °C"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "between lacks",
    rules: "rule r { while z.x between 18 °C and 22 °C hold z.o at on }",
    inputs: [[10, "z.x", 25]],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x is 25 °C, not between 18 °C and 22 °C",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.x is 25 °C, not between 18 °C and 22 °C: 3 K too high",
    ],
  },
  {
    name: "for",
    rules: "rule r { while z.door has been open for 2 min hold z.o at on }",
    inputs: [[10, "z.door", "open"]],
    seconds: 200,
    why: ["z.o is on, since 12:02:10", "  rule r holds it", "    z.door has been open for 2 min: true since 12:00:10"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "for lacks",
    rules: "rule r { while z.door has been open for 2 min hold z.o at on }",
    inputs: [[10, "z.door", "open"]],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.door has been open for 2 min: true since 12:00:10, which is not long enough until 12:02:10",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.door has been open for 2 min: true since 12:00:10, 1 min 10 s to go",
    ],
  },
  {
    name: "mode",
    rules: "rule r { while m is night hold z.o at on }",
    inputs: [[10, "m", "night"]],
    seconds: 60,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    m is night, since 12:00:10"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "unknown",
    rules: "rule r { while z.x is unknown hold z.o at on }",
    inputs: [],
    seconds: 60,
    why: ["z.o is on, since the beginning", "  rule r holds it", "    z.x is unknown"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "grade",
    rules: "rule r { while z.grade at least fair hold z.o at on }",
    inputs: [[10, "z.grade", "poor"]],
    seconds: 60,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.grade is poor, at least fair"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "clock",
    rules: "rule r { while clock.time between 11:00 and 13:00 hold z.o at on }",
    inputs: [],
    seconds: 60,
    why: ["z.o is on, since the beginning", "  rule r holds it", "    clock.time is 12:01, between 11:00 and 13:00"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "keep raise",
    rules: "rule r { keep z.x at z.target ± 1 K raise with z.o }",
    inputs: [[10, "z.x", 18]],
    seconds: 60,
    why: [
      "z.o is on, since 12:00:10",
      "  rule r",
      "    z.x was 18 °C at 12:00:10, below 19 °C (20 °C - 1)",
      "    it is 18 °C now; it turns off above 21 °C",
    ],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "keep rest",
    rules: "rule r { keep z.x at z.target ± 1 K raise with z.o }",
    inputs: [[10, "z.x", 20.5]],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x is 20.5 °C; it turns on below 19 °C (20 °C - 1)",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.x is 20.5 °C; it turns on below 19 °C (z.target - 1 K): 1.5 K too high",
    ],
  },
  {
    name: "age",
    rules: "rule r { while z.x.age above 20 s hold z.o at on }",
    inputs: [
      [10, "z.x", 10],
      [25, "z.x", 10],
    ],
    seconds: 60,
    why: ["z.o is on, since 12:00:45", "  rule r holds it", "    z.x.age is 35 s, above 20 s"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "lasts at least",
    rules: "rule r { while z.x above 20 °C for 30 s and m is day hold z.o at on }",
    inputs: [[10, "z.x", 25]],
    seconds: 20,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x above 20 °C for 30 s: true since 12:00:10, which is not long enough until 12:00:40",
      "      z.x is 25 °C, above 20 °C",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.x above 20 °C for 30 s: true since 12:00:10, 20 s to go",
    ],
  },
  {
    name: "is known",
    rules: "rule r { while z.x is not unknown hold z.o at on }",
    inputs: [[10, "z.x", 25]],
    seconds: 20,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.x is known"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "between below",
    rules: "rule r { while z.x between 18 °C and 22 °C hold z.o at on }",
    inputs: [[10, "z.x", 17]],
    seconds: 20,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x is 17 °C, not between 18 °C and 22 °C",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.x is 17 °C, not between 18 °C and 22 °C: 1 K too low",
    ],
  },
  {
    name: "or none",
    rules: "rule r { while z.x above 20 °C or z.door is open hold z.o at on }",
    inputs: [
      [10, "z.x", 18],
      [10, "z.door", "closed"],
    ],
    seconds: 20,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    these are not true",
      "      z.x is 18 °C, not above 20 °C",
      "      z.door is closed, not open, since 12:00:10",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    it needs one of these",
      "      z.x is 18 °C, not above 20 °C: 2 K too low",
      "      z.door is closed, not open, since 12:00:10",
    ],
  },
  {
    name: "until ended",
    rules: "rule r { while z.x above 20 °C until (z.door is open) hold z.o at on }",
    inputs: [
      [10, "z.x", 25],
      [20, "z.door", "open"],
    ],
    seconds: 30,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.x above 20 °C until (z.door is open): not true since 12:00:20",
      "      z.door is open, since 12:00:20",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.x above 20 °C until (z.door is open): it has ended",
      "      z.door is open, since 12:00:20",
    ],
  },
  {
    name: "in the last lacks",
    rules: "rule r { while z.door was open in the last 1 min hold z.o at on }",
    inputs: [[10, "z.door", "closed"]],
    seconds: 30,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.door was open in the last 1 min: last open at 12:00:10; that counted until 12:01:10",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.door was open in the last 1 min: last open at 12:00:10; that counted until 12:01:10",
    ],
  },
  {
    name: "for not so",
    rules: "rule r { while z.door has been open for 2 min hold z.o at on }",
    inputs: [[10, "z.door", "closed"]],
    seconds: 30,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.door has been open for 2 min: not true",
      "      z.door is closed, not open, since 12:00:10",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    z.door has been open for 2 min: not true yet, and then it must last 2 min",
      "      z.door is closed, not open, since 12:00:10",
    ],
  },
  {
    name: "a let",
    rules: "let warm = z.x above 20 °C rule r { while warm hold z.o at on }",
    inputs: [[10, "z.x", 25]],
    seconds: 30,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    warm is yes", "      z.x is 25 °C, above 20 °C"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "during",
    rules: "schedule s { daily 11:00 to 13:00 } rule r { while during s hold z.o at on }",
    inputs: [],
    seconds: 30,
    why: ["z.o is on, since the beginning", "  rule r holds it", "    it is during s until 13:00"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "outside",
    rules: "schedule s { daily 11:00 to 13:00 } rule r { while outside s hold z.o at on }",
    inputs: [],
    seconds: 30,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    it is during s until 13:00",
    ],
    whyNot: ["z.o is off, not on", "  rule r would set it to on, but not now", "    outside s: s ends 13:00"],
  },
  {
    name: "rise",
    rules: "rule r { while rise(z.x over 1 min) above 2 K hold z.o at on }",
    inputs: [
      [10, "z.x", 20],
      [30, "z.x", 21],
    ],
    seconds: 60,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    rise(z.x over 1 min) is 1 K, not above 2 K",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    rise(z.x over 1 min) is 1 K, not above 2 K: 1 K too low",
    ],
  },
  {
    name: "two keeps",
    rules: "rule r { keep z.x at z.target ± 1 K lower with z.o }",
    inputs: [[10, "z.x", 22]],
    seconds: 60,
    why: [
      "z.o is on, since 12:00:10",
      "  rule r",
      "    z.x was 22 °C at 12:00:10, above 21 °C (20 °C + 1)",
      "    it is 22 °C now; it turns off below 19 °C",
    ],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "rest",
    rules: "rule r { while z.x above 20 °C hold z.o at on }",
    inputs: [[10, "z.x", 25]],
    seconds: 100,
    outputs: "output o: on/off, on at most 1 min then off at least 2 min",
    why: [
      "z.o is off, since 12:01:10",
      "  it ran for its maximum time and rests until 12:03:10",
      "  rule r holds it",
      "    z.x is 25 °C, above 20 °C",
    ],
    whyNot: [
      "z.o is off, not on",
      "  it ran for its maximum time and rests until 12:03:10",
      "  rule r would set it to on, but something stronger applies",
      "    it rests until 12:03:10",
    ],
  },
  {
    name: "nobody",
    rules: "rule r { when z.door becomes open do { set z.o to on } }",
    inputs: [],
    seconds: 60,
    why: ["z.o is off, since the beginning", "  no rule is active, so it is at rest"],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    nothing has triggered it",
      "      when z.door is open",
      "        z.door is unknown, not open",
    ],
  },
  {
    name: "cycle",
    rules: "rule r { while z.x above 20 °C cycle z.o on 1 min off 2 min }",
    inputs: [[10, "z.x", 22]],
    seconds: 30,
    why: ["z.o is on, since 12:00:10", "  rule r switches it on and off in turn", "    z.x is 22 °C, above 20 °C"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "clock",
    rules: "rule r { while clock from 11:00 to 12:30 hold z.o at on }",
    inputs: [],
    seconds: 30,
    why: ["z.o is on, since the beginning", "  rule r holds it", "    clock from 11:00 to 12:30: true until 12:30"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "clock to a dial",
    rules: "rule r { while clock from z.evening to 06:00 hold z.o at on }",
    inputs: [],
    seconds: 30,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    clock from z.evening to 06:00: not true until 22:30",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r would set it to on, but not now",
      "    clock from z.evening to 06:00: not true until 22:30",
    ],
  },
  {
    name: "disobeys",
    rules: "rule r { while z.p disobeys hold z.o at on } rule s { hold z.p at on }",
    outputs: "output o: on/off output p: on/off",
    inputs: [[10, (engine, at) => engine.confirm("z.p", "off", at)]],
    seconds: 30,
    why: ["z.o is on, since 12:00:10", "  rule r holds it", "    z.p disobeys, since 12:00:10"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
  {
    name: "obeys",
    rules: "rule r { while z.p disobeys hold z.o at on } rule s { hold z.p at on }",
    outputs: "output o: on/off output p: on/off",
    inputs: [[10, (engine, at) => engine.confirm("z.p", "on", at)]],
    seconds: 30,
    why: [
      "z.o is off, since the beginning",
      "  no rule is active, so it is at rest",
      "  rule r would set it to on, but not now",
      "    z.p does what it was set to",
    ],
    whyNot: ["z.o is off, not on", "  rule r would set it to on, but not now", "    z.p does what it was set to"],
  },
  {
    name: "off beyond the band of one that rests on",
    rules: "rule r { keep z.x at 20 °C ± 1 K raise with z.o }",
    outputs: "output o: on/off, at rest on",
    inputs: [
      [10, "z.x", 18],
      [20, "z.x", 22],
    ],
    seconds: 30,
    why: [
      "z.o is off, since 12:00:20",
      "  rule r",
      "    z.x was 22 °C at 12:00:20, above 21 °C",
      "    it is 22 °C now; it turns on below 19 °C (20 °C - 1)",
    ],
    whyNot: [
      "z.o is off, not on",
      "  rule r sets it to off",
      "  rule r would set it to on, but not now",
      "    z.x is 22 °C; it turns on below 19 °C (20 °C - 1 K): 3 K too high",
    ],
  },
  {
    name: "on within the band of a valve",
    rules: "rule r { while z.door is open keep z.x at 20 °C ± 1 K raise with z.o }",
    outputs: "output o: open/closed",
    inputs: [
      [10, "z.x", 18],
      [10, "z.door", "open"],
      [20, "z.x", 20],
    ],
    seconds: 30,
    why: [
      "z.o is open, since 12:00:10",
      "  rule r",
      "    z.x was 18 °C at 12:00:10, below 19 °C (20 °C - 1)",
      "    it is 20 °C now; it becomes closed above 21 °C",
      "    z.door is open, since 12:00:10",
    ],
    whyNot: [
      "z.o is open, not closed",
      "  rule r sets it to open",
      "  rule r would set it to closed, but not now",
      "    z.x is 20 °C, not above 21 °C (20 °C + 1 K): 1 K too low",
    ],
  },
  {
    name: "what a keep that no longer applies has left open",
    rules: "rule r { while z.door is open keep z.x at 20 °C ± 1 K raise with z.o }",
    outputs: "output o: open/closed",
    inputs: [
      [10, "z.x", 18],
      [10, "z.door", "open"],
      [20, "z.door", "closed"],
      [25, "z.x", 22],
    ],
    seconds: 30,
    why: [
      "z.o is open, since 12:00:10",
      "  no rule is active, so it stays as it is",
      "  rule r would set it to open, but not now",
      "    z.door is closed, not open, since 12:00:20",
      "    z.x is 22 °C; it becomes open below 19 °C (20 °C - 1)",
    ],
    whyNot: [
      "z.o is open, not closed",
      "  rule r would set it to closed, but not now",
      "    z.door is closed, not open, since 12:00:20",
    ],
  },
  {
    name: "off from the beginning",
    rules: "rule r { keep z.x at 20 °C ± 1 K raise with z.o }",
    outputs: "output o: open/closed",
    inputs: [[10, "z.x", 20]],
    seconds: 30,
    why: [
      "z.o is closed, since 12:00:10",
      "  rule r",
      "    z.x has not been below 19 °C (20 °C - 1) since 12:00:10",
      "    it is 20 °C now; it becomes open below 19 °C (20 °C - 1)",
    ],
    whyNot: [
      "z.o is closed, not open",
      "  rule r sets it to closed",
      "  rule r would set it to open, but not now",
      "    z.x is 20 °C; it becomes open below 19 °C (20 °C - 1 K): 1 K too high",
    ],
  },
  {
    name: "if else",
    rules: "rule r { hold z.o at if z.x above 20 °C then on else off }",
    inputs: [[10, "z.x", 22]],
    seconds: 30,
    why: ["z.o is on, since 12:00:10", "  rule r holds it"],
    whyNot: ["z.o is on, not off", "  rule r sets it to on"],
  },
];

const lines = ({ says, because }: Explanation, depth = 0): string[] => [
  "  ".repeat(depth) + says,
  ...because.flatMap((part) => lines(part, depth + 1)),
];

describe.each(stories)("$name", ({ rules, inputs, seconds, outputs, why: expected, whyNot: expectedNot }) => {
  const journal = new Journal();
  play(engineOf(rules, { journal, ...(outputs && { outputs }) }), inputs, seconds);
  const run: Run = { past: journal, from: START, to: START + seconds * 1000 };

  test("why", () => expect(lines(why(run, "z.o", run.to))).toEqual(expected));
  test("why not", () => expect(lines(whyNot(run, "z.o", run.to))).toEqual(expectedNot));
  test("as told by a journal that was kept", () => {
    const kept: Run = { ...run, past: Journal.fromJSON(JSON.parse(JSON.stringify(journal))) };
    expect(lines(why(kept, "z.o", run.to))).toEqual(expected);
  });
});

test("what lies outside the run, or is no output, is refused", () => {
  const journal = new Journal();
  play(engineOf("rule r { while z.x above 20 °C hold z.o at on }", { journal }), [], 60);
  const run: Run = { past: journal, from: START, to: START + 60_000 };
  expect(() => why(run, "z.o", START - 1)).toThrow("outside the run");
  expect(() => why(run, "z.o", START + 60_001)).toThrow("outside the run");
  expect(lines(why(run, "z.o", START))).toEqual(lines(why(run, "z.o", run.to)));
  for (const name of ["z.x", "nobody", "constructor"]) expect(() => why(run, name, START)).toThrow("no output called");
});

describe("whatever has a name", () => {
  const text = `house "A" { clock "UTC" }
    zone z { sensor x: °C, unknown after 10 min sensor door: open/closed sensor bell: press output o: on/off output q: on/off output l: 0..100 % dial target: 10..30 °C, at first 20 °C }
    mode m: day/night, at first day
    countdown c = 10 min
    schedule s { daily 11:00 to 13:00 }
    let goal = if m is day then z.target else 16 °C
    let cold = z.x below goal
    profile byhour: °C { daily z.target from 07:00, 16 °C from 12:20 }
    profile sloped: °C ramped { daily 10 °C from 12:00, goal from 12:20, 10 °C from 12:40 }
    guard safe "Never too warm" { permit z.o on only while z.x below 30 °C and m is day never together z.o, z.q }
    group all_of = z.o, z.l
    rule r "Warm" { while during s keep z.x at goal ± 1 K raise with z.o keep z.x at goal raise with z.l in proportion over 4 K }
    rule e { when z.door is open provided m is night do { tell "open" } }
    trial t { from 2026-03-14 12:00 to 13:00 given z.x is 18 °C at 12:05 z.door is open at 12:10 person pauses r for 5 min at 12:20 z.x falls silent expect z.o is on at 12:05 }`;
  const { house } = parseHouse({ "a.modrik": text });
  const [result] = runTrials(house);
  const run = result?.run as Run;
  const told = (name: string, minute: number) => lines(whyAnything(run, name, run.from + minute * 60_000));

  test.each<[name: string, minute: number, says: string[]]>([
    ["z.x", 1, ["z.x is 18 °C, since the beginning"]],
    ["z.x", 40, ["z.x is unknown, since 12:29", "  z.x has sent no valid reading for 10 min"]],
    ["z.door", 1, ["z.door is unknown, since the beginning", "  it has not sent a valid reading yet"]],
    ["z.bell", 1, ["nobody presses z.bell"]],
    ["z.target", 1, ["z.target is 20 °C, since the beginning"]],
    ["m", 1, ["m is day, since the beginning"]],
    ["c", 1, ["c is not running"]],
    ["s", 1, ["it is during s until 13:00"]],
    ["byhour", 1, ["byhour is 20 °C (z.target) from 07:00, then 16 °C from 12:20", "  z.target is 20 °C"]],
    ["byhour", 30, ["byhour is 16 °C from 12:20, then z.target from 2026-03-15 07:00"]],
    [
      "sloped",
      10,
      [
        "sloped is 15 °C: 10 °C at 12:00, on its way to goal at 12:20",
        "  goal is 20 °C: if m is day then z.target else 16 °C",
        "    m is day",
        "    z.target is 20 °C",
      ],
    ],
    [
      "safe",
      1,
      [
        'guard safe "Never too warm"',
        "  permit z.o on only while z.x below 30 °C and m is day",
        "    all of these are true",
        "      z.x is 18 °C, below 30 °C",
        "      m is day",
        "  never together z.o, z.q",
        "    z.o is on",
        "    z.q is off",
      ],
    ],
    ["all_of", 1, ["all_of: z.o, z.l", "  z.o is on, since the beginning"]],
    ["goal", 1, ["goal is 20 °C: if m is day then z.target else 16 °C", "  m is day", "  z.target is 20 °C"]],
    [
      "cold",
      1,
      [
        "cold is yes",
        "  z.x is 18 °C, below 20 °C (goal)",
        "    goal is 20 °C: if m is day then z.target else 16 °C",
        "      m is day",
        "      z.target is 20 °C",
      ],
    ],
    ["cold", 40, ["cold is unknown", "  z.x is unknown and cannot be compared with 20 °C (goal)"]],
    [
      "e",
      6,
      [
        "rule e",
        '  when z.door is open provided m is night do { tell "open" }',
        "    last triggered at 12:05",
        "    m is day, not night",
      ],
    ],
    [
      "r",
      12,
      [
        'rule r "Warm"',
        "  rule r is paused by hand until 12:15",
        "  while during s keep z.x at goal ± 1 K raise with z.o",
        "    it is during s until 13:00",
        "  while during s keep z.x at goal raise with z.l in proportion over 4 K",
        "    it is during s until 13:00",
      ],
    ],
    [
      "z.l",
      1,
      [
        "z.l is 50 %, since the beginning",
        '  rule r "Warm" works in proportion',
        "    z.x 18 °C is 2 K from 20 °C (goal); at 4 K it would be full",
        "    goal is 20 °C: if m is day then z.target else 16 °C",
        "      m is day",
        "      z.target is 20 °C",
        "    it is during s until 13:00",
      ],
    ],
    [
      "z.o",
      40,
      [
        "z.o is off, since 12:29",
        "  no rule is active, so it is at rest",
        '  rule r "Warm" would set it to on, but not now',
        "    z.x is unknown and cannot be compared with its target",
        "      z.x is unknown, since 12:29",
      ],
    ],
  ])("%s after %i minutes", (name, minute, says) => expect(told(name, minute).slice(0, says.length)).toEqual(says));

  test("everything that can be asked about is answered", () => {
    for (const name of askable(house))
      for (const minute of [0, 7, 12, 45, 60]) expect(told(name, minute).length).toBeGreaterThan(0);
    expect(() => told("z.nothing", 1)).toThrow('the house has nothing called "z.nothing"');
    expect(() => told("z.x", 61)).toThrow(/outside the run/);
  });

  test("a value that an output never has is refused", () => {
    expect(() => whyNot(run, "z.o", run.from, "offf")).toThrow('"z.o" is never offf: it is one of on/off');
    expect(lines(whyNot(run, "z.o", run.from + 12 * 60_000, "on"))).toContain("    rule r is paused by hand until 12:15");
  });
});
