package engine

import (
	"fmt"
	"math"
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// naiveFunc is a function that is handed down.
type naiveFunc struct {
	owner *naiveInst
	call  func(args []value.Value) value.Value
}

func (*naiveFunc) Kind() value.Kind { return value.FuncKind }

func (n *naive) member(m *design.Member, i *naiveInst) value.Value {
	switch m.Kind {
	case design.Holds, design.ConstMember:
		return i.cells[m]
	case design.Derives:
		if m.Call {
			return &naiveFunc{i, func(args []value.Value) value.Value { return n.function(m.Args, m.Init.Expr, i, args) }}
		}
		return n.eval(m.Init.Expr, &naiveEnv{inst: i})
	case design.Action:
		return &naiveFunc{i, func(args []value.Value) value.Value {
			n.body(m.Body, &naiveEnv{inst: i}, args)
			return value.Null{}
		}}
	case design.Supplied:
		return n.contextOf(i, m.Context, nil)
	case design.Used:
		for a := i.above; a != nil; a = a.above {
			if c := n.contextOf(a, m.Context, i); !value.IsNull(c) {
				return c
			}
		}
		return value.Null{}
	case design.Named, design.Gathered:
		if v, ok := n.known[i.path+"."+m.Label]; ok {
			return v
		}
		if m.Kind == design.Gathered {
			return value.Empty
		}
		return value.Null{}
	}
	return n.linkedMember(m, i)
}

func (n *naive) contextOf(i *naiveInst, of *design.Component, but *naiveInst) value.Value {
	for _, c := range i.contexts {
		if c.comp == of && c != but {
			return c
		}
	}
	return value.Null{}
}

// linkedMember is what is taken or shared: what its user links or ties to it,
// as it was at the last refresh where its place is ending.
func (n *naive) linkedMember(m *design.Member, i *naiveInst) value.Value {
	g := tiedTo(i.use, m)
	if g == nil {
		g = linkedTo(i.use, m)
	}
	if g == nil {
		if v, ok := i.cells[m]; ok {
			return v
		}
		return n.eval(m.Init.Expr, &naiveEnv{inst: i})
	}
	if kept, ok := n.kept[i.path+"."+m.Label]; ok && (i.gone || !n.alive(i.user)) {
		return kept
	}
	return n.eval(g.Unit.Expr, i.user)
}

func (n *naive) function(params []*types.Local, body types.Expr, i *naiveInst, args []value.Value) value.Value {
	env := &naiveEnv{inst: i, loc: map[*types.Local]value.Value{}}
	for at, p := range params {
		env.loc[p] = args[at]
	}
	return n.eval(body, env)
}

func (n *naive) finite(x float64) value.Value {
	if math.IsNaN(x) || math.IsInf(x, 0) {
		panic(naiveFailure{"not finite"})
	}
	return value.Number(x + 0)
}

// mostSteps is how many expressions the judge works out at a time.
const mostSteps = 300_000

func (n *naive) eval(e types.Expr, env *naiveEnv) value.Value {
	if n.steps++; n.steps > mostSteps {
		panic(naiveFailure{"too long for the judge"})
	}
	switch e := e.(type) {
	case *types.Const:
		return e.Value
	case *types.Ref:
		switch s := e.Symbol.(type) {
		case *types.Local:
			for at := env; at != nil; at = at.up {
				if v, ok := at.loc[s]; ok {
					return v
				}
			}
			panic("the judge does not know the local " + s.Label)
		case *design.ViewLocal:
			return n.local(s, env)
		case *design.Member:
			return n.member(s, env.inst)
		}
	case *types.Dot:
		r, ok := n.eval(e.X, env).(*value.Record)
		if !ok {
			return value.Null{}
		}
		return r.Get(e.Name)
	case *types.Select:
		i, ok := n.eval(e.X, env).(*naiveInst)
		if !ok {
			return value.Null{}
		}
		return n.member(e.Member.(*design.Member), i)
	case *types.At:
		l, i := n.eval(e.X, env).(*value.List), int(n.eval(e.I, env).(value.Number))
		if i < 0 || i >= l.Len() {
			return value.Null{}
		}
		return l.At(i)
	case *types.Unary:
		if e.Op == syntax.Not {
			return !n.eval(e.X, env).(value.Bool)
		}
		return n.finite(-float64(n.eval(e.X, env).(value.Number)))
	case *types.Binary:
		return n.binary(e, env)
	case *types.Cond:
		if n.eval(e.C, env).(value.Bool) {
			return n.eval(e.X, env)
		}
		return n.eval(e.Y, env)
	case *types.Template:
		out := e.Texts[0]
		for i, x := range e.Exprs {
			out += value.Text(n.eval(x, env)) + e.Texts[i+1]
		}
		return value.String(out)
	case *types.ListOf:
		var items []value.Value
		for _, it := range e.Items {
			v := n.eval(it.X, env)
			if it.Spread {
				items = append(items, v.(*value.List).Items()...)
			} else {
				items = append(items, v)
			}
		}
		return value.NewList(items)
	case *types.RecordOf:
		r := &value.Record{}
		for i, name := range e.Names {
			v := n.eval(e.Values[i], env)
			if name != "" {
				r = r.With(name, v)
				continue
			}
			for j, f := range v.(*value.Record).Names {
				r = r.With(f, v.(*value.Record).At(j))
			}
		}
		return r
	case *types.Method:
		return n.method(e, env)
	case *types.Apply:
		var args []value.Value
		for _, a := range e.Args {
			args = append(args, n.eval(a, env))
		}
		f, ok := n.eval(e.Fun, env).(*naiveFunc)
		if !ok {
			return value.Null{}
		}
		return f.call(args)
	}
	panic(fmt.Sprintf("the judge does not know %T", e))
}

func (n *naive) binary(e *types.Binary, env *naiveEnv) value.Value {
	x := n.eval(e.X, env)
	switch e.Op {
	case syntax.And:
		return value.Bool(bool(x.(value.Bool)) && bool(n.eval(e.Y, env).(value.Bool)))
	case syntax.Or:
		return value.Bool(bool(x.(value.Bool)) || bool(n.eval(e.Y, env).(value.Bool)))
	case syntax.Coalesce:
		if value.IsNull(x) {
			return n.eval(e.Y, env)
		}
		return x
	}
	y := n.eval(e.Y, env)
	switch e.Op {
	case syntax.Equal:
		return value.Bool(value.Equal(x, y))
	case syntax.NotEqual:
		return value.Bool(!value.Equal(x, y))
	}
	a, b := float64(x.(value.Number)), float64(y.(value.Number))
	switch e.Op {
	case syntax.Plus:
		return n.finite(a + b)
	case syntax.Minus:
		return n.finite(a - b)
	case syntax.Star:
		return n.finite(a * b)
	case syntax.Slash:
		return n.finite(a / b)
	case syntax.Percent:
		return n.finite(math.Mod(a, b))
	case syntax.Greater:
		return value.Bool(a > b)
	case syntax.Less:
		return value.Bool(a < b)
	case syntax.GreaterEq:
		return value.Bool(a >= b)
	case syntax.LessEq:
		return value.Bool(a <= b)
	}
	panic("the judge does not know " + e.Op.String())
}

func (n *naive) method(e *types.Method, env *naiveEnv) value.Value {
	recv := n.eval(e.Recv, env)
	if s, ok := recv.(value.String); ok && e.Name == "length" {
		return value.Number(len(s))
	}
	l, ok := recv.(*value.List)
	if !ok {
		return value.Null{}
	}
	call := func(args ...value.Value) value.Value {
		f := e.Args[0].(*types.Lambda)
		inner := &naiveEnv{inst: env.inst, up: env, host: env, path: env.path, loc: map[*types.Local]value.Value{}}
		for i, p := range f.Params {
			inner.loc[p] = args[i]
		}
		return n.eval(f.Body, inner)
	}
	var out []value.Value
	switch e.Name {
	case "length":
		return value.Number(l.Len())
	case "includes":
		at := n.eval(e.Args[0], env)
		return value.Bool(slices.ContainsFunc(l.Items(), func(v value.Value) bool { return value.Equal(v, at) }))
	case "map":
		for i, v := range l.Items() {
			out = append(out, call(v, value.Number(i)))
		}
	case "filter", "find", "some":
		for i, v := range l.Items() {
			if call(v, value.Number(i)).(value.Bool) {
				if e.Name == "find" {
					return v
				}
				out = append(out, v)
			}
		}
		if e.Name == "find" {
			return value.Null{}
		}
		if e.Name == "some" {
			return value.Bool(len(out) > 0)
		}
	case "reduce":
		sum := n.eval(e.Args[1], env)
		for i, v := range l.Items() {
			sum = call(sum, v, value.Number(i))
		}
		return sum
	case "toReversed":
		out = slices.Clone(l.Items())
		slices.Reverse(out)
	case "slice":
		from, to := int(n.eval(e.Args[0], env).(value.Number)), l.Len()
		if len(e.Args) > 1 {
			to = min(to, int(n.eval(e.Args[1], env).(value.Number)))
		}
		if from < to {
			out = append(out, l.Items()[from:to]...)
		}
	default:
		panic("the judge does not know " + e.Name)
	}
	return value.NewList(out)
}
