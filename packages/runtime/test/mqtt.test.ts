// A house on real brokers: Debian's mosquitto with its own clients, and the one that ships.
import { execFile, spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import {
  fullyWired,
  HouseFile,
  MqttLink,
  machineClock,
  RunningHouse,
  type RuntimeNote,
  SimulatedDevices,
  startBroker,
} from "@modrik/runtime";
import { parseHouse } from "modrik";
import { afterAll, afterEach, beforeAll, describe, expect, test } from "vitest";
import { until } from "../../../test/patience.js";
import { houseOf } from "./kit.js";

const MOSQUITTO = ["/usr/sbin/mosquitto", "/usr/local/sbin/mosquitto"].find((path) => existsSync(path));

let folder = "";
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), "modrik-mqtt-"));
  if (!MOSQUITTO || !existsSync("/usr/bin/mosquitto_pub"))
    throw new Error("mosquitto is not installed: apt-get install mosquitto mosquitto-clients");
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const ends: (() => unknown)[] = [];
afterEach(async () => {
  for (const end of ends.splice(0).reverse()) await end();
});

async function freePort(): Promise<number> {
  const server = createServer().listen(0, "127.0.0.1");
  await once(server, "listening");
  const { port } = server.address() as { port: number };
  await new Promise((done) => server.close(done));
  return port;
}

/** Debian's broker. @param lines of its configuration next to the listener */
async function mosquitto(port: number, lines: readonly string[] = ["allow_anonymous true"]) {
  const config = join(folder, `${port}.conf`);
  writeFileSync(config, [`listener ${port} 127.0.0.1`, "user root", ...lines].join("\n"));
  const broker = spawn(MOSQUITTO as string, ["-c", config], { stdio: ["ignore", "ignore", "pipe"] });
  const said: string[] = [];
  broker.stderr.on("data", (bytes: Buffer) => said.push(String(bytes)));
  await until(() => said.join("").includes("running"));
  const end = async () => {
    if (broker.exitCode !== null || broker.signalCode !== null) return;
    broker.kill();
    await once(broker, "exit");
  };
  ends.push(end);
  return { end, said: () => said.join("") };
}

const pub = (port: number, ...words: string[]) => promisify(execFile)("mosquitto_pub", ["-p", String(port), "-q", "1", ...words]);

/** The real subscriber: all that goes over the broker, a line each. */
async function sub(port: number, ...words: string[]): Promise<string[]> {
  const client = spawn("mosquitto_sub", [
    "-p",
    String(port),
    "-t",
    "#",
    "-t",
    "$SYS/broker/version",
    "-v",
    "-F",
    "%t %p %r %q",
    "-q",
    "1",
    ...words,
  ]);
  const lines: string[] = [];
  client.stdout.on("data", (bytes: Buffer) => lines.push(...String(bytes).split("\n").filter(Boolean)));
  ends.push(() => client.kill());
  await until(() => lines.some((line) => line.startsWith("$SYS")));
  lines.length = 0;
  return lines;
}

const house = houseOf(`
  house "A" { clock "UTC" }
  zone z {
    sensor x: °C
    sensor damp: %RH
    sensor lux: lx
    sensor door: open/closed
    output heater: on/off
    output lamp: 0..100 %
  }
  rule warm { keep z.x at 20 °C ± 1 K raise with z.heater }
  rule lit { while z.door is open hold z.lamp at 40 % }
  rule told { when z.door becomes open do { tell "Somebody came." through phone } }
  wire mqtt {
    z.x from "z/air" at "/temperature"
    z.damp from "z/air" at "/humidity"
    z.lux from "z/light" record "lux"
    z.door from "z/door" reading "1" as open, "0" as closed
    z.heater to "z/heater/set" writing on as "1", off as "0" confirmed by "z/heater/is" retained
    z.lamp to "z/lamp" writing "{value}"
    notices phone to "phone"
    zone z alive while "z/here" reads "yes"
  }`);

