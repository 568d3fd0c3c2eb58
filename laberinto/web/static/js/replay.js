/* The replay: one scene a stage, acted out with the browser's own animations. */
import { $ } from "./dom.js";

const calm = window.matchMedia("(prefers-reduced-motion: reduce)");
let play = null;

async function replay(address) {
  const answer = await fetch(address);
  if (!answer.ok) return;
  $("#replay")?.remove();
  document.body.insertAdjacentHTML("beforeend", await answer.text());
  const dialog = $("#replay");
  play = { dialog, at: 0, running: !calm.matches, timer: 0, scenes: [...dialog.querySelectorAll("[data-stage]")], kept: new Map() };
  dialog.addEventListener("close", () => { window.clearTimeout(play.timer); dialog.remove(); $("#play")?.focus(); });
  dialog.showModal();
  go(0);
}

function scene(at) {
  const { dialog, scenes, kept } = play;
  const item = scenes[at];
  if (!item) return Promise.resolve("");
  if (!kept.has(at)) {
    const address = dialog.dataset.scenes.replace("STAGE", item.dataset.stage);
    kept.set(at, fetch(`${address}&wood=${item.dataset.wood}`).then((answer) => (answer.ok ? answer.text() : "")));
  }
  return kept.get(at);
}

const LEAD = 250;
const EACH = 90;
const LONG = 650;

function act(root) {
  let end = 900;
  const delayed = root.querySelector(".blade") ? 1100 : 0;
  const turns = [...root.querySelectorAll(".part")].length;
  const each = Math.min(EACH, 1500 / Math.max(turns, 1));
  const move = (el, frames, delay, duration = LONG) => {
    el.animate(frames, { delay, duration, fill: "both", easing: "cubic-bezier(0.3, 0, 0.2, 1)" });
    end = Math.max(end, delay + duration);
  };
  for (const el of root.querySelectorAll(".part")) {
    const { act: what, turn: order, dx, dy, flip, after } = el.dataset;
    const delay = LEAD + Number(order) * each + (after ? delayed : 0);
    const away = `translate(${dx}px, ${dy}px)`;
    if (what === "come") move(el, [{ opacity: 0 }, { opacity: 1 }], delay, 350);
    if (what === "go") move(el, [{ opacity: 1 }, { opacity: 0 }], LEAD + (delayed || 300), delayed ? 60 : 700);
    if (what === "slide" && after) move(el, [{ opacity: 0, transform: away }, { opacity: 1, transform: away, offset: 0.02 }, { opacity: 1, transform: "none" }], LEAD + delayed, LONG);
    if (what === "slide" && !after) move(el, [{ transform: away }, { transform: "none" }], delay);
    if (what === "fold") move(el, [{ transform: "scaleY(1)", opacity: 1 }, { transform: "scaleY(0.05)", opacity: 1, offset: 0.9 }, { transform: "scaleY(0)", opacity: 0 }], delay, 330);
    if (what === "rise") move(el, [{ transform: `scale(${flip ? -1 : 1}, 0)`, opacity: 0 }, { transform: `scale(${flip ? -1 : 1}, 1)`, opacity: 1, offset: flip ? 0.45 : 1 }, ...(flip ? [{ transform: "scale(1, 1)", opacity: 1 }] : [])], delay + 330, flip ? 780 : 380);
  }
  for (const el of root.querySelectorAll(".blade")) {
    const stops = el.dataset.stops.split(" ").map(Number);
    const axis = el.dataset.axis.toUpperCase();
    move(el, [...stops.map((v) => ({ transform: `translate${axis}(${v}px)`, opacity: 1 })), { transform: `translate${axis}(${stops.at(-1)}px)`, opacity: 0 }], LEAD, delayed);
  }
  return end;
}

async function go(at) {
  if (!play || at < 0 || at >= play.scenes.length) return;
  window.clearTimeout(play.timer);
  play.at = at;
  const svg = await scene(at);
  if (play.at !== at) return;
  const stage = $("#replay-stage");
  stage.innerHTML = svg;
  $("#replay-words").textContent = play.scenes[at].dataset.words;
  play.scenes.forEach((item, k) => item.classList.toggle("past", k <= at));
  scene(at + 1);
  const long = calm.matches ? 0 : act(stage);
  if (calm.matches) stage.querySelectorAll('[data-act="fold"], [data-act="go"], .blade').forEach((el) => el.remove());
  if (play.running && at + 1 < play.scenes.length) play.timer = window.setTimeout(() => go(at + 1), Math.max(long, 1200) + 700);
  else if (at + 1 >= play.scenes.length) run(false);
}

function run(on) {
  play.running = on;
  const button = $('[data-replay-do="play"]', play.dialog);
  button.setAttribute("aria-pressed", String(on));
  const use = $("use", button);
  use.setAttribute("href", use.getAttribute("href").replace(/#.*/, on ? "#pause" : "#play"));
  window.clearTimeout(play.timer);
  for (const animation of $("#replay-stage").getAnimations({ subtree: true })) if (animation.playState !== "finished") animation[on ? "play" : "pause"]();
}

const DO = {
  close: () => play.dialog.close(),
  back: () => go(play.at - 1),
  on: () => go(play.at + 1),
  play: () => { const on = !play.running; run(on); if (on) go(play.at + 1 < play.scenes.length ? play.at + 1 : 0); },
};

document.addEventListener("click", (event) => {
  const button = event.target.closest("button");
  if (button?.dataset.replay) replay(button.dataset.replay);
  if (button?.dataset.replayDo) DO[button.dataset.replayDo]();
});

document.addEventListener("keydown", (event) => {
  if (!play?.dialog.isConnected || !play.dialog.open) return;
  const what = { ArrowLeft: "back", ArrowRight: "on", " ": "play" }[event.key];
  if (what && !(event.key === " " && event.target.closest("button"))) { event.preventDefault(); DO[what](); }
});
