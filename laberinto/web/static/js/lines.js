/* Strips or rows, in the list and on the drawing: chosen, walked, moved, turned and shifted by key and button. */
import { $, active, all, byId, workspace } from "./dom.js";
import { ask, whenIdle } from "./edits.js";

/** The list of strips or rows on show. @returns {HTMLElement | null} */
export const list = () => $(".lines[data-sortable]");
/** @returns {HTMLElement[]} */
export const lines = () => [...(list()?.querySelectorAll(/** @type {"li"} */ (".line")) ?? [])];
/** @param {number} at @returns {HTMLElement | null} */
export const line = (at) => list() && $(`.line[data-at="${at}"]`, list());
export const isRows = () => list()?.dataset.name === "row";
/** What may be shifted along its joint: rows, and pieces of a glue-up. */
const shifts = () => ["row", "piece"].includes(list()?.dataset.name);
/** @param {number} at @returns {SVGGElement | null} */
export const onDrawing = (at) => $(isRows() ? `.drawing .laid-row[data-row="${at}"]` : `.drawing .piece[data-piece="${at}"]`);

/** What is done to the chosen ones. */
const FOR_CHOSEN = ["strip", "row", "piece"].map((name) => `.list-tools [data-op^="${name}-"]`).join(", ");

/** @type {Set<number>} */
export const chosen = new Set();
let anchor = 0;

function show() {
  all(".line.chosen, .drawing .laid-row.chosen, .drawing .piece.chosen").forEach((el) => el.classList.remove("chosen"));
  for (const at of chosen) {
    line(at)?.classList.add("chosen");
    line(at)?.setAttribute("aria-current", "true");
    onDrawing(at)?.classList.add("chosen");
  }
  all(FOR_CHOSEN).forEach((el) => { el.disabled = !chosen.size; });
  lines().forEach((el) => { if (!chosen.has(Number(el.dataset.at))) el.removeAttribute("aria-current"); });
}

/**
 * Choose one, add one (Ctrl) or stretch to one (Shift).
 * @param {number} at
 */
export function choose(at, { focus = false, add = false, stretch = false } = {}) {
  if (!line(at)) return;
  if (stretch) {
    chosen.clear();
    for (let k = Math.min(anchor, at); k <= Math.max(anchor, at); k += 1) chosen.add(k);
  } else if (add) {
    if (chosen.has(at) && chosen.size > 1) chosen.delete(at); else chosen.add(at);
    anchor = at;
  } else {
    chosen.clear();
    chosen.add(at);
    anchor = at;
  }
  lines().forEach((el) => { el.tabIndex = Number(el.dataset.at) === at ? 0 : -1; });
  show();
  if (focus) line(at).focus({ preventScroll: false });
}

/**
 * The chosen pieces, or the one in hand where it is not among them.
 * @param {number} [at]
 * @returns {number[]}
 */
export function hand(at) {
  if (at !== undefined && !chosen.has(at)) return [at];
  return chosen.size ? [...chosen].sort((a, b) => a - b) : [0];
}

/**
 * Lay these at another place.
 * @param {number[]} ats
 * @param {number} to
 */
export function move(ats, to) {
  const { sortable, name } = list().dataset;
  const room = lines().length - ats.length;
  const target = Math.max(0, Math.min(to, room));
  if (ats.every((at, k) => at === target + k)) return;
  chosen.clear();
  ats.forEach((_, k) => chosen.add(target + k));
  anchor = target;
  ask({ op: sortable, at: ats.join(","), to: target, focus: `${name}-${target}` });
}

function press(button, at) {
  const needs = /^(strip|row|piece)-/.test(button.dataset.op);
  const ats = needs ? hand(at) : [];
  const last = lines().length - 1;
  const name = list()?.dataset.name;
  // after a removal the focus goes to the strip that moved up
  const removes = button.dataset.op === "strip-remove";
  const own = at === undefined ? "" : `${name}-${at}`;
  const stay = removes ? `strip-${Math.max(Math.min(ats[0], last - ats.length), 0)}` : own;
  const more = {};
  for (const key of ["kind", "sawn"]) if (key in button.dataset) more[key] = button.dataset[key];
  if (removes) chosen.clear();
  ask({ op: button.dataset.op, at: ats.join(","), focus: stay, ...more });
}

