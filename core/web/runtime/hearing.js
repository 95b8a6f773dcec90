// What contexts report to those that use them.

import { onFailure } from "./nodes.js";
import { inOrder } from "./places.js";
import { run } from "./turns.js";

/** Lets an instance hear what a context reports, if a member of it asks for that. */
export function hearContext(i, m, c) {
  if (!c || !m.on) return;
  (c.users ??= new Set()).add(i);
  onFailure(() => c.users.delete(i));
}

/** Lets go of an instance that is gone. */
export function stopHearing(i) {
  for (const m of i.comp.members) if (m.on) i.nodes[m.name].val?.users.delete(i);
}

/** Tells those that use a context what it reports. */
export function tellUsers(c, name, args) {
  for (const u of inOrder([...c.users ?? []].filter(x => !x.gone), x => x.place())) {
    for (const m of u.comp.members) if (m.on?.[name] && u.nodes[m.name].val === c && !u.gone) run(m.on[name], u, null, ...args);
  }
}
