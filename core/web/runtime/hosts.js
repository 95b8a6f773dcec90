// Components as custom elements: what any page can do with them.

import { clean, dropDeps, now, read, untracked, write } from "./nodes.js";
import { isRecord } from "./values.js";
import { mountBlock, unmount, within } from "./blocks.js";
import { pieces } from "./elements.js";
import { instance, unmountInstance } from "./instances.js";
import { run, turn } from "./turns.js";

let keys = 0;

/** A key that no other call gives. */
export function fresh() {
  const was = keys;
  now.undo.push({ back: () => { keys = was; } });
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
    const { code, val, state } = n;
    now.undo.push({ back: () => Object.assign(n, { code, val, state: 2 }) });
    dropDeps(n, 0);
    Object.assign(n, { code: null, val: val ?? null, state: state && clean });
  }
  write(n, v);
}

// fromText is what an attribute says, as a member takes it.
function fromText(m, text) {
  if (m.attr === "boolean") return text !== null && text !== "false";
  if (text === null) return m.code ? undefined : null;
  if (m.attr !== "number") return text;
  return Number.isFinite(Number(text)) && text.trim() !== "" ? Number(text) : null;
}

/** The nearest instance above a host, across elements that are used in plain HTML. */
export function above(host) {
  for (let at = host.parentNode; at; at = at.parentNode ?? at.host) {
    const piece = pieces.get(at);
    if (piece) return within(piece.block);
    if (at.root?.comp) return at.root;
  }
  return null;
}

// waits is a host above that is to be an element of a component, and is not defined so far.
function waits(host) {
  for (let at = host.parentElement; at; at = at.parentElement) if (at.localName.includes("-") && !at.matches(":defined")) return at.localName;
  return null;
}

const hosts = new Set();

/** Tells outside what hosts share, where it has changed. */
export function settled() {
  for (const h of hosts) h.tell();
}

/** Puts a component at the end of the page, with what a start gives it. */
export function mount(comp, given = {}) {
  const host = document.createElement(comp.name);
  Object.assign(host.given, given);
  document.body.append(host);
}

