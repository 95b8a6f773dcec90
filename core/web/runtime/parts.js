// A rendered piece of a block.

import { discard, retire, revive } from "./blocks.js";

export class Part {
  isEach = false;
  used = null; // the instance of a component that is used here
  constructor(t, block, parent) {
    this.block = block;
    this.order = t.order;
    this.t = t;
    this.outer = parent;
  }
  shown() { return []; }
  refresh() {}
  retire() { for (const b of this.shown()) retire(b); }
  revive() { for (const b of this.shown()) revive(b); }
  discard() { for (const b of this.shown()) discard(b); }
  ends() { return false; }
}

/** The pieces in some, in the order of the page; enter says whether to go into one. */
export function* piecesOf(parts, enter = () => true) {
  for (const p of parts) {
    yield p;
    if (!enter(p)) continue;
    if (p.parts) yield* piecesOf(p.parts, enter);
    for (const b of p.shown()) yield* piecesOf(b.parts, enter);
  }
}
