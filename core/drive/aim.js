// Arguments: the number of an element, and the point last pressed or null. Gives a point of the window where a mouse
// meets the element, after it was brought into view, and what it meets there: "itself", what is "inside" of it, or
// something "else". It gives "gone" for an element that is no longer on the page, and null for one that takes no room.
const [number, last] = arguments;
const el = globalThis.__lienKnown?.elements[number]?.deref();
if (!el?.isConnected) return { Meets: "gone" };
el.scrollIntoView({ block: "nearest", inline: "nearest" });

let boxes = [...el.getClientRects()];
if (boxes.length === 0) { // it has no box of its own; what it holds may have
  const inside = document.createRange();
  inside.selectNodeContents(el);
  boxes = [...inside.getClientRects()];
}

// The middle first, for that is where people press.
const parts = [[0.5, 0.5], [0.2, 0.5], [0.8, 0.5], [0.5, 0.2], [0.5, 0.8], [0.05, 0.05], [0.95, 0.95], [0.95, 0.05], [0.05, 0.95]];
const points = [];
for (const [x, y] of parts)
  for (const b of boxes) points.push([Math.floor(b.left + b.width * x), Math.floor(b.top + b.height * y)]);

const meets = (p) => {
  const hit = el.getRootNode().elementFromPoint(...p);
  return hit === el ? "itself" : hit && el.contains(hit) ? "inside" : "else";
};
// A second press on nearly the same point would count as a double one.
const apart = (p) => !last || Math.max(Math.abs(p[0] - last[0]), Math.abs(p[1] - last[1])) > 4;
const list = points.map((p) => ({ X: p[0], Y: p[1], Meets: meets(p), Apart: apart(p) }));
const best = (meets) => list.find((p) => p.Meets === meets && p.Apart) ?? list.find((p) => p.Meets === meets);
return best("itself") ?? best("inside") ?? best("else") ?? null;
