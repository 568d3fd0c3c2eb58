/* Shows the wood on the simulated machine as often as the server has a newer state of it. */
import { byId } from "./dom.js";

let last = "";

async function look() {
  const box = byId("relief"), told = byId("relief-at");
  const at = told?.dataset.relief;
  if (!box || !at || at === last) return;
  last = at;
  box.hidden = false;
  try {
    const { relief } = await import(told.dataset.module);
    await relief(box, at);
  } catch (error) {
    box.hidden = true; // no WebGL here: the map below says it all
    box.title = String(error);
  }
}

document.addEventListener("htmx:afterSettle", look);
document.addEventListener("DOMContentLoaded", look);
