package prove

import (
	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// openText says whether a design does more with a text that users type than to
// store it, show it, pass it on and compare it with literals, and where.
// Texts that differ from all literals are then alike, so that one stands for
// all of them.
//
// What may hold a typed text is found to a fixed point: symbols and names of
// fields, the same in every instance.
func openText(d *design.Design) (where string, open bool) {
	t := &taint{d: d, holds: map[any]bool{}, shows: map[types.Expr]bool{}}
	for size := -1; size < len(t.holds); {
		size = len(t.holds)
		t.pass()
	}
	if len(t.holds) == 0 {
		return "", false
	}
	t.judging = true
	t.pass()
	if !t.at.Start.Valid() {
		return "", false
	}
	return d.Set.Position(t.at.Start).String(), true
}

// taint follows typed texts through a design.
type taint struct {
	d       *design.Design
	holds   map[any]bool        // a types.Symbol, or a field
	shows   map[types.Expr]bool // templates that are only shown
	judging bool
	at      source.Span
}

// field is the name of a record's field.
type field string

func (t *taint) pass() {
	v := design.Visitor{Node: t.node, Stmt: t.stmt, Expr: t.expr}
	for _, c := range t.d.Components {
		v.Component(c)
		for _, s := range c.Supplies {
			t.use(s.Use)
		}
	}
	walk := func(u *design.Unit) {
		types.Walk(u.Expr, func(x types.Expr) bool { t.expr(x); return true })
	}
	for _, f := range t.d.Functions {
		walk(&f.Unit)
	}
	for _, l := range t.d.Laws {
		for _, cl := range l.Clauses {
			walk(&cl.Unit)
		}
	}
}

// cut notes the first place at which more is done with a text.
func (t *taint) cut(at source.Span) {
	if t.judging && (!t.at.Start.Valid() || at.Start < t.at.Start) {
		t.at = at
	}
}

// node propagates along the links of a node.
func (t *taint) node(n design.Node) {
	switch n := n.(type) {
	case *design.Text:
		t.shows[n.Unit.Expr] = true
	case *design.Element:
		t.element(n)
	case *design.Each:
		if t.typed(n.List.Expr) {
			t.holds[n.Item] = true
		}
		if n.By != nil && t.typed(n.By.Expr) {
			t.cut(n.By.Expr.Span())
		}
	case *design.Use:
		t.use(n)
	case *design.SlotPlace:
		for i := range n.Data {
			if t.typed(n.Data[i].Expr) {
				t.holds[slotData(n.Names[i])] = true
			}
		}
	}
}

// slotData is what is handed out under a name, by any slot.
type slotData string

func (t *taint) element(n *design.Element) {
	for _, a := range n.Attrs {
		switch a.Name {
		case "id", "for", "name", "value", "list", "aria-labelledby", "aria-controls", "aria-describedby":
		default:
			t.shows[a.Unit.Expr] = true
		}
	}
	if n.Tag != "input" && n.Tag != "textarea" {
		return
	}
	for _, tie := range n.Ties {
		if tie.Name == "value" {
			t.write(tie.Write)
		}
	}
	for _, a := range n.Attrs {
		if c, ok := a.Unit.Expr.(*types.Const); ok && a.Name == "name" {
			if s, ok := c.Value.(value.String); ok {
				t.holds[field(s)] = true // as a value of its form
			}
		}
	}
}

func (t *taint) use(n *design.Use) {
	for _, list := range [][]*design.Given{n.Links, n.Ties, n.Seeds} {
		for _, l := range list {
			if t.typed(l.Unit.Expr) {
				t.holds[l.Member] = true
			}
			if l.Place != nil && t.holds[l.Member] {
				t.write(l.Place)
			}
		}
	}
	for _, f := range n.Fills {
		for _, p := range f.Params {
			if t.holds[slotData(p.Label)] {
				t.holds[p] = true
			}
		}
	}
}

// write notes that a place may hold a typed text.
func (t *taint) write(p *design.Place) {
	for i := len(p.Steps) - 1; i >= 0; i-- {
		if p.Steps[i].Field != "" {
			t.holds[field(p.Steps[i].Field)] = true
			return
		}
	}
	t.holds[p.Root] = true
	if m, ok := p.Root.(*design.Member); ok && m.Body != nil && len(m.Body.Params) > 0 {
		t.holds[m.Body.Params[0]] = true // of a set
	}
}

func (t *taint) give(args []types.Expr, params []*types.Local) {
	for i, a := range args {
		if i < len(params) && t.typed(a) {
			t.holds[params[i]] = true
		}
	}
}

func (t *taint) stmt(s design.Stmt) {
	switch s := s.(type) {
	case *design.Assign:
		if t.typed(s.Value) {
			t.write(s.Place)
		}
	case *design.Let:
		if t.typed(s.Value) {
			t.holds[s.Local] = true
		}
	case *design.For:
		if t.typed(s.List) {
			t.holds[s.Local] = true
		}
	case *design.Emit:
		t.report(s.Event, s.Args)
	case *design.Leave:
		if s.Event != nil {
			t.report(s.Event, s.Args)
		}
	case *design.Do:
		t.call(s)
	case *design.Clock:
		t.forbid(s.Args)
		if !s.Stop && s.Timer.Body != nil {
			t.give(s.Args, s.Timer.Body.Params)
		}
	case *design.Ask:
		t.forbid(s.Args)
	case *design.Open:
		t.use(s.Use)
	case *design.Send:
		for _, c := range t.d.Components {
			for _, h := range c.Hearings {
				if h.Channel == s.Channel {
					t.give(s.Args, h.Body.Params)
				}
			}
		}
	}
}

// forbid: what tells timers and questions apart is compared in full.
func (t *taint) forbid(args []types.Expr) {
	for _, a := range args {
		if t.typed(a) {
			t.cut(a.Span())
		}
	}
}

// report gives the arguments of an event to all who listen to it.
func (t *taint) report(m *design.Member, args []types.Expr) {
	v := design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok {
			for _, h := range u.Handlers {
				if h.Event == m {
					t.give(args, h.Body.Params)
				}
			}
		}
	}, Stmt: func(s design.Stmt) {
		if o, ok := s.(*design.Open); ok {
			for _, h := range o.Use.Handlers {
				if h.Event == m {
					t.give(args, h.Body.Params)
				}
			}
		}
	}}
	for _, c := range t.d.Components {
		v.Component(c)
		for _, o := range c.Members {
			for _, h := range o.Hears {
				if h.Event == m {
					t.give(args, h.Body.Params)
				}
			}
		}
	}
}

