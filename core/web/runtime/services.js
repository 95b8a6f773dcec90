// Services, and the questions to them that wait.

import { onFailure } from "./nodes.js";
import { IN } from "./instances.js";
import { turn } from "./turns.js";
import { after } from "./timers.js";
import { send, stopSending } from "./sending.js";

/** The questions that wait, the oldest first. */
let asks = [];

function setAsks(list) {
  const was = asks;
  onFailure(() => { asks = was; });
  asks = list;
}

/** Ends the questions of an instance that is unmounted. */
export function endAsks(i) {
  const mine = asks.filter(a => a.inst === i);
  if (mine.length === 0) return;
  stopSending(mine);
  setAsks(asks.filter(a => a.inst !== i));
}

/** Asks an operation of a service. Its stand-in answers in its time, in another turn. */
export function ask(own, op, args, got, failed) {
  const i = own[IN];
  if (i.gone) return;
  const a = { inst: i, op, args, got, failed };
  setAsks([...asks, a]);
  if (op.send) send(a, waits, settle);
  else if (op.after) after(i, op.name, Math.max(0, op.after(...args)), () => answered(a));
}

const waits = a => asks.includes(a);

// settle lets a question no longer wait, and does what follows from it, if somebody still waits.
function settle(a, then) {
  if (!waits(a)) return;
  setAsks(asks.filter(o => o !== a));
  then();
}

function answered(a, failure = 0) {
  settle(a, () => {
    if (failure > 0) a.failed?.(a.op.fails[failure - 1](...a.args));
    else a.got?.(a.op.replies ? a.op.replies(...a.args) : null);
  });
}

/** Lets a question to an operation be answered, or fail, by its age among those that wait: for those who test a page. */
export function answer(name, failure = 0, nth = 1) {
  const a = asks.filter(o => o.op.name === name)[nth - 1];
  if (a) turn(`${failure ? "fail" : "reply"} ${name}`, () => answered(a, failure));
  return a !== undefined;
}

/** A service, with its operations and what stands in for them. */
export function service(name, operations) {
  for (const [op, o] of Object.entries(operations)) o.name = `${name}.${op}`;
  return operations;
}
