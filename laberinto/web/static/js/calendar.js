/* Jobs on the calendar are dragged to another day, or moved by keys; where on that day there is room the server says. */
import { $, active, all, byId } from "./dom.js";

const sheet = () => byId("calendar-sheet");

/** Pin a job to a day, or with none let go of it. */
function move(job, day) {
  const { move: address, from } = sheet().dataset;
  htmx.ajax("POST", address, { target: "#calendar-sheet", swap: "outerHTML", values: { job, day, from } }).then(() => {
    $(`.cal-bar[data-job="${CSS.escape(job)}"]`)?.focus();
  });
}

const days = () => all(".cal-day");

/** The day that a point of the window lies in. */
const dayAt = (x) => days().find((day) => { const box = day.getBoundingClientRect(); return x >= box.left && x < box.right; });

let held = null;

document.addEventListener("pointerdown", (event) => {
  const bar = event.target.closest?.(".cal-bar");
  if (!bar || event.button) return;
  held = { bar, x: event.clientX, from: dayAt(event.clientX), over: null };
  bar.setPointerCapture(event.pointerId);
});

document.addEventListener("pointermove", (event) => {
  if (!held || (!held.over && Math.abs(event.clientX - held.x) < 6)) return;
  held.bar.classList.add("dragged");
  held.bar.setAttribute("transform", `translate(${(event.clientX - held.x) / $(".weeks").getScreenCTM().a} 0)`);
  const over = dayAt(event.clientX);
  if (over === held.over) return;
  held.over?.classList.remove("dropped");
  over?.classList.add("dropped");
  held.over = over ?? held.over;
});

document.addEventListener("pointerup", () => {
  if (!held) return;
  const { bar, over, from } = held;
  held = null;
  if (!over) return;
  bar.addEventListener("click", (event) => event.preventDefault(), { once: true }); // it was dragged, not followed
  bar.classList.remove("dragged");
  bar.removeAttribute("transform");
  over.classList.remove("dropped");
  if (over !== from) move(bar.dataset.job, over.dataset.day);
});

document.addEventListener("dragstart", (event) => { if (event.target.closest?.(".cal-bar")) event.preventDefault(); });

document.addEventListener("keydown", (event) => {
  const bar = active()?.closest?.(".cal-bar");
  if (!bar) return;
  if (event.key.toLowerCase() === "p" && !event.ctrlKey && !event.altKey) { event.preventDefault(); move(bar.dataset.job, ""); return; }
  if (!event.altKey || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
  event.preventDefault();
  const every = days();
  const first = Number(sheet().dataset.from);
  const step = event.key === "ArrowRight" ? 1 : -1;
  let to = Number(bar.dataset.day) - first + step;
  while (every[to]?.classList.contains("off")) to += step; // over days without hours
  if (every[to]) move(bar.dataset.job, every[to].dataset.day);
});
