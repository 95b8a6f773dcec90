package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// givenTwice reports a key that the text shows a user to give: what is typed becomes the key of a
// new item, or each press adds an item of the same key. Where the design looks for an item with such
// a key first, nothing is told.
func (p *pass) givenTwice(e *design.Each, field string, report reporter) {
	root := listRoot(e.List.Expr)
	if root == nil {
		return
	}
	for _, w := range p.links().Writes[root] {
		list, ok := w.Value.(*types.ListOf)
		if !ok {
			continue
		}
		spreads := 0
		for _, item := range list.Items {
			if ref, ok := item.X.(*types.Ref); ok && item.Spread && ref.Symbol == root {
				spreads++
			}
		}
		at, why := p.keyOfNew(list, field)
		switch {
		case spreads > 1:
			at, why = w.At, "this puts every item in twice"
		case spreads == 0 || why == "":
			continue
		}
		if p.looksFor(field) {
			return
		}
		report(e.By.Expr.Span(), "two items can get the same %s, but it is their key", keyWord(field)).
			See(at.Start, "%s", why).
			Instead("give each item a key of its own: id: fresh(), of type Key, and write by %s.id", e.Item.Label)
		return
	}
}

type reporter = func(at source.Span, format string, args ...any) *finding.Finding

func keyWord(field string) string {
	if field == "" {
		return "value"
	}
	return field
}

// listRoot is the cell whose items an each goes through, as it is or in part, or nil.
func listRoot(x types.Expr) *design.Member {
	switch x := x.(type) {
	case *types.Ref:
		if m, ok := x.Symbol.(*design.Member); ok && m.IsCell() {
			return m
		}
	case *types.Method:
		switch x.Name {
		case "filter", "toSorted", "toReversed", "slice":
			return listRoot(x.Recv)
		}
	}
	return nil
}

// keyOfNew is where the key of an item that is added comes from a user, or is always the same.
func (p *pass) keyOfNew(list *types.ListOf, field string) (source.Span, string) {
	for _, item := range list.Items {
		if item.Spread {
			continue
		}
		x := item.X
		if field != "" {
			r, ok := x.(*types.RecordOf)
			if !ok {
				continue
			}
			x = nil
			for i, name := range r.Names {
				if name == field {
					x = r.Values[i]
				}
			}
		}
		switch x := x.(type) {
		case *types.Const:
			return x.Span(), "every item that is added here gets this one"
		case *types.Ref:
			if m, ok := x.Symbol.(*design.Member); ok && p.typed(m) {
				return x.Span(), "the new item gets what the user typed"
			}
		case *types.Dot:
			if x.Name == "value" && flow.IsEvent(x.X) {
				return x.Span(), "the new item gets what the user typed"
			}
		}
	}
	return source.Span{}, ""
}

// typed says whether a user types into a cell.
func (p *pass) typed(m *design.Member) bool {
	for _, w := range p.links().Writes[m] {
		if w.Trigger != nil && w.Trigger.Tie == "value" {
			return true
		}
	}
	return false
}

// looksFor says whether something in the design looks for an item by a field: some, find, every and
// the like with a comparison of it.
func (p *pass) looksFor(field string) bool {
	found := false
	design.Visitor{Expr: func(x types.Expr) {
		m, ok := x.(*types.Method)
		if !ok {
			return
		}
		if field == "" {
			found = found || m.Name == "includes"
			return
		}
		for _, a := range m.Args {
			l, ok := a.(*types.Lambda)
			if !ok {
				continue
			}
			types.Walk(l.Body, func(x types.Expr) bool {
				if b, ok := x.(*types.Binary); ok && (b.Op == syntax.Equal || b.Op == syntax.NotEqual) {
					for _, side := range []types.Expr{b.X, b.Y} {
						d, ok := side.(*types.Dot)
						found = found || ok && d.Name == field && m.Name != "filter" && m.Name != "map"
					}
				}
				return !found
			})
		}
	}}.Design(p.d)
	return found
}
