/* An arrow key in a figure's field takes it a step up or down, with Shift ten; what a step is the server knows. */
import { byId, workspace } from "./dom.js";
import { ask, whenIdle } from "./edits.js";

export const FIGURES = "#panel #parameters, #panel .measure[hx-post]";
const WAY = { ArrowUp: 1, ArrowDown: -1 };

/** Steps that were asked for and are not sent yet, and the field they are for. */
let owed = { id: "", steps: 0 };
/** What stands in a field that was sent with its steps, so that leaving it does not send it again. */
let sent = { id: "", value: "" };

function send() {
  const { id, steps } = owed;
  owed = { id: "", steps: 0 };
  const field = byId(id);
  const by = field?.closest(FIGURES);
  if (!by || !steps) return;
  sent = { id, value: field.value };
  field.defaultValue = field.value; // what the answer says is what it shall say
  const values = by === field ? JSON.parse(by.getAttribute("hx-vals") ?? "{}") : { op: "parameters", edited: field.name };
  ask({ ...values, [field.name]: field.value, steps });
}

document.addEventListener("keydown", (event) => {
  const { target: field } = event;
  const way = WAY[event.key];
  if (!way || event.altKey || event.ctrlKey || event.metaKey) return;
  if (!(field instanceof HTMLInputElement) || field.inputMode !== "decimal" || !field.closest(FIGURES) || !workspace()) return;
  event.preventDefault();
  const steps = way * (event.shiftKey ? 10 : 1);
  if (owed.id === field.id) { owed.steps += steps; return; }
  owed = { id: field.id, steps };
  whenIdle(send);
});

document.addEventListener("change", (event) => {
  if (event.target.id !== sent.id || event.target.value !== sent.value) return;
  event.stopImmediatePropagation();
}, true);
document.addEventListener("htmx:afterSettle", () => { sent = { id: "", value: "" }; });
