/* The wood of the large drawing, on a canvas beneath the SVG: painted once, moved as a bitmap while the view moves, and
   painted sharp when it is still. What the wood looks like comes in one atlas; until it is there each wood has its plain
   colour, and what is known already keeps its look. */
import { $ } from "./dom.js";

const SEAM = "rgba(26, 18, 10, 0.6)";
const MOST_TILES = 900;

const room = () => $("#room");
const svg = () => $("#room > svg.drawing");

/* The wood as it was sent: with the page, or with an answer, out of which it is taken, since it is most of one and
   nothing to lay over the page. */
const BEFORE = '<template id="painting">';
const AFTER = "</template>";
let sent = $("#painting")?.content.textContent;
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (detail.target?.id !== "workspace") return;
  const answer = detail.serverResponse;
  const at = answer.indexOf(BEFORE);
  if (at < 0) return;
  const end = answer.indexOf(AFTER, at);
  sent = answer.slice(at + BEFORE.length, end);
  detail.serverResponse = answer.slice(0, at) + answer.slice(end + AFTER.length);
});

let painting = null;
let drawn = null;
let still = 0;

/* Tiles: what each sheet shows, cut from an atlas, by what it shows. */
const tiles = new Map();
const atlases = new Map();

function cut(image, data, fine) {
  if (tiles.size > MOST_TILES) tiles.clear();
  for (const [key, , x, y, wide, tall, , , across, down] of data.sheets) {
    const known = tiles.get(key);
    if (known && known.fine >= fine && known.across >= across && known.down >= down) continue;
    const sheet = new OffscreenCanvas(wide * fine, tall * fine);
    sheet.getContext("2d", { willReadFrequently: true }).drawImage(image, x * fine, y * fine, wide * fine, tall * fine, 0, 0, wide * fine, tall * fine);
    const tile = sheet.transferToImageBitmap();
    tiles.set(key, { tile, fine, across, down, sx: across / tile.width, sy: down / tile.height, pattern: null });
  }
}

/** A picture, unpacked beside the page. */
async function pictured(href, signal) {
  const answer = await fetch(href, { signal });
  if (!answer.ok) throw new Error(answer.statusText);
  return createImageBitmap(await answer.blob());
}

/** Cut the wood of a drawing's atlas when it is there. Of what is on its way for an earlier drawing nobody will see
    anything, and a browser has only so many ways to a server: an edit would have to wait for one. */
function load(data, fine) {
  const href = fine > 1 ? `${data.atlas}&fine=${fine}` : data.atlas;
  if (!atlases.has(href)) {
    for (const { stop } of atlases.values()) stop.abort();
    atlases.clear();
    const stop = new AbortController();
    const there = pictured(href, stop.signal).then((image) => { cut(image, data, fine); return true; }, () => false);
    const asked = { stop, there };
    atlases.set(href, asked);
    there.then(() => { if (atlases.get(href) === asked) atlases.delete(href); });
  }
  return atlases.get(href).there;
}

const lacking = (data, fine) => data.sheets.some(([key, , , , , , , , across, down]) => {
  const tile = tiles.get(key);
  return !tile || tile.fine < fine || tile.across < across || tile.down < down;
});

/* Painting: each patch in its strip's own coordinates, in which its wood lies still, so that a sheet is set up once for
   all that show it; most patches are rectangles there, which fill twice as quickly. */
function ring(numbers) {
  const path = new Path2D();
  for (let k = 0; k < numbers.length; k += 2) path.lineTo(numbers[k], numbers[k + 1]);
  path.closePath();
  return path;
}

/** A patch's sheet, its map, and its corners as a rectangle or as a path. */
function patched(sheet, map, corners) {
  const [a, b, c, d, e, f] = map;
  const patch = { sheet, a, b, c, d, e, f };
  const [x, y, x2, y2, x3, y3, x4, y4] = corners;
  const upright = x === x2 && y2 === y3 && x3 === x4 && y4 === y;
  const level = y === y2 && x2 === x3 && y3 === y4 && x4 === x;
  if (corners.length === 8 && (upright || level)) patch.box = [Math.min(x, x3), Math.min(y, y3), Math.abs(x3 - x), Math.abs(y3 - y)];
  else patch.path = ring(corners);
  return patch;
}

