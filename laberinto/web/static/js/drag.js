/* Dragging on the drawing: rows up and down or, with Shift held or moving sideways first, to the side; strips to another
   place; a strip's right edge to another width. */
import { all } from "./dom.js";
import { ask, whenIdle } from "./edits.js";
import { carry } from "./paint.js";
import { choose, chosen, hand, isRows, line, lines, list, move, onDrawing } from "./lines.js";

let drag = null;

function millimetres(svg, event) {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return { x: p.x, y: p.y };
}

document.addEventListener("pointerdown", (event) => {
  const group = event.target.closest?.(".drawing .laid-row, .drawing .piece");
  if (!group || event.button !== 0 || document.body.dataset.ruler || !list()) return;
  const rows = group.matches(".laid-row");
  if (rows !== isRows()) return;
  const svg = group.ownerSVGElement;
  const at = Number(rows ? group.dataset.row : group.dataset.piece);
  if (!line(at)) return;
  const edge = event.target.closest(".edge-handle");
  drag = {
    group, svg, at, rows, edge, start: millimetres(svg, event), moved: false, pointer: event.pointerId,
    add: event.ctrlKey || event.metaKey, stretch: event.shiftKey,
  };
  event.preventDefault();
});

document.addEventListener("pointermove", (event) => {
  if (!drag || event.pointerId !== drag.pointer) return;
  const now = millimetres(drag.svg, event);
  const dx = now.x - drag.start.x;
  const dy = now.y - drag.start.y;
  if (!drag.moved && Math.hypot(dx, dy) * drag.svg.getScreenCTM().a < 5) return;
  if (!drag.moved) {
    drag.moved = true;
    drag.way = drag.edge ? "edge" : drag.rows && Math.abs(dx) > Math.abs(dy) ? "side" : "order";
    if (!chosen.has(drag.at)) choose(drag.at);
    drag.svg.classList.add("dragging", `drag-${drag.way}`);
  }
  drag.dx = dx;
  drag.dy = dy;
  if (drag.way === "edge") {
    drag.edge.setAttribute("transform", `translate(${dx} 0)`);
    drag.edge.classList.add("held");
  } else {
    const shift = drag.way === "side" || !drag.rows ? `translate(${dx} 0)` : `translate(0 ${dy})`;
    for (const at of hand(drag.at)) onDrawing(at)?.setAttribute("transform", shift);
    carry();
  }
});

function drop() {
  const { at, rows, way, dx, dy } = drag;
  const ats = hand(at);
  if (way === "edge") {
    const width = Number(drag.edge.dataset.width) + dx;
    return () => ask({ op: "strip-drag", at: String(at), mm: width, focus: `strip-${at}` });
  }
  if (way === "side") return () => ask({ op: "row-shift", at: ats.join(","), mm: dx, focus: `row-${at}` });
  // the place among the others where the middle of what is held now lies
  const axis = rows ? "y" : "x";
  const size = rows ? "height" : "width";
  const middle = (el) => { const box = el.querySelector(".row-frame, .piece-frame").getBBox(); return box[axis] + box[size] / 2; };
  const by = rows ? dy : dx;
  const here = middle(onDrawing(ats[0])) + by + Math.sign(by); // exactly on another one counts as past it
  const others = lines().map((el) => Number(el.dataset.at)).filter((k) => !ats.includes(k));
  const to = others.filter((k) => middle(onDrawing(k)) < here).length;
  return () => move(ats, to);
}

document.addEventListener("pointerup", (event) => {
  if (!drag || event.pointerId !== drag.pointer) return;
  const { group, moved, at, add, stretch, svg, way } = drag;
  if (!moved) choose(at, { focus: true, add, stretch });
  else whenIdle(drop());
  svg.classList.remove("dragging", `drag-${way}`);
  if (moved && way !== "edge") window.setTimeout(() => group.isConnected && all(".drawing .laid-row[transform], .drawing .piece[transform]").forEach((el) => el.removeAttribute("transform")), 400);
  drag = null;
});
document.addEventListener("pointercancel", () => { drag = null; });
