// What a house keeps: what is read back is what was written, whatever befell between; and files that are no good.
import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { HouseFile, holdFile, StorageError } from "@modrik/runtime";
import Database from "libsql";
import { createEngine, parseHouse, type Value, why } from "modrik";
import { actionsAt, houseText, inputsAt, seeded } from "modrik/testing";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { openFile } from "../src/storage/file.js";
import { partsOf, snapshotOf } from "../src/storage/parts.js";
import { LiveRecording } from "../src/storage/recorder.js";
import { migrations } from "../src/storage/schema.js";
import { houseOf, MINUTE, running, START } from "./kit.js";

let folder = "";
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-storage-"));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const SEEDS = 25;
const FROM = Date.parse("2026-03-14T12:00Z");

describe.each(Array.from({ length: SEEDS }, (_, seed) => seed))("a generated house, seed %i", (seed) => {
  test("is the same after its file was closed and opened at any moment, and so is its journal", () => {
    const random = seeded(seed + 1);
    const { house } = parseHouse({ "a.modrik": houseText(random) });
    const path = join(folder, `${seed}.db`);
    let file = new HouseFile(path);
    let recording = new LiveRecording(
      file.resume(0).journal,
      () => FROM,
      () => {},
      file.keyCount(),
    );
    const engine = createEngine(house, { at: FROM, journal: recording });
    const names = [...house.outputs, ...house.dials, ...house.modes].map(({ name }) => name);
    for (let second = 0; second < 100; second++) {
      const at = FROM + second * 1000;
      for (const [name, value] of inputsAt(random)) {
        if (value === "pressed") engine.press(name, at);
        else if (names.includes(name)) engine.set(name, value as Value, at);
        else engine.report(name, value as Value, at);
      }
      for (const action of actionsAt(random, house)) engine.person(action, at);
      engine.advanceTo(at);
      if (random() > 0.1) continue;
      file.write({ snapshot: engine.snapshot(), ...recording.pending, readings: [], deeds: [], posted: [] });
      recording.kept();
      file.close();
      file = new HouseFile(path);
      const { snapshot, journal } = file.resume(0);
      expect(snapshot).toEqual(JSON.parse(JSON.stringify(engine.snapshot())));
      expect(JSON.stringify(journal)).toBe(JSON.stringify(recording.journal));
    }
    recording = new LiveRecording(
      file.resume(0).journal,
      () => FROM,
      () => {},
      file.keyCount(),
    );
    const { snapshot } = file.resume(0);
    if (snapshot) {
      const back = createEngine(house, { at: engine.now, restore: snapshot, journal: recording });
      back.advanceTo(engine.now);
      expect(recording.pending.records.every(({ id }) => id >= 0)).toBe(true);
    }
    file.close();
  });
});