function read(text) {
  const data = JSON.parse(text);
  let first = 0;
  data.patches = data.shown.map((sheet, k) => {
    const end = first + data.counts[k];
    const patch = patched(sheet, data.maps.slice(6 * k, 6 * k + 6), data.corners.slice(first, end));
    first = end;
    return patch;
  });
  for (const line of data.lines) if (line.length > 3) line.path = ring(line.slice(1));
  for (const ground of data.grounds) ground.path = ring(ground.slice(1));
  return data;
}

/** Where the drawing lies on the canvas: pixels a millimetre across and down, and its corner. */
const placed = (context, { x, y, e, f }) => context.setTransform(x, 0, 0, y, e, f);
function within(context, { x, y, e, f }, patch) {
  context.setTransform(x * patch.a, y * patch.b, x * patch.c, y * patch.d, x * patch.e + e, y * patch.f + f);
}

function fill(context, patch) {
  if (patch.box) context.fillRect(...patch.box); else context.fill(patch.path);
}

function stroke(context, patch) {
  if (patch.box) context.strokeRect(...patch.box); else context.stroke(patch.path);
}

/** The tile of a sheet, where it lies in its strip; null as long as there is none. */
function tileOf(sheet) {
  const tile = tiles.get(sheet[0]);
  if (!tile) return null;
  const [left, top] = [sheet[6] + (sheet[8] - tile.across) / 2, sheet[7]];
  if (tile.left !== left || tile.top !== top) Object.assign(tile, { left, top, set: false });
  return tile;
}

function pattern(context, tile) {
  tile.pattern ??= context.createPattern(tile.tile, "repeat");
  if (!tile.set) tile.pattern.setTransform({ a: tile.sx, d: tile.sy, e: tile.left, f: tile.top });
  tile.set = true;
  return tile.pattern;
}

/** A rectangle that lies within its tile is copied from it, which takes half as long as a pattern. */
function copied(context, tile, [x, y, wide, tall]) {
  const [left, top, across, down] = [(x - tile.left) / tile.sx, (y - tile.top) / tile.sy, wide / tile.sx, tall / tile.sy];
  if (left < 0 || top < 0 || left + across > tile.tile.width || top + down > tile.tile.height) return false;
  context.drawImage(tile.tile, left, top, across, down, x, y, wide, tall);
  return true;
}

/** Light and shade, added up on a sheet of their own: where two meet, their smoothed edges make a whole. */
let glass = null;
function shade(context, at, data, from, to) {
  const { width, height } = context.canvas;
  if (!data.veils.some(([on]) => on >= from && on < to)) return;
  if (glass?.width !== width || glass.height !== height) glass = new OffscreenCanvas(width, height);
  const over = glass.getContext("2d", { willReadFrequently: true });
  over.resetTransform();
  over.clearRect(0, 0, width, height);
  over.globalCompositeOperation = "lighter";
  for (const [on, ink, opacity] of data.veils) {
    if (on < from || on >= to) continue;
    over.globalAlpha = opacity;
    over.fillStyle = ink;
    within(over, at, data.patches[on]);
    fill(over, data.patches[on]);
  }
  context.save();
  context.resetTransform();
  context.drawImage(glass, 0, 0);
  context.restore();
}

/** One stretch of a drawing: from which to which patch, line and ground. */
function part(context, at, data, [from, to, firstLine, lastLine, firstGround, lastGround]) {
  placed(context, at);
  for (const ground of data.grounds.slice(firstGround, lastGround)) {
    context.fillStyle = data.sheets[data.patches[ground[0]].sheet][1];
    context.fill(ground.path);
  }
  for (let k = from; k < to; k += 1) {
    const patch = data.patches[k];
    const sheet = data.sheets[patch.sheet];
    const tile = tileOf(sheet);
    within(context, at, patch);
    if (tile && patch.box && copied(context, tile, patch.box)) continue;
    context.fillStyle = tile ? pattern(context, tile) : sheet[1];
    fill(context, patch);
  }
  shade(context, at, data, from, to);
  context.strokeStyle = SEAM;
  for (const line of data.lines.slice(firstLine, lastLine)) {
    const [width, first, end] = line;
    context.lineWidth = width;
    if (line.path) {
      placed(context, at);
      context.stroke(line.path);
    } else {
      for (const patch of data.patches.slice(first, end)) {
        within(context, at, patch);
        stroke(context, patch);
      }
    }
  }
}

