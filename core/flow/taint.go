package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
)

// Taint is the variables that may hold a value that comes from some of them,
// as it is or worked into something else.
type Taint struct {
	g      *Graph
	holds  map[Var]bool
	events bool                  // what events carry is such a value, too
	clock  bool                  // so is the time
	keyed  map[types.Symbol]bool // events whose key is such a value, too
}

// Taint follows what some variables hold; with events, the value of any event
// counts as one of them.
func (g *Graph) Taint(from []Var, events bool) *Taint {
	t := &Taint{g: g, holds: map[Var]bool{}, events: events}
	for _, v := range from {
		t.holds[v] = true
	}
	return t.spread()
}

// Clock is what may hold a time, or what is worked out from one.
func (g *Graph) Clock() *Taint { return (&Taint{g: g, holds: map[Var]bool{}, clock: true}).spread() }

// spread follows the flows to a fixed point: first from what holds such a value to what
// it is named in, then once more through everything, until nothing is added.
func (t *Taint) spread() *Taint {
	g := t.g
	var queue []Var
	look := func(v Var) bool {
		if t.holds[v] || !t.flowsInto(v) {
			return false
		}
		t.holds[v] = true
		queue = append(queue, v)
		return true
	}
	for again := true; again; {
		again = false
		for _, v := range g.order {
			again = look(v) || again
			for len(queue) > 0 {
				next := queue[0]
				queue = queue[1:]
				for _, o := range g.namedIn(next) {
					look(o)
				}
			}
		}
	}
	return t
}

func (t *Taint) flowsInto(v Var) bool {
	return slices.ContainsFunc(t.g.into[v], func(s Source) bool {
		return s.Expr != nil && t.In(s.Expr) || s.Expr == nil && t.holds[s.Var]
	})
}

// namedIn are the variables that are given what names this one.
func (g *Graph) namedIn(v Var) []Var {
	if g.names == nil {
		g.names = map[Var][]Var{}
		for _, o := range g.order {
			for _, s := range g.into[o] {
				for _, named := range namesOf(s) {
					g.names[named] = append(g.names[named], o)
				}
			}
		}
	}
	return g.names[v]
}

// namesOf are the variables that a source names, once each.
func namesOf(s Source) (list []Var) {
	if s.Expr == nil {
		return []Var{s.Var}
	}
	add := func(v Var) {
		if !slices.Contains(list, v) {
			list = append(list, v)
		}
	}
	types.Walk(s.Expr, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Ref:
			add(x.Symbol)
		case *types.Select:
			add(x.Member)
		case *types.Dot:
			add(Field(x.Name))
		}
		return true
	})
	return list
}

// Holds says whether a variable may hold such a value.
func (t *Taint) Holds(v Var) bool { return t.holds[v] }

// In says whether the value of an expression may be made of such a value.
func (t *Taint) In(x types.Expr) bool {
	switch x := x.(type) {
	case *types.Ref:
		return t.holds[x.Symbol]
	case *types.Select:
		return t.holds[x.Member]
	case *types.Dot:
		return t.holds[Field(x.Name)] || t.events && x.Name == "value" && IsEvent(x.X) || isKeyOf(x, t.keyed)
	case *types.At:
		return t.In(x.X)
	case *types.Unary:
		return x.Op != syntax.Not && t.In(x.X)
	case *types.Cond:
		return t.In(x.X) || t.In(x.Y)
	case *types.Binary:
		return !Compares(x) && (t.In(x.X) || t.In(x.Y))
	case *types.Template:
		return t.any(x.Exprs)
	case *types.ListOf:
		for _, it := range x.Items {
			if t.In(it.X) {
				return true
			}
		}
	case *types.RecordOf: // its fields are known by their names; what is spread into it brings its own
		for i, v := range x.Values {
			if x.Names[i] == "" && t.In(v) {
				return true
			}
		}
	case *types.Method:
		if truth(x) {
			return false
		}
		return t.In(x.Recv) || t.any(x.Args)
	case *types.Builtin:
		return t.clock && x.Name == "now" || t.any(x.Args)
	case *types.Lambda:
		return t.In(x.Body)
	case *types.Apply:
		for _, f := range t.g.Callees(x.Fun, len(x.Args)) {
			if t.holds[f] {
				return true
			}
		}
		return slices.ContainsFunc(t.g.Lambdas(x.Fun), func(l *types.Lambda) bool { return t.In(l.Body) })
	}
	return false
}

// truth says whether a method tells no more of its receiver than yes or no.
func truth(x *types.Method) bool { return x.Type() == types.Boolean }

func (t *Taint) any(list []types.Expr) bool {
	for _, x := range list {
		if t.In(x) {
			return true
		}
	}
	return false
}

// Inside says whether values of a type have fields that may hold such a value.
func (t *Taint) Inside(typ types.Type) bool { return t.inside(typ, map[types.Type]bool{}) }

// inside looks at each type once: it may be made of itself.
func (t *Taint) inside(typ types.Type, seen map[types.Type]bool) bool {
	if seen[typ] {
		return false
	}
	seen[typ] = true
	switch u := types.Under(types.NonNull(typ)).(type) {
	case *types.List:
		return t.inside(u.Elem, seen)
	case *types.Union:
		for _, m := range u.Members {
			if t.inside(m, seen) {
				return true
			}
		}
	case *types.Record:
		for _, f := range u.Fields {
			if t.holds[Field(f.Name)] || t.inside(f.Type, seen) {
				return true
			}
		}
	}
	return false
}

// IsEvent says whether an expression is the event that a DOM handler names.
func IsEvent(x types.Expr) bool {
	r, ok := types.Under(x.Type()).(*types.Record)
	if !ok {
		return false
	}
	_, ok = r.Field("shiftKey")
	return ok
}

// Compares says whether an operator compares its sides.
func Compares(x *types.Binary) bool {
	switch x.Op {
	case syntax.Equal, syntax.NotEqual, syntax.Less, syntax.LessEq, syntax.Greater, syntax.GreaterEq:
		return true
	}
	return false
}

// Typed are the variables that get what a user types into an element.
func Typed(el *design.Element) []Var {
	var list []Var
	for _, tie := range el.Ties {
		if tie.Name == "value" {
			list = append(list, Targets(tie.Write)...)
		}
	}
	for _, a := range el.Attrs {
		if name, ok := design.FixedText(a.Unit.Expr); ok && a.Name == "name" {
			list = append(list, Field(name)) // as a value of its form
		}
	}
	return list
}
