// Rendered blocks: the body of a component, a branch, an item; and the pieces that show them.

import { fail, same, show, text as textOf } from "./values.js";
import { Node, cell, change, compute, derived, dirty, dropDeps, keepOld, now, onFailure, read, untracked, update, write } from "./nodes.js";
import { moved } from "./dom.js";
import { turn } from "./turns.js";
import { Part } from "./parts.js";
import { markOutside } from "./styles.js";
import { fillFrom, refill } from "./filled.js";
import { face, instance, unmountInstance, usage } from "./instances.js";

let numbers = 0;
let tellings = 0;

export class Block {
  up = null; // the block around it in the same view
  index = 0; // of an item: its place in the list
  key = null;
  locals = null; // of an item: the item, its index and what is named in it; of a fill: what it receives
  parts = [];
  nodes = []; // those that stand in it, to be let go with it
  shows = []; // cells, each with a piece that shows it as it is
  names = []; // that stand for something in it
  gone = false;
  absent = false; // its item is not in the list any more
  movedIn = 0; // one more than the refresh in which its item last moved
  movedFrom = 0; // where it was before that refresh
  listed = 0; // the last telling of the items of its list in which it was among them
  asked = 0;
  endsNow = false;

  constructor(t, inst, up, host) {
    this.t = t;
    this.inst = inst;
    this.up = up;
    this.host = host;
    this.number = ++numbers;
    this.depth = host ? host.block.depth + 1 : 0;
  }

  /** The block, this one or one around it, that has the locals of a level. */
  atLevel(level) {
    let b = this;
    while (b.locals === null || b.t.level > level) b = b.up;
    return b;
  }

  /** A local's value: an item, its index, what is named, what a slot handed out. */
  get(level, slot) {
    return face(read(this.atLevel(level).locals[slot]));
  }

  /** Whether the block will be gone after the next refresh. */
  ending() {
    if (this.gone) return true;
    if (this.host === null) return false;
    if (this.asked === now.epoch + 1) return this.endsNow;
    this.asked = now.epoch + 1;
    this.endsNow = true; // a circle of asking ends in "gone"
    const ended = this.host.block.ending() || this.host.ends(this);
    this.asked = now.epoch + 1;
    this.endsNow = ended;
    return ended;
  }
}

/** A compiled block. Orders count through it, elements before what they contain. */
export function blockOf(parts, level = 0) {
  let order = 0;
  const count = list => {
    for (const t of list) {
      t.order = ++order;
      if (t.children) count(t.children);
    }
  };
  count(parts);
  return { parts, level };
}

export function mountBlock(t, inst, up, host, parent, prepare) {
  const b = new Block(t, inst, up, host);
  prepare?.(b);
  onFailure(() => { b.gone = true; discard(b); });
  now.moved = true;
  moved(parent);
  b.parts = t.parts.map(p => p.mount(b, parent));
  return b;
}

/** Sets up a node that the page shows. */
export function effect(code, block, part) {
  const n = new Node();
  n.code = code;
  n.inst = block.inst;
  n.block = block;
  n.part = part;
  n.val = undefined;
  n.stage = dirty;
  block.nodes.push(n);
  compute(n);
  return n;
}

/**
 * What a piece shows: always the same, what a cell holds, or what is worked out. Fields are worked out: when they are
 * shown, their properties go back to what they are linked to, and so they are not for what changed and changed back; and
 * a form goes by what they were at the last refresh.
 */
export function source(t, block, part) {
  if (t.fixed) return t.fixed;
  const n = block.inst.nodes[t.member];
  if (!n || n.code || part.t.linked || part.t.field) return effect(t.code ?? (own => own[t.member]), block, part);
  (n.pieces ??= new Set()).add(part);
  block.shows.push({ n, part });
  return n;
}

export function unmount(b, parent) {
  now.undo.push({ back: revive, end: discard, of: b });
  retire(b);
  now.moved = true;
  moved(parent);
}

export function retire(b) {
  for (const n of b.nodes) if (n.link && n.early === now.pass) keepOld(n);
  for (const n of b.locals ?? []) {
    if (!n.item || n.early !== now.pass) continue;
    const was = n.val;
    n.val = keepOld(n);
    if (!same(was, n.val)) now.undo.push({ node: n, was });
  }
  b.gone = true;
  for (const p of b.parts) p.retire();
  for (const n of b.names) if (n.val && n.val.isGone()) write(n, null);
}

export function revive(b) {
  b.gone = false;
  now.again.push(...b.nodes.filter(n => n.stage !== 0));
  for (const p of b.parts) p.revive();
}