/** Defines a component as a custom element. */
export function define(comp) {
  if (customElements.get(comp.name)) return;
  const open = comp.members.filter(m => m.kind === "takes" || m.kind === "shares");
  const attrs = new Map(open.filter(m => m.attr).map(m => [m.name.toLowerCase(), m]));

  class Host extends HTMLElement {
    static formAssociated = comp.field !== undefined;
    static observedAttributes = [...attrs.keys()];
    given = {}; // by outside
    content = null; // what stood in it, by the names of slots
    fills = {}; // functions for slots that hand out data
    root = null;
    internals = comp.field ? this.attachInternals() : null;
    last = {}; // what outside knows of what is shared

    connectedCallback() {
      const name = waits(this);
      if (name) {
        customElements.whenDefined(name).then(() => this.isConnected && this.connectedCallback());
        return;
      }
      if (this.root) return;
      this.style.display = "contents";
      for (const m of [...open, ...comp.slots ?? []]) this.before(m.name ?? m);
      this.content ??= contentOf(this);
      this.start();
    }

    // start begins when all is given that the component needs.
    start() {
      const left = open.filter(m => m.need && !(m.name in this.given)).map(m => m.name);
      if (left.length === 0) {
        turn("start", () => this.begin());
        return;
      }
      setTimeout(() => {
        if (this.isConnected && !this.root) console.warn(`${comp.name} waits until it is given ${left.join(" and ")}`);
      });
    }

    // before takes up what was set on the element before it was one of a component.
    before(name) {
      if (!Object.hasOwn(this, name)) return;
      const v = this[name];
      delete this[name];
      this[name] = v;
    }

    begin() {
      for (const m of open) if (m.attr === "boolean" && !m.code) this.given[m.name] ??= m.may ? null : false;
      const i = instance(comp, null, this.given, this);
      this.root = i;
      now.undo.push({ back: () => { this.root = null; } });
      const host = this;
      this.holder = { dom: this, get parts() { return host.root === i ? i.body.parts : []; } };
      mountBlock(comp.view, i, null, null, this.holder, body => { i.body = body; });
      i.live();
      hosts.add(this);
      for (const m of open) if (m.kind === "shares") this.last[m.name] = read(i.nodes[m.name]);
    }

    disconnectedCallback() {
      queueMicrotask(() => {
        if (this.isConnected || !this.root) return;
        const i = this.root;
        this.root = null;
        hosts.delete(this);
        turn("end", () => {
          unmount(i.body, this.holder);
          unmountInstance(i);
        });
      });
    }

    attributeChangedCallback(name, _, text) {
      const m = attrs.get(name);
      const v = fromText(m, text);
      if (v === undefined) delete this.given[m.name];
      this.set(m, v === undefined ? untracked(() => m.code(this.root?.own, null)) : v, v !== undefined);
    }

    formResetCallback() {
      const m = open.find(o => o.name === comp.field);
      if (this.root) this.set(m, this.root.first, false);
    }

    formDisabledCallback(is) {
      this.set(open.find(m => m.name === "disabled"), is);
    }

    set(m, v, keep = true) {
      const is = copied(v);
      if (keep) this.given[m.name] = is;
      if (!this.root && this.isConnected && this.content) this.start();
      if (!this.root) return;
      this.last[m.name] = is;
      turn(`set ${m.name}`, () => give(this.root, m, is));
    }

    // tell reports what changed from inside since outside was told.
    tell() {
      for (const m of open) {
        if (m.kind !== "shares") continue;
        const v = untracked(() => read(this.root.nodes[m.name]));
        if (m.name === comp.field) this.internals.setFormValue(formValue(this, v));
        if (v === this.last[m.name]) continue;
        this.last[m.name] = v;
        now.reports.push(() => this.dispatchEvent(new CustomEvent(`${m.name}change`, { detail: { [m.name]: copied(v) } })));
      }
    }
  }

  for (const m of open) {
    Object.defineProperty(Host.prototype, m.name, {
      configurable: true,
      get() { return copied(this.root ? untracked(() => read(this.root.nodes[m.name])) : this.given[m.name]); },
      set(v) { this.set(m, v); },
    });
  }
  for (const name of comp.slots ?? []) {
    Object.defineProperty(Host.prototype, name, {
      configurable: true,
      get() { return this.fills[name] ?? null; },
      set(f) { this.fills[name] = f; },
    });
  }
  for (const name of comp.offers ?? []) offer(Host.prototype, comp, name);
  customElements.define(comp.name, Host);
}

function offer(proto, comp, name) {
  if (comp.actions[name]) {
    proto[name] = function (...args) {
      if (this.root) turn(`call ${name}`, () => run(comp.actions[name], this.root, null, ...args.map(copied)));
    };
  } else if (comp.functions[name]) {
    proto[name] = function (...args) { return this.root ? copied(untracked(() => comp.functions[name](this.root.own, ...args))) : null; };
  } else {
    Object.defineProperty(proto, name, { configurable: true, get() { return this.root ? copied(untracked(() => this.root.own[name])) : null; } });
  }
}

// contentOf are the nodes that stand in a host, by the slots that they are for.
function contentOf(host) {
  const list = {};
  for (const n of [...host.childNodes]) {
    const name = n.nodeType === Node.ELEMENT_NODE ? n.getAttribute("slot") ?? "" : "";
    if (n.nodeType === Node.TEXT_NODE && n.data.trim() === "") continue;
    (list[name] ??= []).push(n);
  }
  return list;
}

function formValue(host, v) {
  if (!Array.isArray(v)) return v === null ? null : String(v);
  const data = new FormData();
  for (const x of v) data.append(host.getAttribute("name") ?? host.given.name ?? "", String(x));
  return data;
}
