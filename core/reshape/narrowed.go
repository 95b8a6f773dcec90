package reshape

import (
	"slices"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// What a part reads of a list, of its own item alone, is worked out where it is used: a card is handed whether it is
// chosen, and not which one is, to compare that with its own key.

// narrow hands in expressions in place of the members that they read, where the part reads a member in one and the
// same expression everywhere, and that reads an item around the part besides.
func (x *extraction) narrow() {
	var done []source.Span
	for i, t := range x.takes {
		m := x.c.Member(t.name)
		if m == nil || m.Kind == design.Action {
			continue
		}
		if types.Nullable(m.Type()) && x.neverNull(t.name) {
			x.takes[i].typ = types.NonNull(types.Widen(m.Type())).String()
		}
		sites := x.sites(t.name)
		if len(sites) == 0 || x.rewritten(sites) {
			continue
		}
		typ := x.exprType(sites[0].Span())
		if typ == nil {
			continue
		}
		x.takes[i].given, x.takes[i].typ = x.text(sites[0]), types.Widen(typ).String()
		for _, s := range sites {
			x.inner = append(x.inner, textAt{s.Span(), t.name})
			done = append(done, s.Span())
		}
	}
	x.takes = slices.DeleteFunc(x.takes, func(t taken) bool { // what only these expressions read
		return t.given == t.name && len(x.readAt[t.name]) > 0 && !slices.ContainsFunc(x.readAt[t.name], func(at source.Pos) bool {
			return !slices.ContainsFunc(done, func(s source.Span) bool { return s.Start <= at && at < s.End })
		})
	})
}

// neverNull says whether a value was tested around the part, so that it is not null wherever the part reads it.
func (x *extraction) neverNull(name string) bool {
	for _, at := range x.readAt[name] {
		t := x.exprType(source.Span{Start: at, End: at + source.Pos(len(name))})
		if t == nil || types.Nullable(t) {
			return false
		}
	}
	return len(x.readAt[name]) > 0
}

// sites are the expressions in which a member is read, the largest that read the same everywhere; nil where they differ.
func (x *extraction) sites(name string) (sites []syntax.Node) {
	var ways [][]syntax.Node
	for _, at := range x.readAt[name] {
		way := x.candidates(at)
		if len(way) == 0 {
			return nil
		}
		ways = append(ways, way)
	}
	for level := 0; ; level++ {
		var now []syntax.Node
		for _, way := range ways {
			if level >= len(way) || x.text(way[level]) != x.text(ways[0][level]) {
				return sites
			}
			now = append(now, way[level])
		}
		if len(now) == 0 {
			return nil
		}
		sites = now
	}
}

// candidates are the expressions around a name that read an item around the part, and nothing that the part names,
// the smallest first.
func (x *extraction) candidates(at source.Pos) (list []syntax.Node) {
	path := syntax.PathAt(x.fileAt(at), at)
	if _, ok := path[len(path)-1].(*syntax.Name); !ok {
		return nil
	}
	for i := len(path) - 2; i >= 0; i-- {
		switch path[i].(type) {
		case *syntax.Dotted, *syntax.Index, *syntax.Call, *syntax.Binary, *syntax.Unary:
			if x.ofOneItem(path[i], path[:i]) {
				list = append(list, path[i])
			}
		case *syntax.Paren, *syntax.Arrow, *syntax.Cond, *syntax.ListLit, *syntax.RecordLit:
		default:
			return list
		}
	}
	return list
}

// ofOneItem says whether an expression reads an item around the part, and else what stays alone.
func (x *extraction) ofOneItem(e syntax.Node, above []syntax.Node) bool {
	item, other := false, false
	free(e, names{}, func(n *syntax.Name) {
		m := x.c.Member(n.Text)
		_, around := x.around[n.Text]
		switch {
		case x.namedIn(above, n.Text):
			other = true
		case around:
			item = true
		case m != nil:
			other = other || x.moving[m] || m.Kind == design.Action || m.Kind == design.Named || m.Kind == design.Used || m.Kind == design.Supplied
		}
	})
	return item && !other
}

// namedIn says whether something in the part, around an expression, gives a name.
func (x *extraction) namedIn(above []syntax.Node, name string) bool {
	for _, n := range above {
		if !x.inside(n.Span().Start) && !x.movesWith(n) {
			continue
		}
		var words []*syntax.Word
		switch n := n.(type) {
		case *syntax.Each:
			words = []*syntax.Word{n.Var, n.Index}
		case *syntax.Fill:
			words = params(n.Params)
		case *syntax.Event:
			words = params(n.Params)
		case *syntax.Arrow:
			words = params(n.Params)
		case *syntax.For:
			words = []*syntax.Word{n.Var}
		case *syntax.Derives:
			words = params(n.Params)
		case *syntax.Action:
			words = params(n.Params)
		case *syntax.Block:
			for _, s := range n.Stmts {
				if c, ok := s.(*syntax.ConstDecl); ok {
					words = append(words, c.Name)
				}
			}
		}
		if slices.ContainsFunc(words, func(w *syntax.Word) bool { return w != nil && w.Text == name }) {
			return true
		}
	}
	return false
}

// movesWith says whether a node is in a member that moves along.
func (x *extraction) movesWith(n syntax.Node) bool {
	return slices.ContainsFunc(x.order, func(m *design.Member) bool {
		s := m.Syntax.Span()
		return s.Start <= n.Span().Start && n.Span().End <= s.End
	})
}

// rewritten says whether what is to be replaced is written anew already.
func (x *extraction) rewritten(sites []syntax.Node) bool {
	return slices.ContainsFunc(sites, func(n syntax.Node) bool {
		return slices.ContainsFunc(x.inner, func(t textAt) bool { return t.at.Start < n.Span().End && n.Span().Start < t.at.End })
	})
}

func (x *extraction) fileAt(at source.Pos) *syntax.File {
	for _, f := range x.d.Files {
		if f.Source == x.file(at) {
			return f
		}
	}
	return nil
}

// exprType is the type of the expression with this text place, or nil.
func (x *extraction) exprType(at source.Span) (t types.Type) {
	design.Visitor{Expr: func(e types.Expr) {
		if t == nil && e.Span() == at {
			t = e.Type()
		}
	}}.Component(x.c)
	return t
}
