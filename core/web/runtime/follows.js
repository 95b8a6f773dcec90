// What an instance does when values change that it follows.

import { fail, same } from "./values.js";
import { Node, change, compute, dirty, now, untracked, update } from "./nodes.js";
import { compare } from "./places.js";
import { run } from "./turns.js";

const maxRounds = 100;

/** Sets up what a new instance follows, at the value of its creation. */
export function follow(inst, f) {
  const n = new Node();
  Object.assign(n, { code: f.code, inst, val: undefined, stage: dirty, follows: true });
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
  change(p, { last: n.val });
  untracked(() => run(p.does, p.inst, null, old));
}
