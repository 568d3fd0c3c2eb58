/* A file dropped anywhere on the window is opened: a plan, or a board with everything that is kept of it. */
import { $, byId } from "./dom.js";

const form = byId("dropped");
const cover = byId("drop-cover");
let depth = 0;

/** Files alone: text and pictures that are dragged within the page are no business of this. @param {DragEvent} event */
const files = (event) => [...(event.dataTransfer?.types ?? [])].includes("Files");

/** A field of the page that takes files itself has the first word. @param {any} target */
const taken = (target) => target.closest?.("[type=file], label[for], .takes-files") !== null;

/** @param {number} by */
function shade(by) {
  depth = Math.max(depth + by, 0);
  cover.hidden = depth === 0;
}

if (form) {
  document.addEventListener("dragenter", (event) => { if (files(event)) shade(1); });
  document.addEventListener("dragleave", (event) => { if (files(event)) shade(-1); });
  document.addEventListener("dragover", (event) => { if (files(event) && !taken(event.target)) event.preventDefault(); });
  document.addEventListener("drop", (event) => {
    if (!files(event)) return;
    shade(-depth);
    if (taken(event.target)) return;
    event.preventDefault();
    const given = event.dataTransfer?.files;
    if (!given?.length) return;
    $("input[type=file]", form).files = given;
    form.requestSubmit();
  });
}
