package design

import (
	"sort"

	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// namedIn declares the names that a component's view gives to elements and
// components outside of lists and fills. Under a when they may be null.
func (r *resolver) namedIn(c *Component) {
	for _, m := range c.Syntax.Members {
		if v, ok := m.(*syntax.View); ok {
			r.eachNamed(v.Body, false, func(e *syntax.Element, maybe bool) {
				r.addMember(c, e.Named, e, &Member{Kind: Named, typ: r.handleType(e, maybe)})
			})
		}
	}
}

// eachNamed visits named nodes; each and fill have names of their own.
func (r *resolver) eachNamed(items []syntax.Item, maybe bool, visit func(e *syntax.Element, maybe bool)) {
	for _, it := range items {
		switch it := it.(type) {
		case *syntax.Element:
			if it.Named != nil {
				visit(it, maybe)
			}
			// content is shown where the component likes
			r.eachNamed(it.Body, maybe || r.components[it.Name.Text] != nil, visit)
		case *syntax.When:
			r.eachNamed(it.Body, true, visit)
			r.eachNamed(it.Else, true, visit)
		case *syntax.Slot:
			r.eachNamed(it.Body, true, visit)
		}
	}
}

// handleType is the type of a named element or component.
func (r *resolver) handleType(e *syntax.Element, maybe bool) types.Type {
	t := types.Type(types.Instance{Of: elementOwner(e.Name.Text)})
	if e.Name.Text == "form" {
		t = types.Instance{Of: r.form(e)}
	}
	if c := r.components[e.Name.Text]; c != nil {
		t = types.Instance{Of: c}
	}
	if maybe {
		t = types.Or(t, types.Null)
	}
	return t
}

// namedLocals declares the names that stand in an each or fill.
func (v *viewResolver) namedLocals(items []syntax.Item, vs *viewScope) {
	v.eachNamed(items, false, func(e *syntax.Element, maybe bool) {
		l := &ViewLocal{Label: e.Named.Text, Typ: v.handleType(e, maybe), At: e.Named.Span(), Level: vs.level, Slot: max(vs.count, 2)}
		vs.count = l.Slot + 1
		vs.locals = append(vs.locals, l)
	})
}

// handle is the symbol that names a node, or nil.
func (v *viewResolver) handle(s *syntax.Element, vs *viewScope) types.Symbol {
	if s.Named == nil {
		return nil
	}
	for at := vs; at != nil; at = at.up {
		for _, l := range at.locals {
			if l.At.Start == s.Named.Start {
				return l
			}
		}
	}
	if m := v.component.Member(s.Named.Text); m != nil && m.At.Start == s.Named.Start {
		return m
	}
	return nil
}

// elementOwner is a kind of element, as the type of a named one.
type elementOwner string

// TypeName is the element's name.
func (o elementOwner) TypeName() string { return string(o) }

// Reach finds the standard methods of an element.
func (o elementOwner) Reach(name string) types.Symbol {
	if m := elementMethods[name]; m != nil {
		return m
	}
	return nil
}

// Reachable lists the methods.
func (o elementOwner) Reachable() []string {
	var names []string
	for n := range elementMethods {
		names = append(names, n)
	}
	sort.Strings(names)
	return names
}

// Kept is "": an element keeps nothing to itself.
func (o elementOwner) Kept(string) string { return "" }

// ElementMethod is a method of HTML's elements that a handler may call.
type ElementMethod struct {
	Label string
	Takes bool // it takes a text
}

func (m *ElementMethod) Name() string { return m.Label }
func (m *ElementMethod) Type() types.Type {
	f := &types.Func{Result: types.Void}
	if m.Takes {
		f.Params = []types.Param{{Name: "text", Type: types.String}}
	}
	return f
}

func (m *ElementMethod) Stable() bool    { return true }
func (m *ElementMethod) Pos() source.Pos { return 0 }

var elementMethods = methodSet("focus", "blur", "click", "select", "scrollIntoView", "showModal", "show", "close", "requestClose",
	"showPopover", "hidePopover", "togglePopover", "reset", "requestSubmit", "checkValidity", "reportValidity", "setCustomValidity")

func methodSet(names ...string) map[string]*ElementMethod {
	m := map[string]*ElementMethod{}
	for _, n := range names {
		m[n] = &ElementMethod{n, n == "setCustomValidity"}
	}
	return m
}
