/* At the bench: keys of a cheap remote, words read aloud, a screen that stays on, and timers that ring. */
import { $, all, isTyping } from "./dom.js";

document.addEventListener("keydown", (event) => {
  if (!$("#hand") || isTyping(event.target) || event.ctrlKey || event.altKey || event.metaKey) return;
  if (event.target.closest("button, summary, a") && event.key !== "ArrowLeft" && event.key !== "ArrowRight") return;
  const target = $(`#hand [data-key="${event.key}"]:not(.disabled, :disabled)`);
  if (target) { event.preventDefault(); target.click(); }
});

document.addEventListener("click", async (event) => {
  if (event.target.closest("[data-read]")) {
    const say = window.speechSynthesis;
    if (!say) return;
    if (say.speaking) { say.cancel(); return; }
    say.speak(new SpeechSynthesisUtterance($("#hand-words").innerText));
  }
  if (event.target.closest("[data-full]")) {
    try { await navigator.wakeLock?.request("screen"); } catch { /* the browser has none, or refuses */ }
    if (document.fullscreenElement) await document.exitFullscreen();
    else await document.documentElement.requestFullscreen?.();
  }
});

/** A short sound, twice. */
function ring() {
  try {
    const audio = new AudioContext();
    for (const at of [0, 0.35]) {
      const tone = audio.createOscillator(), volume = audio.createGain();
      tone.frequency.value = 880;
      volume.gain.value = 0.2;
      tone.connect(volume).connect(audio.destination);
      tone.start(audio.currentTime + at);
      tone.stop(audio.currentTime + at + 0.2);
    }
  } catch { /* no sound here */ }
}

const rung = new Set();
// how far this clock is from the server's, by which timers run
const strip = () => $("#timers");
const behind = strip() ? Number(strip().dataset.now) - Date.now() : 0;

function shown(seconds) {
  const whole = Math.ceil(Math.abs(seconds));
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
  const two = (n) => String(n).padStart(2, "0");
  return h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}

function tick() {
  for (const timer of all("#timers [data-ends]")) {
    const left = (Number(timer.dataset.ends) - Date.now() - behind) / 1000;
    const over = left <= 0;
    $(".timer-left", timer).textContent = over ? "now" : shown(left);
    timer.classList.toggle("over", over);
    if (over && !rung.has(timer.id)) {
      rung.add(timer.id);
      if (left > -60) {
        ring();
        if (window.Notification?.permission === "granted") new Notification(timer.dataset.label);
      }
    }
  }
}
if (strip()) { tick(); window.setInterval(tick, 500); }
document.addEventListener("submit", (event) => {
  if (event.target.matches(".hand-timer") && window.Notification?.permission === "default") window.Notification.requestPermission();
});
