// Slots that hand out data, filled by functions from outside.

import { cell, change, onFailure, read, untracked, write } from "./nodes.js";
import { effect, mountBlock, unmount } from "./blocks.js";
import { moved } from "./dom.js";
import { turn } from "./turns.js";
import { markOutside } from "./styles.js";

// held is the cell with the function that an element was given for a slot.
const held = (host, name) => (host.fills[name] ??= cell(null, name));

/** Lets functions be set on the elements of a component, by the names of its slots; behind tells what is behind one. */
export function fillable(comp, property, behind) {
  for (const name of comp.slots) property(name, function () { return held(behind(this), name).val; }, function (f) {
    turn(`set ${name}`, () => write(held(behind(this), name), f ?? null));
  });
}

/** Lets a slot show what a function makes that its host is given, and says whether it has one now. */
export function fillFrom(slot, host) {
  if (!host?.comp.slots.includes(slot.t.name)) return null;
  slot.filled = effect((own, at) => {
    const f = read(held(host, slot.t.name));
    return f && asked(slot, f, own, at);
  }, slot.block, slot);
  slot.doms = slot.filled.val;
  return slot.doms;
}

// asked are the nodes that a function makes of what the slot hands out.
function asked(slot, f, own, at) {
  const handed = Object.fromEntries(slot.t.names.map((n, i) => {
    const v = slot.t.data[i](own, at);
    return [n, typeof v === "function" ? (...args) => turn(`call ${n}`, () => v(...args)) : v];
  }));
  const nodes = [untracked(() => f(handed)) ?? []].flat();
  markOutside(nodes, slot.block.inst.comp);
  return nodes;
}

/** Shows what the function makes now; what else stands in the slot while there is none. */
export function refill(slot) {
  if (!slot.filled) return;
  const { block, content, outer } = slot;
  onFailure(() => moved(outer));
  change(slot, { doms: slot.filled.val, content });
  if (slot.doms) {
    for (const b of content) unmount(b, outer);
    slot.content = [];
  } else if (content.length === 0) slot.content = [mountBlock(slot.t.fallback, block.inst, block, slot, outer)];
  moved(outer);
}
