package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
	"lien/core/value"
)

// A form collects its named fields, native ones and components that are form
// controls, in the order of the page.

// formField is one named field of a form as it is rendered.
type formField struct {
	name string
	el   *Element  // a native field
	inst *Instance // or a component
	slot int       // of its value
}

// fields lists the fields of a form. What stands in a form control belongs to it.
func (e *Engine) fields(form *Element) []formField {
	var list []formField
	walkParts(form.parts, func(p part) bool {
		switch p := p.(type) {
		case *Element:
			if f, ok := p.field(); ok {
				list = append(list, f)
			}
		case *usePart:
			if p.inst.comp.field == nil {
				return true
			}
			if f, ok := e.control(p.inst); ok {
				list = append(list, f)
			}
			return false
		}
		return true
	})
	return list
}

// control is a component as a form control that takes part now.
func (e *Engine) control(i *Instance) (formField, bool) {
	taken := func(name string) value.Value { return e.read(&i.values[i.comp.def.Member(name).Slot]) }
	name, _ := taken("name").(value.String)
	f := formField{name: string(name), inst: i, slot: i.comp.field.Slot}
	return f, name != "" && taken("disabled") != value.Value(value.Bool(true))
}

// field is the element as a native field that takes part now.
func (el *Element) field() (formField, bool) {
	name := el.attr("name")
	switch el.Tag() {
	case "input":
		switch el.attr("type") {
		case "submit", "button", "reset", "image":
			return formField{}, false
		}
	case "select", "textarea":
	default:
		return formField{}, false
	}
	return formField{name: name, el: el}, name != "" && !el.disabled()
}

// now and first are the value of a field as it is and as it was at first. A
// radio button or repeated check box that is not checked has none.
func (f formField) value(e *Engine, first, repeated bool) value.Value {
	if f.inst != nil {
		if first {
			return f.inst.first
		}
		return e.read(&f.inst.values[f.slot])
	}
	el := f.el
	p := el.live()
	if first {
		el.props = el.first
		defer func() { el.props = p }()
	}
	switch el.attr("type") {
	case "checkbox":
		switch {
		case !repeated:
			return value.Bool(el.live().checked)
		case el.live().checked:
			return value.String(el.LiveValue())
		}
		return nil
	case "radio":
		if el.live().checked {
			return value.String(el.LiveValue())
		}
		return nil
	case "number", "range":
		n, ok := value.ParseNumber(el.LiveValue())
		if !ok {
			return value.Null{}
		}
		return value.Number(n)
	}
	return value.String(el.LiveValue())
}

// collect makes the record of a form's values. Its type tells which names
// stand for lists.
func (e *Engine) collect(form *Element, t types.Type, first bool) value.Value {
	e.read(form.version(e))
	rec := &value.Record{}
	shape := t.(*types.Record)
	fields := e.fields(form)
	for _, field := range shape.Fields {
		_, list := types.Under(field.Type).(*types.List)
		list = list && !e.holdsList(fields, field.Name)
		var items []value.Value
		for _, f := range fields {
			if f.name != field.Name {
				continue
			}
			if v := f.value(e, first, list); v != nil {
				items = append(items, v)
			}
		}
		switch {
		case list:
			rec = rec.With(field.Name, value.NewList(items))
		case len(items) > 0:
			rec = rec.With(field.Name, items[0])
		default:
			rec = rec.With(field.Name, value.Null{})
		}
	}
	return rec
}

// holdsList says whether a name stands for one form control whose own value
// is a list.
func (e *Engine) holdsList(fields []formField, name string) bool {
	n, list := 0, false
	for _, f := range fields {
		if f.name == name {
			n++
			list = f.inst != nil && f.inst.values[f.slot].val != nil && e.read(&f.inst.values[f.slot]).Kind() == value.ListKind
		}
	}
	return n == 1 && list
}

// version is the node that changes with the fields of a form.
func (el *Element) version(e *Engine) *node {
	if el.changed == nil {
		el.changed = &node{val: value.Number(0), item: true}
		e.forms = append(e.forms, el)
	}
	return el.changed
}

