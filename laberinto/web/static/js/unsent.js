/* At the bench without the server: pages are kept beforehand, and what is counted or ticked waits here until the server
   has answered to it, over a reload too. */
import { $, all } from "./dom.js";

const KEY = "laberinto-bench-unsent", KNOWN = "laberinto-bench-counts";
const EVERY = 1500, COUNTS = 50;
const bench = () => $("#hand");
const read = (key) => JSON.parse(window.localStorage.getItem(key) ?? "[]");
const unsent = () => read(KEY);
const put = (waiting) => window.localStorage.setItem(KEY, JSON.stringify(waiting));
let timer = 0;

/* A press that overtakes another on its way is the later one all the same: each is numbered. */
const PAGE = Math.random().toString(36).slice(2, 12);
let presses = 0;

/** A tick, or the number of pieces that a count was brought to: what is sent twice counts once. */
const said = (config) => {
  const { step, count } = Object.fromEntries(config.formData);
  return { board: bench().dataset.at, path: config.path, step, count: count ?? null };
};
const same = (a, b) => a.path === b.path && a.step === b.step;
const drop = (one) => put(unsent().filter((waits) => !same(waits, one) || waits.count !== one.count));

// A page that was kept shows the count as it stood then: the last one the server told is noted beside, with its clock.
document.addEventListener("htmx:afterSwap", ({ detail: { target } }) => {
  const tally = target.id === "hand" && $("#hand-count");
  if (!tally) return;
  const { step, now } = $("#hand-step").dataset;
  const one = { path: bench().dataset.at, step, now: Number(now), count: tally.textContent };
  window.localStorage.setItem(KNOWN, JSON.stringify([one, ...read(KNOWN).filter((old) => !same(old, one))].slice(0, COUNTS)));
});

/** What was counted since this page was made, and what waits of it. */
function show() {
  const here = $("#hand-step")?.dataset;
  if (!here) return;
  const { step } = here;
  const known = read(KNOWN).find((one) => same(one, { path: bench().dataset.at, step }));
  if (known && known.now > Number(here.now)) $("#hand-count").textContent = known.count;
  for (const waits of unsent()) {
    if (waits.board !== bench().dataset.at || waits.step !== step) continue;
    if (waits.count === null) $("#hand-ticked").textContent = ", ticked here";
    else $("#hand-count").textContent = waits.count;
  }
}

document.addEventListener("htmx:configRequest", ({ detail: { parameters } }) => {
  const tally = bench() && parameters.by && $("#hand-count");
  if (!tally) return;
  presses += 1;
  parameters.press = `${PAGE}-${presses}`;
  parameters.count = Math.max(0, Number(tally.textContent) + (parameters.by === "less" ? -1 : 1));
  delete parameters.by;
  tally.textContent = parameters.count;
});
document.addEventListener("htmx:beforeRequest", ({ detail: { requestConfig } }) => {
  if (!bench() || requestConfig.verb !== "post") return;
  const one = said(requestConfig);
  put([...unsent().filter((waits) => !same(waits, one)), { ...one, at: Date.now() }]);
});
document.addEventListener("htmx:afterOnLoad", ({ detail: { requestConfig, xhr } }) => {
  if (bench() && requestConfig.verb === "post" && xhr.status < 500) drop(said(requestConfig));
});
document.addEventListener("htmx:sendError", ({ detail: { requestConfig } }) => {
  if (!bench() || requestConfig.verb !== "post") return;
  const next = $("#done")?.form.dataset.next;
  if (said(requestConfig).count === null && next) window.location.assign(next);
  else away();
});

function away() {
  const box = $("#away");
  box.hidden = false;
  box.textContent = "The server does not answer. What you count and tick is kept here and sent when it is back.";
  show();
  if (!timer) timer = window.setTimeout(again, EVERY);
}

/** Sends what waits in order, each with how long ago it was. */
async function again() {
  timer = 0;
  try {
    for (const one of unsent()) {
      const body = new URLSearchParams({ step: one.step, ago: String((Date.now() - one.at) / 1000) });
      if (one.count !== null) body.set("count", one.count);
      const headers = JSON.parse(document.body.getAttribute("hx-headers"));
      const answer = await fetch(one.path, { method: "POST", body, headers });
      if (answer.status >= 500 || answer.status === 400) throw new Error("trouble");
      drop(one);
    }
    window.location.reload();
  } catch {
    away();
  }
}

if (bench()) {
  show();
  if (unsent().length) again();
  // browsers have workers on this machine and over https only; elsewhere the bench does without
  navigator.serviceWorker?.register("/worker.js").then(async () => {
    const { active } = await navigator.serviceWorker.ready;
    const files = all("link[rel=stylesheet], script[src]").map((el) => el.href ?? el.src);
    const loaded = performance.getEntriesByType("resource").map(({ name }) => name);
    const pages = JSON.parse(bench().dataset.pages).map((page) => new URL(page, window.location.href).href);
    const shown = [...files, ...loaded].filter((name) => new URL(name).pathname.startsWith("/static/"));
    navigator.serviceWorker.addEventListener("message", () => { bench().dataset.kept = "all"; });
    active.postMessage({ addresses: [...new Set([...pages, ...shown])], state: bench().dataset.state });
  }, () => {});
}
