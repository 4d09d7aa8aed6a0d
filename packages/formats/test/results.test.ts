// Results for build servers and coverage viewers.
import { writeJunit, writeLcov } from "@modrik/formats";
import { expect, test } from "vitest";

test("JUnit XML counts its cases, and escapes what would break it", () => {
  const failure = { says: 'z.o is "on" & <b>', details: "at 08:00\u0007" };
  expect(
    writeJunit("A & B", [
      { name: "one", seconds: 0.25, failure },
      { name: "two", seconds: 1 },
    ]),
  ).toBe(`<?xml version="1.0" encoding="UTF-8"?>
<testsuites name="modrik" tests="2" failures="1" errors="0" skipped="0" time="1.250">
  <testsuite name="A &amp; B" tests="2" failures="1" errors="0" skipped="0" time="1.250">
    <testcase classname="A &amp; B" name="one" time="0.250">
      <failure message="z.o is &quot;on&quot; &amp; &lt;b&gt;">at 08:00\ufffd</failure>
    </testcase>
    <testcase classname="A &amp; B" name="two" time="1.000"/>
  </testsuite>
</testsuites>
`);
});

test("a tracefile has lines and branches in order, with their sums", () => {
  const lines = new Map([
    [9, 0],
    [4, 3],
  ]);
  const branches = [
    { line: 9, taken: 0 },
    { line: 4, taken: 2 },
    { line: 4, taken: 0 },
  ];
  expect(writeLcov([{ file: "rules.modrik", lines, branches }])).toBe(`TN:modrik
SF:rules.modrik
BRDA:4,0,0,2
BRDA:4,0,1,0
BRDA:9,0,0,0
BRF:3
BRH:1
DA:4,3
DA:9,0
LF:2
LH:1
end_of_record
`);
});
