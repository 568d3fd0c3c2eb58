/* What the pages do in the browser: keys, dragging, choosing a row, and saying so when the server is away.
   Nothing about wood is computed here; every change is asked of the server. */
(() => {
  "use strict";

  const $ = (selector, root = document) => root.querySelector(selector);
  const workspace = () => $(".workspace");

  // Forms marked data-auto send themselves; data-confirm asks first.
  document.addEventListener("change", (event) => {
    const form = event.target.closest("form[data-auto]");
    if (form) form.requestSubmit();
    const edit = event.target.form && event.target.form.elements.edited;
    if (edit && event.target.form.id === "parameters") edit.value = event.target.name;
  }, true);
  document.addEventListener("submit", (event) => {
    const ask = event.target.dataset.confirm;
    if (ask && !window.confirm(ask)) event.preventDefault();
  }, true);

  // One edit through htmx, with the page's own hidden values.
  function ask(values) {
    const root = workspace();
    const hidden = {};
    for (const name of ["stage", "view", "side", "revision"]) {
      hidden[name] = $(`.history-tools input[name=${name}]`, root).value;
    }
    htmx.ajax("POST", root.dataset.edit, { target: "#workspace", swap: "innerHTML", values: { ...hidden, ...values } });
  }

  // Lines: the strips or rows beside the drawing.
  const lines = () => $(".lines[data-sortable]");
  const line = (at) => $(`.line[data-at="${at}"]`, lines() || document);

  function choose(at, focus) {
    document.querySelectorAll(".line.chosen, .row.chosen").forEach((el) => el.classList.remove("chosen"));
    document.querySelectorAll(".line[tabindex]").forEach((el) => { el.tabIndex = -1; });
    const chosen = line(at);
    if (chosen) {
      chosen.classList.add("chosen");
      chosen.tabIndex = 0;
      if (focus) chosen.focus();
    }
    if (lines() && lines().dataset.name === "row") {
      const row = $(`.drawing .row[data-row="${at}"]`);
      if (row) row.classList.add("chosen");
    }
  }

  function move(from, to) {
    const list = lines();
    const count = list.querySelectorAll(".line").length;
    if (to < 0 || to >= count || to === from) return;
    ask({ op: list.dataset.sortable, at: from, to, focus: `${list.dataset.name}-${to}` });
  }

  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-op]");
    if (button && workspace()) {
      const at = button.closest(".line");
      const stay = at && button.dataset.key !== "Delete" ? at.id : "";
      ask({ op: button.dataset.op, at: at ? at.dataset.at : "", focus: stay });
      return;
    }
    const row = event.target.closest(".drawing .row");
    if (row && lines() && lines().dataset.name === "row") choose(row.dataset.row, true);
    const busy = event.target.closest("[data-busy]");
    if (busy) {
      const label = $("span", busy);
      const before = label.textContent;
      label.textContent = busy.dataset.busy;
      window.setTimeout(() => { label.textContent = before; }, 4000);
    }
    document.querySelectorAll("details.drop[open]").forEach((drop) => {
      if (!drop.contains(event.target)) drop.open = false;
    });
  });

  document.addEventListener("focusin", (event) => {
    const at = event.target.closest(".line[data-at]");
    if (at) choose(at.dataset.at, false);
  });

  const typing = (el) => el.matches("input, select, textarea, [contenteditable]");

  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape") {
      const open = $("details.drop[open]");
      if (open) { open.open = false; $("summary", open).focus(); }
      return;
    }
    if (typing(event.target)) return;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      const button = $(event.shiftKey ? "#redo" : "#undo");
      if (button && !button.disabled) { event.preventDefault(); button.click(); }
      return;
    }
    if (event.ctrlKey || event.metaKey) return;
    const at = event.target.closest(".line[data-at]");
    if (at && event.target === at) return keyOnLine(event, at);
    if ((event.key === "ArrowLeft" || event.key === "ArrowRight") && event.target.closest(".thread")) {
      return walkThread(event);
    }
    if ($(".page-bench") && !event.target.closest("a, button, summary")) {
      const target = $(`#log [data-key="${event.key}"]`);
      if (target) { event.preventDefault(); target.click(); }
    }
  });

  function keyOnLine(event, at) {
    const index = Number(at.dataset.at);
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (step) {
      event.preventDefault();
      if (event.altKey) move(index, index + step);
      else if (line(index + step)) choose(index + step, true);
      return;
    }
    if (event.altKey) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    const button = $(`.line-tools [data-key="${key}"]`, at);
    if (button) { event.preventDefault(); button.click(); }
  }

  function walkThread(event) {
    const knots = [...document.querySelectorAll(".thread a")];
    const next = knots[knots.indexOf(event.target.closest("a")) + (event.key === "ArrowRight" ? 1 : -1)];
    if (next) { event.preventDefault(); next.focus(); }
  }

  // Dragging, after each swap.
  function ready() {
    const list = lines();
    if (!list || list.dataset.ready) return;
    list.dataset.ready = "yes";
    Sortable.create(list, {
      handle: ".grip", animation: 120, delay: 80, delayOnTouchOnly: true,
      onEnd: (drag) => { if (drag.oldIndex !== drag.newIndex) move(drag.oldIndex, drag.newIndex); },
    });
  }
  document.addEventListener("DOMContentLoaded", ready);
  document.addEventListener("htmx:afterSettle", ready);
  document.addEventListener("focus-on", (event) => {
    const wanted = document.getElementById(event.detail.value);
    if (wanted) wanted.focus();
  });

  // Where a panel was scrolled to stays, and an open drop or table too.
  let kept = {};
  document.addEventListener("htmx:beforeSwap", () => {
    kept = {};
    for (const name of ["panel-column", "thread-column", "stage-column"]) {
      const el = $(`.${name}`);
      if (el) kept[name] = el.scrollTop;
    }
    kept.more = Boolean($(".more-figures[open]"));
    kept.stage = $(".history-tools input[name=stage]")?.value;
  });
  document.addEventListener("htmx:afterSwap", () => {
    const same = kept.stage === $(".history-tools input[name=stage]")?.value;
    for (const name of ["panel-column", "thread-column", "stage-column"]) {
      const el = $(`.${name}`);
      if (el && name in kept && (same || name !== "panel-column")) el.scrollTop = kept[name];
    }
    if (kept.more && $(".more-figures")) $(".more-figures").open = true;
  });

  // Say so when the server does not answer, and take it back when it does.
  const away = (shown) => { const box = $("#away"); if (box) box.hidden = !shown; };
  document.addEventListener("htmx:sendError", () => away(true));
  document.addEventListener("htmx:responseError", () => away(true));
  document.addEventListener("htmx:afterOnLoad", () => away(false));
})();
