// Where things stand: every piece of the page has an order in its block, and every block a place in the piece that
// shows it.

// path is the way from the root to a place: blocks and the orders of pieces in them, in turn.
function path(block, order) {
  const way = [order, block]; // from the inside out
  for (let b = block; b.host; b = b.host.block) way.push(b.host.order, b.host.block);
  return way.reverse();
}

/** Which of two blocks of one piece stands first now. */
export function items(a, b) {
  return a.index - b.index || a.absent - b.absent || a.number - b.number;
}

/** Which stood first at the last refresh before a pass. */
export function shown(pass) {
  const at = b => (b.movedIn === pass + 1 ? b.movedFrom : b.index);
  return (a, b) => at(a) - at(b) || a.number - b.number;
}

function relate(a, b, blocks) {
  return along(path(a.block, a.order), path(b.block, b.order), blocks);
}

function along(x, y, blocks) {
  for (let i = 0; i < x.length && i < y.length; i++) {
    if (x[i] === y[i]) continue;
    return { order: i % 2 === 0 ? blocks(x[i], y[i]) : x[i] - y[i], nested: false };
  }
  return { order: x.length - y.length, nested: true };
}

/** Which of two places comes first on the page; what is around another comes before it. */
export function compare(a, b, blocks = items) {
  return relate(a, b, blocks).order;
}

/** Whether one of two places is inside of the other. */
export function nested(a, b) {
  return relate(a, b, items).nested;
}

// comesAfter says whether a place comes after another, as far as that is seen at once: in the same block, in a later block
// of the same piece, or in what stands at the other, right in its view or right in the view of that.
function comesAfter(a, b) {
  if (a.block === b.block) return a.order > b.order;
  if (a.block.host === b.block.host) return items(b.block, a.block) < 0;
  for (let at = a.block, n = 0; at.host && n < 3; at = at.host.block, n++) if (at.host.block === b.block) return at.host.order > b.order;
  return false;
}

/** A list in the order in which places of its things come on the page. */
export function inOrder(list, placeOf) {
  if (list.length < 2) return list;
  const places = list.map(placeOf);
  if (places.every((at, i) => i === 0 || comesAfter(at, places[i - 1]))) return list; // as what is marked from the outside in is
  const ways = new Map(list.map((x, i) => [x, path(places[i].block, places[i].order)]));
  return list.toSorted((a, b) => along(ways.get(a), ways.get(b), items).order);
}
