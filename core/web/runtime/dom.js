// What changes on the page is put there at the end of a turn, so that a turn that fails leaves it as it was.

import { now } from "./nodes.js";

now.shown = new Set(); // pieces that show something else
now.holders = new Set(); // elements that contain something else

/** Notes that a holder contains something else. A holder has dom, and parts. */
export function moved(holder) {
  if (holder) now.holders.add(holder);
}

/** The document's nodes that pieces show, in order. */
export function collect(parts, out = []) {
  for (const p of parts) {
    if (p.dom) out.push(p.dom);
    else if (p.doms) out.push(...p.doms);
    else for (const b of p.shown()) collect(b.parts, out);
  }
  return out;
}

/** Puts what changed into the document, or back, when a turn has failed. */
export function commit(back) {
  for (const h of now.holders) if (!h.block || !h.block.gone) arrange(h.dom, collect(h.parts));
  showAll(now.shown, back);
  for (const n of now.told) showAll(n.pieces, back);
  now.holders.clear();
  now.shown.clear();
  now.told.clear();
}

function showAll(pieces, back) {
  for (const p of pieces) if (!p.block.gone) p.show(back);
}

// arrange makes nodes the children of an element, and moves no more of them than it has to.
function arrange(parent, nodes) {
  if (nodes.length === 0 || !parent.firstChild) {
    parent.replaceChildren();
    for (let i = 0; i < nodes.length; i += 10_000) parent.append(...nodes.slice(i, i + 10_000)); // browsers take no more at once
    return;
  }
  let from = 0; // what stands before it is there
  let to = nodes.length; // and what stands from it on
  let c = parent.firstChild;
  for (; from < to && c === nodes[from]; c = c.nextSibling) from++;
  for (let last = parent.lastChild; from < to && last === nodes[to - 1]; last = last.previousSibling) to--;
  const end = nodes[to] ?? null;
  const some = nodes.slice(from, to);
  const at = new Map(some.map((n, i) => [n, i]));
  const stand = []; // where those that are there are to be
  while (c !== end) {
    const next = c.nextSibling;
    if (at.has(c)) stand.push(at.get(c));
    else c.remove();
    c = next;
  }
  const stay = increasing(stand);
  const next = []; // of each, what stays behind it
  for (let i = some.length - 1, n = end; i >= 0; i--) {
    next[i] = n;
    if (stay[i]) n = some[i];
  }
  some.forEach((n, i) => { // in order: of options the first that comes is chosen
    if (!stay[i]) place(parent, n, next[i]);
  });
}

function place(parent, node, before) {
  if (node.isConnected && parent.moveBefore) parent.moveBefore(node, before); // keeps the focus
  else parent.insertBefore(node, before);
}

// increasing finds a longest part of a list that increases, and says of each number whether it is in it.
function increasing(list) {
  const ends = []; // ends[k]: the place where the best part of length k+1 ends
  const from = [];
  for (let i = 0; i < list.length; i++) {
    let hi = ends.length;
    let lo = list[ends[hi - 1]] < list[i] ? hi : 0; // most come behind all before them
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (list[ends[mid]] < list[i]) lo = mid + 1;
      else hi = mid;
    }
    from[i] = ends[lo - 1];
    ends[lo] = i;
  }
  const is = [];
  for (let i = ends.at(-1); i !== undefined; i = from[i]) is[list[i]] = true;
  return is;
}
