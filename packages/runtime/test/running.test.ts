// A house that runs: what it hears, what it sends, what it says of itself.
import { describe, expect, test } from "vitest";
import { houseOf, MINUTE, running, START } from "./kit.js";

const house = houseOf(`
  house "A" { clock "UTC" }
  zone z {
    sensor x: °C, unknown after 30 min
    sensor bell: press
    output heater: on/off
    output lamp: on/off
    dial target: 15..25 °C, at first 20 °C
  }
  zone w { sensor y: lx }
  rule warm { keep z.x at z.target ± 1 K raise with z.heater }
  rule lit { while w.y below 100 lx until above 200 lx hold z.lamp at on }
  rule rung { when z.bell is pressed do { tell "ding" through phone } }
  rule stuck { when z.heater disobeys for 1 min do { tell "stuck" } }
  wire mqtt {
    z.x from "z/x"
    z.bell from "z/bell"
    w.y from "w/y"
    z.heater to "z/heater" writing on as "1", off as "0" confirmed by "z/heater/is" again every 10 min
    z.lamp to "z/lamp"
    notices phone to "phone"
    zone z alive while "z/here" reads "yes"
  }`);

/** Settled, with nothing said yet. */
async function settledHouse(options = {}) {
  const it = await running(house, options);
  await it.clock.passTo(START + 1000);
  await it.at(0.1, "z/heater/is", "0");
  it.sent.length = 0;
  return it;
}

describe("what a house hears and tells", () => {
  test("at its start it waits for what the broker kept, then tells every output once", async () => {
    const it = await running(house);
    await it.at(0, "z/x", "18");
    expect(it.sent).toEqual([]);
    await it.at(0.01);
    expect(it.sent.map((one) => one.split(" ").slice(1).join(" "))).toEqual(["z/heater 1", "z/lamp off"]);
  });

  test("tells an output when it changes, and again as often as its wiring says", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    await it.at(1.1, "z/heater/is", "1");
    await it.at(5, "z/x", "18.5");
    await it.at(12);
    await it.at(13, "z/x", "22");
    await it.at(13.1, "z/heater/is", "0");
    await it.at(30);
    expect(it.sent).toEqual(["1 z/heater 1", "11 z/heater 1", "13 z/heater 0", "23 z/heater 0"]);
  });

  test("does not count what a zone without a sign of life reads, and goes on when it is back", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    await it.at(2, "w/y", "50");
    await it.at(3, "z/here", "no");
    const values = () => ["z.x", "w.y", "z.heater", "z.lamp"].map(it.value);
    expect(values()).toEqual([undefined, 50, "off", "on"]);
    await it.at(4, "z/x", "18");
    expect(it.value("z.x")).toBeUndefined();
    await it.at(5, "z/here", "yes");
    expect(it.value("z.x")).toBeUndefined();
    await it.at(6, "z/x", "18");
    expect(values()).toEqual([18, 50, "on", "on"]);
  });

  test("does not read what stands on other topics, and says what is no reading", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "warm");
    await it.at(2, "z/elsewhere", "18");
    await it.at(3, "z/X", "18");
    expect(it.value("z.x")).toBeUndefined();
    expect([it.running.counts.messages, it.running.counts.unreadable]).toEqual([2, 1]);
    expect(it.said("reading")).toEqual(['z.x: "warm" on z/x is no reading of it']);
    expect(it.said("problem")).toEqual(["z.x reads no value that can be read: it is a number in °C"]);
  });

  test("takes a press that comes, and not one that was kept", async () => {
    const it = await running(house, { kept: { "z/bell": "old" } });
    await it.at(2);
    expect(it.sent.filter((one) => one.includes("phone"))).toEqual([]);
    await it.at(3, "z/bell", "new");
    expect(it.sent.filter((one) => one.includes("phone"))).toEqual(["3 phone ding"]);
  });
});

describe("outputs that do not obey", () => {
  test("are told again, each time later, and then given up until something changes", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    await it.at(9);
    const told = it.sent.filter((one) => one.endsWith("z/heater 1")).map((one) => Number(one.split(" ")[0]) - 1);
    expect(told.map((minute) => Math.round(minute * 60))).toEqual([0, 10, 30, 70, 150]);
    expect(it.said("output")).toEqual([
      "z.heater was told 5 times and does not confirm that it does what is wanted; it is told again when that changes",
    ]);
  });

  test("are the rules' business too: what disobeys is told", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    await it.at(1.1, "z/heater/is", "0");
    await it.at(3);
    expect(it.sent).toContain("2 phone stuck");
  });
});

