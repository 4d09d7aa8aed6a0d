// How long the playground takes to redraw the simulated day of one zone after a key: what the worker needs to run and
// describe it, and what the page needs to draw it, in a browser. Without the pause in which a writer may go on.
import { openBrowser } from "../scripts/lib/browser.mjs";
import { startDemo } from "../scripts/lib/demo-server.mjs";

const KEYS = 12;

interface Timed {
  readonly worker: number;
  readonly drawing: number;
}

/** Notes, in the page, when a run is asked for, when its chart comes, and when it has been drawn. */
function watch(): void {
  const Plain = window.Worker;
  const timed: Timed[] = [];
  Object.assign(window, { timed });
  window.Worker = class extends Plain {
    #asked = Number.NaN;
    constructor(url: string | URL, options?: WorkerOptions) {
      super(url, options);
      super.addEventListener("message", ({ data }) => {
        if (data.kind !== "drawn" || Number.isNaN(this.#asked)) return;
        const come = performance.now();
        const worker = come - this.#asked;
        this.#asked = Number.NaN;
        requestAnimationFrame(() => setTimeout(() => timed.push({ worker, drawing: performance.now() - come })));
      });
    }
    override postMessage(message: { readonly kind: string }): void {
      if (message.kind === "run") this.#asked = performance.now();
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
  const read = (): Promise<Timed[]> => page.evaluate(() => (window as unknown as { timed: Timed[] }).timed);
  const editor = page.getByLabel("Text of rules.modrik");
  await editor.click();
  await page.keyboard.press("Control+Home");
  const before = (await read()).length;
  for (let key = 1; key <= KEYS; key++) {
    await page.keyboard.press(key % 2 === 1 ? "Space" : "Backspace");
    for (let waited = 0; (await read()).length < before + key && waited < 100; waited++) await page.waitForTimeout(50);
    await page.waitForTimeout(1500);
  }
  const times = (await read()).slice(before);
  const [worker, drawing] = [middle(times.map((one) => one.worker)), middle(times.map((one) => one.drawing))];
  console.log(`${times.length} keys: worker ${worker.toFixed(0)} ms, drawing ${drawing.toFixed(0)} ms (medians)`);
} finally {
  await browser.end();
  demo.end();
}
