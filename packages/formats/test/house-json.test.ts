// A house as JSON and back, and what is said of JSON that is not a house.
import { FormatError, houseJsonSchema, readHouseJson, writeHouseJson } from "@modrik/formats";
import { parseHouse } from "modrik";
import { houseText, seeded } from "modrik/testing";
import { expect, test } from "vitest";
import { parseLindenYard, traps } from "../../core/test/examples.js";

test("a house goes through JSON unchanged", () => {
  const houses = [
    parseLindenYard().house,
    ...Object.entries(traps).map(([file, text]) => parseHouse({ [file]: text }).house),
    ...Array.from({ length: 60 }, (_, seed) => parseHouse({ "a.modrik": houseText(seeded(seed)) }).house),
  ];
  for (const house of houses) expect(readHouseJson(writeHouseJson(house))).toEqual(house);
});

const small = parseHouse({
  "a.modrik": `house "A" { clock "UTC" } zone z { sensor t: °C output o: on/off }
  rule r { while z.t above 20 °C for 5 min hold z.o at on }`,
}).house;

test.each<[what: string, change: (json: string) => string, says: RegExp]>([
  ["no JSON", () => "{", /^It is not JSON: /],
  ["another thing", () => "[1]", /^At the top it is not a house: /],
  ["a list that is missing", (json) => json.replace('"zones"', '"rooms"'), /^At \/zones it is not a house: /],
  ["a unit that is none", (json) => json.replace('"°C"', '"°Q"'), /^At \/sensors\/0\/type\/unit it is not a house: /],
  ["a kind that is none", (json) => json.replace('"above"', '"abov"'), /^At \/rules\/0\/sentences\/0\/while\/condition\/kind /],
  [
    "a number as text",
    (json) => json.replace('"value": 20', '"value": "20"'),
    /^At \/rules\/0\/sentences\/0\/while\/condition\/right\/value /,
  ],
  ["a word too many", (json) => json.replace('"clock"', '"colour": 1, "clock"'), /^At the top it is not a house: .*colour/],
])("%s is said, and where", (_, change, says) => {
  const changed = change(writeHouseJson(small));
  expect(changed).not.toBe(writeHouseJson(small));
  expect(() => readHouseJson(changed)).toThrow(FormatError);
  expect(() => readHouseJson(changed)).toThrow(says);
});

test("the schema is one of JSON Schema, and names every part of a house", () => {
  const schema = JSON.parse(houseJsonSchema());
  expect(schema.$schema).toBe("https://json-schema.org/draft/2020-12/schema");
  expect(Object.keys(schema.properties)).toEqual(expect.arrayContaining(Object.keys(parseLindenYard().house)));
  expect(schema.additionalProperties).toBe(false);
});
