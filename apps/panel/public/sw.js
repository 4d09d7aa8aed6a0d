// Keeps the page itself, so that it opens while the house cannot be reached and says so. What the house says is never kept.
const CACHE = "panel";
/** So many files are kept: of earlier builds, the oldest go. */
const MOST = 60;

self.addEventListener("install", (event) => event.waitUntil(self.skipWaiting()));
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  if (request.method !== "GET" || !request.url.startsWith(self.registration.scope)) return;
  event.respondWith(answer(request));
});

async function answer(request) {
  const cache = await caches.open(CACHE);
  try {
    const response = await fetch(request);
    if (response.ok) {
      await cache.put(request, response.clone());
      const kept = await cache.keys();
      for (const old of kept.slice(0, Math.max(0, kept.length - MOST))) await cache.delete(old);
    }
    return response;
  } catch (error) {
    const kept = await cache.match(request, { ignoreSearch: true });
    if (kept) return kept;
    throw error;
  }
}
