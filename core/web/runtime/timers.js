// Timers of an instance, which end with it.

import { same } from "./values.js";
import { cell, onFailure, read, write } from "./nodes.js";
import { IN } from "./instances.js";
import { run, turn } from "./turns.js";

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
  onFailure(() => drop(t));
  schedule();
}

function drop(t) {
  clock.timers = clock.timers.filter(o => o !== t);
  t.inst.timers = t.inst.timers.filter(o => o !== t);
}

// letGo ends a timer, until the turn fails.
function letGo(t) {
  drop(t);
  onFailure(() => { clock.timers.push(t); t.inst.timers.push(t); });
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
