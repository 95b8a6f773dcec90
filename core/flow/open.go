package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// Open are the places at which a design does more with what users type into
// its fields than to store it, show it, pass it on and compare it with values
// that are known. At such a place two values may differ that are alike at all
// others, so that those that are typed do not stand for all. The places are in
// text order.
func (g *Graph) Open(numbers bool) []source.Span {
	var from []Var
	fields := 0
	design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok && (numbers && IsNumber(el) || !numbers && IsText(el)) {
			fields++
			from = append(from, Typed(el)...)
		}
	}}.Design(g.Design)
	if fields == 0 {
		return nil
	}
	return g.openTo(g.Taint(from, !numbers), numbers)
}

// openTo are such places for values that some variables may hold.
func (g *Graph) openTo(t *Taint, numbers bool) []source.Span {
	shows := map[types.Expr]bool{}
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Text:
			shows[n.Unit.Expr] = true
		case *design.Element:
			for _, a := range n.Attrs {
				shows[a.Unit.Expr] = shows[a.Unit.Expr] || onlyShows(a.Name)
			}
		}
	}}.Design(g.Design)
	j := &judge{t: t, shows: shows, numbers: numbers}
	v := design.Visitor{Node: j.node, Stmt: j.stmt, Expr: j.expr}
	v.Design(g.Design)
	v.Laws(g.Design)
	slices.SortFunc(j.at, func(a, b source.Span) int { return int(a.Start) - int(b.Start) })
	return slices.Compact(j.at)
}

// onlyShows says whether an attribute is shown, and means nothing else.
func onlyShows(name string) bool {
	switch name {
	case "id", "for", "name", "value", "list", "aria-labelledby", "aria-controls", "aria-describedby", "min", "max", "step", "type", "href":
		return false
	}
	return true
}

// judge finds the places at which more is done.
type judge struct {
	t       *Taint
	shows   map[types.Expr]bool
	numbers bool
	at      []source.Span
}

func (j *judge) open(at source.Span) { j.at = append(j.at, at) }

func (j *judge) node(n design.Node) {
	if e, ok := n.(*design.Each); ok && e.By != nil && j.t.In(e.By.Expr) {
		j.open(e.By.Expr.Span())
	}
}

// stmt: what tells timers and questions apart is compared in full.
func (j *judge) stmt(s design.Stmt) {
	switch s := s.(type) {
	case *design.Clock:
		j.args(s.Args)
	case *design.Ask:
		j.args(s.Args)
	}
}

func (j *judge) args(args []types.Expr) {
	for _, a := range args {
		if j.t.In(a) {
			j.open(a.Span())
		}
	}
}

func (j *judge) expr(x types.Expr) {
	switch x := x.(type) {
	case *types.Method:
		j.method(x)
	case *types.Binary:
		j.binary(x)
	case *types.Unary:
		if x.Op == syntax.Minus && j.t.In(x.X) {
			j.open(x.Span())
		}
	case *types.At:
		if j.t.In(x.I) {
			j.open(x.Span())
		}
	case *types.Template:
		if !j.shows[x] && j.t.any(x.Exprs) {
			j.open(x.Span())
		}
	case *types.Builtin:
		if j.t.any(x.Args) && x.Name != "was" && x.Name != "ofKind" {
			j.open(x.Span())
		}
	}
}

func (j *judge) method(x *types.Method) {
	_, list := types.Under(types.NonNull(x.Recv.Type())).(*types.List)
	in := j.t.In(x.Recv)
	for _, a := range x.Args {
		if _, arrow := a.(*types.Lambda); arrow || !j.t.In(a) {
			continue
		}
		if known := list && (x.Name == "includes" || x.Name == "indexOf") && !in && j.t.g.Exact(x.Recv); !known {
			j.open(x.Span())
		}
	}
	if !in {
		return
	}
	switch x.Name {
	case "map", "filter", "find", "findLast", "findIndex", "some", "every", "slice", "at", "concat", "toReversed", "length", "flatMap":
		if list {
			return
		}
	case "join", "toFixed":
		if j.shows[x] {
			return
		}
	}
	j.open(x.Span())
}

// binary: what is typed may be compared with what is known.
func (j *judge) binary(x *types.Binary) {
	a, b := j.t.In(x.X), j.t.In(x.Y)
	switch x.Op {
	case syntax.And, syntax.Or, syntax.Coalesce:
		return
	case syntax.Equal, syntax.NotEqual:
		if a && b || a && !j.t.g.Exact(x.Y) || b && !j.t.g.Exact(x.X) {
			j.open(x.Span())
			return
		}
		if !isConst(x.X) && !isConst(x.Y) && (j.t.Inside(x.X.Type()) || j.t.Inside(x.Y.Type())) {
			j.open(x.Span())
		}
	case syntax.Less, syntax.LessEq, syntax.Greater, syntax.GreaterEq:
		known := j.numbers && (a != b) && (a && j.t.g.Exact(x.Y) || b && j.t.g.Exact(x.X))
		if (a || b) && !known {
			j.open(x.Span())
		}
	default:
		if a || b {
			j.open(x.Span())
		}
	}
}

func isConst(x types.Expr) bool {
	_, ok := x.(*types.Const)
	return ok
}
