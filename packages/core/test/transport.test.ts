// What carries messages within one program, and what is told again.
import { LocalTransport, parseHouse, Repeats } from "modrik";
import { describe, expect, test } from "vitest";

const MINUTE = 60_000;
const START = Date.parse("2026-03-14T08:00Z");

const { house } = parseHouse({
  "a.modrik": `
    house "A" { clock "UTC" }
    zone z { output heater: on/off output lamp: on/off }
    wire w { z.heater to "z/heater" again every 10 min z.lamp to "z/lamp" }`,
});

describe("what is told again", () => {
  test("is told when it is due, and once for all the times that went by", () => {
    const repeats = new Repeats(house);
    expect([repeats.next, repeats.takeDue(START)]).toEqual([Number.POSITIVE_INFINITY, []]);
    repeats.told("z.heater", START);
    repeats.told("z.lamp", START);
    expect(repeats.next).toBe(START + 10 * MINUTE);
    expect(repeats.takeDue(START + 10 * MINUTE - 1)).toEqual([]);
    expect(repeats.takeDue(START + 35 * MINUTE)).toEqual(["z.heater"]);
    expect(repeats.next).toBe(START + 45 * MINUTE);
  });
});

describe("in memory", () => {
  test("a transport gives who comes later what is kept, and stops when it is told to", async () => {
    const transport = new LocalTransport();
    const heard: string[] = [];
    await transport.publish({ topic: "a", text: "kept", retained: true });
    await transport.publish({ topic: "a", text: "gone" });
    const stop = await transport.subscribe(["a", "b"], (topic, text, kept) =>
      heard.push(`${topic} ${text}${kept ? ", kept" : ""}`),
    );
    await transport.publish({ topic: "b", text: "1" });
    await transport.publish({ topic: "c", text: "2" });
    stop();
    await transport.publish({ topic: "b", text: "3" });
    expect(heard).toEqual(["a kept, kept", "b 1"]);
  });
});
