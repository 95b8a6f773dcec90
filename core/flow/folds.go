package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// A fold is a when that a cell opens and closes, such as that of a card which
// folds: what stands in it can be used while it is open, and keeps nothing when it
// is closed. Whatever a page comes to that is folded now and then, it comes to as
// well if it stays open: a closed fold only takes gestures away (see
// docs/soundness.md, folds).
type fold struct {
	when   *design.When
	cell   *design.Member
	inside map[*design.Component]bool // that stand in it
}

// Folds finds them, once.
func (d *Depend) folded() []*fold {
	if d.folds != nil {
		return *d.folds
	}
	var list []*fold
	for _, c := range d.Design.Components {
		design.Visitor{Node: func(n design.Node) {
			if w, ok := n.(*design.When); ok {
				if f := d.fold(c, w); f != nil {
					list = append(list, f)
				}
			}
		}}.Nodes(c.View)
	}
	d.folds = &list
	return list
}

// fold is a when of a component as a fold, or nil.
func (d *Depend) fold(c *design.Component, w *design.When) *fold {
	cond := w.Branches[0].Cond
	if len(w.Branches) > 2 || len(w.Branches) == 2 && w.Branches[1].Cond != nil {
		return nil
	}
	ref, ok := cond.Expr.(*types.Ref)
	if !ok {
		return nil
	}
	m, ok := ref.Symbol.(*design.Member)
	if !ok || m.Owner != c || !m.IsCell() || !isTrue(m.Init) || d.given(m) {
		return nil
	}
	toggles := d.toggles(m)
	if len(toggles) == 0 {
		return nil
	}
	for v, on := range d.on {
		if slices.Contains(on, Var(m)) && v != Var(m) && v != Var(w) && !slices.Contains(toggles, v) {
			return nil // it matters to something else
		}
	}
	f := &fold{w, m, map[*design.Component]bool{}}
	for _, br := range w.Branches {
		if !d.keepsNothing(c, br.Body, f.inside) {
			return nil
		}
	}
	for _, s := range d.sites {
		switch s.Effect.Kind {
		case design.Starts, design.Asks, design.Opens, design.Leaves:
			if f.inside[s.Owner] {
				return nil // what it began would end with it
			}
		}
	}
	for _, o := range d.Design.Components {
		for _, g := range o.Members {
			if g.Kind == design.Gathered && slices.ContainsFunc(g.Kinds, func(k *design.Component) bool { return f.inside[k] }) {
				return nil
			}
		}
	}
	return f
}

func isTrue(u *design.Unit) bool {
	if u == nil {
		return false
	}
	c, ok := u.Expr.(*types.Const)
	return ok && c.Value == value.Value(value.Bool(true))
}

// given says whether anything but its own handlers gives a cell a value.
func (d *Depend) given(m *design.Member) bool {
	given := false
	look := func(list []*design.Given) {
		given = given || slices.ContainsFunc(list, func(g *design.Given) bool { return g.Member == m })
	}
	design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok {
			look(u.Links)
			look(u.Ties)
			look(u.Seeds)
		}
	}}.Design(d.Design)
	for _, s := range d.Design.Starts {
		look(s.Seeds)
	}
	return given
}

// toggles are the handlers of elements that write a cell, if they do nothing
// else, and nothing else writes it.
func (d *Depend) toggles(m *design.Member) (list []Var) {
	handlers := map[Var]bool{}
	ties := false
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok {
			for _, h := range el.Handlers {
				handlers[h.Body] = true
			}
			ties = ties || slices.ContainsFunc(el.Ties, func(t *design.Tie) bool { return t.Write.Cell() == m })
		}
	}}.Design(d.Design)
	for _, s := range d.sites {
		if s.Effect.Kind == design.Writes && s.Effect.Place.Cell() == m {
			list = append(list, s.Control[0])
		}
	}
	for _, s := range d.sites {
		writes := s.Effect.Kind == design.Writes && s.Effect.Place.Cell() == m
		if slices.Contains(list, s.Control[0]) && !writes || writes && !handlers[s.Control[0]] {
			return nil
		}
	}
	if ties {
		return nil
	}
	return list
}

