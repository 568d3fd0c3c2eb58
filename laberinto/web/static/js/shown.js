/* A drawing that is on show as it was sent is not sent again, nor are the lines of strips and the parts of the page that
   have a name: a request says which those are. */
import { $, all, byId } from "./dom.js";
import { place } from "./edits.js";
import { back } from "./morph.js";

const MOST_LINES = 400; // what a request says of itself has room for so many

const room = () => $("#room");
let touched = true;
let again = false;

/** @param {MutationRecord[]} changes */
function seen(changes) {
  // how it is zoomed stands on the drawing itself, and is put right after every answer
  if (changes.some(({ type, target }) => type === "childList" || target.nodeName !== "svg")) touched = true;
}
const watch = new MutationObserver(seen);

function watched() {
  seen(watch.takeRecords());
  watch.disconnect();
  const drawing = $("#room > svg.drawing");
  touched = !drawing || (again && touched); // what was laid over one that stays, stays too
  if (drawing) watch.observe(drawing, { subtree: true, childList: true, attributes: true });
}
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (detail.target?.id === "workspace") again = detail.serverResponse.includes("data-on-show");
});
// the forms of what stays send along where the page is by now, and those of the menu, of which an answer says nothing
// where it stays, lose what was typed and not sent as all others
function placed() {
  const here = place();
  for (const input of all("[data-part] input[type=hidden]")) if (input.name in here) input.defaultValue = here[input.name];
  back(byId("board-menu"));
}
document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target?.id !== "workspace") return;
  watched();
  placed();
});

document.addEventListener("htmx:configRequest", ({ detail }) => {
  if (detail.target?.id !== "workspace" || !room()) return;
  seen(watch.takeRecords());
  if (!touched) detail.headers["X-Drawing"] = room().dataset.drawing;
  detail.headers["X-Parts"] = all("[data-part]").map((el) => el.dataset.part).join(" ");
  const names = all("#panel .strips > [data-name]").map((el) => el.dataset.name);
  if (names.length && names.length <= MOST_LINES) detail.headers["X-Lines"] = `${$("#panel").dataset.stage} ${names.join(" ")}`;
});
watched();
