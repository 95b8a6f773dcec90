package story

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/aria"
	"lien/core/engine"
	"lien/core/html"
	"lien/core/page"
	"lien/core/syntax"
)

// Find lists the elements of a page that a target names, in tree order.
func Find(e *engine.Engine, t *syntax.Target) []*engine.Element {
	f := finder{page: e.DOM()}
	found := f.find(t)
	list := make([]*engine.Element, len(found))
	for i, el := range found {
		list[i] = engine.ElementOf(el)
	}
	return list
}

// finder looks for elements of a page as people do, within a part of it.
type finder struct {
	page  *page.Page
	scope []*page.Element // nil is the whole page
}

// find lists the elements that a target names, in tree order.
func (f finder) find(t *syntax.Target) []*page.Element {
	var outer []*page.Element
	if t.In != nil {
		outer = f.find(t.In)
	}
	var list []*page.Element
	f.page.Elements(func(el *page.Element) bool {
		if f.inScope(el) && (t.In == nil || within(el, outer)) && f.matches(el, t) {
			list = append(list, el)
		}
		return true
	})
	switch {
	case t.Component != nil:
		return nthOf(list, t)
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

func within(el *page.Element, outer []*page.Element) bool {
	return slices.ContainsFunc(outer, func(o *page.Element) bool { return o != el && o.Contains(el) })
}

func (f finder) inScope(el *page.Element) bool {
	return f.scope == nil || slices.Contains(f.scope, el) || within(el, f.scope)
}

func (f finder) matches(el *page.Element, t *syntax.Target) bool {
	switch {
	case t.Class != nil:
		return hasClass(el, strings.TrimPrefix(t.Class.Value, ".")) && !aria.Hidden(el)
	case t.Component != nil:
		x := engine.ElementOf(el)
		return x != nil && x.Inside(t.Component.Text) != nil
	case !plays(el, t.Role) || aria.Hidden(el):
		return false
	case t.Name != nil && nameOf(f.page, el) != collapse(t.Name.Value):
		return false
	case t.Containing != nil && !strings.Contains(aria.Text(el), collapse(t.Containing.Value)):
		return false
	case t.Holding != nil && holds(f.page, el) != t.Holding.Value:
		return false
	}
	return f.hasStates(el, t.States) && !slices.ContainsFunc(t.With, func(h *syntax.Having) bool { return !has(el, h) })
}

// plays says whether a role of a step is an element's; one that has none is found by what the element is called.
func plays(el *page.Element, role string) bool {
	return aria.Is(el, role) || html.IsRoleless(role) && el.Tag() == role && aria.Role(el) == ""
}

// nameOf is the name by which steps find an element: of what has no role its text.
func nameOf(p *page.Page, el *page.Element) string {
	if aria.Role(el) == "" {
		return aria.Text(el)
	}
	return aria.Name(p, el)
}

// has says whether an element has a class, or an attribute, as the page has it.
func has(el *page.Element, h *syntax.Having) bool {
	if h.Class {
		return hasClass(el, h.Name.Text)
	}
	v, ok := el.Attr(h.Name.Text)
	return ok && (h.Value == nil || v == h.Value.Value)
}

func hasClass(el *page.Element, name string) bool {
	return slices.Contains(strings.Fields(el.Get("class")), name)
}

func collapse(s string) string { return strings.Join(strings.Fields(s), " ") }

// holds is what a field holds: a select by the text of its option.
func holds(p *page.Page, el *page.Element) string {
	switch el.Tag() {
	case "select":
		for _, o := range p.ChosenOptions(el) {
			return aria.Name(p, o)
		}
		return ""
	case "input", "textarea":
		return p.Value(el)
	}
	for _, name := range []string{"aria-valuetext", "aria-valuenow"} {
		if v, ok := el.Attr(name); ok {
			return v
		}
	}
	return aria.Text(el)
}

func (f finder) hasStates(el *page.Element, want []string) bool {
	if len(want) == 0 {
		return true
	}
	have := aria.States(f.page, el)
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

// nthOf narrows the elements of a component's instances to those of one.
func nthOf(list []*page.Element, t *syntax.Target) []*page.Element {
	var instances []*engine.Instance
	of := func(el *page.Element) *engine.Instance { return engine.ElementOf(el).Inside(t.Component.Text) }
	for _, el := range list {
		if !slices.Contains(instances, of(el)) {
			instances = append(instances, of(el))
		}
	}
	want := place(t) - 1
	if want < 0 || want >= len(instances) {
		return nil
	}
	return slices.DeleteFunc(list, func(el *page.Element) bool { return of(el) != instances[want] })
}

// finder looks on the page as it is now, where inside steps look.
func (r *runner) finder() finder { return finder{r.now, r.scope} }

func (r *runner) find(t *syntax.Target) []*page.Element { return r.finder().find(t) }

// one is the only element that a target names.
func (r *runner) one(t *syntax.Target) (*page.Element, error) {
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

// namedOtherwise reports that a text is asked for as the name of an element whose name it never is, but which shows it;
// if nameless, of one that has no name at all.
func (r *runner) namedOtherwise(t *syntax.Target, nameless bool) error {
	for _, el := range r.find(&syntax.Target{Role: t.Role, Component: t.Component, Class: t.Class}) {
		if nameless && nameOf(r.finder().page, el) != "" {
			continue
		}
		if !html.NamedByContent(aria.Role(el)) && strings.Contains(aria.Text(el), collapse(t.Name.Value)) {
			return failf("write "+t.Role+" containing "+quote(t.Name.Value), "no %s has the name %s: what it shows is not its name", t.Role, quote(t.Name.Value))
		}
	}
	return nil
}

// nothing says that a target is not there, and what is there instead.
func (r *runner) nothing(t *syntax.Target) error {
	bare := &syntax.Target{Role: t.Role, Component: t.Component, Class: t.Class}
	if t.Class != nil || t.Component != nil {
		return failf("see the page below", "there is no %s", describe(t))
	}
	if t.In != nil && len(r.find(t.In)) == 0 {
		return r.nothing(t.In)
	}
	if t.Name != nil {
		if err := r.namedOtherwise(t, false); err != nil {
			return err
		}
	}
	var names []string
	longer := ""
	there := r.find(bare)
	if t.Name != nil { // those of this name, which differ otherwise
		bare.Name = t.Name
		if same := r.find(bare); len(same) > 0 {
			there = same
		}
	}
	for _, el := range there {
		if is := nameOf(r.finder().page, el); t.Name != nil && strings.Contains(is, collapse(t.Name.Value)) && is != collapse(t.Name.Value) {
			longer = fmt.Sprintf("write %s containing %s, or its whole name; ", t.Role, quote(t.Name.Value))
		}
		line, _ := Describe(r.finder().page, el)
		names = append(names, line)
	}
	if len(names) == 0 {
		return failf("see the page below for what is there", "there is no %s: the page has no %s at all", describe(t), t.Role)
	}
	if len(names) > 8 {
		names = append(names[:8], fmt.Sprintf("and %d more", len(names)-8))
	}
	return failf(longer+"there is: "+strings.Join(names, ", "), "there is no %s", describe(t))
}

// having writes a class or an attribute as a step does.
func having(h *syntax.Having) string {
	switch {
	case h.Class:
		return "." + h.Name.Text
	case h.Value == nil:
		return h.Name.Text
	}
	return h.Name.Text + " " + quote(h.Value.Value)
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
	for _, h := range t.With {
		parts = append(parts, "with "+having(h))
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
