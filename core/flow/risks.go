package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// Risks are the members and slots through which a value may come whose
// working-out can fail. What reads none of them, and cannot fail itself, need
// not be worked out to know that a turn does not fail.
//
// Sums of numbers and joins of texts do not fail while what they are made of is
// small, and they are made of few things: see value.Pool.Large, which tells when
// that ends. Strict, they may.
type Risks struct {
	strict  bool
	members map[*design.Member]bool
	slots   bool                 // some slot hands out what can fail
	weights map[types.Symbol]int // of how many things a value is made
	linked  map[*design.Member][]types.Expr
	handed  []types.Expr // by slots
}

// RisksOf finds them to a fixed point, since a link may hand on what is taken.
func RisksOf(d *design.Design, strict bool) *Risks {
	r := &Risks{strict: strict, members: map[*design.Member]bool{}, weights: map[types.Symbol]int{}, linked: map[*design.Member][]types.Expr{}}
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Use:
			for _, list := range [][]*design.Given{n.Links, n.Ties, n.Seeds} {
				for _, l := range list {
					r.linked[l.Member] = append(r.linked[l.Member], l.Unit.Expr)
				}
			}
		case *design.SlotPlace:
			for i := range n.Data {
				r.handed = append(r.handed, n.Data[i].Expr)
			}
		}
	}}.Design(d)
	for size := -1; size != r.size(); {
		size = r.size()
		for m, list := range r.linked {
			r.members[m] = r.members[m] || slices.ContainsFunc(list, r.harms)
		}
		r.slots = r.slots || slices.ContainsFunc(r.handed, r.harms)
	}
	return r
}

func (r *Risks) size() int {
	n := 0
	for _, risky := range r.members {
		if risky {
			n++
		}
	}
	if r.slots {
		n++
	}
	return n
}

func (r *Risks) harms(x types.Expr) bool { return !r.Harmless(x) }

// Harmless says whether working out an expression cannot fail.
func (r *Risks) Harmless(x types.Expr) bool {
	return r.safe(x, 0) && r.weight(x) <= MostWeight
}

// MostWeight is of how many values what is harmless may be made: with all of them
// lists of texts, as long as a small pool has them, their join is no longer than a
// text may be.
const MostWeight = 25

// safe says whether nothing in an expression, nor in what that is derived from,
// is of a kind that can fail.
func (r *Risks) safe(x types.Expr, depth int) bool {
	if depth > 20 {
		return false
	}
	ok := true
	design.Visitor{Expr: func(x types.Expr) {
		switch x := x.(type) {
		case *types.Binary:
			ok = ok && !(r.strict && (x.Op == syntax.Plus || x.Op == syntax.Minus))
		case *types.Template, *types.Method:
			ok = ok && !r.strict
		case *types.Apply:
			ok = ok && r.call(x, depth)
		case *types.Select:
			ok = ok && r.symbol(x.Member, depth)
		case *types.Ref:
			ok = ok && r.symbol(x.Symbol, depth)
		}
	}, Effect: func(e design.Effect) {
		ok = ok && e.Kind != design.Fails
	}}.Unit(&design.Unit{Expr: x})
	return ok && callbacks(x) < 3
}

// callbacks is how deep functions over lists stand in each other.
func callbacks(x types.Expr) (deep int) {
	types.Walk(x, func(y types.Expr) bool {
		l, ok := y.(*types.Lambda)
		if ok {
			deep = max(deep, 1+callbacks(l.Body))
		}
		return !ok
	})
	return deep
}

// weight is of how many values an expression is made, those that are derived,
// linked and passed counted with all that they are made of.
func (r *Risks) weight(x types.Expr) int {
	n := 0
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Const:
			n++
			if s, ok := x.Value.(value.String); ok {
				n += len(s) / 400
			}
		case *types.Template:
			for _, s := range x.Texts {
				n += len(s) / 400
			}
		case *types.Ref:
			n += r.weightOf(x.Symbol)
		case *types.Select:
			n += r.weightOf(x.Member)
		case *types.Apply:
			args := 1
			for _, a := range x.Args {
				args += r.weight(a)
			}
			n += args * r.weight(x.Fun)
			return false
		}
		return n <= MostWeight
	})
	return min(n, MostWeight+1)
}

func (r *Risks) weightOf(s types.Symbol) int {
	if n, ok := r.weights[s]; ok {
		return n
	}
	r.weights[s] = MostWeight + 1 // of one that comes back to itself
	n := 1
	switch s := s.(type) {
	case *design.Member:
		if s.Kind == design.Derives {
			n = r.weight(s.Init.Expr)
		}
		for _, x := range r.linked[s] {
			n = max(n, r.weight(x))
		}
	case *design.Function:
		n = r.weight(s.Unit.Expr)
	case *design.ViewLocal:
		if s.Each != nil {
			n = r.weight(s.Each.List.Expr)
			break
		}
		for _, x := range r.handed {
			n = max(n, r.weight(x))
		}
	}
	r.weights[s] = n
	return n
}

func (r *Risks) symbol(s types.Symbol, depth int) bool {
	switch s := s.(type) {
	case *design.Member:
		switch s.Kind {
		case design.Action, design.Named, design.Holds, design.ConstMember, design.Used, design.Supplied, design.Gathered:
			return true
		case design.Derives:
			return s.Call || r.safe(s.Init.Expr, depth+1)
		case design.Takes, design.Shares:
			return !r.members[s] && (s.Init == nil || r.safe(s.Init.Expr, depth+1))
		}
	case *design.Function:
		return s.Syntax.Call || r.safe(s.Unit.Expr, depth+1)
	case *design.ViewLocal:
		return s.Each != nil || !r.slots
	case *design.Const, *types.Local, *design.ElementMethod, *design.FormPart:
		return true
	}
	return false
}

func (r *Risks) call(x *types.Apply, depth int) bool {
	switch f := x.Fun.(type) {
	case *types.Ref:
		switch s := f.Symbol.(type) {
		case *design.Function:
			return r.safe(s.Unit.Expr, depth+1)
		case *design.Member:
			return s.Call && r.safe(s.Init.Expr, depth+1)
		}
	case *types.Select:
		if m, ok := f.Member.(*design.Member); ok && m.Call {
			return r.safe(m.Init.Expr, depth+1)
		}
	}
	return false
}
