/* The address of what was looked at, for the way back and for a reload. A browser takes as long to write it down as to lay
   out a stage, so it waits until what was asked for is painted. */
import { rested } from "./dom.js";

const MARK = { htmx: true }; // on the way back htmx loads anew what is marked so

document.addEventListener("htmx:pushedIntoHistory", ({ detail: { path } }) => rested(() => {
  if (!window.history.state?.htmx) window.history.replaceState(MARK, "");
  window.history.pushState(MARK, "", path);
}));
