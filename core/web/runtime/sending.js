// Questions that are sent over a network.

import { turn } from "./turns.js";

/**
 * Sends a question, when the turn that asks is over. What comes back is a turn of its own, unless nobody waits any more;
 * settle ends the question.
 */
export function sent(a, settle) {
  a.stop = new AbortController();
  const back = (how, f) => v => turn(`${how} ${a.op.name}`, () => settle(a, () => f(v)));
  a.op.send(a.args, a.stop.signal).then(back("reply", v => a.got?.(v)), back("fail", why => a.failed?.(why.message)));
}
