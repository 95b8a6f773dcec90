// A form collects its named fields, native ones and components that are form controls, in the order of the page.

import { fail, same } from "./values.js";
import { cell, change, now, onFailure, read, write } from "./nodes.js";
import { piecesOf } from "./parts.js";
import { maxRounds, turn } from "./turns.js";

/** The forms whose values somebody reads. */
const asked = new Set();

// fieldsIn are the native fields and the form controls of a form. What stands in a form control belongs to it.
function fieldsIn(form) {
  return [...piecesOf(form.parts, p => !p.used?.comp.field)].filter(p => p.used?.comp.field || (p.dom && isField(p.dom)));
}

// fields are those that take part now.
function fields(form) {
  return fieldsIn(form).map(p => (p.used ? { name: p.used.own.name, inst: p.used, off: p.used.own.disabled === true } : { name: linked(p, "name"), el: p, off: isDisabled(p) }))
    .filter(f => f.name && !f.off);
}

// linked is what an attribute is to be, which the document may not have yet.
function linked(p, name) {
  const i = p.t.attrs.findIndex(a => a.name === name && !a.kind);
  return i < 0 ? null : p.attrs[i].val;
}

function isDisabled(p) {
  return p.dom.matches(":disabled") || linked(p, "disabled") === true;
}

/** Whether elements of a name may be native fields. */
export function mayBeField(tag) {
  return ["input", "select", "textarea"].includes(tag);
}

/** Notes what a native field holds at first. */
export function remember(el) {
  if (el.t.field && !el.first && isField(el.dom)) el.first = held(el.dom);
}

// isField says whether an element is a native field.
function isField(dom) {
  if (dom.localName === "input") return !["submit", "button", "reset", "image"].includes(dom.type);
  return dom.localName === "select" || dom.localName === "textarea";
}

// value is that of a field as it is or was at first. What is not checked, where several are of one name, has none.
function value(f, first, several) {
  if (f.inst) return first ? f.inst.first : f.inst.own[f.inst.comp.field];
  const { dom } = f.el;
  const has = first ? f.el.first ?? held(dom) : held(dom);
  switch (dom.type) {
    case "select-multiple":
      return has.chosen;
    case "checkbox":
      if (!several) return has.checked;
      return has.checked ? has.value : undefined;
    case "radio":
      return has.checked ? has.value : undefined;
    case "number":
    case "range":
      return has.value.trim() === "" || !Number.isFinite(Number(has.value)) ? null : Number(has.value);
  }
  return has.value;
}

// held is what a native field holds.
function held(dom) {
  return {
    value: dom.value,
    checked: dom.checked,
    indeterminate: dom.indeterminate,
    chosen: dom.type === "select-multiple" ? [...dom.selectedOptions].map(o => o.value) : null,
  };
}

function collect(form, first) {
  read(version(form));
  const list = fields(form);
  const record = {};
  for (const [name, isList] of Object.entries(form.t.form)) {
    const own = list.filter(f => f.name === name);
    const several = isList && !holdsList(own);
    const items = own.map(f => value(f, first, several)).filter(v => v !== undefined);
    record[name] = several ? items : items[0] ?? null;
  }
  return record;
}

// holdsList says whether a name stands for one control whose own value is a list.
function holdsList(own) {
  if (own.length !== 1) return false;
  const [f] = own;
  return f.inst ? Array.isArray(f.inst.own[f.inst.comp.field]) : f.el.dom.type === "select-multiple";
}

function version(form) {
  asked.add(form);
  form.changed ??= Object.assign(cell(0), { item: true });
  return form.changed;
}

/** The values of a form, by the names of its fields. */
export function formValues(form) {
  return collect(form, false);
}

/** What a form hands to its handlers of submit. */
export function submitted(name, el) {
  return name === "submit" && el.t.form ? formValues(el) : null;
}

/** Whether the values of a form are others than at first. */
export function formDirty(form) {
  return !same(collect(form, false), collect(form, true));
}

/** Whether a field of a form was changed by its user, or left. */
export function formTouched(form) {
  read(version(form));
  return fields(form).some(f => (f.inst ?? f.el).touched === true);
}

/** Tells those that read the values of forms that these may be others. */
export function formsChanged() {
  for (const f of asked) {
    if (f.block.gone) asked.delete(f);
    else write(f.changed, f.changed.val + 1);
  }
}

/** Goes on while the values of forms that somebody reads are others by what fields were given. */
export function settleForms(round) {
  for (let n = 0; now.fielded && asked.size > 0; n++) {
    if (n > maxRounds) fail("", "the fields of a form do not settle");
    now.fielded = false;
    formsChanged();
    round();
  }
}

/** Lets what is shown now be shown again if a later round fails. */
export function showAgain() {
  if (asked.size === 0) return;
  const some = [...now.shown];
  onFailure(() => { for (const p of some) now.shown.add(p); });
}

/** Lets a property have its value again if a later round fails. */
export function goesBack(dom, name, was) {
  if (asked.size > 0) onFailure(() => { dom[name] = was; });
}

// fieldOf is the field that an element is, or the form control that it stands in; or null.
function fieldOf(el) {
  for (let b = el.block; b.host; b = b.host.block) if (b.host.used?.comp.field) return b.host.used;
  return isField(el.dom) ? el : null;
}

/** What is done when the focus leaves a field, if it is the first time; or null. */
export function leaving(el) {
  const field = fieldOf(el);
  return field && !field.touched ? () => note(field) : null;
}

/** Notes that a field was changed by its user. */
export function touch(el) {
  note(fieldOf(el));
}

function note(field) {
  if (!field || field.touched) return;
  field.touched = true; // also if the turn fails: it was
  formsChanged();
}

/** Notes that an event wrote the member by which a form control is one. */
export function touchBy(inst, name) {
  if (name === inst.comp.field && now.event) note(inst);
}

/** The form that an event on an element resets, or nothing. No form leads to another page, but it may shut a dialog; fields get the values that they had at first, whatever attributes say. */
export function resetsForm(e, el) {
  const resets = e.type === "reset" && el?.dom.localName === "form";
  if (resets || el && e.type === "submit" && (e.submitter?.formMethod || e.target.method) !== "dialog") e.preventDefault();
  return resets && el;
}

/** Gives the fields of a form their first values. */
export function resetFields(form) {
  if (form) turn("the fields of a form are reset", () => reset(form));
}

function reset(form) {
  const list = fieldsIn(form);
  for (const { used } of list) {
    if (!used) continue;
    used.writeShared(used.comp.field, used.first);
    change(used, { touched: false });
  }
  for (const p of list) {
    if (p.used) continue;
    restore(p);
    change(p, { touched: false });
    now.touched.push(p);
    p.took("value", "checked");
  }
  formsChanged();
}

function restore(p) {
  if (!p.first) return;
  const { dom } = p;
  if (p.first.chosen) for (const o of dom.options) o.selected = p.first.chosen.includes(o.value);
  else if (dom.type === "checkbox" || dom.type === "radio") dom.checked = p.first.checked;
  else dom.value = p.first.value;
}
