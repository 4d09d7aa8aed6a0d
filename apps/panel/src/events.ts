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

/** Listens until told otherwise. `happened` is called when something did, and when the house is heard again. */
export function listen(happened: () => void, turned: (connection: Connection) => void): () => void {
  const ended = new AbortController();
  void (async () => {
    let failed = 0;
    let lostAt: number | undefined;
    while (!ended.signal.aborted) {
      const heard = await once(
        ended.signal,
        () => {
          failed = 0;
          lostAt = undefined;
          turned({ kind: "live" });
          happened();
        },
        happened,
      );
      if (ended.signal.aborted) return;
      if (heard) failed = 0;
      lostAt ??= Date.now();
      turned({ kind: "lost", since: lostAt });
      await pause(WAITS[Math.min(failed, WAITS.length - 1)] as number, ended.signal);
      failed += 1;
    }
  })();
  return () => ended.abort();
}

/** One connection, to its end; whether the house was heard on it. */
async function once(ended: AbortSignal, opened: () => void, happened: () => void): Promise<boolean> {
  const silent = new AbortController();
  const signal = AbortSignal.any([ended, silent.signal]);
  let timer = setTimeout(() => silent.abort(), SILENCE);
  const heardSomething = () => {
    clearTimeout(timer);
    timer = setTimeout(() => silent.abort(), SILENCE);
  };
  let isOpen = false;
  try {
    const response = await fetch(at("/events"), { headers: credentials(), signal });
    if (!response.ok || !response.body) return false;
    isOpen = true;
    opened();
    const parser = createParser({ onEvent: happened });
    const reader = response.body
      .pipeThrough(new TextDecoderStream() as unknown as ReadableWritablePair<string, Uint8Array>)
      .getReader();
    for (;;) {
      const { value, done } = await reader.read();
      if (done) return true;
      heardSomething();
      parser.feed(value);
    }
  } catch {
    return isOpen;
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
