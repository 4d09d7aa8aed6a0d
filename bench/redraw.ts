// How long the playground takes to redraw the simulated day of one zone after a key: what the worker needs to read, run and
// describe it, and what the page needs to draw it, in a browser; next to them a plain redraw, of another zone of a day that
// has been run.
import { openBrowser } from "../scripts/lib/browser.mjs";
import { startDemo } from "../scripts/lib/demo-server.mjs";

const KEYS = 12;

interface Timed {
  readonly of: "run" | "draw";
  readonly worker: number;
  readonly drawing: number;
}

/** Notes, in the page, when a run or a redraw is asked for, when its chart comes, and when it has been drawn. */
function watch(): void {
  const Plain = window.Worker;
  const timed: Timed[] = [];
  Object.assign(window, { timed });
  window.Worker = class extends Plain {
    #asked: { of: Timed["of"]; at: number } | undefined;
    constructor(url: string | URL, options?: WorkerOptions) {
      super(url, options);
      super.addEventListener("message", ({ data }) => {
        if (data.kind !== "drawn" || !this.#asked) return;
        const come = performance.now();
        const { of, at } = this.#asked;
        this.#asked = undefined;
        // Drawn once the chart is another and has been painted.
        const changes = new MutationObserver(() => {
          changes.disconnect();
          requestAnimationFrame(() => setTimeout(() => timed.push({ of, worker: come - at, drawing: performance.now() - come })));
        });
        changes.observe(document.querySelector(".day .chart") as Element, { childList: true, subtree: true, attributes: true });
      });
    }
    override postMessage(message: { readonly kind: string }): void {
      if (message.kind === "run" || message.kind === "draw") this.#asked = { of: message.kind, at: performance.now() };
      super.postMessage(message);
    }
  };
}

const middle = (values: readonly number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? Number.NaN;

const demo = await startDemo();
const browser = await openBrowser({ viewport: { width: 1280, height: 800 } });
try {
  const page = await browser.context.newPage();
  await page.addInitScript(watch);
  await page.goto(demo.playground);
  await page.getByText("All 59 trials pass.").waitFor();
  await page.waitForTimeout(2000);
  const read = (): Promise<Timed[]> => page.evaluate(() => (window as unknown as { timed: Timed[] }).timed);
  /** Does something again and again, and gives what it took. */
  const times = async (of: Timed["of"], act: (time: number) => Promise<unknown>): Promise<Timed[]> => {
    const before = (await read()).length;
    for (let time = 0; time < KEYS; time++) {
      const known = (await read()).length;
      await act(time);
      for (let waited = 0; (await read()).length === known && waited < 100; waited++) await page.waitForTimeout(50);
      // What settles and is judged after it is over by then.
      await page.waitForTimeout(2000);
    }
    return (await read()).slice(before).filter((one) => one.of === of);
  };
  const zones = ["Timber store", "Bench room"] as const;
  const plain = await times("draw", (time) => page.getByText(zones[time % 2] as string, { exact: true }).click());
  await page.getByLabel("Text of rules.modrik").click();
  await page.keyboard.press("Control+Home");
  const keys = await times("run", (time) => page.keyboard.press(time % 2 === 0 ? "Space" : "Backspace"));
  const of = (list: readonly Timed[], part: "worker" | "drawing") => middle(list.map((one) => one[part]));
  const say = (part: "worker" | "drawing") => {
    const [key, again] = [of(keys, part), of(plain, part)];
    return `${part} ${key.toFixed(0)} ms, ${(key / again).toFixed(1)} x a plain redraw (${again.toFixed(0)} ms)`;
  };
  console.log(`${keys.length} keys: ${say("worker")}; ${say("drawing")} (medians)`);
} finally {
  await browser.end();
  demo.end();
}
