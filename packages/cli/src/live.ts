// A house that runs in this process: its file, its broker, its devices, what is said of it and what is asked of it.
import { createHash } from "node:crypto";
import { once } from "node:events";
import { readFileSync } from "node:fs";
import { hostname } from "node:os";
import {
  type BrokerOptions,
  fullyWired,
  HouseFile,
  type HouseTexts,
  type HttpHouse,
  holdFile,
  jsonLog,
  LockedError,
  MqttLink,
  machineClock,
  overMqtt,
  type Page,
  RunningHouse,
  type RuntimeNote,
  type Says,
  SimulatedDevices,
  StorageError,
  serveHouse,
  startBroker,
  unwired,
} from "@modrik/runtime";
import { clockOf, type House, type Occurrence, parseHouse, readValue, sayValue, typeOf, type Weather, whyInShort } from "modrik";
import { version } from "../package.json";
import { CallError } from "./call-error.js";
import { type Io, pathIn } from "./io.js";
import { oneOf, wholeNumber } from "./run-options.js";
import { stamp } from "./stamp.js";

/** How a house runs: on which devices, kept where, heard from where. */
export interface LiveOptions {
  readonly mqtt?: string;
  readonly mqttCa?: string;
  readonly mqttCert?: string;
  readonly mqttKey?: string;
  readonly lifeSign?: string;
  readonly db?: string;
  readonly keep?: string;
  readonly dry?: boolean;
  readonly devices?: string;
  readonly weather?: string;
  readonly seed?: string;
  readonly fault?: readonly string[];
  readonly speed?: string;
  readonly listen?: string;
  readonly onStop?: string;
  readonly json?: boolean;
  readonly tryOutputs?: boolean;
}

/** A house that runs, and how it is ended. */
export interface LiveHouse {
  readonly running: RunningHouse;
  readonly file: HouseFile;
  readonly http: HttpHouse;
  readonly says: Says;
  /** Where the broker is; of one of its own, where others may connect. */
  readonly broker: string;
  /** Goes on as an edited house. */
  takeOver(house: House): Promise<void>;
  end(): Promise<void>;
}

export interface LivePlaces {
  /** The file of the house, where none is said. */
  readonly db: string;
  /** Where the embedded broker listens, where there is one. */
  readonly brokerPort?: number;
  readonly listen?: string;
  readonly pages?: readonly Page[];
  readonly texts?: HouseTexts | undefined;
}

/** Starts a house. @throws CallError when an option does not fit, or the house runs already */
export async function startLive(own: House, options: LiveOptions, places: LivePlaces, io: Io): Promise<LiveHouse> {
  const settings = settingsOf(own, options, io);
  const path = options.db === undefined ? places.db : pathIn(io, options.db);
  let at = () => Date.now();
  const saysAll = saysTo(io, own, options.json === true, () => at());
  // Between questions, only what is wrong is said.
  const says: Says = (note) => (options.tryOutputs && note.weight === "info" ? undefined : saysAll(note));
  const ends: (() => unknown)[] = [];
  const end = async () => {
    for (const one of ends.splice(0).reverse()) await one();
  };
  try {
    ends.push(inCall(() => holdFile(path)));
    const file = inCall(() => new HouseFile(path));
    ends.push(() => file.close());
    if (file.aside !== undefined)
      says({
        weight: "error",
        about: "storage",
        text: `${path} was damaged; it is now ${file.aside}, and the house begins anew`,
      });
    const house = settings.simulated ? fullyWired(own) : overMqtt(own);
    sayUnwired(own, house, settings.simulated, says);
    const broker = options.mqtt ?? (await embedded(places.brokerPort ?? 0, says, ends));
    const clientId = clientIdOf(path);
    const link = new MqttLink({ url: broker, clientId, ...settings.door, lifeSign: options.lifeSign, says });
    ends.push(() => link.end());
    // A simulated house that went faster than real is ahead of us: it goes on from there.
    const from = settings.simulated ? Math.max(Date.now(), file.keptAt() ?? 0) : Date.now();
    let devices = settings.simulated ? await devicesOf(house, from, broker, settings, says, ends) : undefined;
    const clock = machineClock({ speed: settings.speed, ...(devices && { from }) });
    at = () => clock.now();
    await devices?.start(clock);
    const running = new RunningHouse(house, {
      clock,
      link,
      file,
      says,
      keep: settings.keep,
      ...(options.dry && { dry: true }),
    });
    ends.push(() => running.stop(settings.onStop));
    sayChanges(running, says);
    await running.start();
    const http = await inCallAsync(
      serveHouse({
        running,
        file,
        version,
        says,
        ...(options.listen === undefined ? listenAt(places.listen) : settings.listen),
        ...(places.pages && { pages: places.pages }),
        texts: places.texts,
      }),
    );
    ends.push(() => http.end());
    return {
      running,
      file,
      http,
      says,
      broker,
      end,
      async takeOver(edited) {
        const next = settings.simulated ? fullyWired(edited) : overMqtt(edited);
        const before = running.house;
        await running.takeOver(next);
        if (!devices || sameDevices(before, next)) return;
        await devices.stop();
        devices = await devicesOf(next, clock.now(), broker, settings, says, ends);
        await devices.start(clock);
      },
    };
  } catch (error) {
    await end();
    throw error;
  }
}