// formChanged tells those that read the values of a form.
func (e *Engine) formChanged(form *Element) {
	if form != nil && form.changed != nil {
		e.write(form.changed, form.changed.val.(value.Number)+1)
	}
}

// formsMoved tells all forms that fields may have come or gone.
func (e *Engine) formsMoved() {
	e.forms = slices.DeleteFunc(e.forms, func(f *Element) bool { return f.block.gone })
	for _, f := range e.forms {
		e.formChanged(f)
	}
}

// formPart compiles form.values, touched, dirty and reset.
func (p *program) formPart(of types.Expr, m *design.FormPart, values types.Type, optional bool, at source.Span) eval {
	x := p.expr(of)
	return func(f *frame) value.Value {
		form, ok := x(f).(*Element)
		if !ok {
			if optional {
				return value.Null{}
			}
			f.e.missing(f, of, m.Label, at)
		}
		e := f.e
		switch m.Label {
		case "values":
			return e.collect(form, values, false)
		case "dirty":
			return value.Bool(!e.equal(e.collect(form, values, false), e.collect(form, values, true)))
		case "touched":
			e.read(form.version(e))
			return value.Bool(slices.ContainsFunc(e.fields(form), formField.touched))
		}
		return &Func{name: m.Label, does: true, call: func(e *Engine, _ []value.Value) value.Value {
			e.calls = append(e.calls, elementCall{el: form, name: "reset"})
			e.note(CalledFor, form.block.inst, "form.reset", nil, at)
			return value.Null{}
		}}
	}
}

func (f formField) touched() bool {
	if f.inst != nil {
		return f.inst.touched
	}
	return f.el.live().touched
}

// touch notes that a field was changed by its user, or lost the focus.
func (e *Engine) touch(el *Element) {
	for b := el.block; ; {
		if b.host == nil {
			break
		}
		if u, ok := b.host.(*usePart); ok && u.inst.comp.field != nil {
			e.touchControl(u.inst)
			return
		}
		b, _ = b.host.place()
	}
	if _, ok := el.field(); ok && !el.live().touched {
		p := el.live()
		p.touched = true
		e.setProps(el, p)
	}
}

func (e *Engine) touchControl(i *Instance) {
	if i.touched {
		return
	}
	e.setTouched(i, true)
	for _, f := range e.forms {
		e.formChanged(f)
	}
}

func (e *Engine) setTouched(i *Instance, touched bool) {
	e.undo = append(e.undo, undo{kind: undoTouched, inst: i, flag: i.touched})
	i.touched = touched
}

// reset gives the fields of a form their first values.
func (e *Engine) reset(form *Element) error {
	return e.dispatch(&event{name: "reset", target: form}, func() {
		for _, f := range e.fields(form) {
			if f.inst != nil {
				e.writeShared(f.inst, f.slot, f.inst.first)
				e.setTouched(f.inst, false)
				continue
			}
			e.userProps(f.el, f.el.first)
			e.writeTies(f.el, "value", "checked")
		}
		e.formChanged(form)
	})
}

// submits is the form that pressing an element submits, or nil.
func (el *Element) submits() *Element {
	kind := el.attr("type")
	if el.Tag() == "button" && (kind == "" || kind == "submit") || el.Tag() == "input" && (kind == "submit" || kind == "image") {
		return el.form()
	}
	return nil
}

// submit reports the values of a form. It never leads anywhere else.
func (e *Engine) submit(form *Element) error {
	if form == nil || form.block.gone {
		return nil
	}
	return e.on(form, "submit")
}

// implicitly submits the form of a field in which Enter was pressed: as if its
// default button were pressed, or if it has none and but one field.
func (e *Engine) implicitly(el *Element) error {
	form := el.form()
	if form == nil {
		return nil
	}
	fields := 0
	var button *Element
	e.Elements(func(o *Element) bool {
		if o.form() == form {
			if o.submits() != nil && button == nil {
				button = o
			}
			if o.Role() == "textbox" || o.Role() == "searchbox" {
				fields++
			}
		}
		return true
	})
	switch {
	case button != nil && button.disabled():
		return nil
	case button != nil:
		return e.click(button)
	case fields == 1:
		return e.submit(form)
	}
	return nil
}
