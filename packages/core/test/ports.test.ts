// A house over a transport and a store, with nothing else between: devices on topics, what they say, what they are told; a
// process that dies and another that goes on.
import {
  createEngine,
  type Engine,
  LifeSigns,
  LocalTransport,
  MemoryStore,
  parseHouse,
  Repeats,
  readConfirmation,
  readMessage,
  readSnapshot,
  type Snapshot,
  topicsHeard,
  writeMessages,
} from "modrik";
import { describe, expect, test } from "vitest";

const MINUTE = 60_000;
const START = Date.parse("2026-03-14T08:00Z");

const { house, problems } = parseHouse({
  "a.modrik": `
    house "A" { clock "UTC" }
    zone z {
      sensor x: °C, unknown after 30 min
      output heater: on/off
      output lamp: on/off
    }
    zone w { sensor y: lx }
    rule warm { keep z.x at 20 °C ± 1 K raise with z.heater }
    rule lit { while w.y below 100 lx until above 200 lx hold z.lamp at on }
    rule stuck { when z.heater disobeys for 1 min do { tell "stuck" } }
    wire w {
      z.x from "z/x"
      w.y from "w/y"
      z.heater to "z/heater" writing on as "1", off as "0" confirmed by "z/heater/is" again every 10 min
      z.lamp to "z/lamp"
      zone z alive while "z/here" reads "yes"
    }`,
});

test("the house is sound", () => expect(problems).toEqual([]));

/** As small a host as there can be: what a running house does, with a clock that is set by hand. */
class Host {
  readonly #transport: LocalTransport;
  readonly #store: MemoryStore<Snapshot>;
  readonly #signs = new LifeSigns(house);
  readonly #repeats = new Repeats(house);
  #engine!: Engine;
  #stop = () => {};
  now = START;

  constructor(transport: LocalTransport, store: MemoryStore<Snapshot>) {
    this.#transport = transport;
    this.#store = store;
  }

  async start(at: number): Promise<this> {
    this.now = at;
    const last = (await this.#store.load()).at(-1);
    this.#engine = createEngine(house, { at, ...(last && { restore: readSnapshot(last) }) });
    this.#stop = await this.#transport.subscribe(topicsHeard(house), (topic, text) => this.#hear(topic, text));
    await this.passTo(at);
    return this;
  }

  die(): void {
    this.#stop();
  }

  #hear(topic: string, text: string): void {
    for (const { isThere, sensors } of this.#signs.hear(topic, text))
      if (!isThere) for (const sensor of sensors) this.#engine.lose(sensor, this.now);
    for (const { sensor, value } of readMessage(house, topic, text))
      if (value !== undefined && this.#signs.isHeard(sensor)) this.#engine.report(sensor, value, this.now);
    for (const { output, value } of readConfirmation(house, topic, text)) this.#engine.confirm(output, value, this.now);
  }

  async passTo(at: number): Promise<void> {
    for (let next = this.#next(at); ; next = this.#next(at)) {
      this.now = next;
      this.#engine.advanceTo(next);
      const told = new Set([...this.#engine.takeChanges().map(({ output }) => output), ...this.#repeats.takeDue(next)]);
      for (const output of told) {
        const value = this.#engine.value(output);
        if (value === undefined) continue;
        this.#repeats.told(output, next);
        for (const message of writeMessages(house, output, value)) await this.#transport.publish(message, { keep: true });
      }
      await this.#store.append([this.#engine.snapshot()]);
      if (next === at) return;
    }
  }

  #next(at: number): number {
    return Math.min(at, Math.max(this.now, this.#engine.nextDeadline), this.#repeats.next);
  }

  value(name: string) {
    return this.#engine.value(name);
  }
}

/** A house on a transport, and all that it says, with its minute. */
async function running() {
  const transport = new LocalTransport();
  const store = new MemoryStore<Snapshot>();
  const said: string[] = [];
  let host = await new Host(transport, store).start(START);
  await transport.subscribe(["z/heater", "z/lamp"], (topic, text) =>
    said.push(`${(host.now - START) / MINUTE} ${topic} ${text}`),
  );
  said.length = 0;
  return {
    said,
    value: (name: string) => host.value(name),
    at: async (minute: number, topic?: string, text = "") => {
      await host.passTo(START + minute * MINUTE);
      if (topic !== undefined) await transport.publish({ topic, text });
      await host.passTo(START + minute * MINUTE);
    },
    restart: async (minute: number) => {
      host.die();
      host = await new Host(transport, store).start(START + minute * MINUTE);
    },
  };
}

describe("a house on a transport", () => {
  test("tells an output once when it changes, and again as often as its wiring says", async () => {
    const { at, said } = await running();
    await at(1, "z/x", "18");
    await at(5, "z/x", "18.5");
    await at(12);
    await at(13, "z/x", "22");
    await at(30);
    expect(said).toEqual(["1 z/heater 1", "11 z/heater 1", "13 z/heater 0", "23 z/heater 0"]);
  });

  test("does not count what a zone without a sign of life reads, and goes on when it is back", async () => {
    const { at, value } = await running();
    await at(1, "z/x", "18");
    await at(2, "w/y", "50");
    await at(3, "z/here", "no");
    expect([value("z.x"), value("w.y"), value("z.heater"), value("z.lamp")]).toEqual([undefined, 50, "off", "on"]);
    await at(4, "z/x", "18");
    expect(value("z.x")).toBeUndefined();
    await at(5, "z/here", "yes");
    expect(value("z.x")).toBeUndefined();
    await at(6, "z/x", "18");
    expect([value("z.x"), value("z.heater")]).toEqual([18, "on"]);
  });

  test("does not read what stands on other topics, nor what is no reading", async () => {
    const { at, value } = await running();
    await at(1, "z/x", "warm");
    await at(2, "z/elsewhere", "18");
    await at(3, "z/X", "18");
    expect(value("z.x")).toBeUndefined();
  });

  test.each([
    [1, 4],
    [3, 12],
    [2, 25],
  ])("a process that dies after minute %i and is followed by another in minute %i loses nothing", async (dies, back) => {
    const unbroken = await running();
    const broken = await running();
    for (const one of [unbroken, broken]) {
      await one.at(1, "z/x", "18");
      if (dies > 1) await one.at(2, "w/y", "50");
      if (dies > 2) await one.at(3, "z/x", "20.5");
      await one.at(dies);
    }
    await broken.restart(back);
    await unbroken.at(back);
    for (const name of ["z.x", "w.y", "z.heater", "z.lamp"])
      expect([name, broken.value(name)]).toEqual([name, unbroken.value(name)]);
    for (const one of [unbroken, broken]) await one.at(back + 1, "z/x", "22");
    expect(broken.said.at(-1)).toBe(`${back + 1} z/heater 0`);
    expect(unbroken.said.at(-1)).toBe(broken.said.at(-1));
  });
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
    await transport.publish({ topic: "a", text: "kept" }, { keep: true });
    await transport.publish({ topic: "a", text: "gone" });
    const stop = await transport.subscribe(["a", "b"], (topic, text) => heard.push(`${topic} ${text}`));
    await transport.publish({ topic: "b", text: "1" });
    await transport.publish({ topic: "c", text: "2" });
    stop();
    await transport.publish({ topic: "b", text: "3" });
    expect(heard).toEqual(["a kept", "b 1"]);
  });

  test("a store gives back what is plain, in its order", async () => {
    const store = new MemoryStore<unknown>();
    await store.append([{ a: 1 }, "x"]);
    await store.append([[null, { b: undefined }]]);
    expect(await store.load()).toEqual([{ a: 1 }, "x", [null, {}]]);
  });
});
