// Whole sentences as people say them, before they have read how they are written: what is done first, steps without braces,
// what is held without its `hold`. Each is told with the sentence that is meant, which is also what the fix makes of it.
import { parseHouse } from "modrik";
import { fixHouse, openHouse } from "modrik/language";
import { describe, expect, test } from "vitest";

const head = `house "H" { clock "UTC" }
zone room {
  sensor temperature: °C
  sensor door: open/closed
  sensor motion: moving/still
  sensor bell: press
  output fan: on/off
  output heater: on/off
  output lamp: 0..100 %
  output valve: open/closed, at rest closed
}
countdown airing = 10 min
schedule hours { Mon..Fri 08:00 to 12:00 }
`;

const cold = "room.temperature below 20 °C";
const warm = `while ${cold} hold room.heater at on`;
const whileOpen = "while room.door is open hold room.fan at on";
const rings = "when room.bell is pressed do { toggle room.fan }";

/** What is said, and what is meant by it. */
const said: readonly (readonly [written: string, right: string])[] = [
  // What is done, then the condition.
  [`room.heater on when ${cold}`, warm],
  [`room.heater on if ${cold}`, warm],
  [`room.heater on as long as ${cold}`, warm],
  [`room.heater = on while ${cold}`, warm],
  [`turn on room.heater when ${cold}`, warm],
  [`turn room.heater on whenever ${cold}`, warm],
  [`switch on room.heater only if ${cold}`, warm],
  [`room.heater on when ${cold} until above 22 °C`, `while ${cold} until above 22 °C hold room.heater at on`],
  ["open room.valve when room.temperature above 25 °C", "while room.temperature above 25 °C hold room.valve at open"],
  ["room.lamp 50 % while room.motion is moving", "while room.motion is moving hold room.lamp at 50 %"],
  ["room.lamp at 50 % during hours", "while during hours hold room.lamp at 50 %"],
  ["room.lamp at 50 % between 08:00 and 10:00", "while clock from 08:00 to 10:00 hold room.lamp at 50 %"],
  ["room.fan on, room.lamp 50 % while room.door is open", "while room.door is open hold room.fan at on, room.lamp at 50 %"],
  ["set room.fan to on while room.door is open", whileOpen],
  ["room.fan on unless room.door is open", "while not room.door is open hold room.fan at on"],
  ["hold room.fan at on while room.door is open", whileOpen],
  ["hold room.fan on when room.door is open", whileOpen],
  ["hold room.fan at on unless room.door is open", "while not room.door is open hold room.fan at on"],
  ["unless room.door is open hold room.fan at on", "while not room.door is open hold room.fan at on"],
  [`turn on the heater when ${cold}`, warm],
  [`turn the room.heater on when ${cold}`, warm],
  [`room.heater should be on while ${cold}`, warm],
  [`activate room.heater when ${cold}`, warm],
  ["room.fan on", "hold room.fan at on"],
  ["always room.fan on", " hold room.fan at on"],
  // What happens once.
  ["room.fan on for 10 min when room.bell is pressed", "when room.bell is pressed do { set room.fan to on for 10 min }"],
  ["room.fan on when room.bell is pressed", "when room.bell is pressed do { set room.fan to on }"],
  ["room.fan on at 22:00", "when at 22:00 do { set room.fan to on }"],
  ["turn off room.fan every day at 22:00", "when at 22:00 do { set room.fan to off }"],
  ["room.fan on at 07:00 on Mon..Fri", "when at 07:00 on Mon..Fri do { set room.fan to on }"],
  ["set room.fan to on when room.door is open", "when room.door is open do { set room.fan to on }"],
  ['tell "Door" when room.door is open for 5 min', 'when room.door has been open for 5 min do { tell "Door" }'],
  ['notify "Door" as soon as room.door opens', 'when room.door is open do { tell "Door" }'],
  ["toggle room.fan when room.bell is pressed", rings],
  ["room.fan on every 10 min for 1 min", "when every 10 min do { set room.fan to on for 1 min }"],
  ["run room.fan for 10 min every hour", "when every 1 h do { set room.fan to on for 10 min }"],
  // The condition, then what is done.
  [`if ${cold} then room.heater on`, warm],
  [`if ${cold} { room.heater on }`, warm],
  [`if ${cold} { room.heater = on; }`, warm],
  [`while ${cold} room.heater on`, warm],
  [`while ${cold} room.heater must be on`, warm],
  [`while ${cold} hold on room.heater`, warm],
  [
    `while ${cold} and room.door closed, room.heater on and room.fan off`,
    `while ${cold} and room.door is closed hold room.heater at on, room.fan at off`,
  ],
  ["room.temperature at 20 °C ± 1 K raise with room.heater", "keep room.temperature at 20 °C ± 1 K raise with room.heater"],
  [
    "maintain room.temperature at 20 °C ± 1 K raise with room.heater",
    "keep room.temperature at 20 °C ± 1 K raise with room.heater",
  ],
  [`while ${cold}: room.heater on`, warm],
  [`while ${cold} set room.heater to on`, warm],
  ["if room.door open then room.fan on", whileOpen],
  ["from 08:00 to 22:00 room.fan on", "while clock from 08:00 to 22:00 hold room.fan at on"],
  ["during hours turn room.fan on", "while during hours hold room.fan at on"],
  [`when ${cold} then room.heater on`, `when ${cold} do { set room.heater to on }`],
  [`when ${cold} set room.heater to on and tell "Cold"`, `when ${cold} do { set room.heater to on tell "Cold" }`],
  [`when ${cold}, tell "Cold"`, `when ${cold} do { tell "Cold" }`],
  [`when ${cold} notify "Cold" via phone`, `when ${cold} do { tell "Cold" through phone }`],
  ["when room.bell is pressed do toggle room.fan", rings],
  ["at 22:00 room.fan off", "when at 22:00 do { set room.fan to off }"],
  ["every day at 22:00 turn off room.fan", "when at 22:00 do { set room.fan to off }"],
  ["on weekdays at 07:00 room.fan on", "when at 07:00 on Mon..Fri do { set room.fan to on }"],
  ["every 10 min room.fan on for 1 min", "when every 10 min do { set room.fan to on for 1 min }"],
  ["on room.bell is pressed toggle room.fan", rings],
  ["when room.bell pressed toggle room.fan", rings],
  ["when hours starts turn room.fan on", "when hours begins do { set room.fan to on }"],
  ["when airing ends then room.fan off", "when airing ends do { set room.fan to off }"],
  [
    "when room.door opens room.lamp 50 % until room.door closes",
    "when room.door is open do { set room.lamp to 50 % until room.door is closed }",
  ],
  [`when room.door is open if ${cold} then room.fan on`, `when room.door is open provided ${cold} do { set room.fan to on }`],
];