describe("while the broker is away", () => {
  test("rules go on; then what is wanted is sent, not what was wanted meanwhile, and notices in their order", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    it.link.turn(false);
    await it.running.set("z.target", 16, "set z.target to 16 °C", { who: "Ada", origin: "test" });
    await it.running.set("z.target", 24, "set z.target to 24 °C", { who: "Ada", origin: "test" });
    await it.running.set("z.target", 15, "set z.target to 15 °C", { who: "Ada", origin: "test" });
    await it.at(60);
    it.sent.length = 0;
    it.link.turn(true);
    await it.at(60.5);
    expect(it.sent.map((one) => one.replace(/^60\.\d+ /, "60 "))).toEqual(["60 z/heater 0", "60 z/lamp off"]);
    expect(it.said("broker")).toEqual([
      "the broker is away; the rules go on, and everything is sent when it is back",
      "the broker is there",
    ]);
  });

  test("notices wait, and of too many the latest", async () => {
    const rings = houseOf(`
      house "B" { clock "UTC" }
      rule often { when every 1 min do { tell "at {clock.time}" through phone } }
      wire mqtt { notices phone to "phone" }`);
    const it = await running(rings);
    await it.at(0.5);
    it.link.turn(false);
    await it.at(1100);
    it.sent.length = 0;
    it.link.turn(true);
    await it.at(1100);
    expect(it.sent.length).toBe(1000);
    expect([it.sent[0], it.sent.at(-1)]).toEqual(["1100 phone at 09:41", "1100 phone at 02:20"]);
    expect(it.said("notice").filter((one) => !one.startsWith("at "))).toEqual([
      "1000 notices wait for the broker: the oldest are let go",
      "100 notices were let go while the broker was away",
    ]);
  });
});

describe("a broker that comes late", () => {
  test("hands over what it kept before any output is told: nothing blinks", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    it.link.turn(false);
    await it.at(5);
    it.sent.length = 0;
    it.link.turn(true);
    await it.at(5, "z/x", "25");
    await it.at(5.1);
    expect(it.sent.filter((one) => one.includes("heater")).map((one) => one.split(" ").slice(1).join(" "))).toEqual([
      "z/heater 0",
    ]);
  });
});

describe("dry", () => {
  test("everything is decided and nothing sent: what would have been is said", async () => {
    const it = await settledHouse({ dry: true });
    await it.at(1, "z/x", "18");
    await it.at(2, "z/bell", "1");
    await it.at(2.1, "z/heater/is", "0");
    await it.at(5);
    expect(it.value("z.heater")).toBe("on");
    expect(it.sent).toEqual([]);
    expect(it.said("output")).toContain('would send "1" to z/heater (z.heater on)');
    expect(it.said("notice")).toEqual(["ding", 'would send "ding" to phone']);
  });
});

describe("the clock", () => {
  test("that is set ahead makes moments due, and durations go on", async () => {
    const timed = houseOf(`
      house "C" { clock "UTC" }
      zone z { output lamp: on/off output fan: on/off sensor bell: press }
      rule at_nine { when at 09:00 do { set z.lamp to on } }
      rule airing { when z.bell is pressed do { set z.fan to on for 30 min } }
      wire mqtt { z.bell from "bell" z.lamp to "lamp" z.fan to "fan" }`);
    const it = await running(timed);
    await it.at(1, "bell", "1");
    expect(it.value("z.fan")).toBe("on");
    it.clock.wallAhead = 61 * MINUTE;
    await it.at(3);
    expect([it.value("z.lamp"), it.value("z.fan")]).toEqual(["on", "on"]);
    expect(it.said("clock")).toEqual(["the clock was set ahead by 3660 s; times of day follow it, durations go on"]);
    await it.at(32);
    expect(it.value("z.fan")).toBe("off");
  });
});

describe("an edited house", () => {
  test("is taken over with all that is remembered; what it has no more is said", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    await it.running.set("z.target", 17, "set z.target to 17 °C", { who: "Ada", origin: "test" });
    const edited = houseOf(`
      house "A" { clock "UTC" }
      zone z { sensor x: °C, unknown after 30 min output heater: on/off dial target: 15..25 °C, at first 20 °C }
      rule warm { keep z.x at z.target + 2 K ± 1 K raise with z.heater }
      wire mqtt { z.x from "z/warmth" z.heater to "z/heater" }`);
    const left = await it.running.takeOver(edited);
    expect([it.value("z.x"), it.value("z.target")]).toEqual([18, 17]);
    expect(left).toContain("z.lamp");
    await it.at(2, "z/warmth", "17.5");
    expect(it.value("z.heater")).toBe("on");
    await it.at(3, "z/x", "30");
    expect(it.value("z.x")).toBe(17.5);
  });
});

