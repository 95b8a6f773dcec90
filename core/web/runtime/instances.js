// Components and their live instances.

import { fail } from "./values.js";
import { cell, derived, dropDeps, holds as holdsIt, named as namedBy, now, onFailure, read, untracked, write } from "./nodes.js";
import { blockOf } from "./blocks.js";
import { run } from "./turns.js";
import { above } from "./hosts.js";
import { touchBy } from "./forms.js";
import { hearContext, stopHearing } from "./hearing.js";
import { follow } from "./follows.js";
import { stopAll } from "./timers.js";
import { endAsks } from "./services.js";
import { slots } from "./styles.js";
import { fixed } from "./elements.js";

/** The instance behind what its code writes and reads: own[IN]. */
export const IN = Symbol("instance");

/** The instances of each component that live. */
export const live = new Map();

class Instance {
  contexts = []; // that it supplies
  follows = [];
  timers = [];
  body = null;
  gone = false;
  bound = Object.create(null);
  clocks = null; // counts changes of its timers, once somebody asks whether one runs
  open = null; // it is open above the page

  constructor(comp, use) {
    this.comp = comp;
    this.use = use;
    this.nodes = Object.create(null);
    this.own = Object.create(comp.face);
    this.own[IN] = this;
    this.depth = use ? use.above.depth + 1 : 0;
    if (this.depth > 1000) fail(comp.name, "more than 1000 components are nested here");
  }

  isGone() { return this.gone; }

  /** Whether it does something when it comes or goes. */
  hooked() { return this.comp.mount.length + this.comp.unmount.length > 0; }

  /** Whether its place will be gone after the next refresh. */
  ending() {
    if (this.gone) return true;
    if (this.use === null) return false;
    return this.use.block ? this.use.block.ending() : this.use.inst.ending();
  }

  /** Its place on the page, behind which stands what is open; a context has that of its supplier. */
  place() {
    if (this.use === null) return { block: this.body, order: 0 };
    if (this.open) return this.open;
    if (this.use.block === null) return this.use.inst.place();
    return { block: this.use.block, order: this.use.t.order ?? 0 };
  }

  /** Sets up what it does by itself, when its view is there. */
  live() {
    for (const f of this.comp.follows) follow(this, f);
    if (this.hooked()) now.arriving.push(this);
  }

  discard() {
    for (const [name, n] of Object.entries(this.nodes)) if (!this.borrows(name)) dropDeps(n, 0);
    for (const f of this.follows) dropDeps(f.seen, 0);
    for (const c of this.contexts) c.discard();
    stopHearing(this);
  }

  /** Whether a member is its user's, handed down as it is. */
  borrows(name) { return typeof this.use?.t.links[name] === "string"; }

  /** The nearest context of a kind above. What it supplies itself is for those below it. */
  context(of) {
    const i = this.use ? this.use.above : this.host && above(this.host.el);
    return i ? i.contexts.find(c => c.comp === of && c !== this) ?? i.context(of) : null;
  }

  /** Writes a shared member: the place it is tied to, or its own cell. */
  writeShared(name, v) {
    const u = this.use;
    touchBy(this, name);
    if (!u || !u.t.links[name]) write(this.nodes[name], v);
    else if (u.t.ties[name] && !u.inst.gone) u.t.ties[name](u.inst.own, u.block, v);
  }
}

const kinds = {
  takes: (i, m) => (m.code ? derived(m.code, i, null, m.name) : cell(null, m.name)),
  derives: (i, m) => derived(m.code, i, null, m.name),
  named: (i, m) => cell(null, m.name),
  gathers: (i, m) => cell([], m.name),
  supplies(i, m) {
    const c = instance(m.of(), { t: usage(m.links), inst: i, block: null, above: i });
    i.contexts.push(c);
    c.live();
    return cell(c, m.name);
  },
  uses(i, m) {
    const c = i.context(m.of());
    if (!c && !m.may) fail(i.comp.name, `nothing above supplies ${m.of().name}`);
    hearContext(i, m, c);
    return cell(c, m.name);
  },
};

function first(i, m) {
  return untracked(() => cell(m.code ? m.code(i.own, null) : null, m.name));
}