const read = (text: string) => parseHouse({ "a.modrik": text });
const rule = (sentence: string) => `${head}rule r { ${sentence} }\n`;

describe("a sentence is told as it is meant, and made so:", () => {
  test.each(said)("%s", (written, right) => {
    const { problems } = read(rule(written));
    expect(problems.length).toBeGreaterThan(0);
    for (const { remedy, fix } of problems)
      expect([remedy, typeof fix]).toEqual([expect.stringMatching(/^(Write|Remove|Did you mean)/), "string"]);
    const { text } = fixHouse(openHouse({ "a.modrik": rule(written) }));
    expect(text.files["a.modrik"]).toBe(rule(right));
    expect(text.problems).toEqual([]);
  });

  /** On several lines, which stay as many; where they cannot, or a comment stands between them, it is told and not made. */
  test.each([
    ["room.heater on\n  when COLD", "while COLD\n  hold room.heater at on"],
    ["if COLD then\n  room.heater on", "while COLD \n  hold room.heater at on"],
    ['when COLD\n  turn on room.fan\n  tell "Cold"', 'when COLD\n  do { set room.fan to on\n  tell "Cold" }'],
    ["room.heater\n  on when COLD", undefined],
    ["room.heater on # so that it is warm\n  when COLD", undefined],
    ["room.heater on\n\n  when COLD", undefined],
  ])("in lines: %j", (written, right) => {
    const [before, after] = [written, right ?? written].map((text) => rule(text.replace("COLD", cold)));
    expect(fixHouse(openHouse({ "a.modrik": before as string })).text.files["a.modrik"]).toBe(after);
  });

  test("what is wrong within it has a problem of its own", () => {
    const text = rule("room.heater on if room.temprature < 20");
    expect(read(text).problems.map(({ remedy }) => remedy)).toEqual([
      "Write while room.temprature below 20 hold room.heater at on.",
      'Did you mean "room.temperature"?',
    ]);
    expect(fixHouse(openHouse({ "a.modrik": text })).text.files["a.modrik"]).toBe(rule(warm));
  });
});

