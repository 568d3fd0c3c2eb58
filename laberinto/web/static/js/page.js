/* Manners of every page: forms that send themselves, and keys. */
import { $, all, byId, isTyping } from "./dom.js";

document.addEventListener("change", (event) => {
  const form = event.target.closest("form[data-auto]");
  if (form) form.requestSubmit();
}, true);

// A form that is sent as soon as something in it changes needs no Enter: the browser tells of the change before it would
// send the form a second time by itself. A button of the form still sends it, but for one that only stands there for Enter.
document.addEventListener("submit", (event) => {
  const by = event.submitter;
  if (by ? by.dataset.still !== undefined : event.target.getAttribute("hx-trigger")?.startsWith("change")) event.preventDefault();
}, true);

document.addEventListener("submit", (event) => {
  const ask = event.target.dataset.confirm;
  if (ask && !window.confirm(ask)) event.preventDefault();
}, true);

// A list of all woods is long, and a page has one for each strip: it is filled in when it is about to be opened.
function fill(event) {
  const select = event.target.closest?.("select[data-woods]");
  if (!select || select.options.length > 1) return;
  const chosen = select.value;
  select.replaceChildren($("#all-woods").content.cloneNode(true));
  select.value = chosen;
}
for (const about of ["focusin", "pointerover", "pointerdown"]) document.addEventListener(about, fill, true);

document.addEventListener("click", (event) => {
  all("details.drop[open]").forEach((drop) => {
    if (!drop.contains(event.target)) drop.open = false;
  });
});

// what was opened before htmx listened is told again, so that it is fetched
document.addEventListener("DOMContentLoaded", () => {
  all("details[open]").forEach((drop) => drop.dispatchEvent(new Event("toggle")));
});

document.addEventListener("keydown", (event) => {
  if (event.key === "Escape") {
    const open = $("details.drop[open]");
    if (open) { open.open = false; $("summary", open).focus(); }
    return;
  }
  if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"].includes(event.key) && event.target.closest(".thread")) {
    const knots = all(".thread a");
    const next = knots[knots.indexOf(event.target.closest("a")) + (["ArrowRight", "ArrowDown"].includes(event.key) ? 1 : -1)];
    if (next) { event.preventDefault(); next.focus(); }
    return;
  }
  // at the bench the keys of a cheap remote will do
  if ($(".page-bench") && !event.target.closest("a, button, summary")) {
    const target = $(`#log [data-key="${event.key}"]`);
    if (target) { event.preventDefault(); target.click(); }
  }
});

// A press whose button is drawn anew under the mouse, by the answer to the press before, is one on the button that is
// there by then: a browser drops it. Under a finger it looks for what is there when the finger is lifted.
let pressed = null;
document.addEventListener("pointerdown", (event) => { pressed = event.target.closest?.("button[id], a[id]"); }, true);
document.addEventListener("pointerup", (event) => {
  const gone = pressed && !pressed.isConnected && event.pointerType !== "touch";
  if (gone && byId(pressed.id)?.contains(event.target)) byId(pressed.id).click();
  pressed = null;
}, true);
