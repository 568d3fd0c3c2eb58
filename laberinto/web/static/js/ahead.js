/* What is being typed is told to the server before the field is left, so that it is worked out by then. */
import { workspace } from "./dom.js";
import { FIGURES } from "./nudge.js";

document.addEventListener("input", ({ target }) => {
  if (!(target instanceof HTMLInputElement) || target.type !== "text") return;
  const by = target.closest(FIGURES);
  if (!by || !workspace()) return;
  const values = { ...htmx.values(by, "post"), ...JSON.parse(by.getAttribute("hx-vals") ?? "{}") };
  if (by !== target) values.edited = target.name;
  const headers = { "X-CSRFToken": values.csrf_token };
  fetch(`${workspace().dataset.edit}/ahead`, { method: "POST", body: new URLSearchParams(values), headers }).catch(() => {});
});
