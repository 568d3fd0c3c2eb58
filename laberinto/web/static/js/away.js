/* The server is away: the page says so, keeps the edit, over a reload too, and sends it when the server is back. */
import { $, workspace } from "./dom.js";

const KEY = "laberinto-unsent";
const EVERY = 1500;
let timer = 0;
let sending = false;
let trouble = false;

const unsent = () => JSON.parse(window.sessionStorage.getItem(KEY) ?? "[]");
const keep = (edits) => window.sessionStorage.setItem(KEY, JSON.stringify(edits));

function tell() {
  const box = $("#away");
  if (!box) return;
  const edits = unsent().length;
  box.hidden = false;
  box.textContent = edits
    ? `The server does not answer. ${edits === 1 ? "Your edit is" : `Your ${edits} edits are`} kept here and sent when it is back.`
    : "The server does not answer. Nothing was changed; try again in a moment.";
}

function quiet() {
  window.clearTimeout(timer);
  timer = 0;
  const box = $("#away");
  if (box) box.hidden = true;
}

document.addEventListener("htmx:sendError", (event) => {
  if ($("#hand")) return; // the bench has its own way
  const { requestConfig } = event.detail;
  if (workspace() && requestConfig?.verb === "post" && requestConfig.path === workspace().dataset.edit) {
    const values = Object.fromEntries(requestConfig.formData ?? new FormData());
    delete values.csrf_token;
    keep([...unsent().filter((edit) => edit.values.token !== values.token), { path: requestConfig.path, values }]);
  }
  tell();
  if (!timer) timer = window.setTimeout(again, EVERY);
});
document.addEventListener("htmx:responseError", (event) => {
  const { status } = event.detail.xhr;
  if (status >= 500) { trouble = true; tell(); }
  const box = $("#away");
  if (box && status === 403) {
    box.hidden = false;
    box.textContent = "This device may tick, count and measure, not design. Nothing was changed.";
  }
});

// the server was upgraded while this page was open: what it does was done, and the page is loaded anew
document.addEventListener("htmx:beforeSwap", (event) => {
  const release = event.detail.xhr.getResponseHeader("X-Release");
  if (!release || release === $("meta[name=release]")?.content) return;
  event.detail.shouldSwap = false;
  window.location.reload();
});
document.addEventListener("htmx:afterOnLoad", () => { if (!unsent().length) quiet(); });

async function again() {
  timer = 0;
  try {
    await fetch("/static/mark.svg", { cache: "no-store" });
  } catch {
    timer = window.setTimeout(again, EVERY);
    return;
  }
  send();
}

/** What waited goes out in order; the first stands on the revision it was made on, so a clash is told as always. Each is
    kept until it has arrived: one that is sent twice is known to the server by its token. */
async function send() {
  if (sending) return;
  sending = true;
  const here = workspace()?.dataset.edit;
  let first = true;
  quiet();
  trouble = false;
  for (const { path, values } of unsent().filter((edit) => edit.path === here)) {
    if (!first) values.revision = $(".history-tools input[name=revision]").value;
    first = false;
    try {
      await htmx.ajax("POST", path, { target: "#workspace", swap: "morph:innerHTML", values });
    } catch {
      break; // away again: told and kept by the listener above
    }
    if (trouble) break; // the server answered, but not to this: kept for the next time
    keep(unsent().filter((edit) => edit.values.token !== values.token));
  }
  sending = false;
}

// every edit carries a token of its own
document.addEventListener("htmx:configRequest", (event) => {
  const { parameters, path, verb } = event.detail;
  if (verb === "post" && path === workspace()?.dataset.edit && !parameters.token) {
    parameters.token = `${Date.now().toString(36)}-${Math.random().toString(36).slice(2)}`;
  }
});

// An edit may come back while its page is already being fetched anew; what is fetched then shows how the board stood
// before it. The page that is left notes what it saw last, and the new one asks once more where it shows less.
const SEEN = "laberinto-seen";
const shows = () => ({ path: workspace().dataset.edit, revision: Number($(".history-tools input[name=revision]").value) });
const note = () => window.sessionStorage.setItem(SEEN, JSON.stringify(shows()));

document.addEventListener("htmx:afterSwap", (event) => { if (event.detail.target?.id === "workspace" && workspace()) note(); });

if (workspace()) {
  const seen = JSON.parse(window.sessionStorage.getItem(SEEN) ?? "{}");
  const here = shows();
  note();
  if (unsent().length) again();
  else if (seen.path === here.path && seen.revision > here.revision) {
    htmx.ajax("GET", window.location.pathname + window.location.search, { target: "#workspace", swap: "morph:innerHTML" });
  }
}
