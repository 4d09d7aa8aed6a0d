import { readdirSync, readFileSync } from "node:fs";
import { checkHouse } from "modrik";
import { openHouse } from "modrik/language";

const home = "../../examples/linden-yard";
const files = readdirSync(home, { recursive: true }).filter((f) => f.endsWith(".modrik"));
const texts = Object.fromEntries(files.map((f) => [f, readFileSync(`${home}/${f}`, "utf8")]));
const t0 = performance.now();
const text = openHouse(texts, { calendars: { "holidays.ics": [] } });
text.problems;
const t1 = performance.now();
const found = checkHouse(text.house, text);
console.log(t1 - t0, performance.now() - t1, found.length);
