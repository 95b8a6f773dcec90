package prove

import (
	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// overwritten are the cells that some statement writes outright. What is worked out from the cell itself, such as
// list.filter(...) or [...list, x], changes a part of it and leaves the rest: an answer that comes late replaces nothing by it.
func overwritten(d *design.Design) map[*design.Member]bool {
	cells := map[*design.Member]bool{}
	design.Visitor{
		Stmt: func(s design.Stmt) {
			a, ok := s.(*design.Assign)
			if !ok || a.Place.Cell() == nil {
				return
			}
			cell, whole := a.Place.Root.(*design.Member)
			if !whole || len(a.Place.Steps) > 0 || !goesOnFrom(a.Value, cell) {
				cells[a.Place.Cell()] = true
			}
		},
		Node: func(n design.Node) { // the cells of a tie are one, which may have two names
			if u, ok := n.(*design.Use); ok {
				for _, g := range u.Ties {
					cells[g.Place.Cell()], cells[g.Member] = true, true
				}
			}
		},
	}.Design(d)
	return cells
}

// goesOnFrom says whether a value is always worked out from what a cell holds, so that what is in it stays but for a part.
func goesOnFrom(x types.Expr, cell *design.Member) bool {
	switch x := x.(type) {
	case *types.Ref:
		return x.Symbol == types.Symbol(cell)
	case *types.Cond:
		return goesOnFrom(x.X, cell) && goesOnFrom(x.Y, cell)
	case *types.Method:
		switch x.Name {
		case "filter", "concat", "slice", "toSorted", "toReversed":
			return goesOnFrom(x.Recv, cell)
		case "map":
			return goesOnFrom(x.Recv, cell) && keepsItems(x)
		}
	case *types.ListOf:
		for _, it := range x.Items {
			if it.Spread && goesOnFrom(it.X, cell) {
				return true
			}
		}
	case *types.RecordOf:
		for i, v := range x.Values {
			if x.Names[i] == "" && goesOnFrom(v, cell) {
				return true
			}
		}
	case *types.Binary:
		return x.Op == syntax.Plus && (goesOnFrom(x.X, cell) || goesOnFrom(x.Y, cell))
	}
	return false
}

// keepsItems says whether the callback of a map leaves some items as they are: w => w.id == id ? { ...w, note } : w.
func keepsItems(m *types.Method) bool {
	if len(m.Args) == 0 {
		return false
	}
	l, ok := m.Args[0].(*types.Lambda)
	if !ok || len(l.Params) == 0 {
		return false
	}
	c, ok := l.Body.(*types.Cond)
	if !ok {
		return false
	}
	for _, branch := range []types.Expr{c.X, c.Y} {
		if ref, ok := branch.(*types.Ref); ok && ref.Symbol == types.Symbol(l.Params[0]) {
			return true
		}
	}
	return false
}
