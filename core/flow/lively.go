package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// Lively says whether, by the text alone, there is always something that a user
// can change: a switch that is always there, and in all that makes the rest of
// the page inert a button that ends it, or Escape does.
func (d *Depend) Lively(root *design.Component) bool {
	always := Always(root)
	found := false
	for _, c := range d.Design.Components {
		found = found || always[c] && slices.ContainsFunc(plainButtons(c.View), d.switches)
	}
	if !found {
		return false
	}
	ok := true
	design.Visitor{Stmt: func(s design.Stmt) {
		o, is := s.(*design.Open)
		if !is || !o.Modal {
			return
		}
		c := o.Use.Component
		ok = ok && (c.Member("dismissed") != nil || !d.Design.Hiding.Any() && slices.ContainsFunc(plainButtons(c.View), d.leaves))
	}}.Design(d.Design)
	return ok
}

// plainButtons are the buttons of a view that are there under no condition and
// can always be pressed.
func plainButtons(list []design.Node) (buttons []*design.Element) {
	for _, n := range list {
		el, ok := n.(*design.Element)
		if !ok || el.Tag == "details" || el.Tag == "dialog" || el.Tag == "form" || el.Tag == "fieldset" ||
			slices.ContainsFunc(el.Attrs, func(a *design.Attr) bool { return !tells(a.Name) && a.Name != "id" }) {
			continue
		}
		if el.Tag == "button" {
			buttons = append(buttons, el)
			continue
		}
		if len(el.Handlers) == 0 {
			buttons = append(buttons, plainButtons(el.Children)...)
		}
	}
	return buttons
}

// switches says whether pressing an element turns a cell on and off.
func (d *Depend) switches(el *design.Element) bool {
	return d.does(el, func(s Site) bool {
		if s.Effect.Kind != design.Writes || len(s.Effect.Place.Steps) > 0 {
			return false
		}
		m, ok := s.Effect.Place.Root.(*design.Member)
		not, isNot := s.Effect.Value.(*types.Unary)
		if !ok || !isNot || m.Kind != design.Holds && (m.Kind != design.Shares || d.given(m)) || not.Op != syntax.Not {
			return false
		}
		ref, ok := not.X.(*types.Ref)
		return ok && ref.Symbol == types.Symbol(m)
	})
}

func (d *Depend) leaves(el *design.Element) bool {
	return d.does(el, func(s Site) bool { return s.Effect.Kind == design.Leaves })
}

// does says whether pressing an element does one thing, under no condition, and
// nothing else that could undo it.
func (d *Depend) does(el *design.Element, what func(Site) bool) bool {
	if len(el.Handlers) != 1 || el.Handlers[0].Name != "click" {
		return false
	}
	own := d.byBody[el.Handlers[0].Body]
	n := 0
	for _, s := range own {
		if s.Effect.Kind == design.Reports && len(own) == 2 {
			continue // that comes with leaving
		}
		n++
		if len(s.Control) > 1 || !what(s) {
			return false
		}
	}
	return n == 1
}

// given says whether anything but its own handlers gives a cell a value.
func (d *Depend) given(m *design.Member) bool {
	return slices.ContainsFunc(d.Uses(m.Owner), func(u *design.Use) bool {
		return slices.ContainsFunc(slices.Concat(u.Links, u.Ties, u.Seeds), func(g *design.Given) bool { return g.Member == m })
	})
}
