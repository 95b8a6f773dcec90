package engine

import (
	"math"

	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// finite is a number that the language has; others fail the turn.
func (e *Engine) finite(x float64, at source.Span) value.Value {
	if math.IsInf(x, 0) || math.IsNaN(x) {
		e.fail(at, "the result of this is not a finite number")
	}
	return value.Number(x + 0)
}

func (p *program) binary(x *types.Binary) eval {
	a, b := p.expr(x.X), p.expr(x.Y)
	yes, no := value.Value(value.Bool(true)), value.Value(value.Bool(false))
	switch x.Op {
	case syntax.And:
		return func(f *frame) value.Value {
			if a(f) == no {
				return no
			}
			return b(f)
		}
	case syntax.Or:
		return func(f *frame) value.Value {
			if a(f) == yes {
				return yes
			}
			return b(f)
		}
	case syntax.Coalesce:
		return func(f *frame) value.Value {
			if v := a(f); !value.IsNull(v) {
				return v
			}
			return b(f)
		}
	case syntax.Equal, syntax.NotEqual:
		if eq := p.cellEquality(x); eq != nil {
			return eq
		}
	}
	switch x.Op {
	case syntax.Equal:
		return func(f *frame) value.Value { return value.Bool(f.e.equal(a(f), b(f))) }
	case syntax.NotEqual:
		return func(f *frame) value.Value { return value.Bool(!f.e.equal(a(f), b(f))) }
	case syntax.Less, syntax.LessEq, syntax.Greater, syntax.GreaterEq:
		return ordering(x.Op, a, b)
	}
	return arithmetic(x, a, b)
}

// equal compares values as the design asks for it: all of both is read.
func (e *Engine) equal(a, b value.Value) bool {
	if n := min(value.Parts(a), value.Parts(b)); n > stepParts && a != b {
		e.spend(n/stepParts, 0, source.Span{})
	}
	if e.watchers != nil && a.Kind() == b.Kind() {
		value.Read(a)
		value.Read(b)
	}
	return value.Equal(a, b)
}

func ordering(op syntax.Kind, a, b eval) eval {
	return func(f *frame) value.Value {
		x, y := a(f), b(f)
		less, more := compare(x, y), compare(y, x)
		switch op {
		case syntax.Less:
			return value.Bool(less)
		case syntax.LessEq:
			return value.Bool(!more)
		case syntax.Greater:
			return value.Bool(more)
		}
		return value.Bool(!less)
	}
}

func compare(x, y value.Value) bool {
	if n, ok := x.(value.Number); ok {
		return n < y.(value.Number)
	}
	return value.Less(string(x.(value.String)), string(y.(value.String)))
}

func arithmetic(x *types.Binary, a, b eval) eval {
	at := x.Span()
	var op func(x, y float64) float64
	switch x.Op {
	case syntax.Plus:
		return plus(at, a, b)
	case syntax.Minus:
		op = func(x, y float64) float64 { return x - y }
	case syntax.Star:
		op = func(x, y float64) float64 { return x * y }
	case syntax.Slash:
		op = func(x, y float64) float64 { return x / y }
	case syntax.Percent:
		op = math.Mod
	}
	return func(f *frame) value.Value {
		x := a(f).(value.Number)
		return f.e.finite(op(float64(x), float64(b(f).(value.Number))), at)
	}
}

func plus(at source.Span, a, b eval) eval {
	return func(f *frame) value.Value {
		switch x := a(f).(type) {
		case value.Number:
			return f.e.finite(float64(x)+float64(b(f).(value.Number)), at)
		case value.String:
			return f.e.text(value.Joined(string(x)+string(b(f).(value.String))), at)
		}
		panic("engine: + of neither numbers nor strings")
	}
}
