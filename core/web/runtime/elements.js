// Elements of a view, and what their users do to them.

import { now } from "./nodes.js";
import { fail, text } from "./values.js";
import { effect, nameIt } from "./blocks.js";
import { Part } from "./parts.js";
import { moved } from "./dom.js";
import { listen } from "./events.js";
import { held, isField } from "./forms.js";
import { lenders, mark } from "./styles.js";

/** The pieces behind the elements of the document. */
export const pieces = new WeakMap();

const none = Object.freeze([]);
const svg = "http://www.w3.org/2000/svg";
const math = "http://www.w3.org/1998/Math/MathML";

function spaceOf(tag, parent) {
  if (tag === "svg") return svg;
  if (tag === "math") return math;
  const space = parent.dom.namespaceURI;
  return parent.dom.localName === "foreignObject" || !space ? "http://www.w3.org/1999/xhtml" : space;
}

class ElementPart extends Part {
  constructor(t, block, parent) {
    super(t, block, parent);
    this.dom = document.createElementNS(spaceOf(t.tag, parent), t.tag);
    pieces.set(this.dom, this);
    this.attrs = t.attrs.length === 0 ? none : t.attrs.map(a => a.fixed ?? effect(a.code, block, this));
    this.lent = t.root ? lenders(t, block).map(use => ({ use, marks: use.t.marks.map(m => m.fixed ?? effect(m.code, use.block, this)) })) : none;
    mark(this.dom, block, parent, this.lent);
    this.showAttrs(); // what an element is decides what its children make of it
    this.parts = [];
    this.parts = t.children.map(c => c.mount(block, this));
    if (this.parts.length > 0) moved(this);
    for (const name of t.events) listen(name);
    if (t.on.outside) outsiders.add(this);
    nameIt(t.named, block, this);
    if (t.linked || isField(this.dom)) now.shown.add(this); // what it holds depends on what is in it
  }

  isGone() { return this.block.gone; }
  shown() { return []; }
  refresh() { now.shown.add(this); }
  retire() { for (const p of this.parts) p.retire(); }
  revive() { for (const p of this.parts) p.revive(); }
  release() { for (const p of this.parts) p.release(); }

  /** Shows what the attributes and classes are, and sets the properties that are linked. */
  show() {
    this.showAttrs();
    this.showProps();
    if (!this.first && isField(this.dom)) this.first = held(this.dom);
  }

  showAttrs() {
    const classes = [...this.t.classes];
    let classed = classes.length > 0;
    if (!classed && this.attrs === none && this.lent === none) return;
    this.t.attrs.forEach((a, i) => {
      const v = this.attrs[i].val;
      if (a.kind === "class") {
        classed = true;
        if (v) classes.push(a.name);
      } else if (a.name === "class") {
        classed = true;
        if (v) classes.push(...text(v).split(/\s+/).filter(Boolean));
      } else if (a.kind !== "prop") set(this.dom, a.name, v, a.prints);
    });
    for (const { use, marks } of this.lent) {
      classed = true;
      classes.push(...use.t.classes);
      use.t.marks.forEach((m, i) => { if (marks[i].val) classes.push(m.name); });
    }
    if (classed) set(this.dom, "class", classes.length ? classes.join(" ") : null);
  }

  /** Sets every linked property to what its link says. */
  showProps() {
    this.t.attrs.forEach((a, i) => {
      if (a.kind === "prop" && setProp(this.dom, a.name, this.attrs[i].val)) now.fielded = true;
    });
  }

  /** Writes what the user changed to the cells that are tied to it. */
  took(...names) {
    for (const t of this.t.ties) {
      if (!names.includes(t.name) || this.block.ending()) continue;
      const v = taken(this.dom, t);
      if (v !== undefined) t.set(this.block.inst.own, this.block, v);
    }
  }
}

// taken is a property as the tied cell's type has it; undefined where it has none such.
function taken(dom, t) {
  if (t.name !== "value") return dom[t.name];
  if (t.type === "number" || t.type === "number?") {
    const n = dom.value.trim() === "" ? NaN : Number(dom.value);
    if (Number.isFinite(n)) return n;
    return t.type === "number?" ? null : undefined;
  }
  return !t.one || t.one.includes(dom.value) ? dom.value : undefined;
}

// Attributes that lead somewhere; the last three animate one that does (SVG 2, 16).
const addresses = new Set(["href", "src", "action", "formaction", "xlink:href", "data", "poster", "to", "from", "values"]);

// runs says whether an address is a program, as the URL standard (4.4) reads it: without control characters and blanks
// before it, and without line feeds and tabs in it.
function runs(address) {
  return address.split(";").some(part => /^javascript:/i.test(part.replace(/[\t\n\r]/g, "").replace(/^[\u0000-\u0020]+/, "")));
}

// set gives an element an attribute. What would run as a program is refused, wherever it comes from.
function set(dom, name, v, prints) {
  if (/^on|^srcdoc$/i.test(name)) return;
  if (v === null || (typeof v === "boolean" && !v && !prints)) {
    if (dom.hasAttribute(name)) dom.removeAttribute(name);
    return;
  }
  const is = v === true && !prints ? "" : text(v);
  if (addresses.has(name) && runs(is)) {
    console.error(`the address ${is} would run a program, and is left out`);
    dom.removeAttribute(name);
    return;
  }
  if (dom.getAttribute(name) !== is) dom.setAttribute(name, is);
}

// setProp sets a live property, and says whether it was another one.
function setProp(dom, name, v) {
  let is = v;
  if (name === "value") {
    is = v === null ? "" : text(v);
    if (dom.type === "number" && dom.value !== "" && is !== "" && Number(dom.value) === Number(is)) return false;
  }
  if (dom[name] === is) return false;
  dom[name] = is;
  return true;
}

/** Sets linked properties again that the user changed and the design did not take over. */
export function resetProps() {
  for (const el of now.touched.splice(0)) if (!el.block.gone) el.showProps();
}

const outsiders = new Set();

/** The elements that hear presses elsewhere. */
export function outside() {
  for (const el of outsiders) if (el.block.gone) outsiders.delete(el);
  return [...outsiders];
}

/** Attributes, of which those that are always the same need not be worked out. */
export function fixed(attrs) {
  for (const a of attrs) if (!a.code) a.fixed = { val: a.value };
  return attrs;
}

/** An element of a view. */
export function element(tag, t, children = []) {
  return {
    tag, classes: none, ties: none, on: {}, ...t, children, attrs: fixed(t.attrs ?? none), events: Object.keys(t.on ?? {}), linked: t.attrs?.some(a => a.kind === "prop"),
    mount(b, parent) { return new ElementPart(this, b, parent); },
  };
}

const words = new Set(["focus", "blur", "click", "select", "scrollIntoView", "show", "showModal", "close", "requestClose", "showPopover",
  "hidePopover", "togglePopover", "reset", "requestSubmit", "checkValidity", "reportValidity", "setCustomValidity"]);

/** Calls a method of an element when the turn is over. */
export function callElement(el, name, at, ...args) {
  if (el === null) fail(at, `what stands before .${name} is null`);
  if (!words.has(name)) return;
  now.calls.push(() => {
    if (!el.block.gone) el.dom[name](...args);
  });
}

