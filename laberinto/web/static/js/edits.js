/* Edits go to the server one at a time, each on top of the last, however fast someone types. */
import { $, active, byId, isTyping, workspace } from "./dom.js";

let busy = false;
const waiting = [];

/**
 * Run now, or when the edit under way has come back and the page is drawn anew.
 * @param {() => void} action
 */
export function whenIdle(action) {
  if (busy) waiting.push(action); else action();
}

/**
 * The page's own place and revision, as every edit sends them.
 * @returns {Record<string, string>}
 */
export function place() {
  /** @type {Record<string, string>} */
  const hidden = {};
  for (const name of ["stage", "view", "piece", "revision"]) hidden[name] = $(`.history-tools input[name=${name}]`)?.value ?? "";
  hidden.known = workspace()?.dataset.known ?? "";
  return hidden;
}

/**
 * One edit by name.
 * @param {Record<string, FormDataEntryValue | number>} values its name as ``op``, and what it takes
 */
export function ask(values) {
  htmx.ajax("POST", workspace().dataset.edit, { target: "#workspace", swap: "morph:innerHTML", values: { ...place(), ...values } });
}

const editsWorkspace = (event) => event.detail.target?.id === "workspace" && Boolean(workspace());

// Note which parameter was changed, so that a fault can stand beside it.
document.addEventListener("change", (event) => {
  const edited = event.target.form?.elements.edited;
  if (edited && (event.target.form.id === "parameters" || event.target.form.matches(".wanted, .shifts"))) edited.value = event.target.name;
}, true);

// What is asked while an edit is under way waits its turn: another stage or view, so that the answer that is on its way
// does not throw one back, or a form, with the one thing that changed in it.
document.addEventListener("htmx:confirm", (event) => {
  const form = event.detail.elt;
  if (!busy || !editsWorkspace(event)) return;
  if (form instanceof HTMLAnchorElement) {
    event.preventDefault();
    const { id, href } = form;
    whenIdle(() => { const again = id && byId(id); if (again) again.click(); else window.location.assign(href); });
    return;
  }
  if (form.matches("select[hx-post], input[hx-post]")) {
    event.preventDefault();
    const values = { ...JSON.parse(form.getAttribute("hx-vals")), [form.name]: form.value };
    whenIdle(() => ask(values));
    return;
  }
  if (!(form instanceof HTMLFormElement)) return;
  event.preventDefault();
  const sent = new FormData(form);
  const again = form.querySelector("button[id]")?.id;
  if (!sent.has("op")) {
    if (again) whenIdle(() => byId(again)?.click());
    return;
  }
  const values = Object.fromEntries(sent);
  for (const name of ["stage", "view", "revision", "csrf_token"]) delete values[name];
  if (sent.get("op") === "parameters") {
    for (const name of Object.keys(values)) if (!["op", "edited", sent.get("edited")].includes(name)) delete values[name];
  }
  whenIdle(() => ask(values));
});

document.addEventListener("htmx:beforeRequest", (event) => { if (editsWorkspace(event)) busy = true; });

function idle() {
  busy = false;
  const next = waiting.shift();
  if (next) next();
}
// each part that an answer put in tells that it has settled; only one of them ends the wait
let settled = null;
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target?.id !== "workspace" || event.detail.xhr === settled) return;
  settled = event.detail.xhr;
  idle();
});
for (const fault of ["htmx:sendError", "htmx:responseError", "htmx:swapError"]) {
  document.addEventListener(fault, (event) => {
    if (!editsWorkspace(event)) return; // what else fails holds up no edit, and loses none that waits
    if (fault !== "htmx:sendError") waiting.length = 0; // where the server is away each that waits is tried, and kept
    idle();
  });
}

// What someone is typing outlives the swap; another stage is read from its beginning.
let kept = {};
const stage = () => $(".history-tools input[name=stage]")?.value;

document.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.target?.id !== "workspace") return;
  kept = { stage: stage() };
  const el = active();
  if (el?.id && isTyping(el) && el.tagName !== "SELECT" && event.detail.xhr.status < 400) {
    const { id, value, selectionStart, selectionEnd } = el;
    kept.typed = { id, value, half: value !== el.defaultValue, selectionStart, selectionEnd };
  }
});

document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target?.id !== "workspace") return;
  const same = kept.stage === stage();
  if (!same) $(".panel-column").scrollTop = 0;
  const field = kept.typed && same && byId(kept.typed.id);
  if (field && active() === field) {
    if (kept.typed.half) takeUp(field, kept.typed.value);
    if (kept.typed.selectionStart !== null) field.setSelectionRange?.(kept.typed.selectionStart, kept.typed.selectionEnd);
  }
  kept.typed = null;
});

// Text put back by us counts as unchanged for the browser, so leaving the field must say that it changed.
function takeUp(field, value) {
  field.value = value;
  let told = false;
  field.addEventListener("change", () => { told = true; }, { once: true });
  field.addEventListener("blur", () => {
    if (!told && field.isConnected && field.value !== field.defaultValue) {
      field.dispatchEvent(new Event("change", { bubbles: true }));
    }
  }, { once: true });
}

document.addEventListener("focus-on", (event) => byId(event.detail.value)?.focus());

document.addEventListener("keydown", (event) => {
  if (isTyping(event.target) || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
  const id = event.shiftKey ? "redo" : "undo";
  if (!byId(id)) return;
  event.preventDefault();
  whenIdle(() => byId(id).click());
});