// call gives arguments to an action. A function that was handed down may be
// any action that takes as many.
func (t *taint) call(s *design.Do) {
	var called *design.Member
	switch f := s.Fun.(type) {
	case *types.Ref:
		called, _ = f.Symbol.(*design.Member)
	case *types.Select:
		called, _ = f.Member.(*design.Member)
	}
	if called != nil && called.Body != nil {
		t.give(s.Args, called.Body.Params)
		return
	}
	for _, c := range t.d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Action && m.Body != nil && len(m.Body.Params) >= len(s.Args) {
				t.give(s.Args, m.Body.Params)
			}
		}
	}
}

// typed says whether a value may be, or list, a text that was typed.
func (t *taint) typed(x types.Expr) bool {
	switch x := x.(type) {
	case *types.Ref:
		if m, ok := x.Symbol.(*design.Member); ok && m.Kind == design.Derives && !m.Call {
			return t.typed(m.Init.Expr)
		}
		if f, ok := x.Symbol.(*design.Function); ok && !f.Syntax.Call {
			return t.typed(f.Unit.Expr)
		}
		return t.holds[x.Symbol]
	case *types.Select:
		if m, ok := x.Member.(*design.Member); ok && m.Kind == design.Derives && !m.Call {
			return t.typed(m.Init.Expr)
		}
		return t.holds[x.Member]
	case *types.Dot:
		return t.holds[field(x.Name)] || x.Name == "value" && isEvent(x.X)
	case *types.At:
		return t.typed(x.X)
	case *types.Cond:
		return t.typed(x.X) || t.typed(x.Y)
	case *types.Binary:
		return x.Op != syntax.Equal && x.Op != syntax.NotEqual && (t.typed(x.X) || t.typed(x.Y))
	case *types.Template:
		return t.anyTyped(x.Exprs)
	case *types.ListOf:
		for _, it := range x.Items {
			if t.typed(it.X) {
				return true
			}
		}
	case *types.Method:
		return t.typed(x.Recv) || t.anyTyped(x.Args)
	case *types.Builtin:
		return t.anyTyped(x.Args)
	case *types.Lambda:
		return t.typed(x.Body)
	case *types.Apply:
		return t.applied(x)
	}
	return false
}