export function discard(b) {
  for (const n of b.nodes) dropDeps(n, 0);
  for (const { n, part } of b.shows) n.pieces.delete(part);
  for (const p of b.parts) p.discard();
}

class TextPart extends Part {
  nothing = "";
  constructor(t, block, parent) {
    super(t, block, parent);
    this.text = source(t, block, this);
    this.dom = document.createTextNode(textOf(this.text.val));
  }
  refresh() {
    now.shown.add(this);
  }
  show() {
    this.dom.data = textOf(this.text.val);
  }
}

/** A text of a view: always the same, worked out, or a member. */
export function text(code, member) {
  return { code, member, fixed: typeof code === "string" ? { val: code } : null, mount(b, parent) { return new TextPart(this, b, parent); } };
}

class WhenPart extends Part {
  nothing = -1;
  branch = [];
  constructor(t, block, parent) {
    super(t, block, parent);
    this.cond = effect(t.code, block, this);
    this.refresh();
  }
  shown() { return this.branch; }
  ends(b) {
    update(this.cond);
    return b.t !== this.want();
  }
  want() { return this.t.branches[this.cond.val] ?? null; }
  refresh() {
    const want = this.want();
    if ((this.branch[0]?.t ?? null) === want) return;
    const old = this.branch;
    onFailure(() => moved(this.outer));
    change(this, { branch: [] });
    for (const b of old) unmount(b, this.outer);
    if (want) this.branch = [mountBlock(want, this.block.inst, this.block, this, this.outer)];
  }
}

/** One of several branches: [condition or null, parts] each. */
export function when(level, ...branches) {
  const conds = branches.map(b => b[0]);
  return {
    branches: branches.map(b => blockOf(b[1], level)),
    code: (own, at) => conds.findIndex(c => c === null || c(own, at)),
    mount(b, parent) { return new WhenPart(this, b, parent); },
  };
}

class EachPart extends Part {
  nothing = [];
  isEach = true;
  items = []; // as they are shown
  byKey = new Map();
  told = []; // the list that the items were last told
  keys = null; // of that list; null while they are those shown
  probe = null; // a block in which keys are worked out
  twice;

  constructor(t, block, parent) {
    super(t, block, parent);
    this.list = effect(t.code, block, this);
    this.refresh();
  }
  shown() { return this.items; }

  ends(b) {
    if (this.list.stage !== 0 && !this.list.busy) this.tell();
    return b.absent;
  }

  tell() {
    untracked(() => {
      update(this.list);
      this.reconcile();
    });
  }

  keysOf(list) {
    const { by, body } = this.t;
    if (!by) return list.map((_, i) => i);
    if (!this.probe) {
      this.probe = new Block(body, this.block.inst, this.block, this);
      this.probe.locals = [cell(null), cell(null)];
    }
    const [item, index] = this.probe.locals;
    return untracked(() => list.map((v, i) => {
      item.val = v;
      index.val = i;
      return by(this.block.inst.own, this.probe);
    }));
  }

  reconcile() {
    const list = this.list.val;
    if (list === this.told) return;
    const { items, byKey } = this;
    const keys = this.keysOf(list);
    const came = new Set();
    const telling = ++tellings;
    let twice;
    keys.forEach((k, i) => {
      const b = items[i]?.key === k ? items[i] : byKey.get(k);
      if (b ? b.listed === telling : came.has(k)) twice ??= k;
      else if (!b) came.add(k);
      else {
        b.listed = telling;
        if (b.locals[0].val === list[i] && b.index === i && !b.absent) return;
        write(b.locals[0], list[i]);
        write(b.locals[1], i);
        setAbsent(b, false, i);
      }
    });
    change(this, { told: list, keys, twice });
    for (const b of items) if (b.listed !== telling) setAbsent(b, true, b.index);
  }

  /** The place of an item in a list, or -1. */
  indexOf(b, list) {
    if (list === this.told) return b.absent ? -1 : b.index;
    return this.keysOf(list).findIndex(k => same(k, b.key));
  }

  refresh() {
    this.reconcile();
    if (this.twice !== undefined) fail(this.t.at, `two items of this list have the key ${show(this.twice)}`);
    if (this.keys === null) return;
    const { items, byKey: was, keys } = this;
    if (items.length === keys.length && items.every((b, i) => b.key === keys[i])) {
      change(this, { keys: null });
      return;
    }
    const byKey = new Map();
    onFailure(() => moved(this.outer));
    for (const b of items) if (b.absent) unmount(b, this.outer);
    change(this, { byKey, keys: null, items: keys.map((k, i) => {
      const b = was.get(k) ?? this.mountItem(k, i);
      byKey.set(k, b);
      return b;
    }) });
    now.moved = true;
    moved(this.outer);
  }

