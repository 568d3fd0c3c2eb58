/* The large drawing under the hand: zoomed, panned, measured. */
import { $, isTyping, workspace } from "./dom.js";
import { written } from "./lengths.js";
import { place, start } from "./paint.js";

const room = () => $("#room");
const svg = () => $("#room > svg.drawing");
let home = null;
let view = null;
let shown = "";
let named = "";

const boxOf = (el) => el.getAttribute("viewBox").split(" ").map(Number);
const asText = (box) => box.map((v) => v.toFixed(2)).join(" ");

function apply() {
  const el = svg();
  if (!el || !view) return;
  if (asText(boxOf(el)) !== asText(view)) el.setAttribute("viewBox", asText(view)); // set anew it is laid out anew
  el.classList.toggle("zoomed", Math.abs(view[2] - home[2]) > 0.01);
  place();
}

/** Zoom about a point of the drawing (mm), or about its middle. */
function zoom(by, at) {
  if (!view) return;
  const [x, y, w, h] = view;
  const least = home[2] / 40;
  const width = Math.max(least, Math.min(home[2], w / by));
  const k = width / w;
  const centre = at ?? { x: x + w / 2, y: y + h / 2 };
  view = [centre.x - (centre.x - x) * k, centre.y - (centre.y - y) * k, width, h * k];
  keep();
  apply();
}

function keep() {
  const [x, y, w, h] = home;
  view[0] = Math.min(Math.max(view[0], x), x + w - view[2]);
  view[1] = Math.min(Math.max(view[1], y), y + h - view[3]);
}

function fit() {
  view = [...home];
  apply();
}

function pan(dx, dy) {
  view[0] -= dx;
  view[1] -= dy;
  keep();
  apply();
}

const point = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg().getScreenCTM().inverse());

/* Zoom and pan by wheel, drag, fingers, buttons and keys */
document.addEventListener("wheel", (event) => {
  if (!event.target.closest?.("#room") || !svg() || !view) return;
  event.preventDefault();
  zoom(Math.exp(-event.deltaY * 0.0016), point(event));
}, { passive: false });

const fingers = new Map();
let held = null;
document.addEventListener("pointerdown", (event) => {
  if (!event.target.closest?.("#room > svg.drawing") || !view) return;
  fingers.set(event.pointerId, event);
  if (ruling()) { rule(event); return; }
  const onPiece = event.target.closest(".laid-row, .piece") && event.button === 0 && fingers.size < 2;
  if (!onPiece) held = { x: event.clientX, y: event.clientY };
});
document.addEventListener("pointermove", (event) => {
  if (ruler.from && ruler.dragging) { ruleTo(event); return; }
  if (!fingers.has(event.pointerId)) return;
  if (fingers.size === 2) {
    const [a, b] = [...fingers.values()];
    const before = Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY);
    fingers.set(event.pointerId, event);
    const [c, d] = [...fingers.values()];
    const after = Math.hypot(c.clientX - d.clientX, c.clientY - d.clientY);
    if (before > 0) zoom(after / before, point({ clientX: (c.clientX + d.clientX) / 2, clientY: (c.clientY + d.clientY) / 2 }));
    return;
  }
  fingers.set(event.pointerId, event);
  if (!held || !view || view[2] >= home[2] - 0.01) return;
  const scale = svg().getScreenCTM().a;
  pan((event.clientX - held.x) / scale, (event.clientY - held.y) / scale);
  held = { x: event.clientX, y: event.clientY };
});
for (const end of /** @type {const} */ (["pointerup", "pointercancel"])) {
  document.addEventListener(end, (event) => {
    fingers.delete(event.pointerId);
    ruler.dragging = false;
    if (!fingers.size) held = null;
  });
}

/* The ruler: from one point to another, in the maker's units. With the keys it starts in the middle and its end walks. */
const ruler = { from: null, to: null, dragging: false };
const ruling = () => Boolean(document.body.dataset.ruler);

function rule(event) {
  ruler.from = point(event);
  ruler.to = ruler.from;
  ruler.dragging = true;
  event.preventDefault();
}

