package engine

import (
	"slices"

	"lien/core/design"
	"lien/core/page"
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
	name := el.Get("name")
	switch el.Tag() {
	case "input":
		switch el.InputType() {
		case "submit", "button", "reset", "image":
			return formField{}, false
		}
	case "select", "textarea":
	default:
		return formField{}, false
	}
	return formField{name: name, el: el}, name != "" && !el.Disabled()
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
	p := el.Live()
	if first {
		el.Restore(el.firstly())
		defer func() { el.Restore(p) }()
	}
	if el.takesSeveral() {
		var list []value.Value
		for _, o := range e.page.ChosenOptions(&el.Element) {
			list = append(list, value.String(o.OptionValue()))
		}
		return value.NewList(list)
	}
	switch el.InputType() {
	case "checkbox":
		switch {
		case !repeated:
			return value.Bool(el.Live().Checked)
		case el.Live().Checked:
			return value.String(el.LiveValue())
		}
		return nil
	case "radio":
		if el.Live().Checked {
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

// takesSeveral says whether the element is a select of which several options may be chosen.
func (el *Element) takesSeveral() bool { return el.Tag() == "select" && el.Has("multiple") }

// holdsList says whether a name stands for one form control whose own value
// is a list.
func (e *Engine) holdsList(fields []formField, name string) bool {
	n, list := 0, false
	for _, f := range fields {
		if f.name == name {
			n++
			if f.el != nil {
				list = f.el.takesSeveral()
				continue
			}
			list = f.inst.values[f.slot].val != nil && e.read(&f.inst.values[f.slot]).Kind() == value.ListKind
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
	return f.el.Live().Touched
}

// touch notes that a field was changed by its user, or lost the focus.
func (e *Engine) touch(el *Element) {
	if i := el.block.control(); i != nil {
		e.touchControl(i)
		return
	}
	if _, ok := el.field(); ok && !el.Live().Touched {
		p := el.Live()
		p.Touched = true
		e.page.Set(&el.Element, p)
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

// resetFields gives the controls of a form their first values: native ones, named or not, and
// components. What stands in a component that is a form control is left to that.
func (e *Engine) resetFields(form *Element, controls []*page.Element) error {
	return e.raise("the fields of a form are reset", form, func() {
		for _, f := range e.fields(form) {
			if f.inst != nil {
				e.writeShared(f.inst, f.slot, f.inst.first)
				e.setTouched(f.inst, false)
			}
		}
		for _, c := range controls {
			el := of(c)
			switch el.Tag() {
			case "input", "select", "textarea":
			default:
				continue
			}
			if el.block.control() != nil {
				continue
			}
			e.page.Set(c, el.firstly())
			e.touched = append(e.touched, el)
			e.writeTies(el, "value", "checked")
		}
		e.formChanged(form)
	})
}

// firstly are the properties that the element had at its mounting.
func (el *Element) firstly() page.Props {
	if el.first == nil {
		return page.Props{}
	}
	return *el.first
}

// control is the form control that a block stands in, or nil.
func (b *Block) control() *Instance {
	for b.host != nil {
		if u, ok := b.host.(*usePart); ok && u.inst.comp.field != nil {
			return u.inst
		}
		b, _ = b.host.place()
	}
	return nil
}
