// What an instance does by itself: follow values, run at its mounting and unmounting, wait for timers; and what it
// gathers. All of it ends with the instance.

import { fail, same } from "./values.js";
import { Node, cell, compute, dirty, now, read, untracked, update, write } from "./nodes.js";
import { compare, nested } from "./places.js";
import { piecesOf } from "./parts.js";
import { formsChanged } from "./forms.js";
import { IN, live } from "./instances.js";
import { run, turn } from "./turns.js";

const maxRounds = 100;

/** Sets up what a new instance follows, at the value of its creation. */
export function follow(inst, f) {
  const n = new Node();
  Object.assign(n, { code: f.code, inst, val: undefined, state: dirty, follows: true });
  n.part = { inst, does: f.does, at: inst.follows.length, last: null, seen: n };
  inst.follows.push(n.part);
  compute(n);
  n.part.last = n.val;
}

function compareFollowed(a, b) {
  return compare(a.part.inst.place(), b.part.inst.place()) || a.part.at - b.part.at;
}

let skipped = [];

/** Runs every follows whose value differs from the one that it last ran for. */
export function settleFollows() {
  notice();
  for (let round = 0; now.following.length > 0; round++) {
    if (round > maxRounds) fail("", `this never settles: after ${maxRounds} rounds it still changes`);
    let batch = now.following.sort(compareFollowed);
    now.following = [];
    const later = [];
    while (batch.length > 0) {
      const n = batch.shift();
      runFollow(n);
      notice();
      for (const m of now.following) (compareFollowed(m, n) <= 0 ? later : batch).push(m);
      batch = batch.sort(compareFollowed);
      now.following = [];
    }
    now.following = later;
  }
}

function notice() {
  if (now.stale.length > 0) now.reconcile();
  skipped = skipped.filter(n => {
    const back = !n.part.inst.ending();
    if (back) now.following.push(n);
    return !back && !n.part.inst.gone;
  });
}

function runFollow(n) {
  const p = n.part;
  if (p.inst.ending()) {
    skipped.push(n);
    return;
  }
  untracked(() => update(n));
  if (same(n.val, p.last)) return;
  const old = p.last;
  now.undo.push({ back: () => { p.last = old; } });
  p.last = n.val;
  untracked(() => run(p.does, p.inst, null, old));
}

/** Works the gathered lists out again after instances came, went or moved. */
export function regather() {
  if (!now.moved) return;
  now.moved = false;
  formsChanged();
  for (const [comp, list] of live) {
    for (const m of comp.members) {
      if (m.kind === "gathers") for (const i of list) write(i.nodes[m.name], gathered(i, m));
    }
  }
}

function gathered(i, m) {
  const kinds = m.of();
  const list = [];
  const alike = comp => comp.members.some(o => o.kind === "gathers" && same(o.of().map(c => c.name), kinds.map(c => c.name)));
  for (const p of piecesOf(i.body?.parts ?? [], p => !(p.used && alike(p.used.comp)))) {
    if (p.used && kinds.includes(p.used.comp)) list.push(p.used);
  }
  return list;
}

const rank = i => (i.use && i.use.block === null ? 0 : 1);
const supplier = i => (rank(i) === 0 ? i.use.inst : i);

/**
 * Puts instances into the order of their hooks: what is inside first, the rest as it stands on the page. A context
 * comes before all that is inside its supplier, and goes after it.
 */
export function sorted(list, coming, blocks) {
  return list.toSorted((a, b) => {
    const x = supplier(a);
    const y = supplier(b);
    if (x === y) return rank(a) - rank(b);
    if (x.use === null || y.use === null) return x.use === null ? 1 : -1;
    const order = compare(x.place(), y.place(), blocks);
    if (!nested(x.place(), y.place())) return order;
    if (coming && ((order < 0 && rank(a) === 0) || (order > 0 && rank(b) === 0))) return order;
    return -order;
  });
}

/** Runs what waits for the end of the refresh: first the hooks of what is gone, then those of what is new. */
export function runHooks() {
  const gone = now.leaving;
  const born = now.arriving;
  now.leaving = [];
  now.arriving = [];
  for (const i of gone) for (const c of i.contexts) now.lasting.add(c);
  for (const i of gone) {
    for (const c of i.contexts) now.lasting.delete(c);
    for (const h of i.comp.unmount) untracked(() => run(h, i, null));
  }
  now.lasting.clear();
  for (const i of born) if (!i.gone) for (const h of i.comp.mount) untracked(() => run(h, i, null));
}