document.addEventListener("click", (event) => {
  const relay = event.target.closest("[data-press]");
  if (relay) { whenIdle(() => byId(relay.dataset.press)?.click()); return; }
  const button = event.target.closest("[data-op]");
  if (button && workspace()) {
    const own = button.closest(".line");
    const at = own ? Number(own.dataset.at) : undefined;
    const { op, kind, sawn } = button.dataset;
    whenIdle(() => {
      const where = own ? `#${own.id} ` : "";
      const which = `[data-op="${op}"]${kind ? `[data-kind="${kind}"]` : ""}${sawn !== undefined ? `[data-sawn="${sawn}"]` : ""}`;
      const now = $(where + which) ?? button;
      press(now, at);
    });
    return;
  }
  const piece = event.target.closest(".line[data-at]");
  if (piece && !event.target.closest("input, select, form")) {
    choose(Number(piece.dataset.at), { add: event.ctrlKey || event.metaKey, stretch: event.shiftKey });
  }
});

// while the page is drawn anew the focus wanders by itself, which chooses nothing
let swapping = false;
document.addEventListener("htmx:beforeSwap", (event) => { if (event.detail.target?.id === "workspace") swapping = true; });
document.addEventListener("htmx:afterSettle", () => window.setTimeout(() => { swapping = false; }, 0));

// pressing on a line gives it the focus before the click says whether it is added to what is chosen
let pressing = false;
document.addEventListener("pointerdown", (event) => { pressing = Boolean(event.target.closest?.(".line")); }, true);
document.addEventListener("click", () => { pressing = false; });
document.addEventListener("keydown", () => { pressing = false; }, true);

document.addEventListener("focusin", (event) => {
  if (swapping || (pressing && !event.target.matches("input, select"))) return;
  const at = event.target.closest(".line[data-at]");
  if (at && !chosen.has(Number(at.dataset.at)) && !at.contains(event.relatedTarget)) choose(Number(at.dataset.at));
});

document.addEventListener("keydown", (event) => {
  const at = event.target.closest(".line[data-at]");
  if (!at || event.target !== at || event.ctrlKey || event.metaKey) return;
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
  const side = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const letter = event.shiftKey && /^[a-z]$/i.test(event.key) && !shifts();
  if (step && !event.altKey) {
    event.preventDefault();
    choose(Number(at.dataset.at) + step, { focus: true, stretch: event.shiftKey });
    return;
  }
  const tool = !event.altKey && !event.shiftKey && $(`.list-tools [data-key="${key}"]`);
  if (!tool && !letter && !(event.altKey && (step || (side && shifts())))) return;
  event.preventDefault();
  // by the time it is this key's turn the line may be another one: the one then in focus
  whenIdle(() => {
    const now = active()?.closest(".line[data-at]");
    if (!now) return;
    const index = Number(now.dataset.at);
    if (letter) ask({ op: "strip-letter", letter: key, at: hand(index).join(","), focus: now.id });
    else if (event.altKey && step) { const ats = hand(index); move(ats, ats[0] + step); }
    else if (event.altKey) ask({ op: `${list().dataset.name}-shift`, mm: side * Number(workspace().dataset.step), at: hand(index).join(","), focus: now.id });
    else press($(`.list-tools [data-key="${key}"]`), index);
  });
});

// A typed shift is for the chosen rows.
document.addEventListener("change", (event) => {
  if (event.target.id !== "shift-by" || !event.target.value.trim()) return;
  const by = event.target.value;
  const { name } = list().dataset;
  whenIdle(() => ask({ op: `${name}-shift`, by, edited: "by", at: hand().join(","), focus: `${name}-${hand()[0]}` }));
});

let sorted = null;

// The list that was swapped away lets go of its nodes.
function letGo() {
  if (!sorted || sorted.el?.isConnected) return;
  if (sorted.el) sorted.destroy();
  sorted = null;
}

function ready() {
  letGo();
  if (!list()) { chosen.clear(); return; }
  for (const at of [...chosen]) if (!line(at)) chosen.delete(at);
  show();
  if (list().dataset.ready) return;
  list().dataset.ready = "yes";
  sorted = Sortable.create(list(), {
    handle: ".grip", animation: 120, delay: 80, delayOnTouchOnly: true,
    onEnd: ({ oldIndex, newIndex }) => { if (oldIndex !== newIndex) whenIdle(() => { chosen.clear(); move([oldIndex], newIndex); }); },
  });
}
const stage = () => $(".history-tools input[name=stage]")?.value ?? "";
let place = stage();
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target?.id !== "workspace") return;
  const now = stage();
  if (now !== place) chosen.clear();
  place = now;
});
document.addEventListener("DOMContentLoaded", ready);
document.addEventListener("htmx:afterSettle", ready);
ready();

