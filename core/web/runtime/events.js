// Events of the document become turns: all handlers on the path of an event run in one, innermost first.

import { run, turn } from "./turns.js";
import { now } from "./nodes.js";
import { pieceOf } from "./elements.js";
import { formsChanged, leaving, resetFields, resetsForm, submitted, touch } from "./forms.js";

const heard = new Set(["outside"]); // which is no event of the document

/** Lets an event of the document be heard. */
export function listen(name) {
  if (heard.has(name)) return;
  heard.add(name);
  document.addEventListener(name, hear);
  document.addEventListener(name, e => e.bubbles || hear(e), true);
}

for (const name of ["input", "change", "toggle", "submit", "reset", "blur"]) listen(name);

function hear(e) {
  const target = pieceOf(e.target);
  const form = resetsForm(e, target);
  const kept = raise(e, e.type, on(e), target && changes(e, target));
  resetFields(kept && form);
}

/**
 * Makes a turn of an event that somebody on its path hears, or that changes something. It says whether the event
 * goes on to what it does by itself.
 */
export function raise(e, name, path, change) {
  if (!change && !path.some(el => !el.block.gone && el.t.on[name])) return true;
  const event = { prevented: false, stopped: false };
  turn(name, () => {
    now.event = event;
    try {
      change?.();
      for (const el of path) {
        handle(e, name, el);
        if (event.stopped) break;
      }
    } finally {
      now.event = null;
    }
  });
  if (event.prevented) e.preventDefault();
  return !event.prevented;
}

// on is the path of an event, innermost first. What does not bubble only the element hears that it is raised on.
function on(e) {
  const list = [];
  for (const dom of e.bubbles ? e.composedPath() : [e.target]) if (pieceOf(dom)) list.push(pieceOf(dom));
  return list;
}

// changes is what the user changed with an event.
function changes(e, el) {
  switch (e.type) {
    case "input":
      return () => {
        formsChanged();
        el.took("value", "checked", "indeterminate");
        if (typed(el.dom)) now.touched.push(el);
      };
    case "change":
      return () => {
        touch(el);
        now.touched.push(el);
      };
    case "blur":
      return leaving(el);
    case "toggle":
      return () => {
        if (el.dom.localName !== "details") return;
        el.took("open");
        now.touched.push(el);
      };
  }
  return null;
}

function typed(dom) {
  return dom.localName === "textarea" || (dom.localName === "input" && ["text", "search", "url", "tel", "email", "password", "number"].includes(dom.type));
}

function handle(e, name, el) {
  for (const does of el.t.on[name] ?? []) {
    if (el.block.ending()) return;
    run(does, el.block.inst, el.block, does.length < 3 ? null : submitted(name, el) || value(e, el));
  }
}

// value is an event as a handler reads it.
function value(e, el) {
  const of = e.target;
  return {
    value: of.isContentEditable ? of.textContent : String(of.value ?? ""),
    checked: of.checked === true,
    key: e.key ?? "",
    shiftKey: e.shiftKey === true,
    ctrlKey: e.ctrlKey === true,
    altKey: e.altKey === true,
    metaKey: e.metaKey === true,
    self: of === el.dom,
    inside: e.relatedTarget ? el.dom.contains(e.relatedTarget) : false,
    data: (e.type === "paste" ? e.clipboardData?.getData("text/plain") : e.data) ?? "",
  };
}

/** Keeps an event from what it does by itself, or from those further out. */
export function prevent(stops) {
  if (now.event) now.event[stops ? "stopped" : "prevented"] = true;
}
