// Values that others depend on. Writing a cell marks what depends on it; what is marked is worked out when it is read,
// or at the refresh. What comes out equal marks nothing further.

import { fail, same } from "./values.js";

export const clean = 0;
export const maybe = 1; // something that it depends on may have changed
export const dirty = 2; // something that it depends on has changed

/** What a turn notes: nothing so far. */
export const blank = () => ({
  undo: [], // what it changed: { node, was } of values, { back } of all else
  marked: [],
  queue: [], // pieces of the page that may show something else
  stale: [], // lists whose items have not been told
  following: [],
  again: [], // nodes of what was revived
  moved: false, // instances came, went or moved
  opening: [],
  arriving: [],
  leaving: [],
  lasting: new Set(), // instances that are gone and still do what they do when they go
  touched: [], // elements that the user changed
  fielded: false, // something was put into a field
  calls: [], // of methods of elements, when it is over
  reports: [], // to the world, when it is over
});

/** The turn that runs. */
export const now = {
  ...blank(),
  event: null,
  since: 0, // where in what it changed the last refresh ended
  pass: 1, // counts refreshes
  epoch: 1, // counts what may decide whether a place is ending
  told: new Set(), // cells that pieces show as they are
  kept: false,
  reconcile: () => {}, // tells the items of stale lists; the lists set it
};

const none = Object.freeze([]);

/** Has something done if the turn fails. */
export function onFailure(back) {
  now.undo.push({ back });
}

/** Changes fields of an object, until the turn fails. */
export function change(of, to) {
  const was = {};
  for (const name in to) was[name] = of[name];
  onFailure(() => Object.assign(of, was));
  Object.assign(of, to);
}

let observing = null;
let cursor = 0;
let stamp = 0;

/** A cell, a taken or derived value, or a piece of the page that shows one. */
export class Node {
  val = null;
  code = null; // how it is worked out; null for a cell
  block = null; // where its expression stands
  inst = null;
  part = null; // what shows it
  deps = none;
  subs = none; // a set, once there are any
  stage = clean;
  link = false; // ends with its place: keeps its value from then on
  item = false; // an item of an each: written when the list is
  follows = false;
  busy = false;
  seen = 0;
  early = 0; // since which refresh it has the value
  label = "";
  pieces = null; // of a cell: those that show it as it is
  compared = null; // of a cell that is compared with keys: what depends on its being one of them, by the key
  of = null; // the cell that such a match is of

  /** Whether the place of a link will be gone after the next refresh. */
  ending() {
    return this.block ? this.block.ending() : this.inst !== null && this.inst.ending();
  }
}

/** A piece of the page reads what the view names before that is there: it shows nothing so far. */
class NotYet {
  constructor(handle) {
    this.handle = handle;
  }
}

/** What a node of the view names. */
export function named(n) {
  const v = read(n);
  if (v === null && outermost?.part && !outermost.follows) throw new NotYet(n);
  return v ?? fail("", `${n.label} is null here`);
}

let outermost = null; // the node that is worked out, and all others for it

/** A cell that holds a value. */
export function cell(val, label = "") {
  const n = new Node();
  n.val = val;
  n.label = label;
  return n;
}

/** A value that is worked out when it is read. */
export function derived(code, inst, block, label = "") {
  const n = new Node();
  n.val = undefined;
  n.code = code;
  n.inst = inst;
  n.block = block;
  n.stage = dirty;
  n.label = label;
  return n;
}

/** A node's value now. Whoever is being worked out depends on it. */
export function read(n) {
  if (n.stage !== clean || (now.stale.length > 0 && (n.code || n.item))) settle(n);
  let v = n.val;
  if (n.early === now.pass && (n.link || (n.item && n.block)) && n.ending()) v = keepOld(n);
  if (observing) track(n);
  return v;
}

let busy = 0;

function settle(n) {
  if (now.stale.length > 0 && busy === 0) now.reconcile();
  update(n);
}

function track(n) {
  if (n.seen === stamp) return;
  n.seen = stamp;
  const o = observing;
  if (cursor < o.deps.length && o.deps[cursor] === n) {
    cursor++;
    return;
  }
  dropDeps(o, cursor);
  if (o.deps === none) o.deps = [];
  o.deps.push(n);
  if (n.subs === none) n.subs = new Set();
  n.subs.add(o);
  cursor++;
}

/** Forgets what a node depends on, from the given dependency on. */
export function dropDeps(n, from) {
  if (from >= n.deps.length) return;
  const dropped = from ? n.deps.splice(from) : n.deps;
  if (!from) n.deps = none;
  for (const d of dropped) {
    if ((d.item && d.block?.gone) || n.deps.includes(d)) continue; // what is gone tells nobody
    d.subs.delete(n);
    if (d.of && d.subs.size === 0) d.of.compared.delete(d.val);
  }
}

