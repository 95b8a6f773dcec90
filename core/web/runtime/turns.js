// A turn runs a cause to the end: handlers, what follows changed values, the refresh, the properties. If it fails,
// everything is put back.

import { Failure, fail } from "./values.js";
import { abandon, blank, clean, dirty, mark, markAll, now, nextPass, untracked, update } from "./nodes.js";
import { inOrder, items, shown } from "./places.js";
import { commit } from "./dom.js";
import { resetProps } from "./elements.js";
import { formsChanged, settleForms, showAgain } from "./forms.js";
import { settled } from "./hosts.js";
import { settleFollows } from "./follows.js";
import { regather } from "./gathers.js";
import { runHooks, sorted } from "./hooks.js";
import { openAll } from "./openings.js";

/** After so many rounds a turn is held not to settle. */
export const maxRounds = 100;
let depth = 0;
let running = false;
const waiting = [];

/** Runs a body of an instance with arguments. */
export function run(body, inst, block, ...args) {
  if (++depth > 1000) fail(inst.comp.name, "more than 1000 calls are nested here");
  try {
    body(inst.own, block, ...args);
  } finally {
    depth--;
  }
}

/** Makes a turn of something from outside, and says whether it did. Turns never nest: what comes in one waits. */
export function turn(cause, handlers) {
  if (running) {
    waiting.push([cause, handlers]);
    return true;
  }
  const ran = one(cause, handlers);
  while (waiting.length > 0) one(...waiting.shift());
  return ran;
}

function one(cause, handlers) {
  running = true;
  try {
    begin();
    untracked(handlers);
    settleAll();
    end();
  } catch (why) {
    rollback();
    console.error(`${cause}: ${why.message}`, ...(why instanceof Failure ? [] : [why]));
    return false;
  } finally {
    running = false;
  }
  outside();
  return true;
}

function begin() {
  now.undo = [];
  now.again = [];
  now.kept = false;
  nextPass();
}

// end shows what the turn came to.
function end() {
  display();
  settleForms(() => {
    settleAll();
    display();
  });
  settled();
  for (const u of now.undo) u.end?.(u.of);
  now.undo = [];
  now.marked = [];
}

function display() {
  showAgain();
  commit();
  resetProps();
}

// outside tells the world of what was reported, and calls the methods of elements: what they cause are new turns.
function outside() {
  const reports = now.reports.splice(0);
  const calls = now.calls.splice(0);
  for (const r of reports) r();
  for (const c of calls) c(); // browsers end those that call each other
}

function settleAll() {
  for (let round = 0; busy(); round++) {
    if (round > maxRounds) fail("", `this turn does not settle: after ${maxRounds} rounds something still changes`);
    settleFollows();
    const [was, left, came] = [now.pass, now.leaving.length, now.arriving.length];
    refreshAll();
    nextPass();
    openAll();
    if (now.leaving.length > left) now.leaving.push(...sorted(now.leaving.splice(left), false, shown(was)));
    if (now.arriving.length > came) now.arriving.push(...sorted(now.arriving.splice(came), true, items));
    if (now.moved) {
      now.moved = false;
      formsChanged();
      regather();
    }
    if (now.following.length + now.queue.length === 0) runHooks();
  }
}

function busy() {
  return now.following.length + now.queue.length + now.arriving.length + now.leaving.length > 0 || now.moved || now.opening.length > 0;
}

function refreshAll() {
  for (let round = 0; now.queue.length > 0; round++) {
    if (round > maxRounds) fail("", `the page does not settle: after ${maxRounds} rounds something still changes`);
    const batch = inOrder(now.queue, n => n.part);
    now.queue = [];
    for (const n of batch) {
      if (n.block.gone) continue;
      if (now.stale.length > 0) now.reconcile();
      if (n.block.gone) continue;
      if (update(n) || n.early === now.pass) n.part.refresh();
    }
  }
}

function rollback() {
  const again = new Set(now.marked);
  abandon(again);
  for (const u of now.undo.toReversed()) {
    if (u.node) {
      u.node.val = u.was;
      again.add(u.node);
    } else u.back?.(u.of);
  }
  for (const n of now.again) again.add(n);
  Object.assign(now, blank());
  now.epoch++;
  nextPass();
  for (const n of again) {
    if (n.code) {
      n.stage = clean;
      mark(n, dirty);
    }
    markAll(n);
  }
  refreshAll();
  for (const n of now.following) update(n);
  now.following = [];
  commit(true);
  now.undo = [];
  now.marked = [];
}
