// What is told: reports to users, messages to all, lines in the console.

import { now } from "./nodes.js";
import { inOrder } from "./places.js";
import { IN, live } from "./instances.js";
import { tellUsers } from "./hearing.js";
import { run } from "./turns.js";

/** Reports an event to the place where the component is used; a root reports to the world outside. */
export function emit(own, name, ...args) {
  const i = own[IN];
  if (i.use === null) {
    const names = i.comp.emits[name];
    const detail = Object.fromEntries(names.map((n, k) => [n, args[k] ?? null]));
    now.reports.push(() => i.host?.el.dispatchEvent(new CustomEvent(name, { detail })));
    return;
  }
  const does = i.use.t.on[name];
  if (does && !i.use.inst.gone) run(does, i.use.inst, i.use.block, ...args);
  tellUsers(i, name, args);
}

/** Sends a message to those that hear it and are mounted, at once and in tree order. */
export function send(channel, ...args) {
  const list = [];
  for (const [comp, some] of live) if (comp.hears[channel]) list.push(...some);
  for (const i of inOrder(list, x => x.place())) if (!i.ending()) run(i.comp.hears[channel], i, null, ...args);
}

/** Writes to the console of the design. */
export function log(...values) {
  console.log(...values);
}