/** Whether a cell holds a plain value. Whoever is being worked out depends on that alone, and not on what else it holds. */
export function holds(n, v) {
  if (n.code || !observing) return read(n) === v;
  n.compared ??= new Map();
  let m = n.compared.get(v);
  if (!m) {
    m = new Node();
    m.of = n;
    m.val = v;
    n.compared.set(v, m);
  }
  track(m);
  return n.val === v;
}

// touch marks those that depend on a cell, and on whether it holds one of some values.
function touch(n, values) {
  if (n.pieces) now.told.add(n);
  for (const s of n.subs) mark(s, dirty);
  for (const v of values) for (const s of n.compared?.get(v)?.subs ?? none) mark(s, dirty);
}

/** Marks all that depends on a node. */
export function markAll(n) {
  touch(n, n.compared ? [...n.compared.keys()] : none);
}

/** Notes that something that n depends on may have changed, or has. */
export function mark(n, stage) {
  if (n.stage >= stage) return;
  const was = n.stage;
  n.stage = stage;
  if (was !== clean) return;
  now.marked.push(n);
  if (n.follows) now.following.push(n);
  else if (n.part) {
    now.queue.push(n);
    if (n.part.isEach && n === n.part.list) now.stale.push(n.part);
  }
  for (const s of n.subs) mark(s, maybe);
}

/** Brings n up to date, and says whether its value changed. */
export function update(n) {
  if (n.stage === clean) return false;
  if (n.link && n.ending()) {
    now.kept = true;
    return false;
  }
  if (n.busy) fail("", `${n.label} is worked out from itself`);
  if (n.stage === maybe) {
    begin(n);
    for (let i = 0; i < n.deps.length && n.stage === maybe; i++) update(n.deps[i]);
    finished(n);
  }
  if (n.stage === maybe) {
    n.stage = clean;
    return false;
  }
  return compute(n);
}

/** Works n out. */
export function compute(n) {
  const was = n.val;
  const v = observe(n);
  if (was !== undefined && same(was, v)) return false;
  if (was !== undefined) now.undo.push({ node: n, was });
  n.early = now.pass;
  n.val = v;
  for (const s of n.subs) if (s.stage === maybe) s.stage = dirty;
  return true;
}

function observe(n) {
  const outer = observing;
  const outerCursor = cursor;
  const outerStamp = stamp;
  stamp = ++stamps;
  observing = n;
  cursor = 0;
  if (busy === 0) outermost = n;
  begin(n);
  let v;
  try {
    v = n.code(n.inst && n.inst.own, n.block);
    finished(n);
    dropDeps(n, cursor);
    n.stage = clean;
  } catch (why) {
    finished(n);
    dropDeps(n, 0);
    n.stage = dirty;
    if (!(why instanceof NotYet) || !n.part || n.follows || n.val !== undefined) throw why;
    cursor = 0;
    stamp = ++stamps;
    track(why.handle);
    n.stage = clean;
    v = n.part.nothing ?? null;
  } finally {
    observing = outer;
    cursor = outerCursor;
    stamp = outerStamp;
  }
  if (now.kept && n.deps.some(d => d.stage !== clean)) n.stage = maybe;
  return v;
}

let stamps = 0;

function begin(n) {
  n.busy = true;
  busy++;
}

function finished(n) {
  n.busy = false;
  busy--;
}

/** Lets go of what was being worked out when a failure came. */
export function abandon(list) {
  busy = 0;
  observing = null;
  for (const n of list) n.busy = false;
}

/** Gives the value of the last refresh to a link, or an item, whose place is ending. */
export function keepOld(n) {
  for (let i = now.since; i < now.undo.length; i++) {
    const u = now.undo[i];
    if (u.node !== n) continue;
    if (n.item) return u.was;
    n.early = 0;
    now.undo.push({ node: n, was: n.val });
    n.val = u.was;
    n.stage = dirty;
    now.kept = true;
    for (const s of n.subs) mark(s, dirty);
    return n.val;
  }
  return n.val;
}

/** Notes that what is worked out from now on has not been refreshed. */
export function nextPass() {
  now.pass++;
  now.since = now.undo.length;
}

/** Runs f without noting what it reads: handlers depend on nothing. */
export function untracked(f) {
  const outer = observing;
  observing = null;
  try {
    return f();
  } finally {
    observing = outer;
  }
}

/** Changes a cell. An equal value changes nothing. */
export function write(n, v) {
  if (same(n.val, v)) return;
  touch(n, [n.val, v]);
  now.undo.push({ node: n, was: n.val });
  n.val = v;
  if (n.item) n.early = now.pass;
  now.epoch++;
}
