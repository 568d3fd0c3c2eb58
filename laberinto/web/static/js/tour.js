/* The tour: a real board in eight presses. It points at the next thing to press and waits for that; where it is lives
   only as long as this tab. */
import { $ } from "./dom.js";

const KEY = "laberinto-tour";

/** Where each press is made, on what, and what it is for. */
const PRESSES = [
  { on: /^\/boards\/new$/, target: "#family-alternating a", words: "Every face here is what its own cuts come to. The checker is the classic first board: press it." },
  { on: /^\/boards\/new\/alternating$/, target: ".new-go .btn-primary", words: "Two woods, strips and rows stand ready, and the face follows each number. Press “Make this board”." },
  { on: /^\/boards\/\d+$/, target: "#knot-rows", words: "The line on the left is the whole build, from strips to wax. Press “Arrange”: here the slices stand up and become rows." },
  { on: /^\/boards\/\d+$/, target: "#view-stage", words: "Press “Bench” to see what lies there at this stage." },
  { on: /^\/boards\/\d+$/, target: "#view-round", words: "And as a solid: press “Turn it”." },
  { on: /^\/boards\/\d+$/, target: ".board-nav a[href$='/checks']", words: "What to settle before the first cut, wood, cost and paper stand under “Ready”. Press it." },
  { on: /^\/boards\/\d+\//, target: ".board-nav a[href$='/steps']", words: "Every step with its numbers and drawings stands under “Build”. Press it." },
  { on: /^\/boards\/\d+\//, target: ".board-nav a[href$='/build']", words: "At the bench, the build log shows one step at a time, to tick and measure. Press it." },
];

const box = document.createElement("div");
box.className = "tour";
box.setAttribute("role", "status");
box.hidden = true;

const at = () => {
  const kept = window.sessionStorage.getItem(KEY);
  return kept === null ? -1 : Number(kept);
};

function keep(step) {
  if (step < 0) window.sessionStorage.removeItem(KEY);
  else window.sessionStorage.setItem(KEY, String(step));
}

function button(words, kind, press) {
  const made = document.createElement("button");
  made.type = "button";
  made.className = `btn btn-sm ${kind}`;
  made.textContent = words;
  made.addEventListener("click", press);
  return made;
}

function show() {
  document.querySelectorAll(".tour-target").forEach((el) => el.classList.remove("tour-target"));
  const step = at();
  box.hidden = step < 0;
  if (step < 0) return;
  const press = PRESSES[step];
  const here = press && press.on.test(window.location.pathname) ? $(press.target) : null;
  const count = document.createElement("strong"), words = document.createElement("span");
  count.textContent = press ? `Press ${step + 1} of ${PRESSES.length}` : "That was the tour";
  if (!press) words.textContent = "The board is yours now: change, judge, cut it again, or remove it from its menu.";
  else if (here) words.textContent = press.words;
  else words.textContent = "The tour goes on where you left it.";
  const ways = document.createElement("span");
  ways.className = "tour-ways";
  if (press && !here) ways.append(button("Begin again", "btn-secondary", () => { keep(0); window.location.assign("/boards/new"); }));
  ways.append(button(press ? "End the tour" : "Close", "btn-secondary", () => { keep(-1); show(); }));
  box.replaceChildren(count, words, ways);
  if (here) {
    here.classList.add("tour-target");
    here.scrollIntoView({ block: "nearest" });
  }
}

if (new URLSearchParams(window.location.search).get("tour") === "begin") {
  keep(0);
  window.history.replaceState(null, "", window.location.pathname);
}
if (document.body) document.body.append(box);

document.addEventListener("click", (event) => {
  const press = PRESSES[at()];
  if (!press || !press.on.test(window.location.pathname) || !event.target.closest?.(press.target)) return;
  keep(at() + 1);
  window.setTimeout(show);
}, true);
document.addEventListener("htmx:afterSettle", () => { if (at() >= 0) show(); });
show();
