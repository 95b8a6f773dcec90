// Questions that are sent over a network.

import { now } from "./nodes.js";
import { turn } from "./turns.js";

/**
 * Sends a question, when the turn that asks is over, if it waits then. What comes back is a turn of its own, unless
 * nobody waits any more; settle ends the question.
 */
export function send(a, waits, settle) {
  now.calls.push(() => {
    if (!waits(a)) return;
    a.stop = new AbortController();
    const back = (how, f) => v => turn(`${how} ${a.op.name}`, () => settle(a, () => f(v)));
    a.op.send(a.args, a.stop.signal).then(back("reply", v => a.got?.(v)), back("fail", why => a.failed?.(why.message)));
  });
}

/** Ends questions on their way, when the turn is over. */
export function stopSending(list) {
  now.calls.push(() => { for (const a of list) a.stop?.abort(); });
}
