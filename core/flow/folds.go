package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// Some cells only hide: whether a card is folded, what a list is searched for, which
// filter is on. They decide what is there to be used, and nothing else. A page on which
// they stay as they begin, if nothing is hidden then, comes to all that it comes to
// when they change: hiding takes gestures away, and gives none (see docs/soundness.md,
// folds).

// hider is a cell that may be one that only hides.
type hider struct {
	first  value.Value
	bodies []Var             // that write it, or lead to that
	ties   []*design.Element // that are tied to it
	with   []*design.Member  // cells that are one with it, by a tie
}

// hidersIn finds the cells that gestures alone change. What else the handlers do
// that change one matters if it is in a slice: then these are, too, and the cell
// is taken for any other (see SliceOpen).
func (d *Depend) hidersIn() map[*design.Member]*hider {
	if d.hiders != nil {
		return d.hiders
	}
	d.hiders = map[*design.Member]*hider{}
	if d.Design.Hiding.Any() { // a class that such a cell decides may hide, too
		return d.hiders
	}
	for _, c := range d.Design.Components {
		for _, m := range c.Members {
			if first, ok := firstValue(m); ok {
				d.hiders[m] = &hider{first: first}
			}
		}
	}
	d.tied()
	runs := d.byThemselves()
	for again := true; again; {
		again = false
		for m, h := range d.hiders {
			if !d.onlyHides(m, h, runs) {
				delete(d.hiders, m)
				again = true
			}
		}
	}
	return d.hiders
}

// firstValue is what a cell always begins with.
func firstValue(m *design.Member) (value.Value, bool) {
	if !m.IsCell() || m.Copy || m.Field || m.Init == nil {
		return nil, false
	}
	switch x := m.Init.Expr.(type) {
	case *types.Const:
		return x.Value, true
	case *types.ListOf:
		return value.NewList(nil), len(x.Items) == 0
	}
	return nil, false
}

// tied notes which cells are tied to what, and leaves out those that are given
// values.
func (d *Depend) tied() {
	drop := func(list []*design.Given) {
		for _, g := range list {
			delete(d.hiders, g.Member)
		}
	}
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Use:
			drop(n.Links)
			drop(n.Seeds)
			for _, t := range n.Ties {
				a, b := d.hiders[t.Member], d.hiders[t.Place.Cell()]
				if a == nil || b == nil || len(t.Place.Steps) > 0 || !value.Equal(a.first, b.first) {
					delete(d.hiders, t.Member)
					delete(d.hiders, t.Place.Cell())
					continue
				}
				a.with, b.with = append(a.with, t.Place.Cell()), append(b.with, t.Member)
			}
		case *design.Element:
			for _, t := range n.Ties {
				if h := d.hiders[t.Write.Cell()]; h != nil {
					h.ties = append(h.ties, n)
				}
			}
		}
	}}.Design(d.Design)
	for _, s := range d.Design.Starts {
		drop(s.Seeds)
	}
}

// byThemselves are the bodies that run without a gesture.
func (d *Depend) byThemselves() map[Var]bool {
	runs := map[Var]bool{}
	for _, c := range d.Design.Components {
		for _, m := range c.Members {
			if m.Kind == design.Timer && m.Body != nil {
				runs[m.Body] = true
			}
			for _, h := range m.Hears {
				runs[h.Body] = true
			}
		}
		for _, h := range c.Hearings {
			runs[h.Body] = true
		}
		for _, f := range c.Follows {
			runs[f.Body] = true
		}
		for _, h := range c.Hooks {
			runs[h.Body] = true
		}
	}
	return runs
}

// onlyHides says whether all that leads to a write of a cell begins with a
// gesture, and so for the cells that are one with it.
func (d *Depend) onlyHides(m *design.Member, h *hider, runs map[Var]bool) bool {
	if slices.ContainsFunc(h.with, func(o *design.Member) bool { return d.hiders[o] == nil }) {
		return false
	}
	h.bodies = nil
	for _, s := range d.sites {
		if s.Effect.Kind == design.Writes && s.Effect.Place.Cell() == m {
			h.bodies = append(h.bodies, s.Control[0])
		}
	}
	for i := 0; i < len(h.bodies); i++ {
		b, ok := h.bodies[i].(*design.Body)
		if !ok || runs[b] {
			return false
		}
		for _, s := range d.sites {
			if d.sets(s, b) && !slices.Contains(h.bodies, s.Control[0]) {
				h.bodies = append(h.bodies, s.Control[0])
			}
		}
	}
	return true
}

