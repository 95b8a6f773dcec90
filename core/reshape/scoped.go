package reshape

import (
	"lien/core/design"
	"lien/core/syntax"
)

// scoped visits the names in a component that mean something outside of the place that names them: those
// that eaches, fills, events, parameters and constants name on the way are left out. short is a field that
// stands for name: name.
func scoped(c *syntax.Component, visit func(n *syntax.Name, short bool)) {
	s := &scopes{visit: visit}
	for _, m := range c.Members {
		s.node(m, names{})
	}
}

// scopes goes through a text and keeps what is named.
type scopes struct {
	visit func(n *syntax.Name, short bool)
}

func params(list []*syntax.Param) (words []*syntax.Word) {
	for _, p := range list {
		words = append(words, p.Name)
	}
	return words
}

func (s *scopes) node(n syntax.Node, in names) {
	switch n := n.(type) {
	case nil:
	case *syntax.Derives:
		inner := in.with(params(n.Params)...)
		s.node(n.Value, inner)
		if n.Set != nil {
			s.node(n.Set, in.with(n.SetParam))
		}
	case *syntax.Action:
		s.node(n.Body, in.with(params(n.Params)...))
	case *syntax.Offers:
		if n.Body != nil {
			s.node(n.Body, in.with(params(n.Params)...))
		}
	case *syntax.Timer:
		inner := in.with(params(n.Params)...)
		s.node(n.Delay, inner)
		s.node(n.Body, inner)
	case *syntax.Follows:
		s.node(n.Value, in)
		s.node(n.Body, in.with(n.Old))
	case *syntax.Hears:
		s.node(n.Body, in.with(params(n.Params)...))
	case *syntax.Each:
		s.node(n.List, in)
		inner := in.with(n.Var, n.Index)
		if n.By != nil {
			s.node(n.By, inner)
		}
		for _, it := range n.Body {
			s.node(it, inner)
		}
	case *syntax.Fill:
		inner := in.with(params(n.Params)...)
		for _, it := range n.Body {
			s.node(it, inner)
		}
	case *syntax.Event:
		s.node(n.Do, in.with(params(n.Params)...))
	case *syntax.Block:
		inner := in
		for _, st := range n.Stmts {
			s.node(st, inner)
			if c, ok := st.(*syntax.ConstDecl); ok {
				inner = inner.with(c.Name)
			}
		}
	case *syntax.For:
		s.node(n.List, in)
		s.node(n.Body, in.with(n.Var))
	case *syntax.Arrow:
		s.node(n.Body, in.with(params(n.Params)...))
	case *syntax.FieldLit:
		if n.Name != nil && n.Value == nil {
			s.tell(&syntax.Name{At: n.Name.At, Text: n.Name.Text}, true, in)
			return
		}
		s.node(n.Value, in)
	case *syntax.Name:
		s.tell(n, false, in)
	default:
		s.inside(n, in)
	}
}

// inside goes on with what is in a node that names nothing.
func (s *scopes) inside(n syntax.Node, in names) {
	first := true
	syntax.Walk(n, func(c syntax.Node) bool {
		if first {
			first = false
			return true
		}
		s.node(c, in)
		return false
	})
}

func (s *scopes) tell(n *syntax.Name, short bool, in names) {
	if _, named := in[n.Text]; !named {
		s.visit(n, short)
	}
}

// free visits the names in a piece of text that mean something outside of it, where in is named already.
func free(n syntax.Node, in names, visit func(*syntax.Name)) {
	s := &scopes{visit: func(n *syntax.Name, _ bool) {
		if n.Text != "true" && n.Text != "false" && n.Text != "null" {
			visit(n)
		}
	}}
	s.node(n, in)
}

// readOf is the first name of a member of a component that a piece of text reads, or nil.
func readOf(c *design.Component, n syntax.Node) (first *syntax.Name) {
	free(n, names{}, func(n *syntax.Name) {
		if first == nil && c.Member(n.Text) != nil {
			first = n
		}
	})
	return first
}