/** Makes an instance with what its user links to it. */
export function instance(comp, use, seeds = Object.create(null), host = null) {
  const i = new Instance(comp, use);
  i.host = host;
  for (const m of comp.members) {
    const seed = use?.t.seeds[m.name];
    const link = use?.t.links[m.name];
    if (seed) i.nodes[m.name] = untracked(() => cell(seed(use.inst.own, use.block), m.name));
    else if (m.name in seeds) i.nodes[m.name] = cell(seeds[m.name], m.name);
    else if (typeof link === "string") i.nodes[m.name] = use.inst.nodes[link];
    else if (link) {
      const n = derived(link, use.inst, use.block, m.name);
      n.link = true;
      use.block?.nodes.push(n);
      i.nodes[m.name] = n;
    } else i.nodes[m.name] = (kinds[m.kind] ?? first)(i, m);
  }
  if (comp.field) i.first = untracked(() => read(i.nodes[comp.field]));
  if (!live.has(comp)) live.set(comp, new Set());
  live.get(comp).add(i);
  onFailure(() => { i.gone = true; live.get(comp).delete(i); });
  return i;
}

/** Ends an instance and the contexts that it supplies. */
export function unmountInstance(i) {
  for (const c of i.contexts) unmountInstance(c);
  i.gone = true;
  live.get(i.comp).delete(i);
  stopAll(i);
  endAsks(i);
  onFailure(() => { i.gone = false; live.get(i.comp).add(i); });
  if (i.hooked()) now.leaving.push(i);
}

/** What code reads of a value: of an instance what it offers. */
export function face(v) {
  return v instanceof Instance ? v.own : v;
}

/** An object with nothing in it but what is given: names are looked up in it. */
export function bare(o = {}) {
  return Object.assign(Object.create(null), o);
}

/** What the user of a component links to it, to be looked up by the names of members. */
export function usage(t) {
  return { classes: [], ...t, marks: fixed(t.marks ?? []), links: bare(t.links), ties: bare(t.ties), seeds: bare(t.seeds), on: bare(t.on), fills: bare(t.fills) };
}

/** A component, with its members in the order of the text. */
export function component(name, d) {
  const comp = { name, members: [], follows: [], mount: [], unmount: [], offers: [], slots: [], ...d, view: blockOf(d.view ?? []) };
  slots(comp);
  if (comp.view.parts.length === 1) comp.view.parts[0].root = true;
  for (const group of ["actions", "functions", "timers", "emits", "hears"]) comp[group] = bare(d[group]);
  comp.face = {};
  for (const m of comp.members) {
    Object.defineProperty(comp.face, m.name, {
      get() {
        return face(read(this[IN].nodes[m.name]));
      },
      set(v) {
        if (m.kind === "derives") run(m.set, this[IN], null, v);
        else if (m.kind === "shares") this[IN].writeShared(m.name, v);
        else write(this[IN].nodes[m.name], v);
      },
    });
  }
  for (const [name, f] of Object.entries(comp.functions)) comp.face[name] = function (...args) { return f(this, ...args); };
  for (const [name, f] of Object.entries(comp.actions)) comp.face[name] = function (...args) { act(f, this[IN], args); };
  return comp;
}

// act runs an action, unless its owner is gone.
function act(f, i, args) {
  if (!i.gone || now.lasting.has(i)) run(f, i, null, ...args);
}

/** Whether a cell of an instance holds a plain value. */
export function holds(own, name, v) {
  return holdsIt(own[IN].nodes[name], v);
}

/** What a view names, where code asks it for something. */
export function named(own, name) {
  return face(namedBy(own[IN].nodes[name]));
}

/** A function of an instance as a value: the same one each time that it is asked for. */
export function bound(own, name) {
  const i = own[IN];
  if (!i.bound[name]) {
    i.bound[name] = (...args) => own[name](...args);
    i.bound[name].owner = i;
  }
  return i.bound[name];
}

/** Calls a function that was handed down, unless its owner is gone. */
export function call(f, at, ...args) {
  if (f === null) fail(at, "what is called here is null");
  if (f.owner && f.owner.gone && !now.lasting.has(f.owner)) return;
  f(...args);
}

/** An instance, if it is one of a component; or null. */
export function ofKind(own, comp) {
  return own && own[IN].comp === comp ? own : null;
}
