// Components as custom elements: what any page can do with them.

import { change, clean, dirty, dropDeps, now, onFailure, read, untracked, write } from "./nodes.js";
import { isRecord } from "./values.js";
import { mountBlock, unmount, within } from "./blocks.js";
import { pieceOf } from "./elements.js";
import { asControl, tellForm } from "./controls.js";
import { fillable } from "./filled.js";
import { bare, instance, unmountInstance } from "./instances.js";
import { run, turn } from "./turns.js";

let keys = 0;

/** A key that no other call gives. */
export function fresh() {
  const was = keys;
  onFailure(() => { keys = was; });
  return `k${++keys}`;
}

// copied is a value from outside, or for outside, that nobody else can change.
function copied(v) {
  if (v === undefined || v === null) return null;
  if (Array.isArray(v)) return v.map(copied);
  if (isRecord(v)) return Object.fromEntries(Object.entries(v).map(([k, x]) => [k, copied(x)]));
  return v;
}

// give sets what an instance takes or shares, from outside.
function give(i, m, v) {
  const n = i.nodes[m.name];
  if (n.code) {
    onFailure(() => { n.stage = dirty; });
    change(n, { code: null, val: n.val ?? null });
    dropDeps(n, 0);
    n.stage = clean;
  }
  write(n, v);
}

// fromText is what an attribute says, as a member takes it; undefined where it says nothing that fits.
function fromText(m, text) {
  if (m.attr === "boolean") return text !== null && text !== "false";
  if (text === null) return m.may ? null : undefined;
  const v = m.attr === "number" ? (text.trim() === "" ? NaN : Number(text)) : text;
  return Number.isNaN(v) || (m.one && !m.one.includes(v)) ? undefined : v;
}

// The elements that stand for components, and what is behind each: none of it can be seen from outside, so members can
// be called as they like.
const hosted = new WeakMap();

/** The nearest instance above a host, across elements that are used in plain HTML. */
export function above(host) {
  for (let at = host.parentNode; at; at = at.parentNode ?? at.host) {
    const piece = pieceOf(at);
    if (piece) return within(piece.block);
    const root = hosted.get(at)?.root;
    if (root) return root;
  }
  return null;
}

// waitsFor is an element above that is to stand for a component, and is not defined so far.
function waitsFor(host) {
  for (let at = host.parentElement; at; at = at.parentElement) if (at.localName.includes("-") && !at.matches(":defined")) return at.localName;
  return null;
}

// Those that share something, which is told outside when it changes.
const sharing = new Set();

/** Tells outside what is shared, where it has changed. */
export function settled() {
  for (const h of sharing) h.tell();
}

/** What is behind an element that stands for a component. */
class Hosted {
  given = bare(); // by outside
  content = null; // what stood in it, by the names of slots
  fills = bare(); // for slots that hand out data: cells with a function, or null
  root = null; // the instance, while it is there
  last = bare(); // what outside knows of what is shared

  constructor(el, comp, open) {
    Object.assign(this, { el, comp, open });
    this.shares = open.filter(m => m.kind === "shares");
  }

  connect() {
    const name = waitsFor(this.el);
    if (name) {
      customElements.whenDefined(name).then(() => this.el.isConnected && this.connect());
      return;
    }
    if (this.root) return;
    this.el.style.display = "contents";
    for (const m of this.open) this.before(m.name);
    for (const s of this.comp.slots) this.before(s);
    this.content ??= contentOf(this.el);
    this.start();
  }

  // before takes up what was set on the element before it stood for a component.
  before(name) {
    if (!Object.hasOwn(this.el, name)) return;
    const v = this.el[name];
    delete this.el[name];
    this.el[name] = v;
  }

  // start begins when all is given that the component needs.
  start() {
    const left = this.open.filter(m => m.need && !(m.name in this.given)).map(m => m.name);
    if (left.length === 0) {
      turn("start", () => this.begin());
      return;
    }
    setTimeout(() => {
      if (this.el.isConnected && !this.root) console.warn(`${this.comp.name} waits until it is given ${left.join(" and ")}`);
    });
  }

