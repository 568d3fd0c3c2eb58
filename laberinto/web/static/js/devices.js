/* Instruments and dictation: a reading goes into the field that has the focus, spoken words into the note. Typing by hand
   always works beside it. */
import { $ } from "./dom.js";

let busy = false;

/** Ask the server for a reading; what was typed meanwhile is not written over. */
async function read(button) {
  if (busy) return;
  const form = button.closest("form"), said = $("#device-said");
  const focused = document.activeElement;
  const field = focused?.matches("[data-measure]") ? focused : $("[data-measure]", form);
  const before = field.value;
  busy = true;
  said.textContent = "…";
  try {
    const answer = await fetch(button.dataset.device, { method: "POST", body: new FormData(form) });
    const found = await answer.json();
    said.textContent = found.said;
    if (found.text && field.isConnected && field.value === before) {
      field.value = found.text;
      field.focus();
      field.select();
    }
  } catch {
    said.textContent = "The server does not answer. Type it by hand.";
  }
  busy = false;
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-device]");
  if (button) read(button);
});

document.addEventListener("keydown", (event) => {
  if (!event.altKey || event.code !== "KeyR") return;
  const button = $("[data-device]");
  if (button) { event.preventDefault(); read(button); }
});

// no type knows it yet: only some browsers have it
const Recognition = window["SpeechRecognition"] ?? window["webkitSpeechRecognition"];

/** A button beside the note, where the browser can write down what is said. */
function offerDictation() {
  const note = $("[data-dictated]");
  if (!Recognition || !note || note.dataset.dictated) return;
  note.dataset.dictated = "offered";
  const button = document.createElement("button");
  button.type = "button";
  button.className = "btn btn-secondary btn-sm dictate";
  button.textContent = "Dictate";
  button.addEventListener("click", () => {
    const listening = new Recognition();
    listening.addEventListener("result", ({ results }) => {
      const words = [...results].map((one) => one[0].transcript).join(" ").trim();
      note.value = [note.value.trim(), words].filter(Boolean).join(" ");
    });
    listening.addEventListener("end", () => { button.textContent = "Dictate"; });
    button.textContent = "Listening…";
    try { listening.start(); } catch { button.textContent = "Dictate"; }
  });
  note.after(button);
}

document.addEventListener("htmx:afterSettle", offerDictation);
offerDictation();