  mountItem(key, i) {
    return mountBlock(this.t.body, this.block.inst, this.block, this, this.outer, b => {
      b.key = key;
      b.index = i;
      b.locals = [];
      for (let at = 0; at < Math.max(2, this.t.locals); at++) {
        const n = cell(at === 0 ? this.told[i] : at === 1 ? i : null);
        n.item = true;
        if (at < 2) n.block = b;
        b.locals.push(n);
      }
    });
  }
}

function setAbsent(b, absent, index) {
  if (b.absent === absent && b.index === index) return;
  if (b.movedIn !== now.pass + 1) {
    b.movedIn = now.pass + 1;
    b.movedFrom = b.index;
  }
  change(b, { absent, index });
  now.epoch++;
}

now.reconcile = () => {
  const later = []; // in places that are ending, which may stay after all
  while (now.stale.length > 0) {
    now.stale.sort((a, b) => a.block.depth - b.block.depth);
    const p = now.stale.shift();
    if (p.block.gone) continue;
    if (p.block.ending()) later.push(p);
    else p.tell();
  }
  now.stale = later;
};

/** A body for every item of a list. */
export function each(t) {
  return { ...t, body: blockOf(t.body, t.level), mount(b, parent) { return new EachPart(this, b, parent); } };
}

/** Writes to an item of an each: the item with its key, in the list that the each goes through. */
export function setItem(at, level, change) {
  const b = at.atLevel(level);
  const part = b.host;
  now.reconcile();
  const list = read(part.list);
  const i = part.indexOf(b, list);
  if (i < 0) return;
  const next = list.slice();
  next[i] = change(list[i]);
  part.t.set(part.block.inst.own, part.block, next);
}

class SlotPart extends Part {
  content = [];
  isSlot = true;
  constructor(t, block, parent) {
    super(t, block, parent);
    const use = block.inst.use;
    const fill = use && use.t.fills[t.name];
    const host = use ? null : block.inst.host;
    if (fillFrom(this, host)) return;
    if (host?.content?.[t.name]) {
      this.doms = host.content[t.name];
      markOutside(this.doms, block.inst.comp);
      return;
    }
    if (!fill) {
      this.content = [mountBlock(t.fallback, block.inst, block, this, parent)];
      return;
    }
    mountBlock(fill.body, use.inst, use.block, this, parent, c => {
      this.content = [c];
      if (fill.receives) this.handOut(c, fill.locals);
    });
  }
  shown() { return this.content; }

  refresh() { refill(this); }

  handOut(c, locals) {
    c.locals = Array.from({ length: Math.max(locals, this.t.data.length) }, (_, i) => {
      if (i >= this.t.data.length) return cell(null);
      const n = derived(this.t.data[i], this.block.inst, this.block);
      n.link = true;
      c.nodes.push(n);
      return n;
    });
  }
}

/** The place where the content goes that the user writes. */
export function slot(level, name, names, data, fallback) {
  return { name, names, data, fallback: blockOf(fallback, level), mount(b, parent) { return new SlotPart(this, b, parent); } };
}

class UsePart extends Part {
  constructor(t, block, parent) {
    super(t, block, parent);
    this.inst = instance(t.component(), { t, inst: block.inst, block, above: within(block) });
    this.used = this.inst;
    nameIt(t.named, block, this.inst);
    mountBlock(this.inst.comp.view, this.inst, null, this, parent, body => { this.inst.body = body; });
    this.inst.live();
  }
  shown() { return [this.inst.body]; }
  retire() {
    super.retire();
    unmountInstance(this.inst);
  }
  discard() {
    super.discard();
    this.inst.discard();
  }
}

/** The instance that a block is rendered in. */
export function within(block) {
  let b = block;
  while (b.host) {
    if (b.host instanceof UsePart) return b.host.inst;
    b = b.host.block;
  }
  return b.inst;
}

/** A component that is used in a view. */
export function use(component, t) {
  const u = { ...usage(t), component, mount(b, parent) { return new UsePart(this, b, parent); } };
  for (const [name, f] of Object.entries(u.fills)) u.fills[name] = { ...f, body: blockOf(f.body, f.level) };
  return u;
}

/** Gives what is named to the member or local that stands for it. */
export function nameIt(named, block, v) {
  if (!named) return;
  const n = typeof named === "string" ? block.inst.nodes[named] : block.atLevel(named[0]).locals[named[1]];
  write(n, v);
  block.names.push(n);
}

