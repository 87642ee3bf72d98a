"use strict";
// The service worker: every page and file comes from the app while it answers; the copy last seen is shown while it does not.
const KEPT = "iron-probe-1", MOST = 400;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function keep(request, answer) {
  const cache = await caches.open(KEPT);
  await cache.put(request, answer);
  const keys = await cache.keys();
  for (const old of keys.slice(0, Math.max(keys.length - MOST, 0))) await cache.delete(old);
}

async function answered(request) {
  try {
    const answer = await fetch(request);
    if (answer.ok) await keep(request, answer.clone());
    return answer;
  } catch (error) {
    const cache = await caches.open(KEPT);
    const asked = new URL(request.url);
    const copy = await cache.match(request, { ignoreVary: true }) || (request.mode === "navigate" && await cache.match(asked.pathname, { ignoreVary: true, ignoreSearch: true }));
    if (copy) return copy;
    throw error;
  }
}

self.addEventListener("fetch", (event) => {
  const asked = new URL(event.request.url);
  if (event.request.method !== "GET" || asked.origin !== location.origin || asked.pathname === "/live" || event.request.headers.has("HX-Request")) return;
  event.respondWith(answered(event.request));
});

self.addEventListener("message", (event) => { // pages of the job in hand, kept before they are needed
  if (event.data?.keep) event.waitUntil(Promise.allSettled(event.data.keep.map(async (path) => {
    const request = new Request(path), answer = await fetch(request);
    if (answer.ok) await keep(request, answer);
  })));
});
