// Components whose elements are fields of forms (HTML, 4.13.1: form-associated custom elements).

/** Makes the elements of a component that is a field ones, whose member disabled says whether they are, if they have it; behind tells what is behind one. */
export function asControl(comp, of, members, behind) {
  if (!comp.field) return;
  const disabled = members.find(m => m.name === "disabled");
  of.formAssociated = true;
  of.prototype.formResetCallback = function () {
    const h = behind(this);
    if (h.root) h.change(h.shares.find(m => m.name === h.comp.field), h.root.first);
  };
  if (disabled) of.prototype.formDisabledCallback = function (is) { behind(this).set(disabled, is); };
}

/** Tells the form of an element what it holds, if this is the member that says so. */
export function tellForm(h, m, v) {
  if (m.name !== h.comp.field) return;
  h.internals ??= h.el.attachInternals();
  if (v === h.formed) return;
  h.formed = v;
  h.internals.setFormValue(Array.isArray(v) ? data(h, v) : v === null ? null : String(v));
}

function data(h, list) {
  const data = new FormData();
  for (const x of list) data.append(h.el.getAttribute("name") ?? h.given.name ?? "", String(x));
  return data;
}
