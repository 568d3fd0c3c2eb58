/* An answer is laid over the page: only what is different in it is touched, so that the eye sees one change and the
   browser paints one. What belongs to the page alone, such as what is open, outlives it. */
import { $, active, all, rested } from "./dom.js";

const keepsOpen = (el) => el.nodeName === "DETAILS" && el.id !== "insert";
const OURS = { ruler: "aria-pressed", grey: "aria-pressed" };

/** What is fetched when it is first looked at: kept while it is open, and then fetched anew; else as it comes. */
function fetched(old, now) {
  const address = now.getAttribute("hx-get");
  if (old.getAttribute("hx-get") === address) return false;
  if (!old.closest("details")?.open || old.textContent === now.textContent) return true;
  old.setAttribute("hx-get", address);
  return false;
}

/** How a field gets back what it was sent with. */
const FIELDS = {
  INPUT: (el) => {
    if (el.checked !== el.defaultChecked) el.checked = el.defaultChecked;
    if (el.value !== el.defaultValue) el.value = el.defaultValue;
  },
  TEXTAREA: (el) => { if (el.value !== el.defaultValue) el.value = el.defaultValue; },
  SELECT: (el) => {
    const meant = Math.max([...el.options].findIndex((option) => option.defaultSelected), 0);
    if (el.selectedIndex !== meant) el.selectedIndex = meant;
  },
};

/** What comes as it was sent before is left alone, but for what was typed or chosen in it since, and not sent. The field
    that someone is in is theirs. */
export function back(old) {
  const fields = old.nodeName in FIELDS ? [old] : old.querySelectorAll("input, textarea, select");
  for (const el of fields) if (el !== active()) FIELDS[el.nodeName](el);
  return false;
}

/** Another stage's panel has nothing of the one before: it is put in its place, not laid over it. What a long list has
    below its edge is laid out when the rest is painted. */
function other(old, now) {
  if (old.dataset.stage === now.dataset.stage) return false;
  const list = $(".lines", now);
  if (list) {
    list.classList.add("only-top");
    rested(() => list.classList.remove("only-top"));
  }
  for (const { name, value } of now.attributes) old.setAttribute(name, value);
  old.replaceChildren(...now.childNodes);
  return true;
}

Object.assign(Idiomorph.defaults.callbacks, {
  /** @param {any} old @param {any} now */
  beforeNodeMorphed: (old, now) => {
    if (old.nodeType !== Node.ELEMENT_NODE) return old.nodeValue !== now.nodeValue;
    if (now.dataset?.onShow !== undefined) return false; // the drawing that the request said is on show
    if (now.dataset?.same !== undefined) return back(old); // a line or a part that the request said is on show
    if (old instanceof SVGElement) return !old.isEqualNode(now);
    if (old.matches("select[data-woods]") && old.value === now.value) return old.options.length === 1;
    if (old.dataset.lazy !== undefined && now.dataset?.lazy !== undefined) return fetched(old, now);
    if (old.id === "panel" && other(old, now)) return false;
    if (old.id === "turntable") return old.dataset.solid !== now.dataset.solid;
    return !old.isEqualNode(now) || back(old);
  },
  beforeNodeRemoved: (node) => !node.classList?.contains("painted"),
  beforeAttributeUpdated: (name, el, way) => {
    if (name === "open" && way === "remove") return !keepsOpen(el);
    if (name === "data-ready") return false;
    return OURS[el.id] !== name;
  },
});

// whoever asks for it, a form of the menu above it, too: what is not sent again is only there to be laid over
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (detail.target?.id === "workspace") detail.swapOverride = "morph:innerHTML show:none";
});

// what is open and was fetched for how the board stood before is fetched anew
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target?.id !== "workspace") return;
  all("#workspace details[open] [data-lazy]").forEach((el) => {
    if (el.dataset.lazy === el.getAttribute("hx-get")) return;
    el.dataset.lazy = el.getAttribute("hx-get");
    el.closest("details").dispatchEvent(new Event("toggle"));
  });
});