/** Waits until it is to end, and ends it. */
export async function untilEnded(live: LiveHouse, ended: AbortSignal): Promise<void> {
  if (!ended.aborted) await once(ended, "abort");
  await live.end();
}

// ── What was said ───────────────────────────────────────────────────────────────────────────────────────────────────────

interface Settings {
  readonly simulated: boolean;
  readonly speed: number;
  readonly weather: Weather | undefined;
  readonly seed: number;
  readonly faults: readonly Occurrence[];
  readonly keep: number;
  readonly onStop: "keep" | "rest";
  readonly listen: ReturnType<typeof listenAt>;
  readonly door: Door;
}

/** How a broker lets one in. */
type Door = Pick<BrokerOptions, "user" | "password" | "ca" | "cert" | "key">;

function settingsOf(house: House, options: LiveOptions, io: Io): Settings {
  const { devices, weather, seed = "1", fault = [], speed = "1", keep = "400 d", onStop = "keep" } = options;
  if (devices !== undefined && devices !== "simulated")
    throw new CallError(`--devices ${devices} is not known.`, "Write --devices simulated, or leave it out for real ones.");
  const simulated = devices === "simulated";
  if (!simulated && options.mqtt === undefined)
    throw new CallError(
      "Which broker do the devices use?",
      "Write --mqtt mqtt://192.168.1.5, or --devices simulated for devices that are simulated.",
    );
  const times = Number(speed);
  if (!(times >= 1 && times <= 1000)) throw new CallError(`--speed ${speed} is not a speed.`, "Write a number from 1 to 1000.");
  if (times !== 1 && !simulated)
    throw new CallError("Real devices do not go faster.", "Leave out --speed, or add --devices simulated.");
  if (!simulated && (weather !== undefined || fault.length > 0))
    throw new CallError("--weather and --fault are of simulated devices.", "Add --devices simulated, or leave them out.");
  if (options.mqtt === undefined && options.lifeSign !== undefined)
    throw new CallError("--life-sign needs a broker that others use.", "Add --mqtt mqtt://…, or leave it out.");
  if (options.tryOutputs && options.dry)
    throw new CallError("Outputs cannot be tried dry: nothing is sent then.", "Leave out --dry or --try-outputs.");
  if (onStop !== "keep" && onStop !== "rest")
    throw new CallError(`--on-stop ${onStop} is not known.`, "Write --on-stop keep, or --on-stop rest.");
  return {
    simulated,
    speed: times,
    weather: weather === undefined ? house.weathers[0] : oneOf(house.weathers, weather, "weather"),
    seed: wholeNumber(seed, "--seed"),
    faults: fault.map((one) => faultIn(house, one)),
    keep: durationIn(keep, "--keep"),
    onStop,
    listen: listenAt(options.listen),
    door: doorOf(options, io),
  };
}

/** What befalls a device, in the words of a trial's timeline. */
function faultIn(house: House, text: string): Occurrence {
  const remedy = "Write it as in a trial, e.g. --fault 'bench.heater refuses' or --fault 'bench.humidity falls silent'.";
  const things = [...house.sensors, ...house.outputs];
  const [name = "", ...rest] = text.trim().split(/\s+/);
  oneOf(things, name, "sensor or output");
  const { house: read, problems } = parseHouse({
    "fault.modrik": `${declared(house, name)}\ntrial fault { from 2026-01-01 12:00\n at 12:00 ${name} ${rest.join(" ")}\n expect always ${name} is not unknown }`,
  });
  const what = read.trials[0]?.happenings[0]?.what;
  const wrong = problems.find(({ severity, place }) => severity === "error" && place.file === "fault.modrik");
  if (wrong || !what)
    throw new CallError(`--fault "${text}" is not understood: ${wrong?.reason ?? "nothing befalls it"}`, remedy);
  return what;
}

