// The stream of what happens in the house: listened to for as long as the page is open, again whenever it breaks.
import { createParser } from "eventsource-parser";
import { at, credentials } from "./ask.js";

/** Whether the house is heard, and since when not. */
export type Connection =
  | { readonly kind: "connecting" }
  | { readonly kind: "live" }
  | { readonly kind: "lost"; readonly since: number };

/** ms: the house says something at least every 15 s. */
const SILENCE = 35_000;
const WAITS = [500, 1000, 2000, 4000, 8000, 15_000];

/**
 * Listens until told otherwise, while somebody looks. `happened` is called when something did, and when the house is heard
 * again.
 */
export function listen(happened: () => void, turned: (connection: Connection) => void): () => void {
  const ended = new AbortController();
  void (async () => {
    let failed = 0;
    let lostAt: number | undefined;
    const opened = () => {
      failed = 0;
      lostAt = undefined;
      turned({ kind: "live" });
      happened();
    };
    while (!ended.signal.aborted) {
      await somebodyLooks(ended.signal);
      const looksAway = new AbortController();
      const look = () => document.visibilityState === "hidden" && looksAway.abort();
      document.addEventListener("visibilitychange", look);
      await once(AbortSignal.any([ended.signal, looksAway.signal]), opened, happened);
      document.removeEventListener("visibilitychange", look);
      if (ended.signal.aborted) return;
      // A page in the background is silent, and asks again as it comes to the front.
      if (looksAway.signal.aborted) continue;
      lostAt ??= Date.now();
      turned({ kind: "lost", since: lostAt });
      await pause(WAITS[Math.min(failed, WAITS.length - 1)] as number, ended.signal);
      failed += 1;
    }
  })();
  return () => ended.abort();
}

/** Resolves at once, or as the page comes to the front. */
function somebodyLooks(ended: AbortSignal): Promise<void> {
  return new Promise((done) => {
    const look = () => {
      if (document.visibilityState === "hidden" && !ended.aborted) return;
      document.removeEventListener("visibilitychange", look);
      done();
    };
    document.addEventListener("visibilitychange", look);
    ended.addEventListener("abort", look, { once: true });
    look();
  });
}

/** One connection, to its end. */
async function once(ended: AbortSignal, opened: () => void, happened: () => void): Promise<void> {
  const silent = new AbortController();
  const signal = AbortSignal.any([ended, silent.signal]);
  let timer = setTimeout(() => silent.abort(), SILENCE);
  const heardSomething = () => {
    clearTimeout(timer);
    timer = setTimeout(() => silent.abort(), SILENCE);
  };
  try {
    const response = await fetch(at("/events"), { headers: credentials(), signal });
    if (!response.ok || !response.body) return;
    opened();
    const parser = createParser({ onEvent: happened });
    const reader = response.body
      .pipeThrough(new TextDecoderStream() as unknown as ReadableWritablePair<string, Uint8Array>)
      .getReader();
    for (;;) {
      const { value, done } = await reader.read();
      if (done) return;
      heardSomething();
      parser.feed(value);
    }
  } catch {
    // It broke, or was left: who called knows which.
  } finally {
    clearTimeout(timer);
  }
}

/** Waits; sooner where the network comes back, or somebody looks at the page again. */
function pause(ms: number, ended: AbortSignal): Promise<void> {
  return new Promise((done) => {
    const go = () => {
      clearTimeout(timer);
      window.removeEventListener("online", go);
      document.removeEventListener("visibilitychange", look);
      done();
    };
    const look = () => document.visibilityState === "visible" && go();
    const timer = setTimeout(go, ms);
    window.addEventListener("online", go);
    document.addEventListener("visibilitychange", look);
    ended.addEventListener("abort", go, { once: true });
  });
}