describe("a house that starts again", () => {
  const house = houseOf(`
    house "A" { clock "UTC" }
    zone z {
      sensor x: °C
      sensor bell: press
      output heater: on/off
      output fan: on/off
      output lamp: on/off
      dial target: 15..25 °C, at first 20 °C
    }
    mode season: winter/summer, at first winter
    countdown airing = 20 min
    rule warm { keep z.x at z.target ± 1 K raise with z.heater }
    rule fresh { when z.bell is pressed do { start airing set z.fan to on for 10 min wait 30 min tell "aired" } }
    wire mqtt { z.x from "x" z.bell from "bell" z.heater to "heater" z.fan to "fan" z.lamp to "lamp" notices phone to "phone" }`);

  test("goes on with dials, modes, hands, countdowns, waits and timed runs by the clock, and ends what is over", async () => {
    const path = join(folder, "again.db");
    const it = await running(house, { path });
    const by = { who: "Ada", origin: "test" };
    await it.at(1, "x", "18");
    await it.at(2, "bell", "1");
    await it.running.set("z.target", 23, "set z.target to 23 °C", by);
    await it.running.set("season", "summer", "set season to summer", by);
    await it.running.person({ kind: "switches", output: "z.lamp", value: "on", lasts: 60 * MINUTE }, "set z.lamp to on", by);
    expect([it.value("z.fan"), it.value("z.heater")]).toEqual(["on", "on"]);
    await it.restart(6);
    expect(["z.target", "season", "z.lamp", "z.fan", "z.heater"].map(it.value)).toEqual([23, "summer", "on", "on", "on"]);
    expect(it.running.snapshot().countdowns.airing).toBe(START + 22 * MINUTE);
    await it.at(13);
    expect(it.value("z.fan")).toBe("off");
    await it.restart(70);
    expect([it.value("z.lamp"), it.running.snapshot().countdowns.airing]).toEqual(["off", undefined]);
    await it.at(71);
    expect(it.said("notice")).toEqual(["aired"]);
    expect(it.sent.filter((one) => one.endsWith("lamp off")).length).toBeGreaterThan(0);
    expect(it.file.deeds(START, START + 5 * MINUTE).map(({ who, did }) => `${who}: ${did}`)).toEqual([
      "Ada: set z.target to 23 °C",
      "Ada: set season to summer",
      "Ada: set z.lamp to on",
    ]);
    const dials = it.file.history(START, START + 80 * MINUTE, ["z.target"]).map(({ value }) => value);
    expect(dials).toEqual([23]);
  });

  test("sends every output anew", async () => {
    const it = await running(house, { path: join(folder, "anew.db") });
    await it.at(1, "x", "18");
    it.sent.length = 0;
    await it.restart(2);
    expect(it.sent.map((one) => one.split(" ").slice(1).join(" ")).sort()).toEqual(["fan off", "heater on", "lamp off"]);
  });

  test("loses nothing that a person did before the answer, though it dies at once", async () => {
    const path = join(folder, "dies.db");
    const it = await running(house, { path });
    await it.at(1);
    await it.running.set("z.target", 17, "set z.target to 17 °C", { who: "Ada", origin: "test" });
    const other = new HouseFile(path);
    expect(other.resume(0).snapshot?.nodes).toHaveProperty(["z.target"]);
    expect(other.history(START, START + 2 * MINUTE, ["z.target"]).map(({ value }) => value)).toEqual([17]);
    other.close();
  });
});

describe("a disk that refuses", () => {
  const house = houseOf(`
    house "A" { clock "UTC" }
    zone z { sensor x: °C output heater: on/off dial target: 15..25 °C, at first 20 °C }
    rule warm { keep z.x at z.target ± 1 K raise with z.heater }
    wire mqtt { z.x from "x" z.heater to "heater" }`);

  test("does not stop the rules; a person is told, and when it takes again nothing was lost", async () => {
    const it = await running(house, { path: join(folder, "full.db") });
    await it.at(1);
    const write = it.file.write.bind(it.file);
    it.file.write = () => {
      throw Object.assign(new Error("database or disk is full"), { code: "SQLITE_FULL" });
    };
    const by = { who: "Ada", origin: "test" };
    await expect(it.running.set("z.target", 24, "set z.target to 24 °C", by)).rejects.toThrow(
      "what happens cannot be kept: database or disk is full",
    );
    await it.at(2, "x", "20");
    expect([it.value("z.target"), it.value("z.heater"), it.sent.at(-1)]).toEqual([24, "on", "2 heater on"]);
    expect(it.said("storage")).toEqual([
      "what happens cannot be kept: database or disk is full; the rules go on, and it is tried again",
    ]);
    it.file.write = write;
    await it.at(3, "x", "25.5");
    expect(it.said("storage").at(-1)).toBe("the disk takes what happens again; nothing of what waited was lost");
    expect(it.file.history(START, START + 5 * MINUTE).map(({ name, value }) => `${name} ${value}`)).toEqual([
      "z.target 24",
      "z.x 20",
      "z.heater on",
      "z.x 25.5",
      "z.heater off",
    ]);
  });
});

