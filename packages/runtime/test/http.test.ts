// A running house over HTTP: what is asked and answered, as it is described; who may ask; what no request can do.
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { request as httpRequest } from "node:http";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { HouseFile, type HttpHouse, LocalLink, RunningHouse, serveHouse } from "@modrik/runtime";
import { Validator } from "@seriousme/openapi-schema-validator";
import { Ajv2020 } from "ajv/dist/2020.js";
import addFormats from "ajv-formats";
import { pick, seeded } from "modrik/testing";
import parseMetrics from "parse-prometheus-text-format";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { forMany } from "../../../test/patience.js";
import { HandClock, houseOf, MINUTE, START } from "./kit.js";

const house = houseOf(`
  house "A" { clock "Europe/Zurich" }
  zone z "Workshop" {
    note "Where the wood is."
    sensor x "Air": °C, -20..60 °C
    sensor door: open/closed
    sensor bell: press
    output heater "Heater": on/off
    output lamp: 0..100 %
    output sign: colour
    dial target "Warmth": 15..25 °C, at first 20 °C, step 0.5 K
  }
  mode season: winter/summer, at first winter
  countdown airing = 20 min
  preset cosy { z.heater at on, z.lamp at 40 % }
  schedule open { Mon..Sat 07:00 to 18:00 }
  schedule day_long { daily 00:00 to 24:00 }
  rule warm "Warm hands" { keep z.x at z.target ± 1 K raise with z.heater }
  rule lit as urgent { while z.door is open hold z.lamp at 80 % }
  rule told { when z.door becomes open do { tell "Somebody came." through phone } }
  let cold "Cold" = z.target - z.x
  guard safe { permit z.heater on only while z.x below 30 °C }
  guard one { never together z.heater, z.lamp, 2 s apart }
  wire mqtt { z.x from "x" z.door from "door" z.bell from "bell" z.heater to "heater" confirmed by "heater/is" z.lamp to "lamp" notices phone to "phone" }`);

let link: LocalLink;
let file: HouseFile;
let clock: HandClock;
let running: RunningHouse;
let http: HttpHouse;
/** What went wrong within. */
const wrong: string[] = [];

beforeAll(async () => {
  link = new LocalLink();
  file = new HouseFile(":memory:");
  clock = new HandClock();
  running = await new RunningHouse(house, { clock, link, file, says: () => {} }).start();
  http = await serveHouse({ running, file, version: "1.2.3", mostRequests: 1e9, says: ({ text }) => wrong.push(text) });
  await at(1, "x", "18");
  await at(2, "door", "open");
  await at(3, "door", "closed");
});
afterAll(async () => {
  expect(wrong).toEqual([]);
  await http.end();
  await running.stop();
});

async function at(minute: number, topic: string, text: string): Promise<void> {
  await clock.passTo(START + minute * MINUTE);
  await link.publish({ topic, text });
  await clock.passTo(START + minute * MINUTE + 1);
}

interface Answer {
  readonly status: number;
  readonly body: unknown;
}

