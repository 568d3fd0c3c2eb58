/* Painting a picture. The grid shows a stroke at once; what comes of it is asked of the server. States before are kept
   to undo, and the last one over a reload. */
import { $, active, all, byId, isTyping } from "./dom.js";

const page = () => byId("picture");
const form = () => byId("picture-form");
const data = () => byId("picture-data");
const cell = (row, column) => byId(`cell-${row}-${column}`);
const STORE = "laberinto-picture";

let letter = "B", tool = "brush", block = null, copied = null, stroke = null;
/** Row and column of the cell that has the keyboard. @type {[number, number]} */
let at = [0, 0];
const undo = [], redo = [];
let busy = Promise.resolve();
let pending = 0;

const board = () => form().elements.board.value;

function ask(op, values = {}, { remember = true } = {}) {
  pending += 1;
  busy = busy.then(() => done(op, values, remember)).finally(() => { pending -= 1; });
  return busy;
}

async function done(op, values, remember) {
  const before = data().value;
  const sent = new FormData(form());
  sent.set("op", op);
  if (block) sent.set("block", [block.top, block.left, block.bottom, block.right].join(","));
  for (const [name, value] of Object.entries(values)) sent.set(name, value);
  const target = values.image ? page().dataset.import : page().dataset.edit;
  let answer;
  try { answer = await fetch(target, { method: "POST", body: sent, headers: { "X-CSRFToken": String(sent.get("csrf_token")) } }); }
  catch { byId("away").hidden = false; data().value = before; return; }
  if (!answer.ok && answer.status !== 422) { byId("away").hidden = false; return; }
  byId("away").hidden = true;
  const drawn = await answer.text();
  const focus = active()?.id;
  const typed = Object.fromEntries(TYPED.map((id) => [id, byId(id).value]));
  page().innerHTML = drawn;
  for (const id of TYPED) byId(id).value = typed[id];
  window.htmx.process(page());
  if (remember && data().value !== before) { undo.push(before); redo.length = 0; }
  shown(focus);
}

// What the server does not know of outlives its answer.
const TYPED = ["most-panels", "picture-name", "picture-thickness"];

// A search that is asked for while the grid's answer is on its way is asked again behind it: the answer takes the place of
// the button, and with it what was asked through it.
document.addEventListener("htmx:confirm", (event) => {
  if (!pending || event.detail.elt.id !== "fewer-go") return;
  event.preventDefault();
  busy.then(() => byId("fewer-go").click());
});

function shown(focus) {
  try { sessionStorage.setItem(STORE, JSON.stringify({ board: board(), picture: data().value })); } catch { /* full or forbidden */ }
  if (!$(`.brush[data-letter="${letter}"]`)) letter = "A";
  marks();
  const again = focus && byId(focus);
  if (again) again.focus({ preventScroll: true });
  cell(...at)?.setAttribute("tabindex", "0");
}

function marks() {
  all(".brush").forEach((el) => el.setAttribute("aria-pressed", String(el.dataset.letter === letter)));
  all("[data-tool]").forEach((el) => el.setAttribute("aria-pressed", String(el.dataset.tool === tool)));
  byId("act-undo").disabled = !undo.length;
  byId("act-redo").disabled = !redo.length;
  byId("act-paste").disabled = !copied;
  const box = $(".grid-choice");
  if (!block) { box.setAttribute("visibility", "hidden"); return; }
  const first = cell(block.top, block.left), last = cell(block.bottom, block.right);
  if (!first || !last) { block = null; box.setAttribute("visibility", "hidden"); return; }
  const n = (el, name) => Number(el.getAttribute(name));
  box.setAttribute("x", n(first, "x")); box.setAttribute("y", n(first, "y"));
  box.setAttribute("width", n(last, "x") + n(last, "width") - n(first, "x"));
  box.setAttribute("height", n(last, "y") + n(last, "height") - n(first, "y"));
  box.setAttribute("visibility", "visible");
}

