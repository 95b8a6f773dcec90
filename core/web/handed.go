package web

import (
	"lien/core/design"
	"lien/core/types"
)

// Values that are handed down as they are. Where a component only shows what it takes, or hands it on, nothing in it can
// tell the value of its user from one of its own, and it needs none: however deep a value is handed down, a change
// reaches at once what shows it. Where code reads it, it is a value of its own, which stays as it was when its place ends.

// shown are the members that are read nowhere but in texts, attributes, conditions and links of their component's view.
func shown(d *design.Design) map[*design.Member]bool {
	read, only := map[*design.Member]int{}, map[*design.Member]int{}
	in := func(count map[*design.Member]int) func(types.Expr) {
		return func(e types.Expr) {
			switch e := e.(type) {
			case *types.Ref:
				if m, ok := e.Symbol.(*design.Member); ok {
					count[m]++
				}
			case *types.Select:
				if m, ok := e.Member.(*design.Member); ok {
					read[m]++ // from outside
				}
			}
		}
	}
	design.Visitor{Expr: in(read)}.Design(d)
	show := design.Visitor{Expr: in(only)}
	for _, c := range d.Components {
		design.Visitor{Node: func(n design.Node) {
			switch n := n.(type) {
			case *design.Text:
				show.Unit(&n.Unit)
			case *design.Element:
				for i := range n.Attrs {
					show.Unit(&n.Attrs[i].Unit)
				}
				for i := range n.Marks {
					show.Unit(&n.Marks[i].Unit)
				}
			case *design.When:
				for _, b := range n.Branches {
					show.Unit(b.Cond)
				}
			case *design.Use:
				for _, l := range n.Links {
					show.Unit(&l.Unit)
				}
			}
		}}.Nodes(c.View)
	}
	list := map[*design.Member]bool{}
	for _, c := range d.Components {
		for _, m := range c.Members {
			list[m] = m.Kind == design.Takes && !m.Implied && !c.IsContext && c.Field() == nil && read[m] == only[m]
		}
	}
	return list
}

// memberShown is the member that is all of what a text or an attribute shows, as it is; or nil. A
// piece that shows a cell needs no working out: what is written to the cell goes straight to the page.
func memberShown(e types.Expr) *design.Member {
	if t, ok := e.(*types.Template); ok && len(t.Exprs) == 1 && t.Texts[0]+t.Texts[1] == "" {
		e = t.Exprs[0]
	}
	ref, ok := e.(*types.Ref)
	if !ok {
		return nil
	}
	m, ok := ref.Symbol.(*design.Member)
	if !ok || m.Call {
		return nil
	}
	switch m.Kind {
	case design.Holds, design.Takes, design.Shares:
		return m
	}
	return nil
}

// handedOn is the member of the user that a link hands down as it is, to one who only shows it; or nil.
func (w *writer) handedOn(l *design.Given) *design.Member {
	ref, ok := l.Unit.Expr.(*types.Ref)
	if !ok || !w.shown[l.Member] {
		return nil
	}
	m, ok := ref.Symbol.(*design.Member)
	if !ok || m.Call || !types.Identical(ref.Type(), m.Type()) { // what is only there under a condition may go before its place does
		return nil
	}
	switch m.Kind {
	case design.Holds, design.Takes, design.Shares, design.Derives:
		return m
	}
	return nil
}
