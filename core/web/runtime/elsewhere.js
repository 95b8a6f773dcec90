// Presses elsewhere: what happens outside of an element.

import { raise } from "./events.js";
import { inOrder } from "./places.js";

const list = new Set();

/** Lets an element hear of presses that land outside of it, if it has a handler of them. */
export function hearElsewhere(el) {
  if (!el.t.on.outside) return;
  document.addEventListener("pointerdown", pressed, true); // which it does once
  list.add(el);
}

function pressed(e) {
  for (const el of list) if (el.block.gone) list.delete(el);
  for (const el of inOrder([...list], x => x)) if (!el.dom.contains(e.target)) raise(e, "outside", [el]);
}