/** @returns {[number, number]} Row and column of a cell. */
const placed = (el) => [Number(el.dataset.row), Number(el.dataset.column)];
const between = ([a, b], [c, d]) => ({ top: Math.min(a, c), left: Math.min(b, d), bottom: Math.max(a, c), right: Math.max(b, d) });

function paint(el) {
  el.setAttribute("fill", `url(#wood-${letter})`);
  stroke.cells.add(`${el.dataset.row}-${el.dataset.column}`);
}

document.addEventListener("pointerdown", (event) => {
  const el = event.target.closest?.(".picture-grid .cell");
  if (!el || event.button) return;
  event.preventDefault();
  at = placed(el);
  el.focus({ preventScroll: true });
  if (tool === "fill") { ask("fill", { cells: `${at[0]}-${at[1]}`, letter }); return; }
  stroke = { from: at, cells: new Set() };
  if (tool === "choose") { block = between(at, at); marks(); } else paint(el);
});

document.addEventListener("pointermove", (event) => {
  if (!stroke) return;
  const el = document.elementFromPoint(event.clientX, event.clientY)?.closest?.(".picture-grid .cell");
  if (!el) return;
  if (tool === "choose") { block = between(stroke.from, placed(el)); marks(); } else paint(el);
});

document.addEventListener("pointerup", () => {
  if (!stroke) return;
  const cells = [...stroke.cells].join(",");
  stroke = null;
  if (cells) ask("paint", { cells, letter });
});

function copy() {
  const rows = JSON.parse(data().value).rows;
  const of = block ?? { top: 0, left: 0, bottom: rows.length - 1, right: rows[0].length - 1 };
  copied = rows.slice(of.top, of.bottom + 1).map((row) => row.slice(of.left, of.right + 1));
  marks();
}

function back(from, to) {
  const state = from.pop();
  if (state === undefined) return;
  to.push(data().value);
  data().value = state;
  ask("", {}, { remember: false });
}

const ACTS = {
  mirror: () => ask("mirror"), "turn-over": () => ask("turn-over"), repeat: () => ask("repeat"), copy,
  paste: () => copied && ask("paste", { rows: copied.join(","), cells: block ? `${block.top}-${block.left}` : at.join("-") }),
  undo: () => back(undo, redo), redo: () => back(redo, undo),
};

document.addEventListener("click", (event) => {
  if (!page()) return;
  const el = event.target.closest("button");
  if (!el || !page().contains(el)) return;
  const { dataset } = el;
  if (dataset.letter) { letter = dataset.letter; marks(); }
  else if (dataset.tool) { tool = dataset.tool; if (tool !== "choose") block = null; marks(); }
  else if (dataset.act) ACTS[dataset.act]();
  else if (dataset.moreWood) ask("wood", { letter: dataset.moreWood, wood: "oak" });
  else if (dataset.take) { undo.push(data().value); redo.length = 0; data().value = dataset.take; ask("", {}, { remember: false }); }
  else if (dataset.keep) kept([...keeping(), dataset.keep]);
  else if ("keepNone" in dataset) kept([]);
});

const keeping = () => byId("keep-cells").value.split(",").filter(Boolean);
function kept(cells) {
  byId("keep-cells").value = cells.join(",");
  byId("fewer-go").click();
}

document.addEventListener("change", (event) => {
  if (!page()?.contains(event.target)) return;
  const { target } = event;
  if (target.dataset.wood) ask("wood", { letter: target.dataset.wood, wood: target.value });
  else if (target.dataset.grid === "resize") ask("resize", { rows: byId("grid-rows").value, columns: byId("grid-columns").value });
  else if (target.dataset.grid === "sizes") ask("sizes", { [target.id === "grid-width" ? "width" : "height"]: target.value });
  else if (target.id === "picture-file") load(target.files[0]);
});

// Enter takes what was typed in a field; a board is made by its button alone.
document.addEventListener("keydown", (event) => {
  if (event.key !== "Enter" || !page()?.contains(event.target) || !event.target.matches("input:not([type])")) return;
  event.preventDefault();
  if (event.target.id === "most-panels") byId("fewer-go").click();
  else event.target.dispatchEvent(new Event("change", { bubbles: true }));
});

