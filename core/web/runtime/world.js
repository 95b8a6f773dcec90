// What comes from anywhere: messages, replies, opened components, reports.

import { now } from "./nodes.js";
import { inOrder } from "./places.js";
import { Block, mountBlock, unmount } from "./blocks.js";
import { Part } from "./parts.js";
import { IN, instance, live, unmountInstance, usage } from "./instances.js";
import { run, turn } from "./turns.js";
import { after, endsWith, whenOpened } from "./life.js";

/** Reports an event to the place where the component is used; a root reports to the world outside. */
export function emit(own, name, ...args) {
  const i = own[IN];
  if (i.use === null) {
    const names = i.comp.emits[name];
    const detail = Object.fromEntries(names.map((n, k) => [n, args[k] ?? null]));
    now.reports.push(() => i.host?.el.dispatchEvent(new CustomEvent(name, { detail })));
    return;
  }
  const does = i.use.t.on[name];
  if (does && !i.use.inst.gone) run(does, i.use.inst, i.use.block, ...args);
  for (const u of inOrder(i.users.filter(x => !x.gone), x => x.place())) {
    for (const m of u.comp.members) if (m.on?.[name] && u.nodes[m.name].val === i && !u.gone) run(m.on[name], u, null, ...args);
  }
}

/** Sends a message to those that hear it and are mounted, at once and in tree order. */
export function send(channel, ...args) {
  const list = [];
  for (const [comp, some] of live) if (comp.hears[channel]) list.push(...some);
  for (const i of inOrder(list, x => x.place())) if (!i.ending()) run(i.comp.hears[channel], i, null, ...args);
}

/** The questions that wait, the oldest first. */
let asks = [];

function setAsks(list) {
  const was = asks;
  now.undo.push({ back: () => { asks = was; } });
  asks = list;
}

endsWith(i => {
  const mine = asks.filter(a => a.inst === i);
  if (mine.length === 0) return;
  setAsks(asks.filter(a => a.inst !== i));
  now.calls.push(() => { for (const a of mine) a.stop?.abort(); });
});

/** Asks an operation of a service. Its stand-in answers in its time, in another turn. */
export function ask(own, op, args, got, failed) {
  const i = own[IN];
  if (i.gone) return;
  const a = { inst: i, op, args, got, failed };
  setAsks([...asks, a]);
  if (op.send) {
    now.calls.push(() => { if (asks.includes(a)) sent(a); });
    return;
  }
  if (op.after) after(i, op.name, Math.max(0, op.after(...args)), () => answered(a));
}

// sent asks over a network, when the turn that asks is over. What comes back is a turn of its own, unless nobody waits any more.
function sent(a) {
  a.stop = new AbortController();
  const settle = (how, f) => v => {
    if (!asks.includes(a)) return;
    turn(`${how} ${a.op.name}`, () => {
      setAsks(asks.filter(o => o !== a));
      f(v);
    });
  };
  a.op.send(a.args, a.stop.signal).then(settle("reply", v => a.got?.(v)), settle("fail", why => a.failed?.(why.message)));
}

function answered(a, failure = 0) {
  if (!asks.includes(a)) return;
  setAsks(asks.filter(o => o !== a));
  if (failure > 0) a.failed?.(a.op.fails[failure - 1](...a.args));
  else a.got?.(a.op.replies ? a.op.replies(...a.args) : null);
}

/** Lets a question to an operation be answered, or fail, by its age among those that wait: for those who test a page. */
export function answer(name, failure = 0, nth = 1) {
  const a = asks.filter(o => o.op.name === name)[nth - 1];
  if (a) turn(`${failure ? "fail" : "reply"} ${name}`, () => answered(a, failure));
  return a !== undefined;
}

/** A service, with its operations and what stands in for them. */
export function service(name, operations) {
  for (const [op, o] of Object.entries(operations)) o.name = `${name}.${op}`;
  return operations;
}

// What is open above the page.
let openings = [];

class Opening extends Part {
  closed = false;
  shown() { return [this.inst.body]; }
  ends() { return this.closed || this.opener.ending(); }
}

/** Opens a component above the page, when the page is up to date. */
export function open(own, at, component, t, modal = false) {
  now.opening.push({ inst: own[IN], block: at, component, t, modal });
}

whenOpened(() => {
  for (const o of openings) if (!o.block.gone && (o.closed || o.opener.gone)) close(o);
  for (const o of now.opening.splice(0)) if (!o.inst.gone) opened(o);
});

function opened(o) {
  const dom = document.createElement(o.modal ? "dialog" : "div");
  dom.className = "lien-layer";
  if (o.modal) dom.setAttribute("role", "presentation");
  const t = { ...usage(o.t), order: 0, component: o.component };
  const block = o.block ?? o.inst.body;
  const part = new Opening({ order: 0 }, outer(block), null);
  part.opener = o.inst;
  part.inst = instance(o.component(), { t, inst: o.inst, block, above: o.inst });
  part.inst.open = part;
  const holder = { dom, get parts() { return part.inst.body.parts; } };
  mountBlock(part.inst.comp.view, part.inst, null, part, holder, body => { part.inst.body = body; });
  part.inst.live();
  part.holder = holder;
  openings.push(part);
  now.undo.push({
    back: () => { openings = openings.filter(x => x !== part); },
    end: () => {
      document.body.append(dom);
      if (!o.modal) return;
      dom.showModal();
      dom.addEventListener("cancel", e => { e.preventDefault(); dismiss(part); });
      dom.addEventListener("click", e => { if (e.target === dom) dismiss(part); });
    },
  });
}

// outer is a block in which what is open stands, after all that is on the page.
function outer(block) {
  const b = new Block({ level: 0 }, block.inst, null, null);
  b.ending = () => block.ending();
  return b;
}

function dismiss(part) {
  const i = part.inst;
  if (!i.comp.emits.dismissed) return;
  turn("dismiss", () => {
    emit(i.own, "dismissed");
    leave(i.own);
  });
}

/** Ends what is open, and reports first. */
export function leave(own, event, ...args) {
  let i = own[IN];
  if (event) emit(own, event, ...args);
  while (i && !i.open) i = i.use && i.use.above;
  if (!i || i.open.closed) return;
  const part = i.open;
  part.closed = true;
  now.epoch++;
  now.undo.push({ back: () => { part.closed = false; } });
  now.moved = true;
}

function close(part) {
  const was = openings;
  openings = openings.filter(o => o !== part);
  unmount(part.inst.body, part.holder);
  unmountInstance(part.inst);
  part.block.gone = true;
  now.undo.push({
    back: () => { openings = was; part.block.gone = false; },
    end: () => {
      if (part.holder.dom.open) part.holder.dom.close();
      part.holder.dom.remove();
    },
  });
}

/** Writes to the console of the design. */
export function log(...values) {
  console.log(...values);
}

