package story

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/engine"
	"lien/core/html"
	"lien/core/syntax"
)

// Find lists the elements of a page that a target names, in tree order.
func Find(e *engine.Engine, t *syntax.Target) []*engine.Element { return (&runner{e: e}).find(t) }

// find lists the elements that a target names, in tree order.
func (r *runner) find(t *syntax.Target) []*engine.Element {
	var outer []*engine.Element
	if t.In != nil {
		outer = r.find(t.In)
	}
	var list []*engine.Element
	r.e.Elements(func(el *engine.Element) bool {
		if r.inScope(el) && (t.In == nil || within(el, outer)) && r.matches(el, t) {
			list = append(list, el)
		}
		return true
	})
	switch {
	case t.Component != nil:
		return r.nth(list, t)
	case t.Nth != nil:
		n := place(t)
		return list[min(max(n-1, 0), len(list)):min(max(n, 0), len(list))]
	}
	return list
}

// place is which of several a target means, from 1 on; the first where it does
// not tell.
func place(t *syntax.Target) int {
	return nth(t.Nth)
}

// nth is a place that is written as a number, or the first where none is.
func nth(x syntax.Expr) int {
	if n, ok := x.(*syntax.NumberLit); ok {
		return int(n.Value)
	}
	return 1
}

func within(el *engine.Element, outer []*engine.Element) bool {
	return slices.ContainsFunc(outer, el.IsIn)
}

func (r *runner) inScope(el *engine.Element) bool {
	return r.scope == nil || slices.Contains(r.scope, el) || within(el, r.scope)
}

func (r *runner) matches(el *engine.Element, t *syntax.Target) bool {
	switch {
	case t.Class != nil:
		return slices.Contains(el.Classes(), strings.TrimPrefix(t.Class.Value, ".")) && !r.e.IsHidden(el)
	case t.Component != nil:
		return el.Instance().String() == t.Component.Text
	case !sameRole(el.Role(), t.Role) || r.e.IsHidden(el):
		return false
	case t.Name != nil && r.e.Name(el) != collapse(t.Name.Value):
		return false
	case t.Containing != nil && !strings.Contains(r.e.Text(el), collapse(t.Containing.Value)):
		return false
	case t.Holding != nil && r.holds(el) != t.Holding.Value:
		return false
	}
	return r.hasStates(el, t.States)
}

// sameRole treats the synonyms of WAI-ARIA alike.
func sameRole(a, b string) bool {
	synonym := map[string]string{"img": "image", "none": "presentation"}
	if s := synonym[a]; s != "" {
		a = s
	}
	if s := synonym[b]; s != "" {
		b = s
	}
	return a == b
}

func collapse(s string) string { return strings.Join(strings.Fields(s), " ") }

// holds is what a field holds: a select by the text of its option.
func (r *runner) holds(el *engine.Element) string {
	if el.Tag() == "select" {
		for _, o := range el.Options() {
			if slices.Contains(r.e.States(o), "selected") {
				return r.e.Name(o)
			}
		}
		return ""
	}
	switch el.Tag() {
	case "input", "textarea":
		return el.LiveValue()
	}
	if v, ok := el.Attr("aria-valuetext"); ok {
		return v
	}
	if v, ok := el.Attr("aria-valuenow"); ok {
		return v
	}
	return r.e.Text(el)
}

func (r *runner) hasStates(el *engine.Element, want []string) bool {
	if len(want) == 0 {
		return true
	}
	have := r.e.States(el)
	for _, w := range want {
		if w == "enabled" {
			if slices.Contains(have, "disabled") {
				return false
			}
		} else if !slices.Contains(have, w) {
			return false
		}
	}
	return true
}

// nth narrows the elements of a component's instances to those of one.
func (r *runner) nth(list []*engine.Element, t *syntax.Target) []*engine.Element {
	var instances []*engine.Instance
	for _, el := range list {
		if !slices.Contains(instances, el.Instance()) {
			instances = append(instances, el.Instance())
		}
	}
	want := place(t) - 1
	if want < 0 || want >= len(instances) {
		return nil
	}
	return slices.DeleteFunc(list, func(el *engine.Element) bool { return el.Instance() != instances[want] })
}

// one is the only element that a target names.
func (r *runner) one(t *syntax.Target) (*engine.Element, error) {
	list := r.find(t)
	if t.Component != nil && len(list) > 0 {
		return list[0], nil
	}
	switch len(list) {
	case 1:
		return list[0], nil
	case 0:
		return nil, r.nothing(t)
	}
	return nil, failf("tell which: "+describe(t)+" 2, or look inside one part: inside row \"...\" { ... }",
		"there are %d of %s; a step acts on one", len(list), describe(t))
}

// nothing says that a target is not there, and what is there instead.
func (r *runner) nothing(t *syntax.Target) error {
	bare := &syntax.Target{Role: t.Role, Component: t.Component, Class: t.Class}
	if t.Class != nil || t.Component != nil {
		return failf("see the page below", "there is no %s", describe(t))
	}
	var names []string
	for _, el := range r.find(bare) {
		if t.Name != nil && !html.NamedByContent(el.Role()) && strings.Contains(r.e.Text(el), collapse(t.Name.Value)) {
			return failf("write "+t.Role+" containing "+quote(t.Name.Value), "no %s has the name %s: what a %s shows is not its name",
				t.Role, quote(t.Name.Value), t.Role)
		}
		line, _ := Describe(r.e, el)
		names = append(names, line)
	}
	if len(names) == 0 {
		return failf("see the page below for what is there", "there is no %s: the page has no %s at all", describe(t), t.Role)
	}
	if len(names) > 8 {
		names = append(names[:8], fmt.Sprintf("and %d more", len(names)-8))
	}
	return failf("there is: "+strings.Join(names, ", "), "there is no %s", describe(t))
}

// describe writes a target as a step does.
func describe(t *syntax.Target) string {
	if t.Class != nil {
		return "element with the class " + t.Class.Value
	}
	parts := append([]string(nil), t.States...)
	if t.Component != nil {
		parts = append(parts, t.Component.Text)
	} else {
		parts = append(parts, t.Role)
	}
	for _, p := range []struct {
		word string
		text *syntax.Text
	}{{"", t.Name}, {"holding ", t.Holding}, {"containing ", t.Containing}} {
		if p.text != nil {
			parts = append(parts, p.word+quote(p.text.Value))
		}
	}
	if t.Nth != nil {
		parts = append(parts, fmt.Sprint(place(t)))
	}
	s := strings.Join(parts, " ")
	if t.In != nil {
		s += " in " + describe(t.In)
	}
	return s
}
