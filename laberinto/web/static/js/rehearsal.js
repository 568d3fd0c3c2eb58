/* A glue-up without glue, against the clock: one press a piece, one when the clamps are on. */
import { $, all, byId } from "./dom.js";

const clock = (seconds) => `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, "0")}`;

const room = byId("rehearsal");
if (room) {
  const { open, closed } = room.dataset;
  const beats = all(".rehearsal-beats li");
  let began = 0;
  let at = 0;
  let laid = 0;
  const gone = () => (performance.now() - began) / 1000;

  const tick = () => {
    if (!began) return;
    const seconds = gone();
    byId("rehearsal-clock").textContent = clock(seconds);
    const left = (laid ? Number(closed) : Number(open)) - seconds;
    byId("rehearsal-left").textContent = left >= 0 ? `${clock(left)} left` : `${clock(-left)} over`;
    room.classList.toggle("late", left < 0);
    window.requestAnimationFrame(tick);
  };

  const next = () => {
    const button = byId("rehearsal-next");
    if (!began) {
      began = performance.now();
      beats[0].classList.add("done");
      at = 1;
      tick();
    } else {
      beats[at].classList.add("done");
      beats[at].classList.toggle("over", gone() > Number(beats[at].dataset.by || closed));
      at += 1;
      if (at === beats.length - 1) laid = gone();
      if (at === beats.length) {
        const form = byId("rehearsal-form");
        form.laid.value = laid.toFixed(1);
        form.clamped.value = gone().toFixed(1);
        began = 0;
        form.submit();
        return;
      }
    }
    button.textContent = at === beats.length - 1 ? "Clamps are on" : `${$("b", beats[at]).textContent} lies`;
    beats[at].scrollIntoView({ block: "nearest" });
  };

  byId("rehearsal-next").addEventListener("click", next);
  document.addEventListener("keydown", (event) => {
    if (event.key !== " " || event.target.closest("button, a, input")) return;
    event.preventDefault();
    next();
  });
}
