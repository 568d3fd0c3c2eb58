/* Finding things on the page. */
export const $ = (selector, root = document) => root.querySelector(selector);
export const workspace = () => $(".workspace");
export const isTyping = (el) => el.matches("input, select, textarea, [contenteditable]");
