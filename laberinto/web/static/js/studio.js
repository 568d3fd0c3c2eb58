/* The rest of the studio: the turntable when it is asked for, the help sheet, and keys for all of it. */
import { $, all, byId, isTyping, workspace } from "./dom.js";
import { whenIdle } from "./edits.js";

let leave = null;

async function turn() {
  const box = $("#turntable");
  if (!box) { leave?.(); return; }
  if (box.dataset.shown) {
    if (box.dataset.shown === "yes") $("#room").classList.add("turned"); // an answer gave the room its classes anew
    return;
  }
  box.dataset.shown = "loading";
  const table = await import(box.dataset.module);
  leave = table.leave;
  await table.turntable(box);
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (button?.id === "help") $("#keys")?.showModal();
  if (button?.dataset.close !== undefined) button.closest("dialog")?.close();
});

const knots = () => all(".thread a");

document.addEventListener("keydown", (event) => {
  if (!workspace() || isTyping(event.target)) return;
  if ($("dialog[open]")) return;
  const knot = event.target.closest(".thread a");
  if (knot && event.altKey && (event.key === "ArrowLeft" || event.key === "ArrowRight")) {
    event.preventDefault();
    if (knot.getAttribute("aria-current")) whenIdle(() => byId(event.key === "ArrowLeft" ? "stage-earlier" : "stage-later").click());
    return;
  }
  if (knot?.getAttribute("aria-current") && event.key === "Delete") { whenIdle(() => byId("stage-remove").click()); return; }
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "[" || event.key === "]") {
    const every = knots();
    const next = every[every.findIndex((a) => a.getAttribute("aria-current")) + (event.key === "]" ? 1 : -1)];
    if (next) whenIdle(() => next.click());
    return;
  }
  const view = $(`.stage-bar .btn-group [data-key="${event.key}"]`);
  if (view) { whenIdle(() => byId(view.id).click()); return; }
  const onLine = event.target.closest(".line");
  const key = event.key.toLowerCase();
  if (key === "?" ) $("#keys")?.showModal();
  if (onLine || event.shiftKey) return;
  if (key === "i") open("insert");
  if (key === "w") open("woods");
  if (key === "h") open("history");
  if (key === "n") open("board-menu");
  if (key === "p") $("#play")?.click();
});

function open(id) {
  const drop = byId(id);
  if (!drop) return;
  drop.open = !drop.open;
  if (drop.open) window.setTimeout(() => $("button, input, select, a", drop.querySelector(".drop-body"))?.focus(), 150);
}

document.addEventListener("htmx:afterSwap", (event) => { if (event.detail.target?.id === "workspace") turn(); });
turn();
