/* Lists that are set on a drawing: points, runs and lines are dragged, put in and taken out. What a drag does to the list
   the server works out; here only the handle follows the finger, and holds to joints and edges near it. */
import { $, active, byId, isTyping } from "./dom.js";
import { ask, whenIdle } from "./edits.js";

/** How near (pixels) a drag holds to a line. */
const HOLD = 7;

let held = null;

const told = (svg) => JSON.parse(svg.dataset.pad);

/** Where on the drawing the pointer is: x right, y up, mm. */
function place(svg, event) {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return [at.x, told(svg).height - at.y];
}

/** A point held by lines and corners that are near, unless ``free``.
    @param {any} svg @param {number[]} at @param {boolean} free */
function snapped(svg, [x, y], free) {
  if (free) return [x, y];
  const scale = svg.getScreenCTM().a;
  const near = (value, lines) => {
    const best = lines.reduce((a, b) => (Math.abs(b - value) < Math.abs(a - value) ? b : a), Infinity);
    return Math.abs(best - value) * scale < HOLD ? best : value;
  };
  const [xs, ys] = told(svg).snaps;
  return [near(x, xs), near(y, ys)];
}

/** Let the handle and its line follow.
    @param {any} svg @param {any} handle @param {number[]} at */
function follow(svg, handle, [x, y]) {
  const { draws, height } = told(svg), line = $(`.pad-line[data-run="${handle.dataset.run}"]`, svg);
  const points = [...line.points];
  if (draws === "upright" || draws === "level") {
    for (const point of points) { if (draws === "upright") point.x = x; else point.y = height - y; }
    if (draws === "upright") handle.setAttribute("cx", x); else handle.setAttribute("cy", height - y);
    return;
  }
  handle.setAttribute("cx", x);
  handle.setAttribute("cy", height - y);
  const point = points[Number(handle.dataset.index)];
  point.x = x;
  point.y = height - y;
}

/** @param {string} op @param {any} handle @param {number[]} at */
function send(op, handle, [x, y], more = {}) {
  const { run, index } = handle.dataset;
  whenIdle(() => ask({ op, run, index, x: x.toFixed(3), y: y.toFixed(3), mirrored: byId("pad-mirrored")?.checked ? "yes" : "", ...more }));
}

document.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest?.(".pad-handle");
  if (!handle || event.button) return;
  event.preventDefault();
  handle.focus();
  handle.setPointerCapture(event.pointerId);
  held = { handle, svg: handle.ownerSVGElement, at: null };
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  held.at = snapped(held.svg, place(held.svg, event), event.altKey);
  follow(held.svg, held.handle, held.at);
});
document.addEventListener("pointerup", () => {
  if (held?.at) send("draw-move", held.handle, held.at);
  held = null;
});

/** The side or run that a point lies nearest to, as the index of the point before it.
    @param {any} svg @param {number[]} at */
function nearest(svg, [x, y]) {
  let best = { run: "0", index: 0, off: Infinity };
  const height = told(svg).height;
  for (const line of svg.querySelectorAll(".pad-line")) {
    const points = [...line.points].map((p) => [p.x, height - p.y]);
    const closed = line.matches("polygon");
    for (let k = 0; k < points.length - (closed ? 0 : 1); k += 1) {
      const [a, b] = [points[k], points[(k + 1) % points.length]];
      const along = [b[0] - a[0], b[1] - a[1]], square = along[0] ** 2 + along[1] ** 2 || 1;
      const t = Math.max(0, Math.min(1, ((x - a[0]) * along[0] + (y - a[1]) * along[1]) / square));
      const off = Math.hypot(x - a[0] - t * along[0], y - a[1] - t * along[1]);
      if (off < best.off) best = { run: line.dataset.run, index: k, off };
    }
  }
  return best;
}

document.addEventListener("dblclick", (event) => {
  const svg = event.target.closest?.(".pad");
  if (!svg || event.target.closest(".pad-handle")) return;
  const at = snapped(svg, place(svg, event), event.altKey);
  send("draw-add", { dataset: nearest(svg, at) }, at);
});

document.addEventListener("click", (event) => {
  if (!event.target.closest?.("#pad-run")) return;
  const svg = $(".pad"), { runs, width } = told(svg);
  send("draw-add", { dataset: { run: runs, index: 0 } }, [width / 2, 0]);
});

const NUDGE = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

document.addEventListener("keydown", (event) => {
  const handle = active();
  if (!handle?.matches?.(".pad-handle") || isTyping(event.target)) return;
  const svg = handle.ownerSVGElement, { height } = told(svg);
  const at = [Number(handle.getAttribute("cx")), height - Number(handle.getAttribute("cy"))];
  const by = NUDGE[event.key];
  if (event.key === "Delete" || event.key === "Backspace") {
    event.preventDefault();
    send("draw-remove", handle, at);
  } else if (by) {
    event.preventDefault();
    const step = Number($(".workspace").dataset.step) * (event.shiftKey ? 10 : 2);
    const to = [at[0] + by[0] * step, at[1] + by[1] * step];
    follow(svg, handle, to);
    send("draw-move", handle, to);
  }
}, true);
