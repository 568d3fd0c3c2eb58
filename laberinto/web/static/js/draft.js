/* The new-board form is drawn anew as it is filled in. An answer to what has been overtaken by typing is dropped:
   the form then stays as it is, and the change that overtook it asks again. */
import { byId, active } from "./dom.js";
const form = () => byId("new-board");
let selected = null;

document.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.target?.id !== "new-board") return;
  const sent = event.detail.requestConfig.formData;
  const overtaken = [...new FormData(form())].some(([name, value]) => sent.get(name) !== value);
  if (overtaken) {
    event.detail.shouldSwap = false;
    return;
  }
  const { id, selectionStart, selectionEnd } = active();
  selected = form().contains(active()) && selectionStart != null ? { id, selectionStart, selectionEnd } : null;
});

document.addEventListener("htmx:afterSwap", () => {
  const field = selected && byId(selected.id);
  if (field && field === active()) field.setSelectionRange(selected.selectionStart, selected.selectionEnd);
  selected = null;
});
