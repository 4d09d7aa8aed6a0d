// Outputs tried one at a time: swapped ones, inverted ones, those that do nothing, those that may not be switched.
import { HouseFile, LocalLink, machineClock, RunningHouse, sayTried, tryOutputs } from "@modrik/runtime";
import { LocalTransport } from "modrik";
import { expect, test } from "vitest";
import { until } from "../../../test/patience.js";
import { houseOf } from "./kit.js";

const house = houseOf(`
  house "A" { clock "UTC" }
  zone z {
    sensor x: °C
    output good: on/off
    output left: on/off
    output right: on/off
    output inverted: on/off
    output dead: on/off
    output dimmer: 0..100 %
    output guarded: on/off
    output seen: on/off
    output free: on/off
  }
  guard cold { permit z.guarded on only while z.x above 10 °C }
  rule r { hold z.left at on }
  wire mqtt {
    z.x from "x"
    z.good to "good" confirmed by "good/is"
    z.left to "left" confirmed by "left/is"
    z.right to "right" confirmed by "right/is"
    z.inverted to "inverted" confirmed by "inverted/is"
    z.dead to "dead" confirmed by "dead/is"
    z.dimmer to "dimmer" confirmed by "dimmer/is"
    z.guarded to "guarded" confirmed by "guarded/is"
    z.seen to "seen"
  }`);

/** Devices as somebody wired them: two crossed, one the wrong way round. */
async function devices(transport: LocalTransport): Promise<string[]> {
  const link = new LocalLink(transport);
  const heard: string[] = [];
  const does: Record<string, (text: string) => { topic: string; text: string } | undefined> = {
    good: (text) => ({ topic: "good/is", text }),
    left: (text) => ({ topic: "right/is", text }),
    right: (text) => ({ topic: "left/is", text }),
    inverted: (text) => ({ topic: "inverted/is", text: text === "on" ? "off" : "on" }),
    dimmer: (text) => ({ topic: "dimmer/is", text }),
    dead: () => undefined,
    guarded: (text) => ({ topic: "guarded/is", text }),
    seen: () => undefined,
  };
  await link.subscribe(Object.keys(does), (topic, text) => {
    heard.push(`${topic} ${text}`);
    const says = does[topic]?.(text);
    if (says) void link.publish(says);
  });
  return heard;
}

test("each is found as it is, and left to its rules again", async () => {
  const transport = new LocalTransport();
  const heard = await devices(transport);
  const file = new HouseFile(":memory:");
  const running = await new RunningHouse(house, {
    clock: machineClock(),
    link: new LocalLink(transport),
    file,
    says: () => {},
  }).start();
  // All have been told what they are to be.
  await until(() => heard.length === 8);
  const asked: string[] = [];
  const looksOn = async ({ name }: { name: string }, says: string) => {
    asked.push(`${name} ${says}`);
    return name === "z.seen" ? ({ kind: "works" } as const) : ({ kind: "nothing" } as const);
  };
  const all = await tryOutputs({ running, file, looksOn, patience: 200 });
  const found = Object.fromEntries(all.map(({ output, found: one, by }) => [output, `${sayTried(one, all, output)}; ${by}`]));
  expect(found).toEqual({
    "z.good": "works; its device",
    "z.left": "swapped with z.right: their topics are to be exchanged in the wiring; its device",
    "z.right": "swapped with z.left: their topics are to be exchanged in the wiring; its device",
    "z.inverted": "does the opposite: its two texts are to be swapped in the wiring; its device",
    "z.dead": "nothing happened; somebody",
    "z.dimmer": "works; its device",
    "z.guarded": expect.stringMatching(/^not tried: guard cold does not permit it.*; nobody$/),
    "z.seen": "works; somebody",
    "z.free": "not tried: it is wired to nothing; nobody",
  });
  expect(asked).toEqual(["z.dead on", "z.seen on"]);
  // Never against a guard.
  expect(heard).not.toContain("guarded on");
  expect(running.value("z.left")).toBe("on");
  expect(heard.filter((one) => one.startsWith("good"))).toEqual(["good off", "good on", "good off"]);
  expect(file.tried().find(({ output }) => output === "z.dead")?.found).toBe("nothing happened");
  await running.stop();
});