function runHouse(url: string, more: Partial<ConstructorParameters<typeof MqttLink>[0]> = {}) {
  const notes: RuntimeNote[] = [];
  const says = (note: RuntimeNote) => void notes.push(note);
  const link = new MqttLink({ url, clientId: `house-${Math.floor(performance.now() * 1000)}`, says, ...more });
  const file = new HouseFile(":memory:");
  const running = new RunningHouse(house, { clock: machineClock(), link, file, says });
  ends.push(async () => {
    await running.stop();
    await link.end();
  });
  return { running, link, notes, start: () => running.start() };
}

describe("Debian's mosquitto", () => {
  test("its own clients tell and hear a house: text, JSON, SenML; retained where the wire says so; life signs by will", async () => {
    const port = await freePort();
    const broker = await mosquitto(port);
    await pub(port, "-t", "z/door", "-m", "0", "-r");
    const heard = await sub(port);
    const { running, start } = runHouse(`mqtt://127.0.0.1:${port}`, { lifeSign: "modrik/here" });
    await start();
    await until(() => heard.some((line) => line.startsWith("z/lamp")));
    // What was retained is known at once.
    expect(running.value("z.door")).toBe("closed");
    await pub(port, "-t", "z/air", "-m", '{"temperature": 17.5, "humidity": 51}');
    await pub(port, "-t", "z/light", "-m", '[{"bn":"dev1/","n":"lux","u":"lx","v":320}]');
    await pub(port, "-t", "z/door", "-m", "1");
    await until(() => heard.some((line) => line.startsWith("phone")) && heard.some((line) => line.startsWith("z/heater/set 1")));
    expect(["z.x", "z.damp", "z.lux", "z.door", "z.heater", "z.lamp"].map((name) => running.value(name))).toEqual([
      17.5,
      51,
      320,
      "open",
      "on",
      40,
    ]);
    await until(() => heard.some((line) => line.startsWith("z/lamp 40")));
    expect(heard).toEqual(
      expect.arrayContaining([
        "modrik/here yes 0 1",
        "z/heater/set 0 0 1",
        "z/heater/set 1 0 1",
        "z/lamp 40 0 1",
        "phone Somebody came. 0 1",
      ]),
    );
    // Whoever comes later hears what is retained, and nothing else of ours.
    const later = await sub(port);
    await until(() => later.length >= 0);
    const kept = spawn("mosquitto_sub", ["-p", String(port), "-t", "#", "--retained-only", "-W", "1", "-F", "%t %p"]);
    let told = "";
    kept.stdout.on("data", (bytes: Buffer) => {
      told += String(bytes);
    });
    await once(kept, "exit");
    expect(told.trim().split("\n").sort()).toEqual(["modrik/here yes", "z/door 0", "z/heater/set 1"]);
    // A device that dies: its will says that it is gone.
    const device = spawn("mosquitto_sub", [
      "-i",
      "device",
      "-p",
      String(port),
      "-t",
      "nothing",
      "--will-topic",
      "z/here",
      "--will-payload",
      "no",
      "--will-qos",
      "1",
    ]);
    await until(() => broker.said().includes(" as device "));
    device.kill("SIGKILL");
    await until(() => running.value("z.x") === undefined);
    await pub(port, "-t", "z/here", "-m", "yes");
    await pub(port, "-t", "z/air", "-m", '{"temperature": 18, "humidity": 50}');
    await until(() => running.value("z.x") === 18);
  });

  test("a password is needed: it is said what to set, and with it the house comes in", async () => {
    const port = await freePort();
    const passwords = join(folder, "passwords");
    await promisify(execFile)("mosquitto_passwd", ["-b", "-c", passwords, "house", "secret"]);
    await mosquitto(port, ["allow_anonymous false", `password_file ${passwords}`]);
    const refused = runHouse(`mqtt://127.0.0.1:${port}`);
    void refused.start();
    await until(() => refused.notes.some(({ about, text }) => about === "broker" && text.includes("MODRIK_MQTT_PASSWORD")));
    const { link, start } = runHouse(`mqtt://127.0.0.1:${port}`, { user: "house", password: "secret" });
    await start();
    await until(() => link.isUp);
  });

  test("that goes away and comes back: rules go on, then what is wanted is sent", async () => {
    const port = await freePort();
    const first = await mosquitto(port);
    const { running, link, notes, start } = runHouse(`mqtt://127.0.0.1:${port}`);
    await start();
    await until(() => link.isUp);
    await pub(port, "-t", "z/air", "-m", '{"temperature": 17.5, "humidity": 51}');
    await until(() => running.value("z.heater") === "on");
    await first.end();
    await until(() => !link.isUp);
    await running.person({ kind: "switches", output: "z.lamp", value: 90 }, "set z.lamp to 90 %", { who: "Ada", origin: "test" });
    await mosquitto(port);
    const heard = await sub(port);
    await until(() => link.isUp);
    await until(
      () => heard.some((line) => line.startsWith("z/lamp 90")) && heard.some((line) => line.startsWith("z/heater/set 1")),
    );
    expect(notes.filter(({ about }) => about === "broker").map(({ text }) => text.slice(0, 20))).toContain(
      "the broker is away; ",
    );
  });

  test("messages that are none of ours, too long, or no text do nothing but be said", async () => {
    const port = await freePort();
    await mosquitto(port);
    const { running, link, notes, start } = runHouse(`mqtt://127.0.0.1:${port}`);
    await start();
    await until(() => link.isUp);
    const long = join(folder, "long");
    writeFileSync(long, "x".repeat(70_000));
    writeFileSync(join(folder, "bytes"), Buffer.from([0xff, 0xfe, 0x00, 0xc3]));
    await pub(port, "-t", "z/air", "-f", long);
    await pub(port, "-t", "z/air", "-f", join(folder, "bytes"));
    await pub(port, "-t", "other/air", "-m", '{"temperature": 50}');
    await pub(port, "-t", "z/air", "-m", '{"temperature": "hot", "humidity": 40}');
    await until(() => running.value("z.damp") === 40);
    expect(running.value("z.x")).toBeUndefined();
    expect(notes.filter(({ about }) => about === "reading").map(({ text }) => text)).toEqual([
      "a message of 70000 bytes on z/air is passed over: 65536 are the most",
      "a message on z/air is passed over: it is no text (UTF-8)",
      'z.x: "{"temperature": "hot", "humidity": 40}" on z/air is no reading of it',
    ]);
  });

  test("what was said while the house was away is heard when it is back", async () => {
    const port = await freePort();
    await mosquitto(port);
    const one = runHouse(`mqtt://127.0.0.1:${port}`, { clientId: "the-house" });
    await one.start();
    await until(() => one.link.isUp);
    await one.running.stop();
    await one.link.end();
    await pub(port, "-t", "z/air", "-m", '{"temperature": 16, "humidity": 40}');
    const two = runHouse(`mqtt://127.0.0.1:${port}`, { clientId: "the-house" });
    await two.start();
    await until(() => two.running.value("z.x") === 16);
  });
});

