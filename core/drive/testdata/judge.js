// The browser's half of the judge: what a page of the tests hears and does, written down.
"use strict";

const judge = { lines: [] };

const byId = (id) => id === "body" ? document.body : document.getElementById(id);

const nameOf = (el) => el && (el.id || (el.nodeType === 1 ? el.localName : null));

// The events that are written down, with what matters of them.
const quiet = new Set(["mousemove", "pointermove", "pointerover", "pointerout", "pointerenter", "pointerleave", "mouseover", "mouseout", "mouseenter", "mouseleave"]);
for (const name of ["click", "dblclick", "auxclick", "contextmenu", "mousedown", "mouseup", "mousemove", "mouseover", "mouseout", "mouseenter",
  "mouseleave", "wheel", "keydown", "keyup", "keypress", "beforeinput", "input", "change", "focus", "blur", "focusin", "focusout", "submit",
  "reset", "invalid", "toggle", "beforetoggle", "close", "cancel", "pointerdown", "pointerup", "pointermove", "pointerenter",
  "pointerleave", "pointerover", "pointerout", "pointercancel", "dragstart", "drag", "dragenter", "dragleave", "dragover", "drop", "dragend",
  "copy", "cut", "paste"]) {
  document.addEventListener(name, (e) => {
    if (e.target.nodeType !== 1 || e.target === document.documentElement || quiet.has(name)) return;
    const line = name + "@" + nameOf(e.target) + detail(e);
    if (name === "drag" || name === "dragover" && judge.lines.includes(line)) return; // which come again and again
    judge.lines.push(line);
  }, true);
}

function detail(e) {
  if (e.type.startsWith("key")) return " " + e.key;
  if (e.type === "toggle" || e.type === "beforetoggle") return " " + e.newState;
  return "";
}

// No form leads to another page.
addEventListener("submit", (e) => {
  const method = e.submitter?.getAttribute("formmethod") ?? e.target.getAttribute("method");
  if (method !== "dialog") e.preventDefault();
});

// What handlers can do.
const acts = {
  log(e, el, what) { judge.lines.push("  " + nameOf(el) + " hears " + e.type + (what ? " " + what : "")); },
  prevent(e) { e.preventDefault(); },
  stop(e) { e.stopPropagation(); },
  focus(e, el, id) { byId(id).focus(); },
  blur(e, el, id) { byId(id).blur(); },
  click(e, el, id) { byId(id).click(); },
  hide(e, el, id) { byId(id).hidden = true; },
  show(e, el, id) { byId(id).hidden = false; },
  remove(e, el, id) { byId(id)?.remove(); },
  set(e, el, id, name, ...text) { byId(id).setAttribute(name, text.join(" ")); },
  unset(e, el, id, name) { byId(id).removeAttribute(name); },
  value(e, el, id, ...text) { byId(id).value = text.join(" "); },
  check(e, el, id) { byId(id).checked = true; },
  uncheck(e, el, id) { byId(id).checked = false; },
  call(e, el, id, method, ...args) { byId(id)[method](...(method === "setCustomValidity" ? [args.join(" ")] : args)); },
  inside(e, el) { judge.lines.push("  " + nameOf(el) + (el.contains(e.relatedTarget) ? " keeps the focus" : " loses the focus")); },
};

function hear(id, event, does) {
  const el = byId(id);
  el.addEventListener(event, (e) => {
    if (e.key === "F9") return; // which tells where a gesture begins
    for (const [verb, ...args] of does) acts[verb](e, el, ...args);
  });
}

// What is so now, of every element with an id.
function state() {
  const lines = ["focus " + (document.activeElement === document.documentElement ? "body" : nameOf(document.activeElement))];
  for (const el of document.querySelectorAll("[id]:not(option)")) {
    const is = [];
    if (["input", "textarea", "select"].includes(el.localName)) {
      if (el.type !== "file") is.push(JSON.stringify(el.value));
      if (el.checked) is.push("checked");
      if (el.indeterminate) is.push("mixed");
      if (el.willValidate && !el.validity.valid) is.push("invalid");
      if (el.multiple && el.localName === "select") is.push("[" + [...el.selectedOptions].map((o) => o.value).join(" ") + "]");
    }
    if (el.localName === "details" || el.localName === "dialog") is.push(el.open ? "open" : "closed");
    if (el.popover && el.matches(":popover-open")) is.push("shown");
    if (el.isContentEditable && el.hasAttribute("contenteditable")) is.push(JSON.stringify(el.textContent));
    if (!el.checkVisibility({ visibilityProperty: true })) is.push("unseen");
    if (is.length) lines.push(el.id + " " + is.join(" "));
  }
  return lines;
}

// rested waits until all that was put off is done, and the page was drawn.
function rested(done) {
  setTimeout(() => setTimeout(done, 5));
}

// The events of one gesture, and the state after it.
function taken(done) {
  rested(() => {
    const lines = judge.lines.concat(state());
    judge.lines = [];
    done(lines);
  });
}
