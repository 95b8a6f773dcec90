package engine

import (
	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// risks are the members and slots through which a value may come whose
// working-out can fail. What reads none of them, and cannot fail itself, need
// not be worked out to know that a turn does not fail.
//
// Sums of numbers and joins of texts are taken not to fail: only values far
// larger than any that a proof visits could.
type risks struct {
	members map[*design.Member]bool
	slots   bool // some slot hands out what can fail
}

// risksOf finds them to a fixed point, since a link may hand on what is taken.
func risksOf(d *design.Design) *risks {
	r := &risks{members: map[*design.Member]bool{}}
	use := func(u *design.Use) {
		for _, list := range [][]*design.Given{u.Links, u.Ties} {
			for _, l := range list {
				r.members[l.Member] = r.members[l.Member] || !r.harmless(l.Unit.Expr)
			}
		}
	}
	v := design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Use:
			use(n)
		case *design.SlotPlace:
			for i := range n.Data {
				r.slots = r.slots || !r.harmless(n.Data[i].Expr)
			}
		}
	}, Stmt: func(s design.Stmt) {
		if o, ok := s.(*design.Open); ok {
			use(o.Use)
		}
	}}
	for size := -1; size != r.size(); {
		size = r.size()
		for _, c := range d.Components {
			v.Component(c)
		}
	}
	return r
}

func (r *risks) size() int {
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

// harmless says whether working out an expression cannot fail.
func (r *risks) harmless(x types.Expr) bool { return r.harmlessAt(x, 0) }

func (r *risks) harmlessAt(x types.Expr, depth int) bool {
	if depth > 20 {
		return false
	}
	ok := true
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Binary:
			ok = ok && x.Op != syntax.Slash && x.Op != syntax.Percent && x.Op != syntax.Star
		case *types.Method:
			switch x.Name {
			case "toFixed", "charCodeAt", "padStart", "padEnd", "replaceAll", "flatMap", "reduce", "split":
				ok = false
			}
		case *types.Builtin:
			ok = false
		case *types.Apply:
			ok = ok && r.call(x, depth)
		case *types.Select:
			ok = ok && r.symbol(x.Member, depth)
		case *types.Ref:
			ok = ok && r.symbol(x.Symbol, depth)
		}
		return ok
	})
	return ok
}

func (r *risks) symbol(s types.Symbol, depth int) bool {
	switch s := s.(type) {
	case *design.Member:
		switch s.Kind {
		case design.Holds, design.ConstMember, design.Used, design.Supplied, design.Gathered:
			return true
		case design.Derives:
			return s.Call || r.harmlessAt(s.Init.Expr, depth+1)
		case design.Takes, design.Shares:
			return !r.members[s] && (s.Init == nil || r.harmlessAt(s.Init.Expr, depth+1))
		}
	case *design.Function:
		return s.Syntax.Call || r.harmlessAt(s.Unit.Expr, depth+1)
	case *design.ViewLocal:
		return s.Each != nil || !r.slots
	case *design.Const, *types.Local:
		return true
	}
	return false
}

func (r *risks) call(x *types.Apply, depth int) bool {
	switch f := x.Fun.(type) {
	case *types.Ref:
		switch s := f.Symbol.(type) {
		case *design.Function:
			return r.harmlessAt(s.Unit.Expr, depth+1)
		case *design.Member:
			return s.Call && r.harmlessAt(s.Init.Expr, depth+1)
		}
	case *types.Select:
		if m, ok := f.Member.(*design.Member); ok && m.Call {
			return r.harmlessAt(m.Init.Expr, depth+1)
		}
	}
	return false
}