/** What cannot be made so by itself, and the remedy. */
const explained: readonly (readonly [text: string, remedy: RegExp])[] = [
  [
    "when room.door is open do { toggle room.fan }",
    /^Write rule my_rule \{ when room\.door is open do \{ toggle room\.fan \} \}\.$/,
  ],
  [`room.heater on when ${cold}`, /^Write rule my_rule \{ while .* hold room\.heater at on \}\.$/],
  ["rule r: when room.door is open do { toggle room.fan }", /^Write rule r \{ when room\.door is open do/],
  ["rule r = while room.door is open hold room.fan at on", /^Write rule r \{ while room\.door is open hold/],
  ["rule r when room.door is open do { toggle room.fan }", /^Write rule r \{ when room\.door is open do/],
  ["rule r { keep room.fan on }", /write hold room\.fan at on/],
  ["rule r { trigger: room.door is open }", /when … do/],
  ["rule r { condition: room.door is open }", /while/],
  ["rule r { action: room.fan on }", /hold X at on/],
  ['rule r { while room.door is open tell "Door" }', /^Write when room\.door is open do \{ tell "Door" \}: steps run once\.$/],
  [
    "rule r { if room.door is open then room.fan on for 5 min }",
    /^Write when room\.door is open do \{ set room\.fan to on for 5 min \}/,
  ],
  ["rule r { room.heater on below 20 °C and off above 22 °C }", /^Write what it waits for: while … hold room\.heater at on\.$/],
  ["rule r { room.lamp = 50 % if room.door is open else 0 % }", /second sentence/],
  ["rule r { if room.door is open { turn on room.fan } elseif room.door is closed { turn off room.fan } }", /second sentence/],
  ["rule r { when room.door is open then room.lamp 50 % for 5 min, then off }", /Leave out/],
  ["rule r { room.fan on, off }", /^Write what it waits for: while … hold room\.fan at on\.$/],
  ["rule r { start room.fan when room.door is open }", /set room\.fan to on/],
  ["rule r { set room.temperature to 20 °C }", /keep room\.temperature at … raise with/],
  ["rule r { room.heater must not be on while room.door is open }", /guard g \{ permit X on only while not/],
  ["rule r { never room.heater on while room.door is open }", /guard g/],
  ["rule r { while room.door is open block room.heater }", /guard g/],
  ['rule r { tell "Door" }', /^Write what it waits for: when … do \{ tell "Door" \}\.$/],
  ["rule r { while someone is in room hold room.fan at on }", /sensors know/],
  [`rule r { if ${cold} then room.heater on else room.heater off }`, /second sentence/],
];

test.each(explained)("what has to be thought about is explained: %s", (text, remedy) => {
  const { problems } = read(`${head}${text}\n`);
  expect(problems.map((one) => one.remedy).filter((one) => one && remedy.test(one))).toHaveLength(1);
});