describe("files", () => {
  test.each([
    ["no database at all", Buffer.from("this is not a database. ".repeat(500))],
    ["one that was cut off and written over", undefined],
  ])("%s is set aside with a clear word, and a new one begun", (_, bytes) => {
    const path = join(folder, `damaged-${bytes ? 1 : 2}.db`);
    if (bytes) writeFileSync(path, bytes);
    else {
      new HouseFile(path).close();
      rmSync(`${path}-wal`, { force: true });
      writeFileSync(path, Buffer.concat([Buffer.from("SQLite format 3\0"), Buffer.alloc(9000, 0x5a)]));
    }
    const file = new HouseFile(path, { now: FROM });
    expect(file.aside).toBe(`${path}.damaged-2026-03-14T12-00-00-000Z`);
    expect([existsSync(file.aside ?? ""), file.resume(0).snapshot]).toEqual([true, undefined]);
    file.close();
  });

  test.each([
    ["is of another version", "UPDATE state SET json = '99' WHERE path = 'version'"],
    ["is no JSON", "UPDATE state SET json = '{' WHERE path = 'at'"],
    ["lacks a part", "DELETE FROM state WHERE path = 'clockAhead'"],
  ])("one whose memory %s is set aside, and can be looked at", (says, sql) => {
    const path = join(folder, `memory-${says.length}.db`);
    const first = new HouseFile(path);
    const recording = new LiveRecording(
      first.resume(0).journal,
      () => FROM,
      () => {},
      0,
    );
    const { house } = parseHouse({ "a.modrik": houseText(seeded(3)) });
    const engine = createEngine(house, { at: FROM, journal: recording });
    first.write({
      snapshot: engine.snapshot(),
      ...recording.pending,
      readings: [{ name: "x", at: 1, value: 2 }],
      deeds: [],
      posted: [],
    });
    first.close();
    const database = new Database(path);
    database.exec(sql);
    database.close();
    const file = new HouseFile(path, { now: FROM });
    expect([file.aside, file.resume(0).snapshot, file.history(0, 5)]).toEqual([
      expect.stringContaining(".damaged-"),
      undefined,
      [],
    ]);
    file.close();
    const old = new Database(file.aside ?? "");
    expect(old.prepare("SELECT count(*) AS count FROM history").all()).toMatchObject([{ count: 1 }]);
    old.close();
  });

  test("one of a later version is left alone", () => {
    const path = join(folder, "later.db");
    new HouseFile(path).close();
    const database = new Database(path);
    database.exec("PRAGMA user_version = 99");
    database.close();
    expect(() => new HouseFile(path)).toThrow(StorageError);
    expect(readdirSync(folder).filter((name) => name.startsWith("later.db.damaged"))).toEqual([]);
  });

  test("one of an earlier version is led to this one, with all that stands in it", () => {
    const path = join(folder, "earlier.db");
    const database = new Database(path);
    database.exec(
      `${migrations[0]}; PRAGMA user_version = 1; INSERT INTO deeds (at, who, origin, did) VALUES (5, 'Ada', 'x', 'set y'); INSERT INTO tokens VALUES ('hash', 7)`,
    );
    database.close();
    const file = new HouseFile(path);
    expect([file.deeds(0, 10), file.parcels(5), file.tried()]).toEqual([
      [{ at: 5, who: "Ada", origin: "x", did: "set y" }],
      [],
      [],
    ]);
    // Who had the one token there was may act, as before.
    expect(file.people()).toEqual([{ hash: "hash", name: "owner", may: "act", at: 7 }]);
    file.close();
    expect(openFile(path).prepare("PRAGMA user_version").all()).toMatchObject([{ user_version: migrations.length }]);
  });

  test("a house is held by one process", () => {
    const path = join(folder, "held.db");
    const letGo = holdFile(path);
    letGo();
    // One that lives, and wrote it.
    const other = spawn(process.execPath, ["-e", "setTimeout(() => {}, 600000)"]);
    const stat = readFileSync(`/proc/${other.pid}/stat`, "utf8").split(") ").at(-1)?.split(" ")[19];
    const boot = readFileSync("/proc/sys/kernel/random/boot_id", "utf8").trim();
    writeFileSync(`${path}.lock`, `${other.pid} ${boot}/${stat}\n`);
    expect(() => holdFile(path)).toThrow(`${path} is in use by process ${other.pid}: one process a house`);
    // One that died, whose number is another's by now: of this start of the machine, or of one before.
    for (const birth of [`${boot}/1`, `another-boot/${stat}`]) {
      writeFileSync(`${path}.lock`, `${other.pid} ${birth}\n`);
      holdFile(path)();
    }
    other.kill();
    // One that died without a word, and what says nothing.
    for (const text of ["999999999 x/1\n", "", "x"]) {
      writeFileSync(`${path}.lock`, text);
      holdFile(path)();
    }
    expect(existsSync(`${path}.lock`)).toBe(false);
  });
});

