// Texts that no one would write: reading them never throws, always ends, and each problem has its place in the text.
// MODRIK_FUZZ=200000 reads more of them (`npm run fuzz`).
import { formatHouse, isSound, parseHouse } from "modrik";
import { fixHouse, openHouse } from "modrik/language";
import { houseText, pick, type Random, seeded } from "modrik/testing";
import { expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";
import { lindenYard } from "./examples.js";

const INPUTS = Number(process.env.MODRIK_FUZZ ?? 1500);
const valid = [...Object.values(lindenYard), houseText(seeded(1)), houseText(seeded(2))];
const scraps = [
  ...'{ } ( ) , : .. ± + - * / < = " \\ # @ \u0000 \n \t 🏠 é'.split(" "),
  ..."45 45 %RH 3 min 07:30 2026-02-30 99:99 1 h 2 h until for while keep hold when do set tell wait or and not is".split(" "),
  // What is read on with, though it is meant otherwise.
  ..."default first every turn switch on opens weekdays before after from to range power area heat retain at is and".split(" "),
  ..."unknown if then else pick rule zone trial expect given at bench.door bench. .x _ house".split(" "),
];

function mutated(random: Random): string {
  let text = pick(random, valid);
  for (let cuts = 1 + Math.floor(random() * 4); cuts > 0; cuts--) {
    const at = Math.floor(random() * text.length);
    const length = Math.floor(random() * random() * 40);
    const scrap = random() < 0.7 ? pick(random, scraps) : text.slice(at, at + length);
    text = text.slice(0, at) + (random() < 0.5 ? ` ${scrap} ` : scrap) + text.slice(at + (random() < 0.5 ? length : 0));
  }
  return random() < 0.2 ? text.slice(0, Math.floor(random() * text.length)) : text;
}

function raw(random: Random): string {
  const signs = Array.from({ length: Math.floor(random() * 60) }, () =>
    random() < 0.5 ? pick(random, scraps) : String.fromCodePoint(Math.floor(random() * random() * 0x3000)),
  );
  return signs.join(random() < 0.5 ? " " : "");
}

test("no text makes reading throw, and every problem stands inside it", forMany(INPUTS), () => {
  const random = seeded(20261);
  let broken = 0;
  for (let input = 0; input < INPUTS; input++) {
    const text = random() < 0.8 ? mutated(random) : raw(random);
    const parsed = parseHouse({ "a.modrik": text });
    if (!isSound(parsed)) broken++;
    for (const { place, reason } of parsed.problems) {
      const inside = place.from >= 0 && place.from <= place.to && place.to <= text.length && place.line >= 1 && place.column >= 1;
      if (!inside) expect.fail(`input ${input}: "${reason}" stands at ${JSON.stringify(place)} of ${JSON.stringify(text)}`);
    }
    // What is mechanical is done, and that ends.
    if (input % 5 === 0) fixHouse(openHouse({ "a.modrik": text }));
    const formatted = formatHouse(text);
    if (formatted.problems.length === 0) expect(formatHouse(formatted.text).text, `input ${input}`).toBe(formatted.text);
  }
  expect(broken).toBeGreaterThan(INPUTS / 2);
});