/** What is carried along by hand: from and to which patch, line and ground, and how far, mm. */
function carried() {
  const out = [];
  for (const group of svg().querySelectorAll(".laid-row[transform], .piece[transform]")) {
    const by = group.transform.baseVal.consolidate()?.matrix;
    const laid = by && group.querySelector(".laid");
    if (laid) out.push({ laid: laid.dataset.laid.split(" ").map(Number), by });
  }
  return out;
}

/** Everything that can be seen, at the screen's own resolution. */
function paint() {
  const el = svg();
  const { canvas, data } = painting ?? {};
  if (!data || !el || !canvas.isConnected) return;
  const box = room().getBoundingClientRect();
  const ratio = Math.min(window.devicePixelRatio || 1, 2);
  const [wide, tall] = [Math.round(box.width * ratio), Math.round(box.height * ratio)];
  if (canvas.width !== wide || canvas.height !== tall) {
    canvas.width = wide;
    canvas.height = tall;
    canvas.style.width = `${box.width}px`;
    canvas.style.height = `${box.height}px`;
  }
  const m = el.getScreenCTM();
  drawn = { a: m.a, e: m.e - box.left, f: m.f - box.top };
  canvas.style.transform = canvas.style.willChange = "";
  const context = canvas.getContext("2d", { willReadFrequently: true });
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, wide, tall);
  const at = { x: m.a * ratio, y: m.d * ratio, e: drawn.e * ratio, f: drawn.f * ratio };
  const moves = carried();
  let [patch, line, ground] = [0, 0, 0];
  for (const { laid } of moves) {
    part(context, at, data, [patch, laid[0], line, laid[2], ground, laid[4]]);
    [patch, line, ground] = [laid[1], laid[3], laid[5]];
  }
  part(context, at, data, [patch, data.patches.length, line, data.lines.length, ground, data.grounds.length]);
  for (const { laid, by } of moves) part(context, { ...at, e: at.e + at.x * by.e, f: at.f + at.y * by.f }, data, laid);
  canvas.dataset.painted = String(data.patches.length);
}

/** Paint again where finer wood is wanted than there is. */
async function sharpen() {
  paint();
  const { data } = painting ?? {};
  if (!data || !svg()) return;
  const ratio = Math.min(window.devicePixelRatio || 1, 2);
  const [, , , , wide, , , , across] = data.sheets[0] ?? [];
  const fine = wide && svg().getScreenCTM().a * ratio > (1.3 * wide) / across ? 2 : 1;
  if (lacking(data, fine)) {
    if (!await load(data, fine) || painting?.data !== data) return;
    paint();
  }
  painting.canvas.dataset.sharp = painting.key;
}

/** While the view moves the bitmap moves with it; when it is still it is painted sharp. */
export function place() {
  if (!painting?.data || !drawn || !svg()) return;
  const m = svg().getScreenCTM();
  const box = room().getBoundingClientRect();
  const k = m.a / drawn.a;
  const [dx, dy] = [m.e - box.left - drawn.e * k, m.f - box.top - drawn.f * k];
  if (Math.abs(k - 1) < 1e-4 && Math.hypot(dx, dy) < 0.05) return;
  painting.canvas.style.willChange = "transform"; // a layer of its own costs every frame, so it has one while it moves
  painting.canvas.style.transform = `translate(${dx}px, ${dy}px) scale(${k})`;
  window.clearTimeout(still);
  still = window.setTimeout(sharpen, 140);
}

/** Pieces that are dragged take their wood along. */
export const carry = () => paint();

// the room changes with the window, with what stands beside it, and when the letters come
const watcher = new ResizeObserver(() => { if (painting?.data) sharpen(); });
let watched = null;

/** Take up the drawing that is on show. */
export function start() {
  if (watched !== svg()) {
    watcher.disconnect();
    watched = svg();
    if (watched) watcher.observe(watched);
  }
  const source = $("#room > svg.drawing .painting");
  if (!source) {
    painting?.canvas?.remove();
    painting = null;
    return;
  }
  const { key } = source.dataset;
  if (painting?.key === key && painting.canvas.isConnected) return;
  const canvas = painting?.canvas?.isConnected ? painting.canvas : document.createElement("canvas");
  canvas.className = "painted";
  canvas.setAttribute("aria-hidden", "true");
  if (!canvas.isConnected) room().prepend(canvas);
  painting = { key, canvas, data: read(sent) };
  sharpen();
}

window.addEventListener("beforeprint", () => paint());
