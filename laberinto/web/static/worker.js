/* Pages of a board at the bench, kept for when the server cannot be reached. What the server answers always comes first. */
const KEPT = "laberinto-bench";
const ours = (url) => url.pathname.startsWith("/static/") || /^\/boards\/\d+\/bench$/.test(url.pathname);

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  if (event.request.method === "GET" && ours(new URL(event.request.url))) event.respondWith(answer(event.request));
});

async function answer(request) {
  const shelf = await caches.open(KEPT);
  try {
    const fresh = await fetch(request);
    if (fresh.ok && await shelf.match(request.url)) await shelf.put(request.url, fresh.clone());
    return fresh;
  } catch (away) {
    const known = await shelf.match(request.url);
    if (known) return known;
    throw away;
  }
}

const STATE = new URL("/worker-state", self.location).href;

/** Fetch and keep these, one after another so that the bench itself is not held up; then let go of all others. Once for
    each state of a board: what is opened later on is kept as it comes. */
async function keep({ addresses, state }) {
  const shelf = await caches.open(KEPT);
  if (await (await shelf.match(STATE))?.text() === state) return;
  for (const address of addresses) {
    const answered = await fetch(address);
    if (answered.ok && !answered.redirected) await shelf.put(address, answered);
  }
  await shelf.put(STATE, new Response(state));
  const wanted = new Set([...addresses, STATE]);
  for (const { url } of await shelf.keys()) if (!wanted.has(url)) await shelf.delete(url);
}

self.addEventListener("message", (event) => {
  // away half way through: what was kept so far, and what was kept before, stays
  event.waitUntil(keep(event.data).then(() => event.source.postMessage("kept"), () => {}));
});
