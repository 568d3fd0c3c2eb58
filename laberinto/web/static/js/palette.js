/* The command palette: one key, typed words, and one goes to any board, page or stage, or presses what stands on this
   page. Where one can go the server says; what can be done is read off the page's own buttons. */
import { all, byId } from "./dom.js";
import { whenIdle } from "./edits.js";

const MOST = 40;

const box = byId("finder");
const words = byId("finder-words");
const list = byId("finder-list");

let known = null;
let found = [];
let chosen = 0;

const shown = (el) => el.offsetParent !== null || el.closest("details:not([open])") !== null;

/** What can be pressed here: buttons with a name, and what opens. A menu's own buttons are found though it is closed. */
function actions() {
  const here = [];
  for (const el of all("main button, main summary, .board-nav summary, .board-nav button, main a[data-key]")) {
    const name = (el.title || el.textContent).replace(/\s+/g, " ").trim();
    if (!name || el.disabled || el.closest("dialog, [hidden], noscript") || !shown(el)) continue;
    if (here.some((one) => one.words === name)) continue;
    here.push({ words: name, about: "On this page", el });
  }
  return here;
}

/** All typed words must begin a word of the name, or stand in what is said of it; the name counts most. */
function fits(one, typed) {
  const name = one.words.toLowerCase(), all_ = `${name} ${one.about.toLowerCase()}`;
  let rank = 0;
  for (const word of typed) {
    if (name.startsWith(word)) rank += 4;
    else if (name.includes(` ${word}`)) rank += 3;
    else if (name.includes(word)) rank += 2;
    else if (all_.includes(word)) rank += 1;
    else return 0;
  }
  return rank || 1;
}

function draw() {
  const typed = words.value.toLowerCase().split(/\s+/).filter(Boolean);
  const every = [...(known ?? []), ...actions()];
  found = every.map((one, at) => ({ one, at, rank: fits(one, typed) })).filter((each) => each.rank)
    .sort((a, b) => b.rank - a.rank || a.at - b.at).slice(0, MOST).map((each) => each.one);
  chosen = Math.min(chosen, Math.max(found.length - 1, 0));
  list.replaceChildren(...found.map((one, at) => {
    const line = document.createElement("li");
    line.id = `finder-${at}`;
    line.role = "option";
    line.ariaSelected = String(at === chosen);
    const name = document.createElement("span"), about = document.createElement("small");
    name.textContent = one.words;
    about.textContent = one.about;
    line.append(name, about);
    return line;
  }));
  if (!found.length && known) {
    const none = document.createElement("li");
    none.className = "none";
    none.textContent = "Nothing goes by that. Try a part of a name.";
    list.append(none);
  }
  words.setAttribute("aria-activedescendant", found.length ? `finder-${chosen}` : "");
  byId(`finder-${chosen}`)?.scrollIntoView({ block: "nearest" });
}

function go(at) {
  const one = found[at];
  if (!one) return;
  box.close();
  if (one.href) { window.location.assign(one.href); return; }
  whenIdle(() => {
    const drop = one.el.closest("details:not([open])");
    if (drop && !one.el.matches("summary")) drop.open = true;
    one.el.click();
  });
}

async function open() {
  if (box.open) return;
  words.value = "";
  chosen = 0;
  box.showModal();
  draw();
  try {
    const answer = await fetch(byId("find-all").dataset.index);
    if (answer.ok) known = await answer.json();
  } catch { /* the server does not answer: what is on the page can still be done */ }
  draw();
}

document.addEventListener("keydown", (event) => {
  if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") { event.preventDefault(); open(); }
});
document.addEventListener("click", (event) => { if (event.target.closest("#find-all")) open(); });

words?.addEventListener("input", () => { chosen = 0; draw(); });
words?.addEventListener("keydown", (event) => {
  if (event.key === "Enter") { event.preventDefault(); go(chosen); return; }
  const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (!step || !found.length) return;
  event.preventDefault();
  chosen = (chosen + step + found.length) % found.length;
  draw();
});
list?.addEventListener("click", (event) => {
  const line = event.target.closest("[role=option]");
  if (line) go(Number(line.id.slice("finder-".length)));
});
box?.addEventListener("click", (event) => { if (event.target === box) box.close(); });
