// What an instance gathers of those that stand in it.

import { same } from "./values.js";
import { write } from "./nodes.js";
import { piecesOf } from "./parts.js";
import { live } from "./instances.js";

/** Works the gathered lists out again after instances came, went or moved. */
export function regather() {
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
    if (p.used && kinds.includes(p.used.comp)) list.push(p.used.own);
  }
  return list;
}
