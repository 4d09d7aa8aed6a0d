// Runs a house of one rule and prints what its output does, with the reason.
import { createEngine, isSound, parseHouse } from "modrik";

const text = `house "Study" { clock "Europe/Zurich" }
zone study {
  sensor humidity: %RH
  output humidifier: on/off
}
rule moist { keep study.humidity at 45 %RH ± 3 %RH raise with study.humidifier }`;

const parsed = parseHouse({ "house.modrik": text });
if (!isSound(parsed)) throw new Error(parsed.problems[0]?.reason);

const begins = Date.parse("2026-03-14T07:00Z");
const engine = createEngine(parsed.house, { at: begins });
for (const [minute, value] of [45, 43, 41.5, 44, 47, 48.5].entries())
  engine.report("study.humidity", value, begins + minute * 60_000);
engine.advanceTo(begins + 10 * 60_000);

for (const { at, output, value, because } of engine.takeChanges())
  console.log(`${new Date(at).toISOString().slice(11, 16)} ${output} ${value} (${because.rule ?? "at rest"})`);