// Opened components are mounted when the page is up to date.
now.opening = [];
let opens = () => {};

/** Says what mounts what is to be opened. */
export function whenOpened(f) {
  opens = f;
}

export function openAll() {
  opens();
}

// Timers.

// What keeps the time: the browser, or what stands in for it where somebody else lets the time pass.
const keeper = globalThis.lienClock ?? {
  now: () => performance.now(),
  set: (f, ms, ...args) => setTimeout(f, ms, ...args),
  clear: n => clearTimeout(n),
};

const clock = { timers: [], started: 0, asked: null };

/** The milliseconds since the page began. */
export function time() {
  return Math.floor(keeper.now());
}

/** Starts a timer, or starts it anew. */
export function start(own, name, ...args) {
  const i = own[IN];
  if (i.gone) return;
  const t = i.comp.timers[name];
  const delay = Math.max(t.every ? 1 : 0, t.delay(own, ...args));
  halt(i, name, args);
  launch({ inst: i, name, args, delay, due: dueNow() + delay });
  changed(i);
}

// dueNow is the time that timers reckon from: in a turn of a timer that of its firing.
function dueNow() {
  return clock.at ?? keeper.now();
}

function launch(t) {
  t.number = ++clock.started;
  clock.timers.push(t);
  t.inst.timers.push(t);
  now.undo.push({ back: () => drop(t) });
  schedule();
}

function drop(t) {
  clock.timers = clock.timers.filter(o => o !== t);
  t.inst.timers = t.inst.timers.filter(o => o !== t);
}

// letGo ends a timer, until the turn fails.
function letGo(t) {
  drop(t);
  now.undo.push({ back: () => { clock.timers.push(t); t.inst.timers.push(t); } });
  changed(t.inst);
}

function halt(i, name, args) {
  for (const t of i.timers.filter(t => t.name === name && begins(t, args))) letGo(t);
}

const begins = (t, args) => args.every((a, k) => same(a, t.args[k]));

/** Stops the timers whose first arguments match. */
export function stop(own, name, ...args) {
  halt(own[IN], name, args);
}

function changed(i) {
  if (i.clocks) write(i.clocks, i.clocks.val + 1);
}

/** Whether a timer with these first arguments runs. */
export function runs(own, name, ...args) {
  const i = own[IN];
  i.clocks ??= Object.assign(cell(0), { item: true });
  read(i.clocks);
  return i.timers.some(t => t.name === name && begins(t, args));
}

/** Ends the timers of an instance that is unmounted. */
export function stopAll(i) {
  for (const t of [...i.timers]) halt(i, t.name, t.args);
  for (const f of ends) f(i);
}

const ends = [];

/** Adds something that ends with an instance. */
export function endsWith(f) {
  ends.push(f);
}

/** Waits, and makes a turn then; nothing in the design stops it but the end of the instance. */
export function after(inst, cause, delay, fires) {
  launch({ inst, name: null, cause, args: [], delay, due: dueNow() + delay, fires });
}

function schedule() {
  const next = clock.timers.reduce((a, b) => (a === null || b.due < a.due || (b.due === a.due && b.number < a.number) ? b : a), null);
  keeper.clear(clock.asked);
  clock.asked = next ? keeper.set(fire, Math.max(0, next.due - keeper.now()), next) : null;
}

function fire(t) {
  if (!clock.timers.includes(t)) return schedule();
  if (t.due > keeper.now()) return schedule();
  clock.at = t.due;
  const ran = turn(t.cause ?? `timer ${t.name}`, () => {
    letGo(t);
    if (t.fires) return t.fires();
    const of = t.inst.comp.timers[t.name];
    if (of.every) launch({ ...t, due: t.due + t.delay });
    run(of.does, t.inst, null, ...t.args);
  });
  clock.at = undefined;
  if (!ran) missed(t);
  schedule();
}

// missed lets a timer go whose turn failed: it would fail again at once, for ever. One that repeats comes again.
function missed(t) {
  if (t.name !== null && t.inst.comp.timers[t.name].every) t.due += t.delay;
  else turn("a timer whose turn failed is let go", () => letGo(t));
}
