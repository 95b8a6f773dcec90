// What a pane needs in the page that it stands beside: what people do on the page, and ways to do the same again. Time
// passes there when the pane says so (advance).
(() => {
  const { modifiers, counts, activated, modal, escape, dismiss, settled } = window.lienLayers;

  const isHost = el => el.localName.includes("-") || el.classList.contains("lien-layer") || el.localName === "script" || el.id === "lien-light";
  const elements = () => [...document.body.querySelectorAll("*")].filter(el => !isHost(el));

  // element is what stands for an element of the document: itself, or what is around it; null outside of all elements.
  const element = el => {
    while (el && isHost(el)) el = el.parentElement;
    return document.body.contains(el) && el !== document.body ? el : null;
  };
  const placeOf = el => elements().indexOf(element(el));

  // Gestures, as the page hears them from a person.

  const texts = new Set(["text", "search", "url", "tel", "email", "password"]);
  const isText = el => el.localName === "textarea" || (el.localName === "input" && texts.has(el.type)) || el.isContentEditable;
  const fire = (el, Type, name, init = {}) => el.dispatchEvent(new Type(name, { bubbles: true, cancelable: true, composed: true, ...init }));

  const beside = keys => {
    const held = keys.split("+");
    return { shiftKey: held.includes("Shift"), ctrlKey: held.includes("Control"), altKey: held.includes("Alt"), metaKey: held.includes("Meta") };
  };

  let over = null; // what the mouse is on; null: outside of all elements

  /** Moves the mouse onto an element, or with null outside of all; like says where in the window, and with which keys. */
  function move(el, like = {}) {
    if (el === over) return;
    const from = over?.isConnected ? over : null;
    const { clientX, clientY, screenX, screenY, shiftKey, ctrlKey, altKey, metaKey, buttons } = like;
    const init = { clientX, clientY, screenX, screenY, shiftKey, ctrlKey, altKey, metaKey, buttons };
    over = el;
    for (const [kind, Type] of [["pointer", PointerEvent], ["mouse", MouseEvent]]) {
      const crosses = (at, name, to) => fire(at, Type, kind + name, { ...init, relatedTarget: to, ...(name.length > 4 && { bubbles: false, cancelable: false }) });
      if (from) crosses(from, "out", el);
      for (let at = from; at && !at.contains(el); at = at.parentElement) crosses(at, "leave", el);
      if (!el) continue;
      crosses(el, "over", from);
      const into = [];
      for (let at = el; at && !(from && at.contains(from)); at = at.parentElement) into.unshift(at);
      for (const at of into) crosses(at, "enter", from);
    }
    if (!el) return;
    fire(el, PointerEvent, "pointermove", init);
    fire(el, MouseEvent, "mousemove", init);
  }

  let held = null;

  function hold(el, keys, button = 0) {
    activated();
    move(element(el));
    const init = { button, buttons: button === 0 ? 1 : 2, detail: 1, ...beside(keys) };
    held = { on: el, silent: !fire(el, PointerEvent, "pointerdown", init) };
    if (!held.silent && fire(el, MouseEvent, "mousedown", init)) focusNear(el);
  }

  function release(el, keys, button = 0) {
    move(element(el));
    const { on, silent } = held ?? {};
    const init = { button, detail: 1, ...beside(keys) };
    held = null;
    fire(el, PointerEvent, "pointerup", init);
    if (!silent) fire(el, MouseEvent, "mouseup", init);
    if (on) dismiss(on, el);
    let both = on?.isConnected ? on : null;
    while (both && !both.contains(el)) both = both.parentElement;
    if (both) fire(both, PointerEvent, button === 0 ? "click" : "auxclick", init);
  }

  function press(el, keys) {
    hold(el, keys);
    release(el, keys);
  }

  function pressRight(el, keys) {
    hold(el, keys, 2);
    fire(el, PointerEvent, "contextmenu", { button: 2, ...beside(keys) });
    release(el, keys, 2);
  }

  function drag(el, to) {
    const dataTransfer = new DataTransfer();
    const drags = (at, name) => fire(at, DragEvent, name, { dataTransfer });
    hold(el, "");
    if (!el.closest("[draggable=true], a[href], img") || !drags(el, "dragstart")) {
      release(to, "");
      return;
    }
    held = null;
    fire(el, PointerEvent, "pointercancel");
    for (const name of ["drag", "dragenter", "dragover"]) drags(el, name);
    if (el !== to) {
      drags(to, "dragenter");
      drags(el, "dragleave");
    }
    drags(to, drags(to, "dragover") ? "dragleave" : "drop");
    drags(el, "dragend");
  }

  function focusNear(el) {
    for (let at = el; at; at = at.parentElement) {
      if (!focusable(at)) continue;
      at.focus();
      return;
    }
    document.activeElement?.blur();
  }

  const focusable = el => el.matches("a[href], button:enabled, input:enabled, select:enabled, textarea:enabled, summary, [tabindex], [contenteditable]");
  const setter = el => Object.getOwnPropertyDescriptor(Object.getPrototypeOf(el), "value").set;

  function fill(el, text, types) {
    activated();
    el.focus();
    if (el.isContentEditable) el.textContent = text;
    else setter(el).call(el, text);
    fire(el, InputEvent, "input", { data: text, inputType: "insertText", cancelable: false });
    if (!types) fire(el, Event, "change", { cancelable: false });
  }

  function choose(el, value) {
    activated();
    el.focus();
    if (el.multiple) for (const o of el.options) o.selected = o.value === value ? !o.selected : o.selected;
    else el.value = value;
    fire(el, Event, "input", { cancelable: false });
    fire(el, Event, "change", { cancelable: false });
  }

  function key(el, chord) {
    const parts = chord.split("+").filter((p, i, all) => p !== "" || i === all.length - 1);
    const name = parts.at(-1) || "+";
    const mods = beside(chord);
    const at = el ?? document.activeElement ?? document.body;
    if (el && document.activeElement !== el) el.focus();
    if (counts(name)) activated();
    if (fire(at, KeyboardEvent, "keydown", { key: name, ...mods })) byItself(document.activeElement ?? at, name, mods);
    fire(document.activeElement ?? at, KeyboardEvent, "keyup", { key: name, ...mods });
  }

  // byItself is what a browser does with a key that nothing keeps from it.
  function byItself(at, name, mods) {
    const pressable = at.matches("button, summary, a[href], input[type=checkbox], input[type=radio], input[type=submit], input[type=button], input[type=reset]");
    if (name === "Tab") tab(mods.shiftKey ? -1 : 1);
    else if (name === "Enter" && at.matches("button, summary, a[href]")) at.click();
    else if (name === "Enter" && at.form && at.localName === "input") at.form.requestSubmit(at.form.querySelector("button:not([type=button]):not([type=reset])"));
    else if (name === " " && pressable) at.click();
    else if (name === "Escape") escape();
    else if (name.startsWith("Arrow")) arrow(at, name);
    else if (isText(at) && name.length === 1) fill(at, (at.value ?? at.textContent) + name, true);
  }

  function tab(step) {
    const list = [...(modal() ?? document.body).querySelectorAll("*")].filter(el => focusable(el) && el.tabIndex >= 0 && el.checkVisibility({ visibilityProperty: true }) && !el.closest("[inert]"));
    const at = list.indexOf(document.activeElement);
    (list[at + step] ?? (at < 0 ? list[0] : null))?.focus();
  }

  function arrow(at, name) {
    const step = name === "ArrowDown" || name === "ArrowRight" ? 1 : -1;
    if (at.type === "radio") {
      const group = [...document.querySelectorAll("input[type=radio]")].filter(r => r.name === at.name && r.form === at.form && !r.disabled);
      const next = group[(group.indexOf(at) + step + group.length) % group.length];
      next.focus();
      next.click();
    } else if (at.localName === "select") {
      const i = at.selectedIndex + step;
      if (i >= 0 && i < at.options.length) choose(at, at.options[i].value);
    } else if (at.type === "range" || at.type === "number") {
      const up = at.type === "range" ? step > 0 : name === "ArrowUp";
      if (up) at.stepUp();
      else at.stepDown();
      fire(at, Event, "input", { cancelable: false });
      fire(at, Event, "change", { cancelable: false });
    }
  }

  /** Does what a session did, and waits until the page has drawn what comes of it. */
  async function act(a) {
    replaying = true;
    const el = a.Place < 0 ? null : elements()[a.Place];
    if (a.Place >= 0 && !el) throw new Error("the page has nothing there");
    const at = el ?? modal() ?? document.body; // for the mouse
    switch (a.Verb) {
      case "press": case "tick": press(at, a.Text); break;
      case "press twice": press(at, a.Text); press(at, a.Text); fire(at, MouseEvent, "dblclick", beside(a.Text)); break;
      case "rightpress": pressRight(at, a.Text); break;
      case "hold": hold(at, a.Text); break;
      case "release": release(at, a.Text); break;
      case "drag": drag(el, elements()[a.Onto] ?? modal() ?? document.body); break;
      case "type": fill(el, a.Text, true); break;
      case "set": fill(el, a.Text, false); break;
      case "choose": choose(el, a.Text); break;
      case "key": key(el, a.Text); break;
      case "focus": el.focus(); break;
      case "blur": document.activeElement?.blur(); break;
      case "hover": move(element(at)); break;
      case "elapse": advance(a.Ms); break;
      case "reply": case "fail": (await import(new URL("lien.js", location.href).href)).answer(a.Ask, a.Failure, a.Nth); break;
      default: throw new Error(`a page cannot be told to ${a.Verb}`);
    }
    replaying = false;
    await settled();
  }

  // What people do.

  let replaying = false;
  let pressed = false;
  let dragged = null;
  const tell = (verb, el, text = "") => window.lienTold?.({ Verb: verb, Place: el ? placeOf(el) : -1, Text: text });
  const heldBeside = e => ["Shift", "Control", "Alt", "Meta"].filter(m => e.getModifierState(m)).join("+");
  const hears = what => window.lienHears?.[what];
  const begins = () => window.lienBegins?.();
  const watch = (name, f) => addEventListener(name, e => { if (e.isTrusted && !replaying && !window.lienPoints) f(e); }, true);

  // follow lets the mouse go where it is.
  function follow(e, to) {
    const el = element(to);
    if (el === over || !window.lienHears) return;
    begins();
    move(el, e);
    if (hears("moves")) tell("hover", el);
  }

  watch("pointerover", e => follow(e, e.target));
  watch("pointermove", e => follow(e, e.target));
  watch("pointerout", e => { if (!e.relatedTarget) follow(e, null); });

  // The page hears where the mouse goes as it is told, so that it was where a session left it, and stays there while the
  // page is pointed at.
  for (const name of ["over", "out", "enter", "leave"].flatMap(n => [`pointer${n}`, `mouse${n}`])) {
    addEventListener(name, e => { if (e.isTrusted) e.stopImmediatePropagation(); }, true);
  }

  watch("pointerdown", e => {
    begins();
    activated();
    follow(e, e.target);
    pressed = e.button === 0;
    if (pressed && hears("buttons")) tell("hold", e.target, heldBeside(e));
  });
  watch("pointerup", e => {
    begins();
    if (e.button === 0 && hears("buttons")) tell("release", e.target, heldBeside(e));
  });
  watch("click", e => {
    if (!pressed || e.detail === 0) return;
    pressed = false;
    const el = e.target;
    const keys = heldBeside(e);
    if (hears("buttons") || el.localName === "select" || el.localName === "option") return;
    tell(el.matches("input[type=checkbox], input[type=radio]") && keys === "" ? "tick" : "press", el, keys);
  });
  watch("dblclick", e => tell("press twice", e.target, heldBeside(e)));
  watch("contextmenu", e => tell("rightpress", e.target, heldBeside(e)));
  watch("dragstart", e => { dragged = { Place: placeOf(e.target), Onto: -1 }; });
  watch("dragenter", e => { if (dragged) dragged.Onto = placeOf(e.target); });
  watch("dragend", () => {
    if (dragged) window.lienTold?.({ Verb: "drag", Text: "", ...dragged });
    dragged = null;
  });
  watch("keydown", e => {
    begins();
    if (counts(e.key)) activated();
    if ([...modifiers, "CapsLock", "Dead", "Process"].includes(e.key)) return;
    const at = document.activeElement;
    const edits = at && (isText(at) || at.type === "number") && !e.ctrlKey && !e.metaKey && (e.key.length === 1 || ["Backspace", "Delete", "Home", "End", "ArrowLeft", "ArrowRight"].includes(e.key));
    if (edits) return;
    if (at && (at.localName === "select" || at.type === "range") && e.key.startsWith("Arrow")) return; // the change is told
    const mods = ["Control", "Alt", "Shift", "Meta"].filter(m => e.getModifierState(m) && !(m === "Shift" && e.key.length === 1));
    tell("key", at === document.body ? null : at, [...mods, e.key].join("+"));
  });
  addEventListener("keydown", e => { // after all that the page makes of it
    if (!e.isTrusted || e.key !== "Escape" || e.defaultPrevented) return;
    e.preventDefault();
    escape();
  });
  watch("input", e => {
    const el = e.target;
    if (el.localName === "select") tell("choose", el, el.value);
    else if (isText(el)) tell("type", el, el.isContentEditable ? el.textContent : el.value);
    else if (!el.matches("input[type=checkbox], input[type=radio]")) tell("set", el, el.value);
  });

  // Light on elements.

  function light(places) {
    document.getElementById("lien-light")?.remove();
    const list = elements();
    const layer = document.createElement("div");
    layer.id = "lien-light";
    layer.setAttribute("aria-hidden", "true");
    Object.assign(layer.style, { position: "fixed", inset: "0", zIndex: "2147483647", pointerEvents: "none" });
    for (const p of places) {
      const r = list[p]?.getBoundingClientRect();
      if (!r || (r.width === 0 && r.height === 0)) continue;
      const box = layer.appendChild(document.createElement("div"));
      Object.assign(box.style, { position: "absolute", left: `${r.left - 2}px`, top: `${r.top - 2}px`, width: `${r.width + 4}px`, height: `${r.height + 4}px`, outline: "3px solid #0d5c45", background: "#86dab455" });
    }
    if (layer.childElementCount > 0) document.documentElement.append(layer);
  }

  window.lienPoints = false;
  for (const name of ["pointerdown", "mousedown", "pointerup", "mouseup", "click"]) {
    addEventListener(name, e => {
      if (!window.lienPoints || !e.isTrusted) return;
      e.preventDefault();
      e.stopImmediatePropagation();
      if (name === "click") window.lienPointed?.(placeOf(e.target), true);
    }, true);
  }
  addEventListener("pointermove", e => { if (window.lienPoints) window.lienPointed?.(placeOf(e.target), false); }, true);

  const print = () => ({
    Tags: elements().map(el => el.localName),
    Text: document.body.textContent.replace(/\s+/g, ""),
  });

  window.lienInside = { act, advance, light, print, count: () => elements().length };
})();
