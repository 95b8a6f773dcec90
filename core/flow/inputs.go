package flow

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// Inputs are the texts and numbers that tell apart what a design does with
// what users type or set: those that it is compared with.
type Inputs struct {
	g      *Graph
	fields map[*design.Element]*Compared
	other  string // a text that stands nowhere in the design
	places []types.Expr
	rises  bool // some element asks the events of fields in it for their values
}

// Compared are the values that the value of one field is compared with.
type Compared struct {
	Texts   []string
	Numbers []float64
}

// Inputs of a design, field by field as they are asked for.
func (g *Graph) Inputs() *Inputs {
	in := &Inputs{g: g, fields: map[*design.Element]*Compared{}}
	texts := map[string]bool{}
	v := design.Visitor{Node: func(n design.Node) {
		if el, ok := n.(*design.Element); ok && len(el.Children) > 0 {
			in.rises = in.rises || asksEvents(el)
		}
	}, Expr: func(x types.Expr) {
		switch x := x.(type) {
		case *types.Binary, *types.Method:
			in.places = append(in.places, x)
		case *types.Const:
			if s, ok := x.Value.(value.String); ok {
				texts[string(s)] = true
			}
		}
	}}
	v.Design(g.Design)
	v.Laws(g.Design)
	for _, s := range []string{"a", "b", "other", "another"} {
		if !texts[s] {
			in.other = s
			break
		}
	}
	return in
}

// asksEvents says whether the handlers of an element ask an event for its value.
func asksEvents(el *design.Element) bool {
	asks := false
	for _, h := range el.Handlers {
		design.Visitor{Expr: func(x types.Expr) {
			d, ok := x.(*types.Dot)
			asks = asks || ok && d.Name == "value" && IsEvent(d.X)
		}}.Body(h.Body)
	}
	return asks
}

// Other is a text that no field is compared with.
func (in *Inputs) Other() string { return in.other }

// Of are the values that a field is compared with.
func (in *Inputs) Of(el *design.Element) *Compared {
	c := in.fields[el]
	if c == nil {
		c = &Compared{}
		in.fields[el] = c
		t := in.g.Taint(Typed(el), in.rises || asksEvents(el))
		for _, x := range in.places {
			for _, m := range t.met(x) {
				for _, v := range in.g.Origins(m.with) {
					if n, ok := v.(value.Number); ok && m.length {
						c.addLength(int(n))
					} else {
						c.add(v)
					}
				}
			}
		}
		slices.Sort(c.Numbers)
	}
	return c
}

// meeting is what such a value, or its length, is compared or reckoned with.
type meeting struct {
	with   types.Expr
	length bool
}

// lengthOf says whether an expression is the length of a text.
func lengthOf(x types.Expr) bool {
	m, ok := x.(*types.Method)
	return ok && m.Name == "length" && types.Assignable(m.Recv.Type(), types.String)
}

// met is what such a value meets at one place.
func (t *Taint) met(x types.Expr) (list []meeting) {
	switch x := x.(type) {
	case *types.Binary:
		switch x.Op {
		case syntax.And, syntax.Or, syntax.Coalesce:
			return nil
		}
		if isKey(x.X) || isKey(x.Y) {
			return nil
		}
		a, b := t.In(x.X), t.In(x.Y)
		if a {
			list = append(list, meeting{x.Y, lengthOf(x.X)})
		}
		if b {
			list = append(list, meeting{x.X, lengthOf(x.Y)})
		}
	case *types.Method:
		in := t.In(x.Recv)
		for _, a := range x.Args {
			if _, arrow := a.(*types.Lambda); arrow {
				continue
			}
			if in {
				list = append(list, meeting{a, false})
			} else if t.In(a) {
				list = append(list, meeting{x.Recv, false})
			}
		}
	}
	return list
}

// isKey says whether an expression is the key of an event.
func isKey(x types.Expr) bool {
	d, ok := x.(*types.Dot)
	return ok && d.Name == "key" && IsEvent(d.X)
}

// mostLetters is how long a text is typed to have a length that is asked for.
const mostLetters = 64

// addLength adds texts on both sides of a length.
func (c *Compared) addLength(n int) {
	for _, k := range []int{n - 1, n, n + 1} {
		if k > 0 && k <= mostLetters {
			c.add(value.String(strings.Repeat("a", k)))
		}
	}
}

func (c *Compared) add(v value.Value) {
	switch v := v.(type) {
	case value.String:
		if !slices.Contains(c.Texts, string(v)) {
			c.Texts = append(c.Texts, string(v))
		}
	case value.Number:
		if !slices.Contains(c.Numbers, float64(v)) {
			c.Numbers = append(c.Numbers, float64(v))
		}
	}
}

