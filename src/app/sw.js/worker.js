/* global BUILD */
/**
 * Keeps the pages seen last and the parts they are made of, for the phone at the bench that loses its network. The network always
 * comes first; only where nothing answers is what was kept shown. Nothing that is computed or measured is kept here.
 */
// Named by the build: a page and the parts it is made of always belong to one and the same. `route.ts` says which.
const CACHE = `bravel-pages-2-${BUILD}`;
const MOST_PAGES = 60;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => {
  event.waitUntil(
    caches
      .keys()
      .then((names) => Promise.all(names.filter((n) => n !== CACHE).map((n) => caches.delete(n))))
      .then(() => self.clients.claim()),
  );
});

const isPart = (url) => url.pathname.startsWith("/_next/static/") || url.pathname === "/icon.svg";

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin || url.pathname.startsWith("/api/")) return;
  if (isPart(url))
    event.respondWith(part(request).then((answer) => (startsWorker(request) ? unaddressed(answer) : answer)));
  else if (request.mode === "navigate") event.respondWith(page(request));
});

const startsWorker = ({ destination }) => destination === "worker" || destination === "sharedworker";

/**
 * The same bytes without the address they were kept under. One script starts every worker, and what follows # in its address
 * tells which; a kept answer carries the address of the first, so the second worker would run the first one's code.
 */
const unaddressed = async (answer) =>
  new Response(await answer.arrayBuffer(), { status: answer.status, headers: answer.headers });

/** A part's name holds its content's hash: once kept it never changes. */
async function part(request) {
  const cache = await caches.open(CACHE);
  const kept = await cache.match(request);
  if (kept) return kept;
  const answer = await fetch(request);
  if (answer.ok) await cache.put(request, answer.clone());
  return answer;
}

async function page(request) {
  const cache = await caches.open(CACHE);
  try {
    const answer = await fetch(request);
    if (answer.ok && !answer.redirected) {
      await cache.put(request, answer.clone());
      await trim(cache);
    }
    return answer;
  } catch {
    const kept = await cache.match(request);
    if (kept) return kept;
    return new Response(
      '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Bravel</title><body style="font:16px system-ui;padding:16px"><h1 style="font-size:21px">No link to Bravel.</h1><p>This page was not opened on this device before, so it is not kept here. Pages seen before open without a link. <a href="/">Bench</a></p></body></html>',
      { status: 503, headers: { "content-type": "text/html; charset=utf-8" } },
    );
  }
}

async function trim(cache) {
  const keys = await cache.keys();
  const pages = keys.filter((k) => !isPart(new URL(k.url)));
  for (const old of pages.slice(0, Math.max(0, pages.length - MOST_PAGES))) await cache.delete(old);
}
