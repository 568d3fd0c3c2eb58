/* A distance read off a drawing, in the maker's units. */
/**
 * @param {number} mm
 * @param {HTMLElement} page carries the unit and, for inches, the finest fraction
 * @returns {string}
 */
export function written(mm, page) {
  if (page.dataset.unit !== "in") return `${mm.toFixed(1).replace(/\.0$/, "")} mm`;
  const parts = Number(page.dataset.denominator);
  let top = Math.round((mm / 25.4) * parts);
  let bottom = parts;
  const whole = Math.floor(top / bottom);
  top -= whole * bottom;
  while (top && top % 2 === 0) { top /= 2; bottom /= 2; }
  return `${whole || !top ? whole : ""}${whole && top ? " " : ""}${top ? `${top}/${bottom}` : ""}"`;
}
