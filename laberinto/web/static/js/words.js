/* What a word of the trade means, beside the word: on hover, focus or press. Without this the word leads to the page of
   all words. */
import { byId } from "./dom.js";

const known = new Map();
let wanted = null;
let waits = 0;

const box = () => byId("word-said");

async function show(word) {
  wanted = word;
  const key = word.dataset.word;
  if (!known.has(key)) {
    try {
      const answer = await fetch(`/words/${encodeURIComponent(key)}`);
      if (!answer.ok) return;
      known.set(key, await answer.text());
    } catch { return; }
  }
  if (wanted !== word || !word.isConnected) return;
  box().innerHTML = known.get(key);
  const at = word.getBoundingClientRect();
  box().showPopover();
  const own = box().getBoundingClientRect();
  const under = at.bottom + 6 + own.height < window.innerHeight;
  box().style.left = `${Math.max(8, Math.min(at.left, window.innerWidth - own.width - 8))}px`;
  box().style.top = `${under ? at.bottom + 6 : Math.max(8, at.top - own.height - 6)}px`;
  word.setAttribute("aria-describedby", "word-said");
}

function hide() {
  wanted = null;
  window.clearTimeout(waits);
  if (box()?.matches(":popover-open")) box().hidePopover();
}

document.addEventListener("pointerover", (event) => {
  const word = event.target.closest?.("a.word");
  if (!word || event.pointerType === "touch") return;
  window.clearTimeout(waits);
  waits = window.setTimeout(() => show(word), 250);
});
document.addEventListener("pointerout", (event) => { if (event.target.closest?.("a.word")) hide(); });
document.addEventListener("focusin", (event) => {
  if (event.target.matches?.("a.word") && event.target.matches(":focus-visible")) show(event.target);
});
document.addEventListener("focusout", (event) => { if (event.target.matches?.("a.word")) hide(); });
document.addEventListener("click", (event) => {
  const word = event.target.closest?.("a.word");
  if (!word || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  show(word);
});
