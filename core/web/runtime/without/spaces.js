// A design whose elements are all of HTML.

export const create = (_, tag) => document.createElement(tag);

export const dress = (piece, classes) => { piece.dom.className = classes; };
