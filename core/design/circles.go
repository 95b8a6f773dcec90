package design

import (
	"strings"

	"lien/core/source"
	"lien/core/types"
)

// circles reports derivations that feed themselves, actions that call
// themselves, and components that render themselves with nothing between.
func (r *resolver) circles() {
	derived := graph[types.Symbol]{next: derivedFrom, seen: map[types.Symbol]int{}}
	for _, f := range r.d.Functions {
		derived.visit(f)
	}
	for _, k := range r.d.Consts {
		derived.visit(k)
	}
	calls := graph[*Member]{next: called, seen: map[*Member]int{}}
	renders := graph[*Component]{next: rendered, seen: map[*Component]int{}}
	for _, c := range r.d.Components {
		for _, m := range c.Members {
			switch m.Kind {
			case Derives, ConstMember:
				derived.visit(m)
			case Action:
				calls.visit(m)
			}
		}
		renders.visit(c)
	}
	for _, circle := range derived.circles {
		write := "work one of them out from something else"
		if takesValues(circle[0]) {
			write = "functions do not call themselves: keep a list whose items name their parent, and filter it; or let each component work out its own part"
		}
		r.circle("in-a-circle", circle[0].Pos(), circle[0].Name(), chain(circle, types.Symbol.Name),
			"%s is worked out from itself: %s", write)
	}
	for _, circle := range calls.circles {
		r.circle("calls-itself", circle[0].Pos(), circle[0].Label, chain(circle, (*Member).Name),
			"the action %s calls itself: %s", "go through a list with for (x of list)")
	}
	for _, circle := range renders.circles {
		r.circle("renders-itself", circle[0].Syntax.Name.Start, circle[0].Name, chain(circle, (*Component).TypeName),
			"%s renders itself without end: %s", "put the inner use into a when or an each")
	}
}

// takesValues says whether a symbol is a function.
func takesValues(s types.Symbol) bool {
	switch s := s.(type) {
	case *Function:
		return len(s.Params) > 0
	case *Member:
		return len(s.Sig) > 0
	}
	return false
}

func (r *resolver) circle(rule string, at source.Pos, name, chain, what, write string) {
	r.errorf(rule, source.Span{Start: at, End: at + source.Pos(len(name))}, what, name, chain).Instead("%s", write)
}

func chain[N any](circle []N, name func(N) string) string {
	var names []string
	for _, n := range append(circle, circle[0]) {
		names = append(names, name(n))
	}
	return strings.Join(names, " → ")
}

// graph finds circles by depth-first search; each node is entered once.
type graph[N comparable] struct {
	next    func(N) []N
	seen    map[N]int // 1 while on the path, 2 afterwards
	path    []N
	circles [][]N
}

func (g *graph[N]) visit(n N) {
	switch g.seen[n] {
	case 1:
		for i, p := range g.path {
			if p == n {
				g.circles = append(g.circles, append([]N(nil), g.path[i:]...))
			}
		}
		return
	case 2:
		return
	}
	g.seen[n] = 1
	g.path = append(g.path, n)
	for _, o := range g.next(n) {
		g.visit(o)
	}
	g.path = g.path[:len(g.path)-1]
	g.seen[n] = 2
}

// derivedFrom lists the derivations that s reads.
func derivedFrom(s types.Symbol) []types.Symbol {
	var unit *Unit
	switch s := s.(type) {
	case *Function:
		unit = &s.Unit
	case *Const:
		unit = &s.Unit
	case *Member:
		unit = s.Init
	}
	var list []types.Symbol
	if unit == nil {
		return nil
	}
	types.Walk(unit.Expr, func(e types.Expr) bool {
		ref, ok := e.(*types.Ref)
		if !ok {
			return true
		}
		switch o := ref.Symbol.(type) {
		case *Function, *Const:
			list = append(list, o)
		case *Member:
			if o.Kind == Derives || o.Kind == ConstMember {
				list = append(list, o)
			}
		}
		return true
	})
	return list
}

// called lists the actions that an action calls.
func called(m *Member) []*Member {
	var list []*Member
	Visitor{Effect: func(e Effect) {
		if o := e.Called(); e.Kind == Calls && o != nil && o.Owner == m.Owner && o.Kind == Action {
			list = append(list, o)
		}
	}}.Body(m.Body)
	return list
}

// rendered lists the components that a component always renders.
func rendered(c *Component) []*Component {
	var list []*Component
	var walk func(nodes []Node)
	walk = func(nodes []Node) {
		for _, n := range nodes {
			switch n := n.(type) {
			case *Element:
				walk(n.Children)
			case *Use:
				list = append(list, n.Component)
			}
		}
	}
	walk(c.View)
	return list
}