describe("a long history", () => {
  test("is thinned: numbers to their hours, words to their changes, and the journal goes", () => {
    const file = new HouseFile(":memory:");
    const { house } = parseHouse({ "a.modrik": 'house "A" { clock "UTC" } zone z { sensor x: °C sensor door: open/closed }' });
    const recording = new LiveRecording(
      file.resume(0).journal,
      () => FROM,
      () => {},
      0,
    );
    const engine = createEngine(house, { at: FROM, journal: recording });
    const readings = Array.from({ length: 6 * 60 }, (_, minute) => [
      { name: "z.x", at: FROM + minute * MINUTE, value: minute % 60 },
      { name: "z.door", at: FROM + minute * MINUTE, value: minute % 100 < 50 ? "open" : "closed" },
    ]).flat();
    file.write({ snapshot: engine.snapshot(), ...recording.pending, readings, deeds: [], posted: [] });
    file.thin(FROM + 4 * 60 * MINUTE);
    expect(file.hours("z.x", FROM, FROM + 3 * 60 * MINUTE)).toEqual(
      [0, 1, 2, 3].map((hour) => ({ at: FROM + hour * 60 * MINUTE, count: 60, mean: 29.5, low: 0, high: 59 })),
    );
    expect(file.history(FROM, FROM + 4 * 60 * MINUTE - 1, ["z.x"])).toEqual([]);
    expect(file.history(FROM, FROM + 1e9, ["z.x"]).length).toBe(120);
    const doors = file
      .history(FROM, FROM + 4 * 60 * MINUTE - 1, ["z.door"])
      .map(({ at, value }) => [(at - FROM) / MINUTE, value]);
    expect(doors).toEqual([
      [0, "open"],
      [50, "closed"],
      [100, "open"],
      [150, "closed"],
      [200, "open"],
    ]);
    // Again is once.
    file.thin(FROM + 4 * 60 * MINUTE);
    expect(file.hours("z.x", FROM, FROM + 3 * 60 * MINUTE).length).toBe(4);
  });

  test("a memory in parts is the whole memory", () => {
    const { house } = parseHouse({ "a.modrik": houseText(seeded(7)) });
    const engine = createEngine(house, { at: FROM });
    engine.advanceTo(FROM + 5000);
    const plain = JSON.parse(JSON.stringify(engine.snapshot()));
    expect(snapshotOf(partsOf(engine.snapshot()))).toEqual(plain);
  });
});

describe("what was told long ago", () => {
  test("is found with its rule, and what happened then is explained, though it is forgotten in memory", async () => {
    const house = houseOf(`
      house "A" { clock "UTC" }
      zone z { sensor x: °C, unknown after 3 d output heater: on/off }
      rule warm { keep z.x at 20 °C ± 1 K raise with z.heater }
      rule told { when z.x below 15 °C do { tell "Cold: {z.x}" through phone } }
      wire mqtt { z.x from "x" z.heater to "heater" notices phone to "phone" }`);
    const it = await running(house, { path: join(folder, "long.db") });
    const days = 24 * 60;
    await it.at(1, "x", "14");
    await it.at(10, "x", "22");
    await it.at(2 * days, "x", "18");
    for (let day = 3; day < 8; day++) await it.at(day * days, "x", "22");
    expect(it.running.run.past.notices(0, START + 20 * MINUTE)).toEqual([]);
    expect(it.file.notices(START, START + days * MINUTE)).toMatchObject([
      { id: expect.any(Number), at: START + MINUTE, text: "Cold: 14 °C", through: "phone", rule: "told" },
    ]);
    const past = it.file.journal(START, START + 5 * MINUTE);
    const run = { past, from: past.beginning, to: START + 5 * MINUTE };
    expect(JSON.stringify(why(run, "z.heater", START + 5 * MINUTE))).toContain("z.x was 14 °C at 08:01");
    // Later days begin with what stood then.
    const later = it.file.journal(START + 3 * days * MINUTE, START + 3.5 * days * MINUTE);
    expect(later.value({ kind: "value", of: "z.x" }, START + 2.9 * days * MINUTE)).toBe(18);
    expect(later.records.length).toBeLessThan(it.file.recordsAfter(-1, 100_000).length);
  });
});
