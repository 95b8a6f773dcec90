package engine

import (
	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// steady says whether an expression reads the same parts of the same cells,
// whatever plain values they have. Which record a name stands for may matter.
func steady(x types.Expr) bool {
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
		case "map", "filter":
			_, arrow := x.Args[0].(*types.Lambda)
			return arrow
		case "length", "join", "toFixed", "trim", "toLowerCase", "toUpperCase":
			return true
		}
	}
	return false
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