describe("the broker that ships", () => {
  test("and simulated devices are a house that lives: rooms answer to outputs, which say what they do", async () => {
    const { house: rooms, problems } = parseHouse({
      "a.modrik": `
        house "Shed" { clock "UTC" }
        zone shed { sensor temperature: °C output heater: on/off }
        rule warm { keep shed.temperature at 24 °C ± 0.5 K raise with shed.heater }
        rule obeys { when shed.heater disobeys for 10 s do { tell "The heater does not obey." through phone } }
        physics { zone shed { volume 20 m³, loses 40 W/K, stores 0.5 MJ/K } shed.heater gives 3 kW of heat }
        weather cold { outdoors -5 °C }`,
    });
    expect(problems).toEqual([]);
    const wired = fullyWired(rooms);
    const broker = await startBroker();
    ends.push(() => broker.end());
    const url = `mqtt://127.0.0.1:${broker.port}`;
    const says = () => {};
    const from = Date.now();
    const devices = new SimulatedDevices(wired, { from, link: new MqttLink({ url, clientId: "devices", says }) });
    const clock = machineClock({ speed: 600, from });
    const link = new MqttLink({ url, clientId: "house", says });
    const running = new RunningHouse(wired, { clock, link, file: new HouseFile(":memory:"), says });
    ends.push(() => running.stop());
    await devices.start(clock);
    await running.start();
    await until(() => Number(running.value("shed.temperature")) >= 23.5);
    await until(() => running.value("shed.heater") === "off");
    await until(() => Number(running.value("shed.temperature")) <= 24);
    expect(running.run.past.notices(0, Number.MAX_SAFE_INTEGER)).toEqual([]);
    const { house: faults } = parseHouse({
      "a.modrik": 'house "h" { clock "UTC" } zone shed { output heater: on/off } trial t { from 00:00 shed.heater refuses }',
    });
    const refuses = faults.trials[0]?.happenings[0]?.what;
    if (refuses) devices.befall(refuses);
    await running.person(
      { kind: "switches", output: "shed.heater", value: running.value("shed.heater") === "on" ? "off" : "on" },
      "x",
      {
        who: "Ada",
        origin: "test",
      },
    );
    await until(() =>
      running.run.past.notices(0, Number.MAX_SAFE_INTEGER).some(({ text }) => text === "The heater does not obey."),
    );
    await devices.stop();
  });
});

