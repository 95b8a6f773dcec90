package prove

import (
	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// unread are the cells whose values nothing can tell apart: no view, law,
// handler or link reads them, except to work out their own next value. States
// that differ in them alone are taken for one. Where that value could fail to
// be worked out the cell stays in.
func unread(d *design.Design) map[*design.Member]bool {
	all, own := map[types.Symbol]int{}, map[types.Symbol]int{}
	risky := map[types.Symbol]bool{}
	count := func(e types.Expr, into map[types.Symbol]int) {
		switch e := e.(type) {
		case *types.Ref:
			into[e.Symbol]++
		case *types.Select:
			into[e.Member]++
		}
	}
	v := design.Visitor{Expr: func(e types.Expr) { count(e, all) }, Stmt: func(s design.Stmt) {
		a, ok := s.(*design.Assign)
		if !ok {
			return
		}
		if !cannotFail(a.Value) || len(a.Place.Steps) > 0 {
			risky[a.Place.Root] = true
		}
		types.Walk(a.Value, func(e types.Expr) bool {
			if ref, ok := e.(*types.Ref); ok && ref.Symbol == a.Place.Root {
				own[ref.Symbol]++
			}
			return true
		})
	}}
	for _, c := range d.Components {
		v.Component(c)
	}
	for _, l := range d.Laws {
		for _, cl := range l.Clauses {
			types.Walk(cl.Unit.Expr, func(e types.Expr) bool { count(e, all); return true })
		}
	}
	out := map[*design.Member]bool{}
	for _, c := range d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Holds && !m.Copy && all[m] == own[m] && !risky[m] {
				out[m] = true
			}
		}
	}
	return out
}

// cannotFail says whether working out a value cannot fail: it is made of
// literals, names, fields, sums, joins, comparisons and choices.
func cannotFail(x types.Expr) bool {
	ok := true
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Const, *types.Ref, *types.Dot, *types.Template, *types.Cond, *types.Unary:
		case *types.Binary:
			ok = ok && x.Op != syntax.Slash && x.Op != syntax.Percent && x.Op != syntax.Star
		default:
			ok = false
		}
		return ok
	})
	return ok
}
