package engine

import (
	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// steady says whether an expression reads the same parts of the same cells,
// whatever plain values they have. Which record a name stands for may matter.
func steady(x types.Expr) bool {
	if m, ok := x.(*types.Method); ok && m.Name == "length" {
		x = m.Recv
	}
	if m, ok := x.(*types.Method); ok && m.Name == "filter" {
		return isArrow(m.Args[0]) && steadyIn(m.Recv) && steadyIn(m.Args[0])
	}
	return steadyIn(x)
}

// steadyIn judges an expression whose items may be read further: a filter in
// it lets only some be.
func steadyIn(x types.Expr) bool {
	ok := true
	types.Walk(x, func(x types.Expr) bool {
		ok = ok && steadyStep(x)
		return ok
	})
	return ok
}

// steadyStep judges one expression, without what is in it.
func steadyStep(x types.Expr) bool {
	switch x := x.(type) {
	case *types.Ref:
		_, function := x.Symbol.(*design.Function)
		return !function
	case *types.Const, *types.Dot, *types.Select, *types.Unary, *types.Template, *types.ListOf, *types.RecordOf, *types.Lambda:
		return true
	case *types.Cond:
		return readsNothing(x.X) && readsNothing(x.Y)
	case *types.Binary:
		switch x.Op {
		case syntax.And, syntax.Or, syntax.Coalesce:
			return readsNothing(x.Y)
		case syntax.Equal, syntax.NotEqual:
			return isPlain(x.X.Type()) || isPlain(x.Y.Type()) // else all of both is read, or nothing
		}
		return true
	case *types.Method:
		switch x.Name {
		case "map":
			return isArrow(x.Args[0])
		case "length", "join", "toFixed", "trim", "toLowerCase", "toUpperCase":
			return true
		}
	}
	return false
}

func isArrow(x types.Expr) bool {
	_, ok := x.(*types.Lambda)
	return ok
}

// readsNothing says whether an expression is made of literals.
func readsNothing(x types.Expr) bool {
	ok := true
	types.Walk(x, func(x types.Expr) bool {
		switch x.(type) {
		case *types.Const, *types.Unary, *types.Binary, *types.Template:
		default:
			ok = false
		}
		return ok
	})
	return ok
}
