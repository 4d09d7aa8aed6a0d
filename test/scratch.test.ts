import { readdirSync, readFileSync, writeFileSync } from "node:fs";
import { test } from "vitest";
import { formatHouse, measure, parseHouse, runTrials, simulate, why, clockOf } from "modrik";

test("scratch", () => {
  const dir = "examples/linden-yard";
  const files: Record<string, string> = {};
  for (const name of readdirSync(dir, { recursive: true }) as string[]) if (name.endsWith(".modrik")) files[name] = readFileSync(`${dir}/${name}`, "utf8");
  for (const [name, text] of Object.entries(files)) {
    const once = formatHouse(text, name);
    if (once.text !== text) writeFileSync(`${dir}/${name}`, once.text);
  }
  const { house, problems } = parseHouse(files);
  console.log(problems);
  for (const r of runTrials(house)) {
    console.log(r.passed, r.trial.name);
    for (const v of r.verdicts) if (!v.passed) console.log("   ", v.says, v.wrongAt && new Date(v.wrongAt).toISOString(), v.counted);
  }
  const run = simulate(house);
  for (let i = 0; i < 6; i++) { const t1 = performance.now();
  simulate(house);
  console.log("sim again", performance.now() - t1);
  }
  for (const o of measure(run).outputs) console.log(JSON.stringify(o));
  for (const o of measure(run).kept) console.log(JSON.stringify(o));
});
