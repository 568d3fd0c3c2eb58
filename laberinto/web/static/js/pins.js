/* A press on a drawn side of a board asks the server what lies there. */
document.addEventListener("click", (event) => {
  /** @type {any} */
  const target = event.target;
  const svg = target.closest?.("[data-pins] svg.pinned");
  if (!svg || target.closest("a")) return;
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const to = new URL(window.location.href);
  to.searchParams.set("x", at.x.toFixed(2));
  to.searchParams.set("y", at.y.toFixed(2));
  to.hash = "new";
  window.location.assign(to);
});
