// Reads the page: every element with its attributes, what a user can change, and what is in it.
// Each element keeps its number as long as the page is loaded.
"use strict";

const known = globalThis.__lienKnown ??= { numbers: new WeakMap(), elements: [] };

function numberOf(el) {
  let n = known.numbers.get(el);
  if (n === undefined) {
    n = known.elements.push(new WeakRef(el)) - 1;
    known.numbers.set(el, n);
  }
  return n;
}

function shownOf(el) {
  const style = getComputedStyle(el);
  return [style.display !== "none", style.visibility === "visible"];
}

function read(el) {
  const [boxed, visible] = shownOf(el);
  const node = {
    n: numberOf(el), tag: el.localName, attrs: [...el.attributes].map((a) => [a.name, a.value]), boxed, visible,
    value: el.localName === "select" ? [...el.selectedOptions].map((o) => o.value).join("\x1f")
      : ["input", "textarea"].includes(el.localName) ? el.value : "",
    checked: el.checked === true, indeterminate: el.indeterminate === true,
    open: el.open === true || el.popover != null && el.matches(":popover-open"),
    modal: el.localName === "dialog" && el.matches(":modal"),
    custom: el.validity?.customError ? el.validationMessage : "", bad: el.validity?.badInput === true,
    children: [],
  };
  for (const c of el.shadowRoot?.childNodes ?? el.childNodes) {
    if (c.nodeType === Node.TEXT_NODE) node.children.push(c.data);
    else if (c.nodeType === Node.ELEMENT_NODE) node.children.push(read(c));
  }
  return node;
}

let focused = document.activeElement;
while (focused?.shadowRoot?.activeElement) focused = focused.shadowRoot.activeElement;
// As text: drivers copy objects field by field, which takes many times as long.
return JSON.stringify({ body: read(document.body), focus: focused && focused !== document.body ? numberOf(focused) : -1 });
