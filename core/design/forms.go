package design

import (
	"maps"
	"slices"
	"sync"

	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// A native form collects its named fields: native ones, and components with a
// shared cell that is marked as a field. What it collects is known from the
// text, by the literal names.

// formOwner is a named form, as a type.
type formOwner struct {
	elementOwner
	parts map[string]*FormPart
}

// FormPart is what a handler or view may read or call on a named form:
// values, touched, dirty and reset.
type FormPart struct {
	Label string
	Typ   types.Type
}

func (p *FormPart) Name() string     { return p.Label }
func (p *FormPart) Type() types.Type { return p.Typ }
func (p *FormPart) Stable() bool     { return false }
func (p *FormPart) Pos() source.Pos  { return 0 }

// Reach finds the parts of the form and the methods of every element.
func (o *formOwner) Reach(name string) types.Symbol {
	if p := o.parts[name]; p != nil {
		return p
	}
	return o.elementOwner.Reach(name)
}

// Reachable lists the names that Reach finds.
func (o *formOwner) Reachable() []string {
	names := slices.Sorted(maps.Keys(o.parts))
	for _, n := range o.elementOwner.Reachable() {
		if o.parts[n] == nil {
			names = append(names, n)
		}
	}
	return names
}

// Kept says what is asked in place of whether a form is valid.
func (o *formOwner) Kept(name string) string {
	switch name {
	case "valid", "invalid", "validity", "isValid":
		return "a form that is not valid is not submitted; checkValidity() reports what is wrong, and submit -> ... runs where nothing is"
	}
	return ""
}

// formOwners are the types of the forms that were asked for, by resolvers that work side by side.
type formOwners struct {
	lock sync.Mutex
	all  map[*syntax.Element]*formOwner
}

func (f *formOwners) of(e *syntax.Element) *formOwner {
	f.lock.Lock()
	defer f.lock.Unlock()
	return f.all[e]
}

func (f *formOwners) add(e *syntax.Element, o *formOwner) {
	f.lock.Lock()
	defer f.lock.Unlock()
	if f.all == nil {
		f.all = map[*syntax.Element]*formOwner{}
	}
	f.all[e] = o
}

// form is the type of a form, the same for every question about it.
func (r *resolver) form(e *syntax.Element) *formOwner {
	if f := r.forms.of(e); f != nil {
		return f
	}
	f := &formOwner{"form", map[string]*FormPart{
		"touched": {"touched", types.Boolean},
		"dirty":   {"dirty", types.Boolean},
		"reset":   {"reset", &types.Func{Result: types.Void}},
	}}
	r.forms.add(e, f)
	f.parts["values"] = &FormPart{"values", r.formValues(e)}
	return f
}

// FormValues is the record that a named form collects.
func FormValues(t types.Type) types.Type {
	return types.Under(types.NonNull(t)).(types.Instance).Of.(*formOwner).parts["values"].Typ
}

// formField is a field of a form: its type, whether it may be absent, and
// whether the name stands for several.
type formField struct {
	typ     types.Type
	maybe   bool
	several bool
	check   bool // a native check box
}

// formValues is the record that a form collects.
func (r *resolver) formValues(e *syntax.Element) types.Type {
	c := &collector{r: r, fields: map[string]*formField{}, inside: map[*Component]bool{}}
	c.items(e.Body, false, false)
	rec := &types.Record{}
	for _, name := range c.names {
		f := c.fields[name]
		t := f.typ
		switch {
		case f.several && f.check:
			t = &types.List{Elem: types.String}
		case f.several:
			t = &types.List{Elem: t}
		}
		rec.Fields = append(rec.Fields, types.Field{Name: name, Type: t, Optional: f.maybe && !f.several})
	}
	return rec
}

type collector struct {
	r      *resolver
	names  []string
	fields map[string]*formField
	inside map[*Component]bool // the components being looked into
}

func (c *collector) items(items []syntax.Item, maybe, several bool) {
	for _, it := range items {
		switch it := it.(type) {
		case *syntax.Element:
			c.element(it, maybe, several)
		case *syntax.When:
			c.items(it.Body, true, several)
			c.items(it.Else, true, several)
		case *syntax.Each:
			c.items(it.Body, maybe, true)
		case *syntax.Slot:
			c.items(it.Body, true, several)
		case *syntax.Fill:
			c.items(it.Body, maybe, several)
		}
	}
}

func (c *collector) element(e *syntax.Element, maybe, several bool) {
	if comp := c.r.components[e.Name.Text]; comp != nil {
		c.component(e, comp, maybe, several)
		return
	}
	name, kind := literalLink(e, "name"), literalLink(e, "type")
	switch e.Name.Text {
	case "input":
		if name == "" || kind == "submit" || kind == "button" || kind == "reset" || kind == "image" {
			return
		}
		switch kind {
		case "checkbox":
			c.add(name, &formField{typ: types.Boolean, maybe: maybe, several: several, check: true})
		case "radio":
			if c.fields[name] == nil {
				c.add(name, &formField{typ: types.Or(types.String, types.Null), maybe: maybe})
			}
		case "number":
			c.add(name, &formField{typ: types.Or(types.Number, types.Null), maybe: maybe, several: several})
		case "range":
			c.add(name, &formField{typ: types.Number, maybe: maybe, several: several})
		default:
			c.add(name, &formField{typ: types.String, maybe: maybe, several: several})
		}
	case "select", "textarea":
		if name != "" {
			c.add(name, &formField{typ: chosenType(e), maybe: maybe, several: several})
		}
	default:
		c.items(e.Body, maybe, several)
	}
}

// chosenType is what a select or textarea gives: a text, or a list of them where several may be
// chosen.
func chosenType(e *syntax.Element) types.Type {
	for _, it := range e.Body {
		if l, ok := it.(*syntax.Link); ok && !l.Class && l.Name.Text == "multiple" && e.Name.Text == "select" {
			return &types.List{Elem: types.String}
		}
	}
	return types.String
}

// component adds a field component, or looks for fields in the view of any other.
func (c *collector) component(e *syntax.Element, comp *Component, maybe, several bool) {
	if f := comp.Field(); f != nil {
		if name := literalLink(e, "name"); name != "" {
			c.add(name, &formField{typ: f.Type(), maybe: maybe, several: several})
		}
		return
	}
	c.items(e.Body, true, several)
	if c.inside[comp] {
		return
	}
	c.inside[comp] = true
	for _, m := range comp.Syntax.Members {
		if v, ok := m.(*syntax.View); ok {
			c.items(v.Body, maybe, several)
		}
	}
	delete(c.inside, comp)
}

func (c *collector) add(name string, f *formField) {
	if o := c.fields[name]; o != nil {
		o.several = true
		o.typ = types.Or(o.typ, f.typ)
		return
	}
	c.fields[name] = f
	c.names = append(c.names, name)
}

// literalLink is the text that a node links a name to, or "".
func literalLink(e *syntax.Element, name string) string {
	for _, it := range e.Body {
		if l, ok := it.(*syntax.Link); ok && !l.Class && l.Op == syntax.Down && l.Name.Text == name {
			if t, ok := l.Value.(*syntax.TextLit); ok {
				return t.Value
			}
		}
	}
	return ""
}

// Field is the shared cell that makes the component a form control, or nil.
func (c *Component) Field() *Member {
	for _, m := range c.Members {
		if m.Field {
			return m
		}
	}
	return nil
}

// fieldMembers adds what every form control takes: its name and whether it
// is disabled.
func (r *resolver) fieldMembers(c *Component) {
	f := c.Field()
	if f == nil {
		return
	}
	for _, add := range []struct {
		name string
		typ  types.Type
	}{{"name", types.Or(types.String, types.Null)}, {"disabled", types.Boolean}} {
		if c.byName[add.name] != nil {
			continue
		}
		cell := f.Syntax.(*syntax.Cell)
		text := "null"
		if add.name == "disabled" {
			text = "false"
		}
		m := &Member{Kind: Takes, Label: add.name, Owner: c, At: f.At, typ: add.typ, check: r.checkMember, Implied: true}
		m.Syntax = &syntax.Cell{At: cell.At, Kind: "takes", Name: cell.Name, Value: &syntax.Name{At: cell.At, Text: text}}
		m.Init = &Unit{Expr: r.checker(&scope{r: r}).Expr(m.Syntax.(*syntax.Cell).Value, nil)}
		c.byName[add.name] = m
		c.Members = append(c.Members, m)
	}
}
