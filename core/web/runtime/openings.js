// What is open above the page.

import { change, now } from "./nodes.js";
import { Block, mountBlock, unmount } from "./blocks.js";
import { Part } from "./parts.js";
import { IN, instance, unmountInstance, usage } from "./instances.js";
import { turn } from "./turns.js";
import { emit } from "./world.js";

let openings = [];
let raised = []; // dialogs and popovers of the document, in the order in which they were opened

// What is open by a design is closed by it alone, so that no browser closes it when it says that Escape did not; Escape goes to what
// is on top, when all that hear it, at the document, have heard it and could prevent that.
document.addEventListener("beforetoggle", e => {
  if (e.newState === "open") raised = [...raised.filter(d => d.isConnected && d !== e.target), e.target];
}, true);
addEventListener("keydown", e => {
  if (e.key !== "Escape" || e.defaultPrevented) return;
  const top = raised.findLast(d => d.matches(":modal,:popover-open:not([popover=manual])"));
  const part = openings.find(o => o.holder.dom === top);
  if (!part) return;
  e.preventDefault();
  dismiss(part);
});

class Opening extends Part {
  closed = false;
  shown() { return [this.inst.body]; }
  ends() { return this.closed || this.openedBy.ending(); }
}

/** Opens a component above the page, when the page is up to date. */
export function open(own, at, component, t, modal = false) {
  now.opening.push({ inst: own[IN], block: at, component, t, modal });
}

/** Brings what is open up to date, when the page is: what is on top is closed first, and gives the focus back to what is below. */
export function openAll() {
  for (const o of openings.toReversed()) if (!o.block.gone && o.ends()) close(o);
  for (const o of now.opening.splice(0)) if (!o.inst.gone) opened(o);
}

function opened(o) {
  const dom = document.createElement(o.modal ? "dialog" : "div");
  dom.className = "lien-layer";
  if (o.modal) dom.role = "presentation";
  const t = { ...usage(o.t), order: 0, component: o.component };
  const block = o.block ?? o.inst.body;
  const part = new Opening({ order: 0 }, outer(block), null);
  part.openedBy = o.inst;
  part.inst = instance(o.component(), { t, inst: o.inst, block, above: o.inst });
  part.inst.open = part;
  const holder = { dom, get parts() { return part.inst.body.parts; } };
  mountBlock(part.inst.comp.view, part.inst, null, part, holder, body => { part.inst.body = body; });
  part.inst.live();
  part.holder = holder;
  openings.push(part);
  now.undo.push({
    back: () => { openings = openings.filter(x => x !== part); },
    end: () => {
      document.body.append(dom);
      if (!o.modal) return;
      dom.closedBy = "none";
      dom.showModal();
      dom.addEventListener("click", e => { if (e.target === dom) dismiss(part); });
    },
  });
}

// outer is a block in which what is open stands, after all that is on the page.
function outer(block) {
  const b = new Block({ level: 0 }, block.inst, null, null);
  b.ending = () => block.ending();
  return b;
}

function dismiss(part) {
  const i = part.inst;
  if (!i.comp.emits.dismissed) return;
  turn("dismiss", () => {
    emit(i.own, "dismissed");
    leave(i.own);
  });
}

/** Ends what is open, and reports first. */
export function leave(own, event, ...args) {
  let i = own[IN];
  if (event) emit(own, event, ...args);
  while (i && !i.open) i = i.use && i.use.above;
  if (!i || i.open.closed) return;
  change(i.open, { closed: true });
  now.epoch++;
  now.moved = true;
}

function close(part) {
  const was = openings;
  openings = openings.filter(o => o !== part);
  unmount(part.inst.body, part.holder);
  unmountInstance(part.inst);
  part.block.gone = true;
  now.undo.push({
    back: () => { openings = was; part.block.gone = false; },
    end: () => {
      part.holder.dom.close?.();
      part.holder.dom.remove();
    },
  });
}
