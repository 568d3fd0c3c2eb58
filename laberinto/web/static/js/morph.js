/* An answer is laid over the page: only what is different in it is touched, so that the eye sees one change and the
   browser paints one. What belongs to the page alone, such as what is open, outlives it. */
import { all } from "./dom.js";

const keepsOpen = (el) => el.nodeName === "DETAILS" && el.id !== "insert";
const OURS = { ruler: "aria-pressed", grey: "aria-pressed" };

/** What is fetched when it is first looked at: kept while it is open, and then fetched anew; else as it comes. */
function fetched(old, now) {
  const address = now.getAttribute("hx-get");
  if (old.getAttribute("hx-get") === address) return false;
  if (!old.closest("details")?.open || old.textContent === now.textContent) return true;
  old.setAttribute("hx-get", address);
  return false;
}

/** What is drawn as it was is left alone. */
const WHOLE = ".thread li, .figure, .why";

/** Fields of a line that the server left as they were lose what was typed into them. */
function back(line) {
  for (const input of line.querySelectorAll("input")) if (input.value !== input.defaultValue) input.value = input.defaultValue;
  return false;
}

Object.assign(Idiomorph.defaults.callbacks, {
  /** @param {any} old @param {any} now */
  beforeNodeMorphed: (old, now) => {
    if (old.nodeType !== Node.ELEMENT_NODE) return true;
    if (now.dataset?.onShow !== undefined) return false; // the drawing that the request said is on show
    if (old instanceof SVGElement) return !old.isEqualNode(now);
    if (old.matches("select[data-woods]") && old.value === now.value) return old.options.length === 1;
    if (old.matches(".line") && old.isEqualNode(now)) return back(old);
    if (old.matches(WHOLE) && old.isEqualNode(now)) return false;
    if (old.dataset.lazy !== undefined && now.dataset?.lazy !== undefined) return fetched(old, now);
    if (old.id === "turntable") return old.dataset.solid !== now.dataset.solid;
    return true;
  },
  beforeNodeRemoved: (node) => !node.classList?.contains("painted"),
  beforeAttributeUpdated: (name, el, way) => {
    if (name === "open" && way === "remove") return !keepsOpen(el);
    if (name === "data-ready") return false;
    return OURS[el.id] !== name;
  },
});

// what is open and was fetched for how the board stood before is fetched anew
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target?.id !== "workspace") return;
  all("#workspace details[open] [data-lazy]").forEach((el) => {
    if (el.dataset.lazy === el.getAttribute("hx-get")) return;
    el.dataset.lazy = el.getAttribute("hx-get");
    el.closest("details").dispatchEvent(new Event("toggle"));
  });
});