  begin() {
    const given = bare(this.given);
    for (const m of this.open) if (m.attr === "boolean" && !m.code && !(m.name in given)) given[m.name] = m.may ? null : false;
    const i = instance(this.comp, null, given, this);
    this.root = i;
    onFailure(() => this.leave());
    const host = this;
    this.holder = { dom: this.el, get parts() { return host.root === i ? i.body.parts : []; } };
    mountBlock(this.comp.view, i, null, null, this.holder, body => { i.body = body; });
    i.live();
    if (this.shares.length > 0) sharing.add(this);
    for (const m of this.shares) this.last[m.name] = read(i.nodes[m.name]);
  }

  leave() {
    this.root = null;
    sharing.delete(this);
  }

  disconnect() {
    queueMicrotask(() => {
      const i = this.root;
      if (this.el.isConnected || !i) return;
      this.leave();
      turn("end", () => {
        unmount(i.body, this.holder);
        unmountInstance(i);
      });
    });
  }

  attribute(m, text) {
    const v = fromText(m, text);
    if (v !== undefined) return this.set(m, v);
    if (text !== null) console.warn(`${this.comp.name}: ${m.name} cannot be "${text}"`);
    else delete this.given[m.name];
    if (text === null && m.code && this.root) this.change(m, untracked(() => m.code(this.root.own, null)));
  }

  get(m) {
    return copied(this.root ? untracked(() => read(this.root.nodes[m.name])) : this.given[m.name]);
  }

  set(m, v) {
    this.given[m.name] = copied(v);
    if (this.root) this.change(m, this.given[m.name]);
    else if (this.content && this.el.isConnected) this.start();
  }

  change(m, v) {
    this.last[m.name] = v;
    turn(`set ${m.name}`, () => give(this.root, m, v));
  }

  // tell reports what changed from inside since outside was told.
  tell() {
    for (const m of this.shares) {
      const v = untracked(() => read(this.root.nodes[m.name]));
      tellForm(this, m, v);
      if (v === this.last[m.name]) continue;
      this.last[m.name] = v;
      now.reports.push(() => this.el.dispatchEvent(new CustomEvent(`${m.name}change`, { detail: { [m.name]: copied(v) } })));
    }
  }
}

/** Puts a component at the end of the page, with what a start gives it. */
export function mount(comp, given = {}) {
  const el = document.createElement(comp.name);
  Object.assign(hosted.get(el).given, given);
  document.body.append(el);
}

/** Defines a component as a custom element. */
export function define(comp) {
  if (customElements.get(comp.name)) return;
  const open = comp.members.filter(m => m.kind === "takes" || m.kind === "shares");
  const attrs = new Map(open.filter(m => m.attr).map(m => [m.name.toLowerCase(), m]));

  class Host extends HTMLElement {
    static observedAttributes = [...attrs.keys()];

    constructor() {
      super();
      hosted.set(this, new Hosted(this, comp, open));
    }

    connectedCallback() { hosted.get(this).connect(); }
    disconnectedCallback() { hosted.get(this).disconnect(); }
    attributeChangedCallback(name, _, text) { hosted.get(this).attribute(attrs.get(name), text); }
  }

  asControl(comp, Host, open, el => hosted.get(el));
  const property = (name, get, set) => Object.defineProperty(Host.prototype, name, { configurable: true, get, set });
  for (const m of open) property(m.name, function () { return hosted.get(this).get(m); }, function (v) { hosted.get(this).set(m, v); });
  fillable(comp, property, el => hosted.get(el));
  for (const name of comp.offers) property(name, offered(comp, name));
  customElements.define(comp.name, Host);
}

// offered gives what a component offers: a method, or a value to read.
function offered(comp, name) {
  const action = comp.actions[name];
  return function () {
    const i = hosted.get(this).root;
    if (action) return (...args) => { if (i) turn(`call ${name}`, () => run(action, i, null, ...args.map(copied))); };
    if (comp.functions[name]) return (...args) => (i ? copied(untracked(() => comp.functions[name](i.own, ...args.map(copied)))) : null);
    return i ? copied(untracked(() => i.own[name])) : null;
  };
}

// contentOf are the nodes that stand in an element, by the slots that they are for.
function contentOf(el) {
  const list = bare();
  for (const n of el.childNodes) {
    if (n.nodeType === Node.TEXT_NODE && n.data.trim() === "") continue;
    (list[n.slot ?? ""] ??= []).push(n);
  }
  return list;
}
