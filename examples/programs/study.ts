// A house written in TypeScript: names, words and units are checked by the compiler. It runs like one written as text.
import { createEngine, quantity } from "modrik";
import { defineHouse, held, inTheLast, is, lasting, minutes, output, rule, sensor, tell, zone } from "modrik/author";

const study = zone("study", {
  motion: sensor(["moving", "still"]),
  window: sensor(["open", "closed"]),
  lamp: output("%", { range: [0, 100] }),
});

const house = defineHouse({
  name: "Study",
  clock: "Europe/Zurich",
  zones: [study],
  rules: [
    rule("light", [{ while: inTheLast(is(study.motion, "moving"), minutes(10)), hold: [held(study.lamp, quantity(80, "%"))] }]),
    rule("left_open", [{ when: [lasting(is(study.window, "open"), minutes(5))], do: [tell("The study window is open.")] }]),
  ],
});

const begins = Date.parse("2026-03-14T18:00Z");
const engine = createEngine(house, { at: begins, given: { "study.motion": "still", "study.window": "closed" } });
engine.report("study.motion", "moving", begins + 60_000);
engine.report("study.motion", "still", begins + 90_000);
engine.report("study.window", "open", begins + 120_000);
engine.advanceTo(begins + 3_600_000);

const time = (at: number) => new Date(at).toISOString().slice(11, 19);
for (const { at, output: name, value } of engine.takeChanges()) console.log(`${time(at)} ${name} ${value}`);
for (const { at, text } of engine.takeNotices()) console.log(`${time(at)} ${text}`);