async function ask(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Answer> {
  const response = await fetch(`${http.address}${path}`, {
    method,
    headers: { ...(body !== undefined && { "content-type": "application/json" }), ...headers },
    ...(body !== undefined && { body: typeof body === "string" ? body : JSON.stringify(body) }),
  });
  const text = await response.text();
  return { status: response.status, body: text.startsWith("{") || text.startsWith("[") ? JSON.parse(text) : text };
}

interface Document {
  readonly openapi: string;
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
  readonly components: { readonly schemas: Readonly<Record<string, unknown>> };
}

interface Operation {
  readonly operationId: string;
  readonly responses: Readonly<Record<string, { readonly content: Readonly<Record<string, { readonly schema: unknown }>> }>>;
}

let described: Promise<Document> | undefined;
const documentOf = (): Promise<Document> => {
  described ??= ask("GET", "/openapi.json").then(({ body }) => body as Document);
  return described;
};

/** What is wrong with an answer by the description of its operation. */
async function misfits(method: string, template: string, { status, body }: Answer): Promise<unknown> {
  const document = await documentOf();
  const schema = document.paths[template]?.[method.toLowerCase()]?.responses[status]?.content["application/json"]?.schema;
  if (schema === undefined) return `${status} is not described`;
  const ajv = addFormats.default(new Ajv2020({ strict: false, allErrors: true }));
  const check = ajv.compile({ ...(schema as object), components: document.components });
  return check(body) ? undefined : check.errors;
}

describe("what is described", () => {
  test("is a document of OpenAPI 3.1, says a validator of others", async () => {
    const { valid, errors } = await new Validator().validate((await documentOf()) as unknown as Record<string, unknown>);
    expect(errors ?? []).toEqual([]);
    expect(valid).toBe(true);
  });

  const asked: readonly [method: string, template: string, path: string, status: number, body?: unknown][] = [
    ["GET", "/house", "/house", 200],
    ["GET", "/healthz", "/healthz", 200],
    ["GET", "/zones", "/zones", 200],
    ["GET", "/zones/{name}", "/zones/z", 200],
    ["GET", "/zones/{name}", "/zones/q", 404],
    ["GET", "/outputs", "/outputs", 200],
    ["GET", "/outputs/{name}", "/outputs/z.heater", 200],
    ["GET", "/outputs/{name}", "/outputs/z.sign", 200],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.heater/hand", 200, { value: "on", lasts: "30 min" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.lamp/hand", 200, { value: "35 %" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.sign/hand", 200, { value: "amber" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.lamp/hand", 400, { value: 135 }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.lamp/hand", 400, { value: 35, lasts: "long" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.lamp/hand", 400, { value: 35, until: "never" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.q/hand", 404, { value: 35 }],
    ["DELETE", "/outputs/{name}/hand", "/outputs/z.heater/hand", 200],
    ["GET", "/dials", "/dials", 200],
    ["GET", "/dials/{name}", "/dials/z.target", 200],
    ["PUT", "/dials/{name}", "/dials/z.target", 200, { value: 21.5 }],
    ["PUT", "/dials/{name}", "/dials/z.target", 200, { value: "68 °F" }],
    ["PUT", "/dials/{name}", "/dials/z.target", 400, { value: 40 }],
    ["PUT", "/dials/{name}", "/dials/z.target", 400, { value: "warm" }],
    ["PUT", "/dials/{name}", "/dials/z.target", 400, {}],
    ["GET", "/modes", "/modes", 200],
    ["GET", "/modes/{name}", "/modes/season", 200],
    ["PUT", "/modes/{name}", "/modes/season", 200, { value: "summer" }],
    ["PUT", "/modes/{name}", "/modes/season", 400, { value: "spring" }],
    ["GET", "/countdowns", "/countdowns", 200],
    ["PUT", "/countdowns/{name}", "/countdowns/airing", 200, { running: true }],
    ["GET", "/countdowns/{name}", "/countdowns/airing", 200],
    ["PUT", "/countdowns/{name}", "/countdowns/airing", 200, { running: false }],
    ["GET", "/presets", "/presets", 200],
    ["POST", "/presets/{name}", "/presets/cosy", 200, {}],
    ["POST", "/presets/{name}", "/presets/q", 404, {}],
    ["GET", "/schedules", "/schedules", 200],
    ["GET", "/schedules/{name}", "/schedules/day_long", 200],
    ["GET", "/rules", "/rules", 200],
    ["PUT", "/rules/{name}/pause", "/rules/lit/pause", 200, { lasts: 60_000 }],
    ["GET", "/rules/{name}", "/rules/lit", 200],
    ["DELETE", "/rules/{name}/pause", "/rules/lit/pause", 200],
    ["POST", "/rules/{name}/run", "/rules/told/run", 200, {}],
    ["GET", "/now", "/now", 200],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.heater/hand", 200, { value: "on", until: "22:00" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.heater/hand", 200, { value: "on", until: "open" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.heater/hand", 200, { value: "on", until: "released" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.heater/hand", 400, { value: "on", until: "25:00" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.heater/hand", 400, { value: "on", until: "day_long" }],
    ["PUT", "/outputs/{name}/hand", "/outputs/z.heater/hand", 400, { value: "on", until: "22:00", lasts: "1 h" }],
    ["DELETE", "/outputs/{name}/hand", "/outputs/z.heater/hand", 200],
    ["GET", "/dials/{name}/points", "/dials/z.target/points", 200],
    ["GET", "/dials/{name}/points", "/dials/z.target/points?value=22", 200],
    ["GET", "/dials/{name}/points", "/dials/season/points?value=summer", 200],
    ["GET", "/dials/{name}/points", "/dials/z.target/points?value=99", 400],
    ["GET", "/dials/{name}/points", "/dials/z.q/points", 404],
    ["PUT", "/countdowns/{name}", "/countdowns/airing", 200, { running: true, lasts: "5 min" }],
    ["PUT", "/countdowns/{name}", "/countdowns/airing", 400, { running: true, lasts: "soon" }],
    ["GET", "/lets", "/lets", 200],
    ["GET", "/lets/{name}", "/lets/cold", 200],
    ["PUT", "/notices/{name}/ticked", "/notices/999999/ticked", 404, {}],
    ["GET", "/chart", "/chart?zone=z&width=500", 200],
    ["GET", "/chart", "/chart?of=z.x,z.heater&mean=yes&theme=dark", 200],
    ["GET", "/chart", "/chart?zone=q", 404],
    ["GET", "/chart", "/chart?of=z.x,q", 404],
    ["GET", "/chart", "/chart?width=9", 400],
    ["GET", "/chart", "/chart?from=2020-01-01T00:00Z&to=2020-01-02T00:00Z", 404],
    ["GET", "/chart", "/chart?from=2020-01-01T00:00Z&to=2026-01-02T00:00Z", 400],
    ["GET", "/coming", "/coming", 200],
    ["GET", "/me", "/me", 200],
    ["GET", "/people", "/people", 200],
    ["POST", "/people", "/people", 200, { name: "Tablet in the hall", may: "look" }],
    ["POST", "/people", "/people", 400, { name: "<b>", may: "look" }],
    ["POST", "/people", "/people", 400, { name: "Ada", may: "rule" }],
    ["DELETE", "/people/{name}", "/people/Tablet%20in%20the%20hall", 200],
    ["DELETE", "/people/{name}", "/people/nobody", 404],
    ["GET", "/why", "/why", 400],
    ["GET", "/why", "/why?notice=999999", 404],
    ["GET", "/guards", "/guards", 200],
    ["GET", "/guards/{name}", "/guards/one", 200],
    ["GET", "/notices", "/notices", 200],
    ["GET", "/notices", "/notices?limit=1", 200],
    ["GET", "/notices", "/notices?limit=0", 400],
    ["GET", "/notices", "/notices?from=yesterday", 400],
    ["GET", "/notices", "/notices?from=2026-03-14T09:00Z&to=2026-03-14T08:00Z", 400],
    ["GET", "/journal", "/journal", 200],
    ["GET", "/journal", "/journal?kinds=output,notice&of=z.heater", 200],
    ["GET", "/journal", "/journal?kinds=outputs", 400],
    ["GET", "/chart", "/chart?of=z.target", 404],
    ["GET", "/journal", "/journal?from=2026-03-01T00:00Z&to=2026-03-14T00:00Z", 400],
    ["GET", "/history", "/history?of=z.x", 200],
    ["GET", "/history", "/history?of=z.target", 200],
    ["GET", "/history", "/history", 400],
    ["GET", "/history", "/history?of=z.q", 404],
    ["GET", "/why", "/why?of=z.heater", 200],
    ["GET", "/why", "/why?of=z.heater&at=2026-03-14T08:01:30Z", 200],
    ["GET", "/why", "/why?of=z.heater&not=off", 200],
    ["GET", "/why", "/why?of=z.heater&not=", 200],
    ["GET", "/why", "/why?of=z.heater&not=blue", 400],
    ["GET", "/why", "/why?of=lit", 200],
    ["GET", "/why", "/why?of=nothing", 404],
    ["GET", "/why", "/why?of=z.x&at=2030-01-01T00:00Z", 400],
    ["GET", "/why", "/why?of=z.x&at=2020-01-01T00:00Z", 404],
  ];
  test.each(asked)("%s %s at %s answers %i as described", async (method, template, path, status, body) => {
    const answer = await ask(method, path, body);
    expect([answer.status, JSON.stringify(answer.body).slice(0, 300)]).toEqual([status, expect.any(String)]);
    expect(await misfits(method, template, answer)).toBeUndefined();
  });

  test("every operation is asked above, with one answer at least", async () => {
    const { paths } = await documentOf();
    const known = new Set(asked.map(([method, template]) => `${method} ${template}`));
    const all = Object.entries(paths).flatMap(([path, operations]) =>
      Object.keys(operations).map((method) => `${method.toUpperCase()} ${path}`),
    );
    // Not JSON, or asked in a test of their own below.
    const others = new Set(["GET /events", "GET /metrics", "GET /presets/{name}", "GET /recording.csv"]);
    expect(all.filter((one) => !known.has(one) && !others.has(one))).toEqual([]);
  });
});

describe("what a person does", () => {
  test("happens, is answered with what came of it, and stands in the journal with who and from where", async () => {
    const set = await ask("PUT", "/dials/z.target", { value: "70 °F" }, { "modrik-who": "Ada <b>" });
    expect(set.body).toMatchObject({ name: "z.target", value: expect.closeTo(21.111, 3), unit: "°C", says: "21.1 °C" });
    const { body } = await ask("GET", "/journal?limit=10000");
    const last = (body as { kind: string }[]).findLast(({ kind }) => kind === "person");
    expect(last).toMatchObject({ kind: "person", value: "set z.target to 21.1 °C", who: "Ada b", from: "127.0.0.1" });
  });

  test("by hand beats rules for its time, and why says so", async () => {
    await ask("PUT", "/outputs/z.heater/hand", { value: "off", lasts: "10 min" });
    const { body } = await ask("GET", "/outputs/z.heater");
    expect(body).toMatchObject({
      value: "off",
      hand: { until: new Date(running.now + 600_000).toISOString() },
      words: ["on", "off"],
    });
    const why = await ask("GET", "/why?of=z.heater");
    expect(JSON.stringify(why.body)).toContain("hand");
    await ask("DELETE", "/outputs/z.heater/hand");
    expect((await ask("GET", "/outputs/z.heater")).body).not.toHaveProperty("hand");
  });

  test("a hand, with who took it, until when, and the guard that refuses it", async () => {
    await ask("PUT", "/outputs/z.lamp/hand", { value: 20, until: "released" }, { "modrik-who": "Ada" });
    expect((await ask("GET", "/outputs/z.lamp")).body).toMatchObject({
      hand: { until: null, endsWith: [], who: "Ada" },
      isOn: true,
    });
    await ask("PUT", "/outputs/z.lamp/hand", { value: 20, until: "open" });
    // The shop is open on this Saturday until six, on the clock of Zurich.
    expect((await ask("GET", "/outputs/z.lamp")).body).toMatchObject({
      hand: { until: "2026-03-14T17:00:00.000Z", who: "somebody" },
    });
    await ask("DELETE", "/outputs/z.lamp/hand");
    await at(10, "x", "31");
    const refused = await ask("PUT", "/outputs/z.heater/hand", { value: "on", lasts: "1 h" });
    expect(refused.body).toMatchObject({
      value: "off",
      guard: "safe",
      hand: { refused: "safe" },
      briefly: expect.stringMatching(/^safe: /),
    });
    await ask("DELETE", "/outputs/z.heater/hand");
    await at(11, "x", "18");
  });

  test("a dial has what it was before, and who changed it; what another value would do is told beforehand", async () => {
    await ask("PUT", "/dials/z.target", { value: 19 });
    await at(12, "x", "18");
    await ask("PUT", "/dials/z.target", { value: 22 }, { "modrik-who": "Ada" });
    expect((await ask("GET", "/dials/z.target")).body).toMatchObject({
      says: "22 °C",
      before: { value: 19, says: "19 °C" },
      who: "Ada",
    });
    const { body } = await ask("GET", "/dials/z.target/points?value=24.5");
    expect(body).toEqual([
      { says: 'warm "Warm hands"', because: [{ says: "z.heater: on below 23.5 °C, off above 25.5 °C", because: [] }] },
    ]);
    expect((await ask("GET", "/dials/z.target")).body).toMatchObject({ says: "22 °C" });
  });

  test("a preset has what it would change now", async () => {
    expect((await ask("GET", "/presets/cosy")).body).toMatchObject({
      sets: ["z.heater", "z.lamp"],
      changes: expect.arrayContaining([{ name: "z.lamp", now: "0 %", then: "40 %" }]),
    });
    await at(13, "x", "18");
    await ask("POST", "/presets/cosy", {}, { "modrik-who": "Bob" });
    // Whoever took them by hand before: this is Bob's. A guard lets one of them run.
    expect((await ask("GET", "/outputs/z.heater")).body).toMatchObject({ says: "on", hand: { who: "Bob" } });
    expect((await ask("GET", "/outputs/z.lamp")).body).toMatchObject({ says: "0 %", hand: { who: "Bob", refused: "one" } });
    for (const output of ["z.lamp", "z.heater"]) await ask("DELETE", `/outputs/${output}/hand`);
  });

  test("what is not as it should be is told of, the gravest first", async () => {
    const concerns = async () => ((await ask("GET", "/now")).body as { concerns: { kind: string; thing?: string }[] }).concerns;
    await ask("PUT", "/rules/lit/pause", { lasts: "1 h" });
    link.turn(false);
    expect((await concerns()).map(({ kind, thing = "" }) => `${kind} ${thing}`.trim())).toEqual(
      expect.arrayContaining(["broker", "paused lit"]),
    );
    expect((await concerns())[0]?.kind).toBe("broker");
    link.turn(true);
    await ask("DELETE", "/rules/lit/pause");
    expect((await concerns()).map(({ kind }) => kind)).not.toContain("broker");
  });

  test("the past is had as a table, a row a moment", async () => {
    const response = await fetch(`${http.address}/recording.csv?of=z.x,z.heater&from=2026-03-14T08:00:00Z`);
    expect(response.headers.get("content-type")).toBe("text/csv; charset=utf-8");
    const [head, ...rows] = (await response.text()).trim().split(/\r?\n/);
    expect(head).toMatch(/z\.x.*z\.heater/);
    expect(rows[0]).toContain("2026-03-14T08:0");
    expect((await fetch(`${http.address}/recording.csv?zone=q`)).status).toBe(404);
  });

  test("the journal is told by kind and by thing, with what people did to it", async () => {
    const kinds = async (query: string) =>
      new Set(((await ask("GET", `/journal?limit=10000&${query}`)).body as { kind: string }[]).map(({ kind }) => kind));
    expect(await kinds("kinds=output,notice")).toEqual(new Set(["output", "notice"]));
    expect(await kinds("of=z.lamp")).toEqual(new Set(["output", "person"]));
    expect(await kinds("of=told&kinds=notice")).toEqual(new Set(["notice"]));
  });

  test("a notice is ticked off once somebody has seen to it, and why it was sent is told", async () => {
    const { body } = await ask("GET", "/notices");
    const [notice] = body as { id: number; text: string; sentTo: string[] }[];
    expect(notice).toMatchObject({ text: "Somebody came.", through: "phone", sentTo: ["phone"], rule: "told" });
    const why = await ask("GET", `/why?notice=${notice?.id}`);
    expect(JSON.stringify(why.body)).toContain("z.door");
    const open = async () => ((await ask("GET", "/now")).body as { notices: { id: number }[] }).notices.map(({ id }) => id);
    expect(await open()).toContain(notice?.id);
    const ticked = await ask("PUT", `/notices/${notice?.id}/ticked`, {}, { "modrik-who": "Ada" });
    expect(ticked.body).toMatchObject({ id: notice?.id, ticked: { who: "Ada" } });
    expect(await open()).not.toContain(notice?.id);
    await ask("POST", "/rules/told/run", {});
    const [byHand] = ((await ask("GET", "/now")).body as { notices: { id: number }[] }).notices;
    expect(JSON.stringify((await ask("GET", `/why?notice=${byHand?.id}`)).body)).toContain("rule told was run by hand");
  });

  test.each([
    ["a value out of range", "/dials/z.target", { value: 40 }, "z.target cannot be 40: its range is 15..25 °C."],
    ["a word it has not", "/modes/season", { value: "spring" }, 'season cannot be "spring": it is one of winter/summer.'],
    ["a thing there is not", "/dials/z.tagret", { value: 40 }, 'The house has no dial called "z.tagret".'],
  ])("%s is refused in words", async (_, path, body, says) => {
    expect((await ask("PUT", path, body)).body).toMatchObject({ says });
  });
});

interface Told {
  readonly id: number;
  readonly event: string;
  readonly data: Record<string, unknown>;
}

const listen = (path: string, headers: Record<string, string> = {}) => fetch(`${http.address}${path}`, { headers });

/** Events as they come, until so many were read. */
const events = async (path: string, count: number, headers: Record<string, string> = {}) =>
  read(await listen(path, headers), count);

async function read(response: Response, count: number): Promise<Told[]> {
  expect(response.headers.get("content-type")).toBe("text/event-stream");
  const found: Told[] = [];
  const reader = (response.body as ReadableStream<Uint8Array>).getReader();
  const decoder = new TextDecoder();
  let text = "";
  while (found.length < count) {
    const { value, done } = await reader.read();
    if (done) break;
    text += decoder.decode(value, { stream: true });
    const whole = text.split("\n\n");
    text = whole.pop() ?? "";
    for (const block of whole) {
      const fields = Object.fromEntries(
        block.split("\n").map((line) => [line.slice(0, line.indexOf(":")), line.slice(line.indexOf(":") + 2)]),
      );
      if (fields.event) found.push({ id: Number(fields.id), event: fields.event, data: JSON.parse(fields.data as string) });
    }
  }
  await reader.cancel();
  return found.slice(0, count);
}

describe("what happens is told as it happens", () => {
  test("and who was away goes on behind the last event heard", async () => {
    const listening = read(await listen("/events"), 2);
    await ask("PUT", "/dials/z.target", { value: 16 });
    await ask("PUT", "/dials/z.target", { value: 24.5 });
    const heard = await listening;
    expect(heard[0]).toMatchObject({ event: "value", data: { thing: "z.target", value: 16 } });
    await ask("PUT", "/dials/z.target", { value: 17 });
    const after = await events("/events", 2, { "last-event-id": String(heard[0]?.id) });
    expect(after[0]?.id).toBe(heard[1]?.id);
    const ids = (await events("/events?after=0", 10)).map(({ id }) => id);
    expect(ids).toEqual([...ids].sort((a, b) => a - b));
    expect(new Set(ids).size).toBe(10);
  });
});

describe("figures for a monitor", () => {
  test("are OpenMetrics, read by a parser of others", async () => {
    const response = await fetch(`${http.address}/metrics`);
    expect(response.headers.get("content-type")).toBe("application/openmetrics-text; version=1.0.0; charset=utf-8");
    const text = await response.text();
    expect(text.trimEnd().endsWith("# EOF")).toBe(true);
    const families = parseMetrics(text) as {
      name: string;
      type: string;
      metrics: { value: string; labels?: Record<string, string> }[];
    }[];
    const family = (name: string) => families.find((one) => one.name === name)?.metrics ?? [];
    expect(Number(family("modrik_messages_total")[0]?.value ?? family("modrik_messages")[0]?.value)).toBe(
      running.counts.messages,
    );
    expect(family("modrik_value").find(({ labels }) => labels?.thing === "z.x")).toMatchObject({
      value: "18",
      labels: { unit: "°C" },
    });
    const states = family("modrik_state").filter(({ labels }) => labels?.thing === "z.door");
    expect(states.map(({ labels, value }) => `${labels?.state} ${value}`)).toEqual(["open 0", "closed 1"]);
  });
});

/** A request as it is written, with headers that `fetch` would not send. */
function raw(
  path: string,
  headers: Record<string, string>,
  method = "GET",
  address = http.address,
): Promise<{ status: number; text: string }> {
  const { port, hostname } = new URL(address);
  return new Promise((done, failed) => {
    const sent = httpRequest({ host: hostname, port, path, method, headers }, (response) => {
      let text = "";
      response.on("data", (bytes) => {
        text += String(bytes);
      });
      response.on("end", () => done({ status: response.statusCode ?? 0, text }));
    });
    sent.on("error", failed);
    sent.end();
  });
}

describe("who may ask", () => {
  test.each([
    ["a page of elsewhere", { host: "127.0.0.1", origin: "https://evil.example" }, 403],
    ["a page of elsewhere that says null", { host: "127.0.0.1", origin: "null" }, 403],
    ["by a name that was turned to this machine", { host: "evil.example" }, 403],
    ["by a name that begins as ours", { host: "localhost.evil.example" }, 403],
    ["this machine, by name", { host: "localhost" }, 200],
    ["this machine, in IPv6", { host: "[::1]:80" }, 200],
  ])("%s", async (_, headers, status) => {
    expect((await raw("/house", headers)).status).toBe(status);
  });

  test("its own page may", async () => {
    const { host } = new URL(http.address);
    expect((await raw("/house", { host, origin: http.address })).status).toBe(200);
  });

  test("nothing may be embedded, guessed or kept by a browser", async () => {
    const { headers } = await fetch(`${http.address}/house`);
    expect(headers.get("content-security-policy")).toContain("default-src 'self'");
    expect([headers.get("x-content-type-options"), headers.get("x-frame-options")]).toEqual(["nosniff", "DENY"]);
    expect(headers.get("access-control-allow-origin")).toBeNull();
  });

  test("from elsewhere a token is needed: made and shown once, kept as a hash", async () => {
    const own = new HouseFile(":memory:");
    const open = await serveHouse({ running, file: own, version: "1", host: "0.0.0.0", mostRequests: 1e9 });
    const address = open.address.replace("0.0.0.0", "127.0.0.1");
    const status = async (headers: Record<string, string>) => (await fetch(`${address}/house`, { headers })).status;
    expect(open.token).toMatch(/^[\w-]{32}$/);
    expect(await status({})).toBe(401);
    expect(await status({ authorization: "Bearer wrong" })).toBe(401);
    expect(await status({ authorization: `Basic ${open.token}` })).toBe(401);
    expect(await status({ authorization: `Bearer ${open.token}` })).toBe(200);
    expect((await fetch(`${address}/healthz`)).status).toBe(200);
    expect((await fetch(`${address}/nothing`)).status).toBe(401);
    expect(own.people().map(({ name, may }) => [name, may])).toEqual([["owner", "act"]]);
    expect(own.people()[0]?.hash).not.toContain(open.token ?? "");
    await open.end();
    const again = await serveHouse({ running, file: own, version: "1", host: "0.0.0.0" });
    expect(again.token).toBeUndefined();
    await again.end();
  });

  test("who was given a token that only looks reads all and changes nothing; it is good until it is taken back", async () => {
    const given = (await ask("POST", "/people", { name: "Ada's tablet".replace("'", ""), may: "look" })).body as {
      token: string;
    };
    const headers = { authorization: `Bearer ${given.token}` };
    expect((await ask("GET", "/me", undefined, headers)).body).toEqual({ name: "Adas tablet", may: "look", hasToken: true });
    expect((await ask("GET", "/now", undefined, headers)).status).toBe(200);
    const changes: [string, string, unknown][] = [
      ["PUT", "/dials/z.target", { value: 20 }],
      ["DELETE", "/outputs/z.lamp/hand", undefined],
      ["POST", "/people", { name: "Eve", may: "act" }],
      ["DELETE", "/people/Adas%20tablet", undefined],
    ];
    for (const [method, path, body] of changes) expect((await ask(method, path, body, headers)).status).toBe(403);
    const acting = (await ask("POST", "/people", { name: "Eve", may: "act" })).body as { token: string };
    const eve = { authorization: `Bearer ${acting.token}`, "modrik-who": "Mallory" };
    await ask("PUT", "/dials/z.target", { value: 23 }, eve);
    // Who has a token depends on its name.
    expect((await ask("GET", "/dials/z.target")).body).toMatchObject({ who: "Eve" });
    const listening = await listen("/events", headers);
    await ask("DELETE", "/people/Adas%20tablet");
    // What was open is closed too.
    expect(await listening.text()).toContain(": here");
    expect((await ask("GET", "/now", undefined, headers)).status).toBe(401);
    await ask("DELETE", "/people/Eve");
  });

  test("nobody asks too often, nor too much at once", async () => {
    const folder = mkdtempSync(join(tmpdir(), "page-"));
    writeFileSync(join(folder, "index.html"), "<p>The panel</p>");
    const slow = await serveHouse({
      running,
      file: new HouseFile(":memory:"),
      version: "1",
      mostRequests: 20,
      pages: [{ at: "/panel", folder }],
    });
    const all = await Promise.all(
      Array.from({ length: 30 }, () => fetch(`${slow.address}/healthz`).then(({ status }) => status)),
    );
    expect(all.filter((status) => status === 429).length).toBe(10);
    // The files of a page are not counted: it would be this answer in its place.
    const page = await Promise.all(
      Array.from({ length: 30 }, () => fetch(`${slow.address}/panel/`).then(({ status }) => status)),
    );
    expect([...new Set(page)]).toEqual([200]);
    await slow.end();
    rmSync(folder, { recursive: true });
    expect((await ask("PUT", "/dials/z.target", { value: "x".repeat(20_000) })).status).toBe(413);
  });

  test.each([
    "/../package.json",
    "/..%2f..%2fetc/passwd",
    "/zones/..%2f..%2f",
    "/%00",
    "/zones/%ff",
    "//etc/passwd",
    "/zones/%2e%2e/%2e%2e",
  ])("%s leads nowhere", async (path) => {
    const { status, text } = await raw(path, { host: "127.0.0.1" });
    expect([400, 404]).toContain(status);
    expect(text).not.toContain("root:");
  });
});

describe("whatever is asked", () => {
  const COUNT = Number(process.env.MODRIK_REQUESTS ?? 3000);
  test(`${COUNT} made-up requests never get a 500, and the house goes on`, forMany(COUNT), async () => {
    const { paths } = await documentOf();
    const random = seeded(Number(process.env.MODRIK_SEED ?? 1));
    const names = [
      "z.heater",
      "z.lamp",
      "z.target",
      "season",
      "airing",
      "cosy",
      "lit",
      "warm",
      "safe",
      "z",
      "z.x",
      "q",
      "",
      "%",
      "%00",
      "a".repeat(300),
      "__proto__",
      "constructor",
      "ü",
      "z.heater%2Fhand",
    ];
    const values = [
      0,
      1,
      -1,
      1e308,
      20,
      null,
      true,
      "on",
      "off",
      "20 °C",
      "NaN",
      "",
      "amber",
      "#ffffff",
      [],
      {},
      "x".repeat(500),
      "1e999",
      "∞",
      "30 min",
      { __proto__: 1 },
    ];
    const times = [
      "2026-03-14T08:01:00Z",
      "2026-03-14",
      "0000-00-00",
      "9999-12-31T23:59:59Z",
      "-1",
      "",
      "now",
      "2026-02-30T00:00Z",
      "1e9",
    ];
    const methods = ["GET", "PUT", "POST", "DELETE", "PATCH", "OPTIONS", "HEAD"] as const;
    const statuses = new Map<number, number>();
    for (let one = 0; one < COUNT; one++) {
      const path = pick(random, [...Object.keys(paths).filter((known) => known !== "/events"), "/x", "/healthz/x"]).replace(
        "{name}",
        pick(random, names),
      );
      const query =
        random() < 0.5
          ? ""
          : `?${pick(random, ["of", "at", "from", "to", "limit", "not", "after", "__proto__"])}=${encodeURIComponent(String(pick(random, [...names, ...times, "5", "-5"])))}&${pick(random, ["of", "at", "to", "limit"])}=${encodeURIComponent(String(pick(random, [...names, ...times])))}`;
      const body = pick(random, [
        undefined,
        JSON.stringify({ value: pick(random, values) }),
        JSON.stringify({ value: pick(random, values), lasts: pick(random, values) }),
        JSON.stringify({ running: pick(random, values) }),
        JSON.stringify(pick(random, values)),
        "{",
        '{"value":1e999}',
        '{"__proto__":{"value":1}}',
      ]);
      const { statusCode } = await http.app.inject({
        method: pick(random, methods),
        url: `${path}${query}`,
        headers: {
          host: "127.0.0.1",
          ...(body !== undefined && {
            "content-type": pick(random, ["application/json", "application/json", "text/plain", "x"]),
          }),
        },
        ...(body !== undefined && { payload: body }),
      });
      statuses.set(statusCode, (statuses.get(statusCode) ?? 0) + 1);
      if (statusCode >= 500) expect(`${path}${query} ${body}`).toBe("no 500");
    }
    expect([...statuses.keys()].sort()).toEqual(expect.arrayContaining([200, 400, 404]));
    expect((await ask("GET", "/healthz")).status).toBe(200);
  });
});
