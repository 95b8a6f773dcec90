// Elements of SVG and MathML, which stand in namespaces of their own.

const spaces = { svg: "http://www.w3.org/2000/svg", math: "http://www.w3.org/1998/Math/MathML" };

/** Makes the document's element of a piece, in the namespace that its place gives it: "" is that of HTML. */
export function create(piece, tag, parent) {
  piece.space = spaces[tag] ?? (parent.t?.tag === "foreignObject" ? "" : parent.space ?? "");
  return piece.space ? document.createElementNS(piece.space, tag) : document.createElement(tag);
}