func (t *taint) anyTyped(list []types.Expr) bool {
	for _, x := range list {
		if t.typed(x) {
			return true
		}
	}
	return false
}

func (t *taint) applied(x *types.Apply) bool {
	switch f := x.Fun.(type) {
	case *types.Ref:
		switch s := f.Symbol.(type) {
		case *design.Function:
			t.give(x.Args, s.Params)
			return t.typed(s.Unit.Expr)
		case *design.Member:
			if s.Call {
				t.give(x.Args, s.Args)
				return t.typed(s.Init.Expr)
			}
		}
	case *types.Select:
		if m, ok := f.Member.(*design.Member); ok && m.Call {
			t.give(x.Args, m.Args)
			return t.typed(m.Init.Expr)
		}
	}
	return t.anyTyped(x.Args)
}

func isEvent(x types.Expr) bool {
	r, ok := types.Under(x.Type()).(*types.Record)
	if !ok {
		return false
	}
	for _, f := range r.Fields {
		if f.Name == "shiftKey" {
			return true
		}
	}
	return false
}

// expr propagates into records and callbacks, and judges what is done.
func (t *taint) expr(x types.Expr) {
	switch x := x.(type) {
	case *types.RecordOf:
		for i, v := range x.Values {
			if x.Names[i] != "" && t.typed(v) {
				t.holds[field(x.Names[i])] = true
			}
		}
	case *types.Method:
		t.method(x)
	case *types.Binary:
		t.binary(x)
	case *types.Template:
		if !t.shows[x] && t.anyTyped(x.Exprs) {
			t.cut(x.Span())
		}
	case *types.Builtin:
		if t.anyTyped(x.Args) && x.Name != "was" {
			t.cut(x.Span())
		}
	case *types.Apply:
		t.applied(x)
	}
}

func (t *taint) method(x *types.Method) {
	_, list := types.Under(types.NonNull(x.Recv.Type())).(*types.List)
	for _, a := range x.Args {
		if l, ok := a.(*types.Lambda); ok {
			if t.typed(x.Recv) && len(l.Params) > 0 {
				t.holds[l.Params[0]] = true
			}
			continue
		}
		if t.typed(a) {
			t.cut(x.Span())
		}
	}
	if !t.typed(x.Recv) {
		return
	}
	switch x.Name {
	case "map", "filter", "find", "findLast", "findIndex", "some", "every", "slice", "at", "concat", "toReversed", "length", "flatMap":
		if list {
			return
		}
	case "join":
		if t.shows[x] {
			return
		}
	}
	t.cut(x.Span())
}

// binary: a typed text may be compared with literals, for being the same.
func (t *taint) binary(x *types.Binary) {
	a, b := t.typed(x.X), t.typed(x.Y)
	_, constX := x.X.(*types.Const)
	_, constY := x.Y.(*types.Const)
	switch x.Op {
	case syntax.And, syntax.Or, syntax.Coalesce:
		return
	case syntax.Equal, syntax.NotEqual:
		if (a || b) && !constX && !constY {
			t.cut(x.Span())
		}
		if !constX && !constY && (t.inside(x.X.Type()) || t.inside(x.Y.Type())) {
			t.cut(x.Span())
		}
	default:
		if a || b {
			t.cut(x.Span())
		}
	}
}

// inside says whether values of a type have fields that may hold a typed text.
func (t *taint) inside(typ types.Type) bool {
	switch u := types.Under(types.NonNull(typ)).(type) {
	case *types.List:
		return t.inside(u.Elem)
	case *types.Record:
		for _, f := range u.Fields {
			if t.holds[field(f.Name)] {
				return true
			}
		}
	}
	return false
}