// An SVG is drawn to pixels here, so that the server gets a PNG of either.
function load(file) {
  if (!file) return;
  const reader = new FileReader();
  reader.onload = () => {
    const image = new Image();
    image.onload = () => {
      const most = 1200, scale = Math.min(1, most / Math.max(image.width || most, image.height || most));
      const canvas = document.createElement("canvas");
      canvas.width = Math.max(1, Math.round((image.width || most) * scale));
      canvas.height = Math.max(1, Math.round((image.height || most) * scale));
      canvas.getContext("2d").drawImage(image, 0, 0, canvas.width, canvas.height);
      canvas.toBlob((blob) => ask("", { image: blob, stretch: byId("picture-stretch").checked ? "yes" : "" }));
    };
    image.onerror = () => ask("", { image: file, stretch: "yes" });
    image.src = String(reader.result);
  };
  reader.readAsDataURL(file);
}

document.addEventListener("focusin", (event) => {
  const on = event.target.closest?.(".picture-grid .cell");
  if (on) at = placed(on);
});

const STEP = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] };
const KEYS = { p: () => { tool = "brush"; block = null; marks(); }, l: () => { tool = "fill"; block = null; marks(); }, s: () => { tool = "choose"; marks(); }, m: ACTS.mirror, u: ACTS["turn-over"], r: ACTS.repeat };

document.addEventListener("keydown", (event) => {
  if (!page() || isTyping(event.target)) return;
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (event.ctrlKey || event.metaKey) {
    const act = { c: "copy", v: "paste", z: event.shiftKey ? "redo" : "undo" }[key];
    if (act) { event.preventDefault(); ACTS[act](); }
    return;
  }
  const on = event.target.closest?.(".cell");
  if (on && STEP[key]) {
    event.preventDefault();
    const from = event.shiftKey && block ? null : at;
    const next = cell(at[0] + STEP[key][0], at[1] + STEP[key][1]);
    if (!next) return;
    if (event.shiftKey) {
      tool = "choose";
      anchor ??= from ?? at;
      at = placed(next);
      block = between(anchor, at);
    } else { anchor = null; block = null; at = placed(next); }
    all('.cell[tabindex="0"]').forEach((el) => el.setAttribute("tabindex", "-1"));
    next.setAttribute("tabindex", "0");
    next.focus({ preventScroll: true });
    marks();
    return;
  }
  const brush = $(`.brush[data-letter="${key.toUpperCase()}"]`);
  if (on && brush) {
    event.preventDefault();
    letter = brush.dataset.letter;
    const cells = block ? [] : [`${at[0]}-${at[1]}`];
    if (block) for (let r = block.top; r <= block.bottom; r++) for (let c = block.left; c <= block.right; c++) cells.push(`${r}-${c}`);
    ask("paint", { cells: cells.join(","), letter });
    return;
  }
  if (KEYS[key] && !event.altKey) { event.preventDefault(); KEYS[key](); }
});
let anchor = null;

// Which cells would change is ringed on the grid.
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target?.id !== "fewer-found") return;
  all(".cell.changes").forEach((el) => el.classList.remove("changes"));
  const list = $(".changed-cells");
  list?.dataset.changed.split(",").forEach((name) => byId(`cell-${name}`)?.classList.add("changes"));
});

/** @returns {boolean} Whether the page stands here because it was loaded anew. */
function reloaded() {
  const [how] = /** @type {PerformanceNavigationTiming[]} */ (performance.getEntriesByType("navigation"));
  return how?.type === "reload";
}

if (page()) {
  let last = null;
  try { last = JSON.parse(sessionStorage.getItem(STORE) ?? "null"); } catch { last = null; }
  if (last && last.board === board() && last.picture !== data().value && reloaded()) {
    undo.push(data().value);
    data().value = last.picture;
    ask("", {}, { remember: false });
  } else shown();
}
