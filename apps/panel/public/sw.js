// Keeps the page itself, so that it opens while the house cannot be reached and says so. What the house says is never kept.
const CACHE = "panel";
/** So many files are kept: of earlier builds, the oldest go. */
const MOST = 60;

self.addEventListener("install", (event) => event.waitUntil(self.skipWaiting()));
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  if (request.method !== "GET" || !request.url.startsWith(self.registration.scope)) return;
  event.respondWith(answer(event));
});

/** What the house answers, at once: that it is kept is nothing that a page waits for. */
async function answer(event) {
  const { request } = event;
  try {
    const response = await fetch(request);
    if (response.ok) event.waitUntil(keep(request, response.clone()));
    return response;
  } catch (error) {
    const kept = await (await caches.open(CACHE)).match(request, { ignoreSearch: true });
    if (kept) return kept;
    throw error;
  }
}

async function keep(request, response) {
  const cache = await caches.open(CACHE);
  await cache.put(request, response);
  const kept = await cache.keys();
  for (const old of kept.slice(0, Math.max(0, kept.length - MOST))) await cache.delete(old);
}