/** A house of one thing. */
function declared(house: House, name: string): string {
  const [zone = "", own = ""] = name.split(".");
  const sensor = house.sensors.find((one) => one.name === name);
  const type = typeOf(house, name);
  const kind =
    type.kind === "words"
      ? type.words.join("/")
      : type.kind === "number"
        ? type.unit || "number"
        : type.kind === "press"
          ? "press"
          : type.kind;
  return `house "h" { clock "UTC" } zone ${zone} { ${sensor ? "sensor" : "output"} ${own}: ${kind} }`;
}

function durationIn(text: string, option: string): number {
  const read = readValue({ type: { kind: "number", unit: "ms" } }, text.replace(/^([\d.]+)\s*([a-z]+)$/, "$1 $2"));
  if ("value" in read && Number(read.value) > 0) return Number(read.value);
  throw new CallError(`${option} ${text} is not a time.`, `Write it as ${option} 400d.`);
}

function listenAt(listen: string | undefined): { readonly host?: string; readonly port?: number } {
  if (listen === undefined) return {};
  const [, host, port] = /^(?:(\[[0-9a-fA-F:]+\]|[^:]*):)?(\d{1,5})$/.exec(listen) ?? [];
  if (port === undefined || Number(port) > 65535)
    throw new CallError(
      `--listen ${listen} is no place to listen at.`,
      "Write a port, e.g. --listen 4811, or an address and a port, e.g. --listen 0.0.0.0:4811.",
    );
  return { port: Number(port), ...(host && { host: host.replace(/^\[|\]$/g, "") }) };
}

// ── Broker and devices ──────────────────────────────────────────────────────────────────────────────────────────────────

async function embedded(port: number, says: Says, ends: (() => unknown)[]): Promise<string> {
  const broker = await startBroker({ port }).catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "EADDRINUSE") throw error;
    says({ weight: "warn", about: "broker", text: `port ${port} is in use; the broker takes a free one` });
    return startBroker();
  });
  ends.push(() => broker.end());
  return `mqtt://127.0.0.1:${broker.port}`;
}

/** What a broker is shown, from the environment and from files. */
function doorOf({ mqtt, mqttCa, mqttCert, mqttKey }: LiveOptions, io: Io): Door {
  const at = mqtt !== undefined && URL.canParse(mqtt) ? new URL(mqtt) : undefined;
  if (mqtt !== undefined && !(at && /^(mqtts?|wss?):$/.test(at.protocol)))
    throw new CallError(
      `--mqtt ${mqtt} is no address of a broker.`,
      "Write it as --mqtt mqtt://192.168.1.5 or mqtts://broker.example:8883.",
    );
  if (at && (at.username !== "" || at.password !== ""))
    throw new CallError(
      "A password does not belong on the command line: everybody on this machine can read it there.",
      "Set MODRIK_MQTT_USER and MODRIK_MQTT_PASSWORD in the environment.",
    );
  const pem = (path: string | undefined) => (path === undefined ? undefined : readFileSync(pathIn(io, path), "utf8"));
  const { MODRIK_MQTT_USER: user, MODRIK_MQTT_PASSWORD: password } = process.env;
  return { user, password, ca: pem(mqttCa), cert: pem(mqttCert), key: pem(mqttKey) };
}

async function devicesOf(
  house: House,
  from: number,
  broker: string,
  { weather, seed, faults, door }: Settings,
  says: Says,
  ends: (() => unknown)[],
): Promise<SimulatedDevices> {
  const quiet: Says = (note) => (note.weight === "error" ? says(note) : undefined);
  const clientId = clientIdOf(`devices of ${house.name} ${process.pid}`);
  const link = new MqttLink({ url: broker, clientId, ...door, says: quiet });
  ends.push(() => link.end());
  try {
    const devices = new SimulatedDevices(house, { from, link, weather, seed, faults });
    ends.push(() => devices.stop());
    return devices;
  } catch (error) {
    if (error instanceof RangeError) throw new CallError(`${error.message}.`, "Choose another weather with --weather.");
    throw error;
  }
}

