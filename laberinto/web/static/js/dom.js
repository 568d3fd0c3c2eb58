/* Finding things on the page. What a selector finds depends on the template, so it is not typed further than that. */

/**
 * @param {string} selector
 * @param {ParentNode} [root]
 * @returns {any}
 */
export const $ = (selector, root = document) => root.querySelector(selector);

/**
 * @param {string} selector
 * @returns {any[]}
 */
export const all = (selector) => [...document.querySelectorAll(selector)];

/**
 * @param {string} id
 * @returns {any}
 */
export const byId = (id) => document.getElementById(id);

/** @returns {any} */
export const active = () => document.activeElement;

export const workspace = () => $(".workspace");

/** @param {any} el */
export const isTyping = (el) => el.matches("input, select, textarea, [contenteditable]");

const WITHIN = 200; // ms, where there is no pause

/**
 * What the eye does not wait for, when all is painted that it does.
 * @param {() => void} action
 */
export function rested(action) {
  if ("requestIdleCallback" in window) window.requestIdleCallback(action, { timeout: WITHIN });
  else setTimeout(action, WITHIN);
}
