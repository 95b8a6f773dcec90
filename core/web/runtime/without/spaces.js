// A design whose elements are all of HTML.

export const create = (_, tag) => document.createElement(tag);