/** Whether the devices of two versions of a house are the same ones. */
function sameDevices(one: House, other: House): boolean {
  const devices = ({ sensors, outputs, wirings, zones, physics, people }: House) =>
    JSON.stringify([sensors, outputs, wirings, zones, physics, people]);
  return devices(one) === devices(other);
}

/**
 * A name for a broker, the same each time, and another for every file on every machine. Of 23 letters and digits, which all
 * brokers take (MQTT 3.1.1, 3.1.3.1).
 */
function clientIdOf(what: string): string {
  return `modrik${createHash("sha256").update(`${hostname()} ${what}`).digest("hex").slice(0, 17)}`;
}

function inCall<Made>(make: () => Made): Made {
  try {
    return make();
  } catch (error) {
    throw asCall(error);
  }
}

async function inCallAsync<Made>(made: Promise<Made>): Promise<Made> {
  return made.catch((error: unknown) => Promise.reject(asCall(error)));
}

function asCall(error: unknown): unknown {
  if (error instanceof LockedError)
    return new CallError(`${error.message}.`, "Stop the other one first, or give this one a file of its own with --db.");
  if (error instanceof StorageError)
    return new CallError(`${error.message}`, "Use the later version, or another file with --db.");
  if ((error as NodeJS.ErrnoException).code === "EADDRINUSE")
    return new CallError(
      `The address is in use: ${(error as Error).message}.`,
      "Choose another with --listen, e.g. --listen 4812.",
    );
  return error;
}

// ── Said ────────────────────────────────────────────────────────────────────────────────────────────────────────────────

function sayUnwired(own: House, house: House, simulated: boolean, says: Says): void {
  const { sensors, outputs } = unwired(overMqtt(own));
  const names = [...sensors, ...outputs];
  if (names.length === 0) return;
  const list = names.length > 6 ? `${names.slice(0, 6).join(", ")} and ${names.length - 6} more` : names.join(", ");
  if (simulated) {
    const [first] = house.wirings.filter(
      (one) => (one.kind === "reading" ? one.sensor : one.kind === "writing" ? one.output : "") === names[0],
    );
    says({
      weight: "info",
      about: "house",
      text: `not wired, and so on topics of their own: ${list} (${names[0]} on ${first?.topic})`,
    });
  } else
    says({
      weight: "warn",
      about: "house",
      text: `wired to nothing: ${list}; sensors stay unknown and outputs are told by nobody`,
    });
  const others = [...new Set(own.wirings.map(({ by }) => by))].filter((by) => by !== "mqtt");
  if (others.length > 0)
    says({ weight: "warn", about: "house", text: `wire ${others.join(", ")} is not MQTT, and nothing here speaks it` });
}

/** Each change of an output with its cause. */
function sayChanges(running: RunningHouse, says: Says): void {
  // What they were before is nothing new.
  const last = new Map<string, unknown>(running.house.outputs.map(({ name }) => [name, running.value(name)]));
  running.onRecord(({ event, at }) => {
    if (event.kind === "person") says({ weight: "info", about: "output", text: event.text });
    if (event.kind !== "sent" || last.get(event.output) === event.value) return;
    last.set(event.output, event.value);
    const { output, value } = event;
    // Its reason stands in the journal once the instant is over.
    queueMicrotask(() => {
      const why = running.house.outputs.some(({ name }) => name === output) ? whyInShort(running.run, output, at) : undefined;
      const text = `${output} ${sayValue(typeOf(running.house, output), value)}${why ? `: ${why}` : ""}`;
      says({ weight: "info", about: "output", text });
    });
  });
}

const WIDTH = 8;

/** On a terminal a line a note, with the house's time; for machines, JSON. */
function saysTo(io: Io, house: House, asJson: boolean, now: () => number): Says {
  if (asJson) return jsonLog((line) => io.out.write(line), now);
  const clock = clockOf(house.clock);
  const paint = { info: (text: string) => text, warn: io.paint.yellow, error: io.paint.red };
  return ({ weight, about, text }: RuntimeNote) =>
    void io.out.write(
      `${io.paint.dim(stamp(clock, now()).slice("2026-".length))} ${io.paint.dim(about.padEnd(WIDTH))} ${paint[weight](text)}\n`,
    );
}
