// Elements of a view, and what their users do to them.

import { now } from "./nodes.js";
import { fail, text } from "./values.js";
import { nameIt, source } from "./blocks.js";
import { Part } from "./parts.js";
import { moved } from "./dom.js";
import { listen } from "./events.js";
import { hearElsewhere } from "./elsewhere.js";
import { create, dress } from "./spaces.js";
import { refused } from "./addresses.js";
import { goesBack, mayBeField, remember } from "./forms.js";
import { mark, withLent } from "./styles.js";

const PIECE = Symbol("piece");

/** The piece behind an element of the document, if there is one. */
export const pieceOf = dom => dom[PIECE];

const none = Object.freeze([]);

/** Names of classes, and one more. */
export function joined(classes, name) {
  return classes ? classes + " " + name : name;
}

class ElementPart extends Part {
  classes = ""; // that it has

  constructor(t, block, parent) {
    super(t, block, parent);
    this.dom = create(this, t.tag, parent);
    this.dom[PIECE] = this;
    this.attrs = t.still ?? t.attrs.map(a => source(a, block, this));
    mark(this);
    this.showAttrs(); // what an element is decides what its children make of it
    this.parts = [];
    this.parts = t.children.map(c => c.mount(block, this));
    if (!this.parts.every(p => p.dom)) moved(this);
    else for (const p of this.parts) this.dom.append(p.dom); // nothing in it comes and goes
    hearElsewhere(this);
    nameIt(t.named, block, this);
    if (t.linked || t.field) now.shown.add(this); // what it holds depends on what is in it
  }

  isGone() { return this.block.gone; }
  shown() { return []; }
  refresh() { now.shown.add(this); }
  retire() { for (const p of this.deep()) p.retire(); }
  revive() { for (const p of this.deep()) p.revive(); }
  discard() { for (const p of this.deep()) p.discard(); }

  // deep are the pieces in it, if something in it comes and goes.
  deep() { return this.t.deep ? this.parts : none; }

  /** Shows what the attributes and classes are, and sets the properties that are linked, which go back by themselves. */
  show(back) {
    this.showAttrs();
    if (this.t.linked && !back) this.showProps();
    remember(this);
  }

  showAttrs() {
    let classes = this.t.classed;
    for (let i = 0; i < this.attrs.length; i++) {
      const a = this.t.attrs[i];
      const v = this.attrs[i].val;
      if (a.kind === "class") {
        if (v) classes = joined(classes, a.name);
      } else if (a.name === "class") {
        if (v) classes = text(v).split(/\s+/).filter(Boolean).reduce(joined, classes);
      } else if (a.kind !== "prop") set(this.dom, a, v);
    }
    classes = withLent(this, classes);
    if (classes === this.classes) return;
    this.classes = classes;
    if (classes) dress(this, classes);
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
      const v = t.as ? t.as(this.dom.value) : this.dom[t.name];
      if (v !== undefined) t.set(this.block.inst.own, this.block, v);
    }
  }
}

// set gives an element an attribute. What would run as a program is left out, wherever it comes from.
function set(dom, { name, prints, leads }, v) {
  const is = v === true && !prints ? "" : text(v);
  if (v === null || (v === false && !prints) || (leads && refused(is))) dom.removeAttribute(name);
  else if (dom.getAttribute(name) !== is) dom.setAttribute(name, is);
}

// setProp sets a live property, and says whether it was another one.
function setProp(dom, name, v) {
  let is = v;
  if (name === "value") {
    is = v === null ? "" : text(v);
    if (dom.type === "number" && dom.value !== "" && is !== "" && Number(dom.value) === Number(is)) return false;
  }
  const was = dom[name];
  if (was === is) return false;
  goesBack(dom, name, was);
  dom[name] = is;
  return true;
}

/** Sets linked properties again that the user changed and the design did not take over. */
export function resetProps() {
  for (const el of now.touched.splice(0)) if (!el.block.gone) el.showProps();
}

/** Attributes, of which those that are always the same need not be worked out. */
export function fixed(attrs) {
  for (const a of attrs) if ("value" in a) a.fixed = { val: a.value };
  return attrs;
}

// isDeep says whether a piece shows blocks, or something in it does.
const isDeep = t => (t.tag ? t.deep : !("fixed" in t));

/** An element of a view. */
export function element(tag, t, children = []) {
  for (const name in t.on) listen(name);
  const attrs = fixed(t.attrs ?? none);
  return {
    tag, ties: none, deep: children.some(isDeep), on: {}, ...t, children, attrs, still: attrs.every(a => a.fixed) ? attrs.map(a => a.fixed) : null, linked: attrs.some(a => a.kind === "prop"),
    classed: (t.classes ?? none).join(" "), field: mayBeField(tag),
    mount(b, parent) { return new ElementPart(this, b, parent); },
  };
}

/** Calls a method of an element when the turn is over. */
export function callElement(el, name, at, ...args) {
  if (el === null) fail(at, `what stands before .${name} is null`);
  now.calls.push(() => {
    if (!el.block.gone) el.dom[name](...args);
  });
}

