package flow

import (
	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// fold works out an expression as far as it is known while the cells stay as they
// begin; nil where it is not (partial evaluation).
func (st *still) fold(x types.Expr, with map[types.Symbol]value.Value, depth int) value.Value {
	if depth > 12 {
		return nil
	}
	of := func(x types.Expr) value.Value { return st.fold(x, with, depth+1) }
	switch x := x.(type) {
	case *types.Const:
		return x.Value
	case *types.Ref:
		return st.foldSymbol(x.Symbol, with, depth)
	case *types.Select:
		return st.foldSymbol(x.Member, with, depth)
	case *types.Unary:
		if b, ok := of(x.X).(value.Bool); ok && x.Op == syntax.Not {
			return !b
		}
	case *types.Cond:
		switch of(x.C) {
		case value.Value(value.Bool(true)):
			return of(x.X)
		case value.Value(value.Bool(false)):
			return of(x.Y)
		}
	case *types.Binary:
		return foldBinary(x.Op, of(x.X), of(x.Y))
	case *types.Method:
		return st.foldMethod(x, of)
	case *types.Apply:
		return st.foldApply(x, with, depth)
	}
	return nil
}

func (st *still) foldSymbol(s types.Symbol, with map[types.Symbol]value.Value, depth int) value.Value {
	if v, ok := with[s]; ok {
		return v
	}
	m, ok := s.(*design.Member)
	switch {
	case !ok:
		return nil
	case st.cells[m] != nil:
		return st.cells[m].first
	case m.Kind == design.Derives && !m.Call:
		return st.fold(m.Init.Expr, nil, depth+1)
	}
	return nil
}

func foldBinary(op syntax.Kind, a, b value.Value) value.Value {
	yes, no := value.Value(value.Bool(true)), value.Value(value.Bool(false))
	switch op {
	case syntax.Or:
		if a == yes || b == yes {
			return yes
		}
		if a == no {
			return b
		}
	case syntax.And:
		if a == no || b == no {
			return no
		}
		if a == yes {
			return b
		}
	case syntax.Equal, syntax.NotEqual:
		if a != nil && b != nil {
			return value.Bool(value.Equal(a, b) == (op == syntax.Equal))
		}
	}
	return nil
}

func (st *still) foldMethod(x *types.Method, of func(types.Expr) value.Value) value.Value {
	recv := of(x.Recv)
	text, isText := recv.(value.String)
	list, isList := recv.(*value.List)
	empty := isText && text == "" || isList && list.Len() == 0
	switch x.Name {
	case "trim", "toLowerCase", "toUpperCase":
		if empty {
			return recv
		}
	case "length":
		if empty {
			return value.Number(0)
		}
	case "includes", "startsWith", "endsWith":
		if arg, ok := of(x.Args[0]).(value.String); ok && arg == "" && types.Assignable(x.Recv.Type(), types.String) {
			return value.Bool(true) // everything has no text in it
		}
		if isList && empty {
			return value.Bool(false)
		}
	case "some":
		if isList && empty {
			return value.Bool(false)
		}
	case "every":
		if isList && empty {
			return value.Bool(true)
		}
	}
	return nil
}

// foldApply works out a derived function, whose parameters may be known.
func (st *still) foldApply(x *types.Apply, with map[types.Symbol]value.Value, depth int) value.Value {
	list := st.d.Callees(x.Fun, len(x.Args))
	if len(list) != 1 || len(st.d.Lambdas(x.Fun)) > 0 {
		return nil
	}
	inner := map[types.Symbol]value.Value{}
	for i, p := range paramsOf(list[0]) {
		if i < len(x.Args) {
			if v := st.fold(x.Args[i], with, depth+1); v != nil {
				inner[p] = v
			}
		}
	}
	switch f := list[0].(type) {
	case *design.Function:
		return st.fold(f.Unit.Expr, inner, depth+1)
	case *design.Member:
		if f.Call {
			return st.fold(f.Init.Expr, inner, depth+1)
		}
	}
	return nil
}
