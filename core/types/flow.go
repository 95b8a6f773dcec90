package types

import (
	"lien/core/syntax"
	"lien/core/value"
)

// Facts is what tests have shown at a place in the text: that a path such as
// ware.note has a narrower type than it is declared with. Facts are a list
// that grows by links, so that branches share what came before them.
type Facts struct {
	up   *Facts
	root Symbol // nil: forget everything that can change
	kept bool   // with root nil: cells of the component itself stay known
	path string
	typ  Type // nil: forget what is known of the path and what lies below
}

// path names a place that facts can speak of.
type path struct {
	root Symbol
	rest string
}

// pathOf is the path that e reads, if it reads one.
func pathOf(e Expr) (path, bool) {
	switch e := e.(type) {
	case *Ref:
		return path{e.Symbol, ""}, true
	case *Dot:
		p, ok := pathOf(e.X)
		return path{p.root, p.rest + "." + e.Name}, ok
	case *Select:
		p, ok := pathOf(e.X)
		return path{p.root, p.rest + "." + e.Member.Name()}, ok
	}
	return path{}, false
}

// lookup is the type that is known of a path, or nil.
func (f *Facts) lookup(p path) Type {
	for ; f != nil; f = f.up {
		switch {
		case f.root == nil:
			if !p.root.Stable() && !(f.kept && isOwnCell(p.root)) {
				return nil
			}
		case f.root != p.root:
		case f.typ != nil:
			if f.path == p.rest {
				return f.typ
			}
		case below(p.rest, f.path):
			return nil
		}
	}
	return nil
}

// below says whether path stands at or under top.
func below(path, top string) bool {
	return len(path) >= len(top) && path[:len(top)] == top && (len(path) == len(top) || path[len(top)] == '.')
}

func (f *Facts) know(p path, t Type) *Facts { return &Facts{up: f, root: p.root, path: p.rest, typ: t} }

// Forget drops what is known of everything that a call may change.
func (f *Facts) Forget() *Facts {
	if f == nil {
		return nil
	}
	return &Facts{up: f}
}

// Written drops what is known of the place that target names, and notes the
// type that was written to it.
func (f *Facts) Written(target Expr, t Type) *Facts {
	p, ok := pathOf(target)
	if !ok {
		return f.Forget()
	}
	// what is derived or handed down may come from what is written
	f = &Facts{up: &Facts{up: f, kept: true}, root: p.root, path: p.rest}
	if Nullable(target.Type()) || isUnion(target.Type()) {
		return f.know(p, t)
	}
	return f
}

// isOwnCell says whether only a write to the symbol itself changes it.
func isOwnCell(s Symbol) bool {
	c, ok := s.(interface{ Own() bool })
	return ok && c.Own()
}

func isUnion(t Type) bool {
	_, ok := Under(t).(*Union)
	return ok
}

// Assume adds what is known where e is truth.
func (f *Facts) Assume(e Expr, truth bool) *Facts {
	switch e := e.(type) {
	case *Unary:
		if e.Op == syntax.Not {
			return f.Assume(e.X, !truth)
		}
	case *Binary:
		return f.assumeBinary(e, truth)
	case *Const:
	default:
		p, ok := pathOf(e)
		switch {
		case !ok:
		case Assignable(e.Type(), Boolean):
			return f.know(p, Literal{value.Bool(truth)})
		case truth: // no condition, which is told; it is meant as a test for null
			return f.exclude(e, Null)
		}
	}
	return f
}

func (f *Facts) assumeBinary(e *Binary, truth bool) *Facts {
	switch e.Op {
	case syntax.And:
		if truth {
			return f.Assume(e.X, true).Assume(e.Y, true)
		}
	case syntax.Or:
		if !truth {
			return f.Assume(e.X, false).Assume(e.Y, false)
		}
	case syntax.Equal:
		return f.equal(e.X, e.Y, truth)
	case syntax.NotEqual:
		return f.equal(e.X, e.Y, !truth)
	}
	return f
}

// equal adds what x == y, or x != y, shows of either side.
func (f *Facts) equal(x, y Expr, same bool) *Facts {
	if same {
		return f.restrict(x, y.Type()).restrict(y, x.Type())
	}
	return f.exclude(x, y.Type()).exclude(y, x.Type())
}

// restrict notes that e has one of the values of t.
func (f *Facts) restrict(e Expr, t Type) *Facts {
	p, ok := pathOf(e)
	if !ok || t == Any {
		return f
	}
	narrow := keep(e.Type(), func(m Type) bool { return Comparable(m, t) })
	if narrow != Never {
		if _, lit := Under(t).(Literal); lit && Assignable(t, narrow) {
			narrow = t
		}
		f = f.know(p, narrow)
	}
	if !Nullable(t) {
		f = f.present(e)
	}
	return f.discriminate(e, func(field Type) bool { return Comparable(field, t) })
}

// exclude notes that e differs from the only value of t.
func (f *Facts) exclude(e Expr, t Type) *Facts {
	p, ok := pathOf(e)
	if !ok || !single(t) {
		return f
	}
	f = f.know(p, keep(e.Type(), func(m Type) bool { return !Assignable(m, t) }))
	if t == Null {
		f = f.present(e)
	}
	return f.discriminate(e, func(field Type) bool { return !Assignable(field, t) })
}

func single(t Type) bool {
	_, lit := Under(t).(Literal)
	return lit || Under(t) == Null
}

// present notes that what stands before a ?. in e is not null, since e is not.
func (f *Facts) present(e Expr) *Facts {
	var x Expr
	optional := false
	switch e := e.(type) {
	case *Dot:
		x, optional = e.X, e.Optional
	case *Select:
		x, optional = e.X, e.Optional
	default:
		return f
	}
	if p, ok := pathOf(x); ok && optional {
		f = f.know(p, NonNull(x.Type()))
	}
	return f.present(x)
}

// discriminate narrows a union of records by what is known of one field.
func (f *Facts) discriminate(e Expr, fits func(Type) bool) *Facts {
	d, ok := e.(*Dot)
	if !ok {
		return f
	}
	p, ok := pathOf(d.X)
	if !ok || len(Members(NonNull(d.X.Type()))) < 2 {
		return f
	}
	return f.know(p, keep(d.X.Type(), func(m Type) bool {
		r, ok := Under(m).(*Record)
		if !ok {
			return d.Optional
		}
		field, ok := r.Field(d.Name)
		return !ok || fits(field.Read())
	}))
}