describe("ways to a broker", () => {
  test("over TLS, by a certificate that is trusted and by none that is not", async () => {
    const port = await freePort();
    const [key, cert] = [join(folder, "key.pem"), join(folder, "cert.pem")];
    const subject = ["-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost,IP:127.0.0.1"];
    await promisify(execFile)("openssl", [
      "req",
      "-x509",
      "-newkey",
      "rsa:2048",
      "-nodes",
      "-days",
      "2",
      "-keyout",
      key,
      "-out",
      cert,
      ...subject,
    ]);
    await mosquitto(port, ["allow_anonymous true", `cafile ${cert}`, `certfile ${cert}`, `keyfile ${key}`]);
    const distrusts = runHouse(`mqtts://localhost:${port}`);
    void distrusts.start();
    await until(() => distrusts.notes.some(({ about, text }) => about === "broker" && /certificate/.test(text)));
    expect(distrusts.link.isUp).toBe(false);
    const trusts = runHouse(`mqtts://localhost:${port}`, { ca: readFileSync(cert, "utf8") });
    await trusts.start();
    await until(() => trusts.link.isUp);
  });

  test("a broker that speaks MQTT 5 alone is asked in MQTT 5", async () => {
    const asked: number[] = [];
    const server = createServer((socket) => {
      socket.on("error", () => {});
      socket.once("data", (packet) => {
        // CONNECT: the protocol's level stands after its name (MQTT 3.1.1 and 5, 3.1.2.2).
        const level = packet[8] as number;
        asked.push(level);
        if (level === 4) socket.end(Buffer.from([0x20, 2, 0, 1]));
        else socket.write(Buffer.from([0x20, 3, 0, 0, 0]));
      });
    }).listen(0, "127.0.0.1");
    await once(server, "listening");
    const { port } = server.address() as { port: number };
    const link = new MqttLink({ url: `mqtt://127.0.0.1:${port}`, clientId: "five", says: () => {} });
    ends.push(
      () => server.close(),
      () => link.end(),
    );
    await until(() => link.isUp);
    expect(asked).toEqual([4, 5]);
  });
});
