/* The lines beside the drawing: strips or rows, walked, moved and turned by key, button and drag. */
import { $, workspace } from "./dom.js";
import { ask, whenIdle } from "./edits.js";

const list = () => $(".lines[data-sortable]");
const line = (at) => list() && $(`.line[data-at="${at}"]`, list());
const hasRows = () => list()?.dataset.name === "row";

function choose(at, focus) {
  document.querySelectorAll(".line.chosen, .row.chosen").forEach((el) => el.classList.remove("chosen"));
  document.querySelectorAll(".line[tabindex]").forEach((el) => { el.tabIndex = -1; });
  const chosen = line(at);
  if (!chosen) return;
  chosen.classList.add("chosen");
  chosen.tabIndex = 0;
  if (focus) chosen.focus();
  if (hasRows()) $(`.drawing .row[data-row="${at}"]`)?.classList.add("chosen");
}

function move(from, to) {
  const { sortable, name } = list().dataset;
  if (to < 0 || to >= list().querySelectorAll(".line").length || to === from) return;
  ask({ op: sortable, at: from, to, focus: `${name}-${to}` });
}

function press(button) {
  const at = button.closest(".line");
  const last = list()?.querySelectorAll(".line").length - 1;
  // after a removal the focus goes to the strip that moved up
  const stay = !at ? "" : button.dataset.key === "Delete" ? `strip-${Math.min(at.dataset.at, last - 1)}` : at.id;
  ask({ op: button.dataset.op, at: at ? at.dataset.at : "", focus: stay });
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-op]");
  if (button && workspace()) {
    const at = button.closest(".line")?.id;
    const op = button.dataset.op;
    whenIdle(() => {
      const now = $(`${at ? `#${at} ` : ""}[data-op="${op}"]`);
      if (now) press(now);
    });
    return;
  }
  const row = event.target.closest(".drawing .row");
  if (row && hasRows()) choose(row.dataset.row, true);
});

document.addEventListener("focusin", (event) => {
  const at = event.target.closest(".line[data-at]");
  if (at) choose(at.dataset.at, false);
});

document.addEventListener("keydown", (event) => {
  const at = event.target.closest(".line[data-at]");
  if (!at || event.target !== at || event.ctrlKey || event.metaKey) return;
  const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const edits = event.altKey ? Boolean(step) : Boolean($(`.line-tools [data-key="${key}"]`, at));
  if (step && !event.altKey) {
    event.preventDefault();
    const index = Number(at.dataset.at) + step;
    if (line(index)) choose(index, true);
  } else if (edits) {
    event.preventDefault();
    // by the time it is this key's turn the line may be another one: the one then in focus
    whenIdle(() => {
      const now = document.activeElement?.closest(".line[data-at]");
      if (!now) return;
      const index = Number(now.dataset.at);
      if (step) move(index, index + step); else press($(`.line-tools [data-key="${key}"]`, now));
    });
  }
});

function ready() {
  if (!list() || list().dataset.ready) return;
  list().dataset.ready = "yes";
  Sortable.create(list(), {
    handle: ".grip", animation: 120, delay: 80, delayOnTouchOnly: true,
    onEnd: (drag) => { if (drag.oldIndex !== drag.newIndex) whenIdle(() => move(drag.oldIndex, drag.newIndex)); },
  });
}
document.addEventListener("DOMContentLoaded", ready);
document.addEventListener("htmx:afterSettle", ready);
ready();
