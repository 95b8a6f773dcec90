// Elements of a view, and what their users do to them.

import { now } from "./nodes.js";
import { fail, text } from "./values.js";
import { effect, nameIt } from "./blocks.js";
import { Part } from "./parts.js";
import { moved } from "./dom.js";
import { listen } from "./events.js";
import { held, isField } from "./forms.js";
import { lenders, mark } from "./styles.js";

const PIECE = Symbol("piece");

/** The piece behind an element of the document, if there is one. */
export const pieceOf = dom => dom[PIECE];

const none = Object.freeze([]);
const spaces = { svg: "http://www.w3.org/2000/svg", math: "http://www.w3.org/1998/Math/MathML" };

// spaceOf is the namespace of an element, "" for that of HTML.
function spaceOf(tag, parent) {
  return spaces[tag] ?? (parent.t?.tag === "foreignObject" ? "" : parent.space ?? "");
}

function joined(classes, ...more) {
  for (const name of more) classes += (classes && " ") + name;
  return classes;
}

class ElementPart extends Part {
  classes = ""; // that it has

  constructor(t, block, parent) {
    super(t, block, parent);
    this.space = spaceOf(t.tag, parent);
    this.dom = this.space ? document.createElementNS(this.space, t.tag) : document.createElement(t.tag);
    this.dom[PIECE] = this;
    this.attrs = t.still ?? t.attrs.map(a => a.fixed ?? effect(a.code, block, this));
    this.lent = t.root ? lenders(t, block).map(use => ({ use, marks: use.t.marks.map(m => m.fixed ?? effect(m.code, use.block, this)) })) : none;
    mark(this.dom, block, parent, this.lent);
    this.showAttrs(); // what an element is decides what its children make of it
    this.parts = [];
    this.parts = t.children.map(c => c.mount(block, this));
    if (!this.parts.every(p => p.dom)) moved(this);
    else for (const p of this.parts) this.dom.append(p.dom); // nothing in it comes and goes
    for (const name of t.events) listen(name);
    if (t.on.outside) outsiders.add(this);
    nameIt(t.named, block, this);
    if (t.linked || t.field) now.shown.add(this); // what it holds depends on what is in it
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
    if (this.t.linked) this.showProps();
    if (this.t.field && !this.first && isField(this.dom)) this.first = held(this.dom);
  }

  showAttrs() {
    let classes = this.t.classed;
    for (let i = 0; i < this.attrs.length; i++) {
      const a = this.t.attrs[i];
      const v = this.attrs[i].val;
      if (a.kind === "class") {
        if (v) classes = joined(classes, a.name);
      } else if (a.name === "class") {
        if (v) classes = joined(classes, ...text(v).split(/\s+/).filter(Boolean));
      } else if (a.kind !== "prop") set(this.dom, a.name, v, a.prints);
    }
    for (const { use, marks } of this.lent) {
      classes = joined(classes, ...use.t.classes);
      use.t.marks.forEach((m, i) => { if (marks[i].val) classes = joined(classes, m.name); });
    }
    if (classes === this.classes) return;
    this.classes = classes;
    if (classes) this.dom.setAttribute("class", classes);
    else this.dom.removeAttribute("class");
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

const program = a => /^on|^srcdoc$/i.test(a.name);

// set gives an element an attribute. What would run as a program is refused, wherever it comes from.
function set(dom, name, v, prints) {
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
  const attrs = fixed((t.attrs ?? none).filter(a => !program(a)));
  return {
    tag, ties: none, on: {}, ...t, children, attrs, still: attrs.every(a => a.fixed) ? attrs.map(a => a.fixed) : null, events: Object.keys(t.on ?? {}), linked: attrs.some(a => a.kind === "prop"),
    classed: (t.classes ?? none).join(" "), field: ["input", "select", "textarea"].includes(tag),
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