// IsNumber says whether an element is a field for numbers, by the text.
func IsNumber(el *design.Element) bool {
	for _, a := range el.Attrs {
		if kind, ok := Text(a.Unit.Expr); ok && a.Name == "type" {
			return el.Tag == "input" && (kind == "number" || kind == "range")
		}
	}
	return false
}

// IsText says whether a user may type any text into an element, as far as the
// design's text tells.
func IsText(el *design.Element) bool {
	if el.Tag == "textarea" {
		return true
	}
	if el.Tag != "input" {
		return false
	}
	for _, a := range el.Attrs {
		if kind, ok := Text(a.Unit.Expr); ok && a.Name == "type" {
			switch kind {
			case "checkbox", "radio", "button", "submit", "reset", "image", "hidden", "range", "number":
				return false
			}
		}
	}
	return true
}

// Open are the places at which a design does more with what users type into
// its fields than to store it, show it, pass it on and compare it with values
// that are known. At such a place two values may differ that are alike at all
// others, so that those that are typed do not stand for all. The places are in
// text order.
func (g *Graph) Open(numbers bool) []source.Span {
	var from []Var
	fields := 0
	shows := map[types.Expr]bool{}
	v := design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Text:
			shows[n.Unit.Expr] = true
		case *design.Element:
			for _, a := range n.Attrs {
				shows[a.Unit.Expr] = shows[a.Unit.Expr] || onlyShows(a.Name)
			}
			if numbers && IsNumber(n) || !numbers && IsText(n) {
				fields++
				from = append(from, Typed(n)...)
			}
		}
	}}
	v.Design(g.Design)
	if fields == 0 {
		return nil
	}
	j := &judge{t: g.Taint(from, !numbers), shows: shows, numbers: numbers}
	v = design.Visitor{Node: j.node, Stmt: j.stmt, Expr: j.expr}
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
		if j.t.any(x.Args) && x.Name != "was" {
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

// Exact says whether a value is always one of the Origins of its expression, so
// that all that it can be is known. (Whether users type it is for Taint to say.)
func (g *Graph) Exact(x types.Expr) bool { return g.exact(x, map[Var]bool{}) }

func (g *Graph) exact(x types.Expr, seen map[Var]bool) bool {
	switch x := x.(type) {
	case *types.Const:
		return true
	case *types.Ref:
		return g.exactVar(x.Symbol, seen)
	case *types.Select:
		return g.exactVar(x.Member, seen)
	case *types.Dot:
		return g.exact(x.X, seen) && (seen[Field(x.Name)] || g.exactField(x.Name, seen))
	case *types.At:
		return g.exact(x.X, seen)
	case *types.Cond:
		return g.exact(x.X, seen) && g.exact(x.Y, seen)
	case *types.Unary:
		return isConst(x.X)
	case *types.Binary:
		return x.Op == syntax.Coalesce && g.exact(x.X, seen) && g.exact(x.Y, seen)
	case *types.ListOf:
		for _, it := range x.Items {
			if !g.exact(it.X, seen) {
				return false
			}
		}
		return true
	case *types.RecordOf: // its fields are judged by their names
		return true
	case *types.Method:
		switch x.Name {
		case "filter", "slice", "at", "find", "findLast", "toReversed", "toSorted":
			return g.exact(x.Recv, seen)
		case "concat":
			return g.exact(x.Recv, seen) && !slices.ContainsFunc(x.Args, func(a types.Expr) bool { return !g.exact(a, seen) })
		case "map":
			l, ok := x.Args[0].(*types.Lambda)
			return ok && g.exact(x.Recv, seen) && g.exact(l.Body, seen)
		}
	case *types.Apply:
		for _, f := range g.Callees(x.Fun, len(x.Args)) {
			if !g.exactVar(f, seen) {
				return false
			}
		}
		return true
	}
	return false
}

func (g *Graph) exactField(name string, seen map[Var]bool) bool {
	seen[Field(name)] = true
	return g.exactSources(Field(name), seen)
}

func (g *Graph) exactVar(v Var, seen map[Var]bool) bool {
	if seen[v] {
		return true
	}
	seen[v] = true
	if k, ok := v.(*design.Const); ok && k.Data != nil {
		return true
	}
	return len(g.into[v]) > 0 && g.exactSources(v, seen)
}

func (g *Graph) exactSources(v Var, seen map[Var]bool) bool {
	for _, s := range g.into[v] {
		if s.Expr != nil && !g.exact(s.Expr, seen) || s.Expr == nil && !g.exactVar(s.Var, seen) {
			return false
		}
	}
	return true
}