// sets says whether a place sets a body off.
func (d *Depend) sets(s Site, b *design.Body) bool {
	switch s.Effect.Kind {
	case design.Calls:
		return slices.ContainsFunc(d.Callees(s.Effect.Fun, 0), func(f types.Symbol) bool {
			m, ok := f.(*design.Member)
			return ok && m.Body == b
		})
	case design.Reports:
		return slices.Contains(d.Heard(s.Effect.Event), b)
	case design.Sends:
		return slices.Contains(d.Hearing(s.Effect.Channel), b)
	case design.Writes:
		m := s.Effect.Place.Cell()
		return m != nil && m.Body == b
	}
	return false
}

// still is a page on which some cells stay as they begin.
type still struct {
	d     *Depend
	cells map[*design.Member]*hider
	over  map[Var][]Var // by when, each and item: on what it depends then
	seen  map[any]bool
}

// SliceOpen is the slice for some variables of a page on which what only hides
// stays as it begins, where that comes to the same: nothing that is asked for itself
// may tell. It says whether anything does.
func (d *Depend) SliceOpen(from, asked []Var) (s *Slice, stays bool) {
	st := &still{d: d, cells: map[*design.Member]*hider{}}
	for m, h := range d.hidersIn() {
		st.cells[m] = h
	}
	for {
		st.widen(asked)
		s = d.slice(from, st.over)
		again := false
		for m, h := range st.cells {
			// What writes a cell is in every slice that the cell is in, but for one that
			// nothing writes.
			if s.Has(m) || slices.ContainsFunc(h.bodies, s.Has) || slices.ContainsFunc(h.ties, s.Hears) {
				delete(st.cells, m)
				again = true
			}
		}
		if !again {
			break
		}
	}
	for v := range st.over {
		stays = stays || s.Has(v)
	}
	return s, stays
}

// widen finds what is shown whole as long as the cells stay as they begin.
func (st *still) widen(asked []Var) {
	st.over = map[Var][]Var{}
	for _, c := range st.d.Design.Components {
		design.Visitor{Node: func(n design.Node) {
			switch n := n.(type) {
			case *design.When:
				if cond := n.Branches[0].Cond; st.fold(cond.Expr, nil, 0) == value.Value(value.Bool(true)) {
					var bodies []design.Node
					for _, br := range n.Branches {
						bodies = append(bodies, br.Body...)
					}
					if st.d.mayHide(c, n, bodies, asked) && !slices.ContainsFunc(n.Branches[1:], func(br *design.Branch) bool { return st.d.canBeUsed(c, br.Body, nil) }) {
						st.over[n] = st.d.places[n]
					}
				}
			case *design.Each:
				st.seen = map[any]bool{}
				if reads, wide := st.items(n.List.Expr); wide && st.d.mayHide(c, n, n.Body, asked) {
					st.over[n] = slices.Concat(st.d.places[n], reads, st.d.reads(n.By))
					st.over[n.Item] = append(slices.Clone(reads), n)
				}
			}
		}}.Nodes(c.View)
	}
}

// canBeUsed says whether anything in a part of a view can be used: where that is
// there only while something else is hidden, hiding gives gestures.
func (d *Depend) canBeUsed(c *design.Component, list []design.Node, around []*design.Component) (can bool) {
	for _, n := range list {
		switch n := n.(type) {
		case *design.Element:
			can = can || len(n.Handlers)+len(n.Ties) > 0 || keepsProps(n.Tag) || n.Tag == "button" || n.Tag == "summary" || d.canBeUsed(c, n.Children, around)
		case *design.When:
			for _, br := range n.Branches {
				can = can || d.canBeUsed(c, br.Body, around)
			}
		case *design.Each:
			can = can || d.canBeUsed(c, n.Body, around)
		case *design.Use:
			for _, f := range n.Fills {
				can = can || d.canBeUsed(c, f.Body, around)
			}
			if !slices.Contains(around, n.Component) {
				can = can || d.canBeUsed(n.Component, n.Component.View, append(slices.Clip(around), n.Component))
			}
		case *design.SlotPlace:
			can = can || d.canBeUsed(c, n.Fallback, around)
			d.fills(c, n.Name, func(user *design.Component, f *design.Fill) { can = can || d.canBeUsed(user, f.Body, around) })
		}
	}
	return can
}