function ruleTo(event) {
  const p = point(event);
  if (event.shiftKey) {
    if (Math.abs(p.x - ruler.from.x) > Math.abs(p.y - ruler.from.y)) p.y = ruler.from.y; else p.x = ruler.from.x;
  }
  ruler.to = p;
  drawRuler();
}

function drawRuler() {
  $("#ruler-line")?.remove();
  if (!ruler.from || !svg()) return;
  const { from, to } = ruler;
  const length = Math.hypot(to.x - from.x, to.y - from.y);
  const unit = svg().getScreenCTM().a;
  const ns = "http://www.w3.org/2000/svg";
  const group = document.createElementNS(ns, "g");
  group.id = "ruler-line";
  const add = (name, values, words) => {
    const el = document.createElementNS(ns, name);
    for (const [key, value] of Object.entries(values)) el.setAttribute(key, value);
    if (words) el.textContent = words;
    group.append(el);
  };
  add("path", { d: `M${from.x} ${from.y}L${to.x} ${to.y}`, "stroke-width": 2 / unit });
  for (const p of [from, to]) add("circle", { cx: p.x, cy: p.y, r: 4 / unit });
  const words = written(length, workspace());
  const at = { x: (from.x + to.x) / 2, y: (from.y + to.y) / 2 };
  add("rect", { x: at.x - (words.length * 4.6 + 8) / unit, y: at.y - 12 / unit, width: (words.length * 9.2 + 16) / unit, height: 24 / unit, rx: 4 / unit });
  add("text", { x: at.x, y: at.y + 5 / unit, "font-size": 15 / unit, "text-anchor": "middle" }, words);
  svg().append(group);
  const told = $("#told");
  if (told) told.textContent = words;
}

function toggleRuler() {
  const on = !ruling();
  if (on) document.body.dataset.ruler = "yes"; else delete document.body.dataset.ruler;
  $("#ruler")?.setAttribute("aria-pressed", String(on));
  ruler.from = null;
  if (on && view) {
    ruler.from = { x: view[0] + view[2] / 2, y: view[1] + view[3] / 2 };
    ruler.to = { ...ruler.from };
  }
  drawRuler();
}

document.addEventListener("click", (event) => {
  const id = event.target.closest("button")?.id;
  if (id === "zoom-in") zoom(1.5);
  if (id === "zoom-out") zoom(1 / 1.5);
  if (id === "zoom-fit") fit();
  if (id === "ruler") toggleRuler();
  if (id === "grey") grey();
});

function grey() {
  const on = document.documentElement.toggleAttribute("data-grey");
  $("#grey")?.setAttribute("aria-pressed", String(on));
}

const WALK = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
document.addEventListener("keydown", (event) => {
  if (!workspace() || isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey || $("dialog[open]")) return;
  const walk = WALK[event.key];
  if (walk && ruling() && ruler.from) {
    const step = event.shiftKey ? 10 : 1;
    ruler.to = { x: ruler.to.x + walk[0] * step, y: ruler.to.y + walk[1] * step };
    drawRuler();
    event.preventDefault();
    event.stopPropagation();
    return;
  }
  const keys = { "+": () => zoom(1.5), "=": () => zoom(1.5), "-": () => zoom(1 / 1.5), 0: fit };
  if (event.key in keys && view) keys[event.key]();
  const key = event.key.toLowerCase();
  if (key === "r" && !event.shiftKey) toggleRuler();
  if (key === "g" && !event.shiftKey) grey();
  if (event.key === "Escape" && ruling()) toggleRuler();
}, true);

function ready() {
  const el = svg();
  if (!el) { home = view = null; start(); return; }
  const now = `${room().dataset.view} ${$(".history-tools input[name=stage]")?.value}`;
  const { drawing } = room().dataset;
  const box = drawing === named && home ? home : boxOf(el); // one that was not sent anew may be zoomed
  named = drawing;
  const same = now === shown && home && box.every((v, k) => Math.abs(v - home[k]) < 0.5);
  shown = now;
  home = box;
  if (!same || !view) view = [...box];
  apply();
  ruler.from = null;
  start();
  place();
}
document.addEventListener("htmx:afterSwap", (event) => { if (event.detail.target?.id === "workspace") ready(); });
ready();
