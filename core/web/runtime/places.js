// Where things stand: every piece of the page has an order in its block, and every block a place in the piece that
// shows it.

/** The way from the root to a place: orders and the places of items in turn. */
function path(block, order) {
  const way = [order];
  for (let b = block; b && b.host; b = b.host.block) way.unshift(b.host.order, b.index);
  return way;
}

/** Which of two places comes first on the page; what is around another comes before it. */
export function compare(a, b) {
  const x = path(a.block, a.order);
  const y = path(b.block, b.order);
  const roots = rootOf(a.block).number - rootOf(b.block).number;
  if (roots !== 0) return roots;
  for (let i = 0; i < x.length && i < y.length; i++) if (x[i] !== y[i]) return x[i] - y[i];
  return x.length - y.length;
}

function rootOf(block) {
  while (block.host) block = block.host.block;
  return block;
}

/** Whether a place is inside of another one, or the same. */
export function nested(a, b) {
  const x = path(a.block, a.order);
  const y = path(b.block, b.order);
  if (rootOf(a.block) !== rootOf(b.block)) return false;
  const n = Math.min(x.length, y.length);
  return x.slice(0, n).every((v, i) => v === y[i]);
}
