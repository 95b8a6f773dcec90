// What runs when instances come and go.

import { now, untracked } from "./nodes.js";
import { compare, nested } from "./places.js";
import { run } from "./turns.js";

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
