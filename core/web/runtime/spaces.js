// Elements of SVG and MathML, which stand in namespaces of their own.

const spaces = { svg: "http://www.w3.org/2000/svg", math: "http://www.w3.org/1998/Math/MathML" };

/** Makes the document's element of a piece, in the namespace that its place gives it: "" is that of HTML. */
export function create(piece, tag, parent) {
  piece.space = spaces[tag] ?? (parent.t?.tag === "foreignObject" ? "" : parent.space ?? "");
  return piece.space ? document.createElementNS(piece.space, tag) : document.createElement(tag);
}

/** Gives an element its classes: in SVG their property cannot be set (SVG 2, 4.5.3), else it is what takes least time. */
export function dress(piece, classes) {
  if (piece.space) piece.dom.setAttribute("class", classes);
  else piece.dom.className = classes;
}