// fills visits all that is given to a slot of a component.
func (d *Depend) fills(c *design.Component, name string, visit func(user *design.Component, f *design.Fill)) {
	for _, user := range d.Design.Components {
		for _, u := range usesIn(user) {
			for _, f := range u.Fills {
				if u.Component == c && f.Name == name {
					visit(user, f)
				}
			}
		}
	}
}

// mayHide says whether what stands in a node may be hidden without anybody's
// losing or telling anything.
func (d *Depend) mayHide(c *design.Component, n design.Node, body []design.Node, asked []Var) bool {
	if slices.Contains(asked, Var(n)) {
		return false
	}
	inside := map[*design.Component]bool{}
	if !d.keepsNothing(c, body, inside) {
		return false
	}
	if slices.ContainsFunc(asked, func(v Var) bool { o, ok := v.(*design.Component); return ok && inside[o] }) {
		return false
	}
	for _, s := range d.sites {
		switch s.Effect.Kind {
		case design.Starts, design.Asks, design.Opens, design.Leaves:
			if inside[s.Owner] {
				return false // what it began would end with it
			}
		}
	}
	for _, o := range d.Design.Components {
		for _, g := range o.Members {
			if g.Kind == design.Gathered && slices.ContainsFunc(g.Kinds, func(k *design.Component) bool { return inside[k] }) {
				return false
			}
		}
	}
	return true
}

// items are the variables that decide which items an each shows, if filters that
// keep everything are left out; wide says that there is one.
func (st *still) items(x types.Expr) (reads []Var, wide bool) {
	follow := func(key any, list ...types.Expr) ([]Var, bool) {
		if st.seen[key] || len(list) == 0 {
			return st.d.readsOf(x), false
		}
		st.seen[key] = true
		var all []Var
		any := false
		for _, y := range list {
			r, w := st.items(y)
			all, any = append(all, r...), any || w
		}
		return all, any
	}
	switch x := x.(type) {
	case *types.Ref:
		m, ok := x.Symbol.(*design.Member)
		switch {
		case ok && m.Kind == design.Derives && !m.Call:
			r, w := follow(m, m.Init.Expr)
			return append(r, m.Owner), w
		case ok && m.Kind == design.Takes && m.Init == nil:
			var links []types.Expr
			for _, s := range st.d.into[m] {
				if s.Expr == nil {
					return st.d.readsOf(x), false
				}
				links = append(links, s.Expr)
			}
			r, w := follow(m, links...)
			return append(r, m.Owner), w
		}
	case *types.Method:
		if l, ok := lambdaOf(x); ok && x.Name == "filter" {
			reads, wide = st.items(x.Recv)
			for _, y := range conjuncts(l.Body) {
				if st.fold(y, nil, 0) == value.Value(value.Bool(true)) {
					wide = true
				} else {
					reads = append(reads, st.d.readsOf(y)...)
				}
			}
			return reads, wide
		}
	}
	return st.d.readsOf(x), false
}

// conjuncts are the conditions that an expression joins by &&.
func conjuncts(x types.Expr) []types.Expr {
	if b, ok := x.(*types.Binary); ok && b.Op == syntax.And {
		return append(conjuncts(b.X), conjuncts(b.Y)...)
	}
	return []types.Expr{x}
}

func lambdaOf(x *types.Method) (*types.Lambda, bool) {
	if len(x.Args) != 1 {
		return nil, false
	}
	l, ok := x.Args[0].(*types.Lambda)
	return l, ok
}