describe("a clock that is set back", () => {
  test("does nothing twice, and durations go on", async () => {
    const timed = houseOf(`
      house "C" { clock "UTC" }
      zone z { output lamp: on/off output fan: on/off sensor bell: press }
      rule at_eight { when at 08:01 do { set z.lamp to on for 5 min tell "eight" } }
      rule airing { when z.bell is pressed do { set z.fan to on for 30 min } }
      wire mqtt { z.bell from "bell" z.lamp to "lamp" z.fan to "fan" }`);
    const it = await running(timed);
    await it.at(2, "bell", "1");
    expect(it.said("notice")).toEqual(["eight"]);
    it.clock.wallAhead = -10 * MINUTE;
    await it.at(20);
    expect(it.said("notice")).toEqual(["eight"]);
    expect(it.said("clock")).toEqual(["the clock was set back by 600 s; times of day follow it, durations go on"]);
    await it.at(31);
    expect(it.value("z.fan")).toBe("on");
    await it.at(33);
    expect(it.value("z.fan")).toBe("off");
  });
});

describe("a disk that is slow", () => {
  test("does not hold back what devices are told: they are told first, and then it is kept", async () => {
    const it = await settledHouse();
    const order: string[] = [];
    const write = it.file.write.bind(it.file);
    it.file.write = (batch) => {
      order.push("kept");
      write(batch);
    };
    const device = it.sent.push.bind(it.sent);
    it.sent.push = (...lines) => {
      order.push(...lines.map((line) => line.split(" ").slice(1).join(" ")));
      return device(...lines);
    };
    await it.at(1, "z/x", "18");
    expect(order.slice(0, 2)).toEqual(["z/heater 1", "kept"]);
  });
});

describe("a fault in the engine", () => {
  test("leaves no house without control: it goes on from what was kept last, and says so", async () => {
    const it = await settledHouse();
    await it.at(1, "z/x", "18");
    await it.running.set("z.target", 22, "set z.target to 22 °C", { who: "Ada", origin: "test" });
    const stop = it.running.onRecord(() => {
      stop();
      throw new Error("a fault of ours");
    });
    await it.at(2, "z/x", "19");
    await it.at(3, "z/x", "19.5");
    expect(it.said("house")[0]).toMatch(/^the rules broke off and go on from the last second: /);
    expect([it.value("z.target"), it.value("z.heater"), it.value("z.x")]).toEqual([22, "on", 19.5]);
  });
});

describe("a house that stops and puts its outputs to rest", () => {
  test.each([
    ["on/off", "on", "off"],
    ["on/off, at rest on", "off", "on"],
    ["on/off, on when control is lost", "off", "on"],
    ["open/closed, at rest closed", "open", "closed"],
    ["off/low/high", "high", "off"],
    ["0..100 %", "40 %", "0"],
    ["5..28 °C, at rest 8 °C", "21 °C", "8"],
    ["5..28 °C, at rest 8 °C, 12 °C when control is lost", "21 °C", "12"],
  ])("%s, held at %s", async (type, held, rest) => {
    const one = houseOf(`house "A" { clock "UTC" } zone z { output o: ${type} } rule r { hold z.o at ${held} }
      wire mqtt { z.o to "z/o" }`);
    const it = await running(one);
    await it.clock.passTo(START + MINUTE);
    expect(it.sent).toHaveLength(1);
    it.sent.length = 0;
    await it.running.stop("rest");
    expect(it.sent.map((line) => line.split(" ").slice(1).join(" "))).toEqual([`z/o ${rest}`]);
  });

  test("leaves what has none as it is", async () => {
    const one = houseOf(`house "A" { clock "UTC" } zone z { output o: open/closed } rule r { hold z.o at open }
      wire mqtt { z.o to "z/o" }`);
    const it = await running(one);
    await it.clock.passTo(START + MINUTE);
    it.sent.length = 0;
    await it.running.stop("rest");
    expect(it.sent).toEqual([]);
  });
});
