/* Four corners on a photo, dragged or moved with the arrow keys; the form sends them as shares of its width and height. */
import { $, all } from "./dom.js";

const STEP = 0.004;
const NAMES = ["upper left", "upper right", "lower right", "lower left"];
const within = (v) => Math.min(Math.max(v, 0), 1);

function begin(form) {
  const field = form.elements.corners;
  const stage = $(".corners", form);
  const points = field.value.split(";").map((pair) => pair.split(",").map(Number));
  const handles = points.map((_, k) => {
    const handle = document.createElement("button");
    handle.type = "button";
    handle.className = "corner";
    handle.setAttribute("aria-label", `Corner ${NAMES[k]}`);
    stage.append(handle);
    return handle;
  });
  function show() {
    handles.forEach((handle, k) => { handle.style.left = `${points[k][0] * 100}%`; handle.style.top = `${points[k][1] * 100}%`; });
    $("polygon", stage).setAttribute("points", points.map((point) => point.join(",")).join(" "));
    field.value = points.map((point) => point.map((v) => v.toFixed(4)).join(",")).join(";");
  }
  handles.forEach((handle, k) => {
    handle.addEventListener("pointerdown", (event) => { event.preventDefault(); handle.setPointerCapture(event.pointerId); handle.focus(); });
    handle.addEventListener("pointermove", (event) => {
      if (!handle.hasPointerCapture(event.pointerId)) return;
      const box = stage.getBoundingClientRect();
      points[k] = [within((event.clientX - box.left) / box.width), within((event.clientY - box.top) / box.height)];
      show();
    });
    handle.addEventListener("keydown", (event) => {
      const by = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] }[event.key];
      if (!by) return;
      event.preventDefault();
      points[k] = [within(points[k][0] + by[0]), within(points[k][1] + by[1])];
      show();
    });
  });
  show();
}

all("[data-corners]").forEach(begin);
