package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// Exact says whether a value is always one of the Origins of its expression, so
// that all that it can be is known. (Whether users type it is for Taint to say.)
func (g *Graph) Exact(x types.Expr) bool { return g.exact(x, map[Var]bool{}) }

func (g *Graph) exact(x types.Expr, seen map[Var]bool) bool {
	switch x := x.(type) {
	case *types.Const:
		return true
	case *types.Ref:
		return g.exactVar(x.Symbol, seen)
	case *types.Select:
		return g.exactVar(x.Member, seen)
	case *types.Dot:
		return g.exact(x.X, seen) && (seen[Field(x.Name)] || g.exactField(x.Name, seen))
	case *types.At:
		return g.exact(x.X, seen)
	case *types.Cond:
		return g.exact(x.X, seen) && g.exact(x.Y, seen)
	case *types.Unary:
		return isConst(x.X)
	case *types.Binary:
		return x.Op == syntax.Coalesce && g.exact(x.X, seen) && g.exact(x.Y, seen)
	case *types.ListOf:
		for _, it := range x.Items {
			if !g.exact(it.X, seen) {
				return false
			}
		}
		return true
	case *types.RecordOf: // its fields are judged by their names
		return true
	case *types.Method:
		switch x.Name {
		case "filter", "slice", "at", "find", "findLast", "toReversed", "toSorted":
			return g.exact(x.Recv, seen)
		case "concat":
			return g.exact(x.Recv, seen) && !slices.ContainsFunc(x.Args, func(a types.Expr) bool { return !g.exact(a, seen) })
		case "map":
			l, ok := x.Args[0].(*types.Lambda)
			return ok && g.exact(x.Recv, seen) && g.exact(l.Body, seen)
		}
	case *types.Apply:
		for _, f := range g.Callees(x.Fun, len(x.Args)) {
			if !g.exactVar(f, seen) {
				return false
			}
		}
		return !slices.ContainsFunc(g.Lambdas(x.Fun), func(l *types.Lambda) bool { return !g.exact(l.Body, seen) })
	}
	return false
}

func (g *Graph) exactField(name string, seen map[Var]bool) bool {
	seen[Field(name)] = true
	return g.exactSources(Field(name), seen)
}

func (g *Graph) exactVar(v Var, seen map[Var]bool) bool {
	if seen[v] {
		return true
	}
	seen[v] = true
	if k, ok := v.(*design.Const); ok && k.Data != nil {
		return true
	}
	return len(g.into[v]) > 0 && g.exactSources(v, seen)
}

func (g *Graph) exactSources(v Var, seen map[Var]bool) bool {
	for _, s := range g.into[v] {
		if s.Expr != nil && !g.exact(s.Expr, seen) || s.Expr == nil && !g.exactVar(s.Var, seen) {
			return false
		}
	}
	return true
}
