// What style sheets go by: classes from the users of a component, and marks that say who wrote an element.

import { source } from "./blocks.js";
import { joined } from "./elements.js";

const none = Object.freeze([]);

// lenders are the uses that give an element classes, as it is all that their components consist of; from the inside out.
function lenders(t, block) {
  const list = [];
  for (let i = block.inst; i.use?.block && i.comp.view.parts[0] === t && t.root; i = i.use.inst) {
    t = i.use.t;
    if (t.classes.length + t.marks.length > 0) list.push(i.use);
  }
  return list;
}

let slotted = false; // some component has styles for what it is given

/** Notes whether a component has such styles. */
export function slots(comp) {
  slotted ||= comp.slotted;
}

/** Marks an element with the components that wrote it, and with those that were given it, as far as they have styles. */
export function mark(el) {
  const { t, block, dom } = el;
  el.lent = t.root ? lenders(t, block).map(use => ({ use, marks: use.t.marks.map(m => source(m, use.block, el)) })) : none;
  if (!slotted && !block.inst.comp.styled && el.lent.length === 0) return;
  const of = [block.inst, ...el.lent.map(l => l.use.inst)].filter(i => i.comp.styled).map(i => i.comp.name);
  if (of.length > 0) dom.setAttribute("data-lien-of", of.join(" "));
  if (slotted) markGiven(dom, givenTo(block, el.outer));
}

/** The classes of an element, with those that it is given by the users of its component. */
export function withLent(el, classes) {
  for (const { use, marks } of el.lent) {
    classes = use.t.classes.reduce(joined, classes);
    use.t.marks.forEach((m, i) => { if (marks[i].val) classes = joined(classes, m.name); });
  }
  return classes;
}

function markGiven(dom, names) {
  if (names.length > 0 && dom.setAttribute) dom.setAttribute("data-lien-in", names.join(" "));
}

/** Marks what a page gives a component from outside. */
export function markOutside(nodes, comp) {
  if (comp.slotted) for (const n of nodes) markGiven(n, [comp.name]);
}

// givenTo are the components at the top of whose content a place stands: nothing is around it there.
function givenTo(block, parent) {
  const names = [];
  for (let b = block; b.host && parent.block !== b; b = b.host.block) {
    const slot = b.host.block;
    if (b.host.isSlot && b.inst !== slot.inst && slot.inst.comp.slotted) names.push(slot.inst.comp.name);
  }
  return names;
}
