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
			if !goesOnFrom(a.Value, a.Place) {
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

// goesOnFrom says whether a value is always worked out from what a place holds, so that what is in it stays but for a part.
func goesOnFrom(x types.Expr, place *design.Place) bool {
	switch x := x.(type) {
	case *types.Ref, *types.Dot:
		return reads(x, place)
	case *types.Cond:
		return goesOnFrom(x.X, place) && goesOnFrom(x.Y, place)
	case *types.Method:
		switch x.Name {
		case "filter", "concat", "slice", "toSorted", "toReversed":
			return goesOnFrom(x.Recv, place)
		case "map":
			return goesOnFrom(x.Recv, place) && keepsItems(x)
		}
	case *types.ListOf:
		for _, it := range x.Items {
			if it.Spread && goesOnFrom(it.X, place) {
				return true
			}
		}
	case *types.RecordOf:
		for i, v := range x.Values {
			if x.Names[i] == "" && goesOnFrom(v, place) {
				return true
			}
		}
	case *types.Binary:
		return x.Op == syntax.Plus && (goesOnFrom(x.X, place) || goesOnFrom(x.Y, place))
	}
	return false
}

// reads says whether an expression is what stands at a place: a cell, or a field in one.
func reads(x types.Expr, place *design.Place) bool {
	for i := len(place.Steps) - 1; i >= 0; i-- {
		field, ok := x.(*types.Dot)
		if !ok || place.Steps[i].Index != nil || field.Name != place.Steps[i].Field {
			return false
		}
		x = field.X
	}
	ref, ok := x.(*types.Ref)
	return ok && ref.Symbol == place.Root
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
