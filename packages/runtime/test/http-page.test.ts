// The page on HTTP: it has every request that can be made, and each example on it is made of Linden Yard.
import { readdirSync, readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { HouseFile, type HttpHouse, LocalLink, RunningHouse, serveHouse } from "@modrik/runtime";
import { parseHouse } from "modrik";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { HandClock, MINUTE, START } from "./kit.js";

const root = fileURLToPath(new URL("../../../", import.meta.url));
const page = readFileSync(`${root}docs/http.md`, "utf8");

function lindenYard() {
  const folder = `${root}examples/linden-yard/`;
  const names = (readdirSync(folder, { recursive: true }) as string[]).filter((name) => name.endsWith(".modrik"));
  const files = Object.fromEntries(names.map((name) => [name, readFileSync(`${folder}${name}`, "utf8")]));
  return parseHouse(files, { calendars: { "holidays.ics": [] } }).house;
}

let running: RunningHouse;
let http: HttpHouse;
beforeAll(async () => {
  const clock = new HandClock();
  const file = new HouseFile(":memory:");
  const link = new LocalLink();
  running = await new RunningHouse(lindenYard(), { clock, link, file, says: () => {} }).start();
  http = await serveHouse({ running, file, version: "1.2.3", says: () => {} });
  await link.publish({ topic: "linden/bench/air", text: '{"temperature":15.5,"humidity":44.8}' });
  await clock.passTo(START + MINUTE);
});
afterAll(async () => {
  await http.end();
  await running.stop();
});

test("it has every request of the description, and no other", async () => {
  const { paths } = (await (await fetch(`${http.address}/openapi.json`)).json()) as { paths: Record<string, object> };
  const described = Object.entries(paths).flatMap(([path, methods]) =>
    Object.keys(methods).map((method) => `${method.toUpperCase()} ${path}`),
  );
  // The parts in an address that stand for a name are written so; examples, with bodies after, are not looked at here.
  const written = new Set([...page.matchAll(/`((?:GET|PUT|POST|DELETE) [^`\s]+)`/g)].map(([, request]) => request));
  expect([...written].sort()).toEqual(described.sort());
});

const examples = [...page.matchAll(/```http\n([\s\S]*?)```/g)].flatMap(([, lines = ""]) => lines.trim().split("\n"));

describe("each example is answered as it says", () => {
  test.each(examples)("%s", async (line) => {
    const [, method = "", path = "", body, status = "200"] = /^([A-Z]+) (\S+)(?: (\{.*\}))?(?: (\d{3}))?$/.exec(line) ?? [];
    const response = await fetch(`${http.address}${path}`, {
      method,
      ...(body !== undefined && { body, headers: { "content-type": "application/json" } }),
    });
    const said = (await response.json()) as { says?: unknown };
    expect([response.status, said]).toEqual([Number(status), expect.anything()]);
    if (status !== "200") expect(said.says).toMatch(/\.$/);
  });
});