// keepsNothing says whether nothing that stands in a part of a view has a state
// of its own, or hears anything but its users, and notes the components there.
func (d *Depend) keepsNothing(c *design.Component, list []design.Node, inside map[*design.Component]bool) bool {
	for _, n := range list {
		switch n := n.(type) {
		case *design.Element:
			if !keepsNoProps(n) || n.Named != nil && d.isRead(n.Named) || !d.keepsNothing(c, n.Children, inside) {
				return false
			}
		case *design.When:
			for _, br := range n.Branches {
				if !d.keepsNothing(c, br.Body, inside) {
					return false
				}
			}
		case *design.Each:
			if !d.keepsNothing(c, n.Body, inside) {
				return false
			}
		case *design.Use:
			if n.Named != nil && d.isRead(n.Named) || !d.useKeepsNothing(c, n, inside) {
				return false
			}
		case *design.SlotPlace:
			if !d.slotKeepsNothing(c, n, inside) {
				return false
			}
		}
	}
	return true
}

func (d *Depend) useKeepsNothing(c *design.Component, n *design.Use, inside map[*design.Component]bool) bool {
	o := n.Component
	if len(o.Hooks)+len(o.Follows)+len(o.Hearings)+len(o.Supplies) > 0 {
		return false
	}
	for _, m := range o.Members {
		switch m.Kind {
		case design.Holds, design.Timer, design.Gathered, design.Supplied:
			return false
		case design.Shares:
			if !slices.ContainsFunc(n.Ties, func(g *design.Given) bool { return g.Member == m }) {
				return false
			}
		case design.ConstMember:
			if !d.Exact(m.Init.Expr) {
				return false
			}
		}
		if len(m.Hears) > 0 {
			return false
		}
	}
	for _, f := range n.Fills {
		if !d.keepsNothing(c, f.Body, inside) {
			return false
		}
	}
	if inside[o] {
		return true
	}
	inside[o] = true
	return d.keepsNothing(o, o.View, inside)
}

// slotKeepsNothing looks at all that may be given to a slot.
func (d *Depend) slotKeepsNothing(c *design.Component, n *design.SlotPlace, inside map[*design.Component]bool) bool {
	ok := d.keepsNothing(c, n.Fallback, inside)
	for _, user := range d.Design.Components {
		for _, u := range usesIn(user.View) {
			for _, f := range u.Fills {
				if u.Component == c && f.Name == n.Name {
					ok = ok && d.keepsNothing(user, f.Body, inside)
				}
			}
		}
	}
	return ok
}

// keepsNoProps says whether what users do to an element is taken over by the
// design, or set back.
func keepsNoProps(n *design.Element) bool {
	linked := func(name string) bool {
		return slices.ContainsFunc(n.Ties, func(t *design.Tie) bool { return t.Name == name }) ||
			slices.ContainsFunc(n.Attrs, func(a *design.Attr) bool { return a.Name == name })
	}
	switch n.Tag {
	case "details", "dialog", "form":
		return false
	case "select", "textarea":
		return linked("value")
	case "input":
		kind := "text"
		if t := typeOf(n); t != nil {
			known := false
			if kind, known = Text(t); !known {
				return false
			}
		}
		if kind == "checkbox" || kind == "radio" {
			return linked("checked")
		}
		return linked("value")
	}
	return true
}

// isRead says whether anything depends on a variable.
func (d *Depend) isRead(v Var) bool {
	for _, on := range d.on {
		if slices.Contains(on, v) {
			return true
		}
	}
	return false
}

// SliceOpen is the slice for some variables of a page whose folds stay open,
// where that comes to the same: nothing that is asked for itself may tell whether
// one is closed. It tells whether there are any.
func (d *Depend) SliceOpen(from, asked []Var) (s *Slice, folds bool) {
	open := map[edge]*fold{}
	for _, f := range d.folded() {
		told := slices.ContainsFunc(asked, func(v Var) bool {
			c, ok := v.(*design.Component)
			return v == Var(f.cell) || v == Var(f.when) || ok && f.inside[c]
		})
		if !told {
			open[edge{f.when, f.cell}] = f
		}
	}
	for again := true; again; {
		s, again = d.slice(from, open), false
		for e, f := range open {
			if s.Has(f.cell) {
				delete(open, e)
				again = true
			}
		}
	}
	for e := range open {
		folds = folds || s.Has(e.from)
	}
	return s, folds
}

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
		ok = ok && (c.Member("dismissed") != nil || slices.ContainsFunc(plainButtons(c.View), d.leaves))
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
	var own []Site
	for _, s := range d.sites {
		if s.Control[0] == Var(el.Handlers[0].Body) {
			own = append(own, s)
		}
	}
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
