// A rendered piece of a block.

import { release, retire, revive } from "./blocks.js";

export class Part {
  isEach = false;
  constructor(t, block, parent) {
    this.block = block;
    this.order = t.order;
    this.t = t;
    this.parent = parent;
  }
  shown() { return []; }
  refresh() {}
  retire() { for (const b of this.shown()) retire(b); }
  revive() { for (const b of this.shown()) revive(b); }
  release() { for (const b of this.shown()) release(b); }
  ends() { return false; }
}
