package flow

import (
	"slices"

	"lien/core/design"
	"lien/core/syntax"
	"lien/core/types"
	"lien/core/value"
)

// Effort is a bound on the steps that working out any of the pieces takes that are only
// shown and harmless (engine/budget.go says what a step is), and on the letters of a text
// that is made on the way, where what they are made of has these sizes. It counts what is derived, linked and called each time that it
// is read, so that it does not matter what was worked out before.
func (r *Risks) Effort(d *design.Design, s value.Sizes) (steps, letters float64) {
	e := &effort{risks: r, text: 1, list: 1, parts: 1}
	e.most(d) // to see what there is
	e.parts = 1 + float64(s.Parts)/32
	e.text = float64(e.weight * max(s.Text, e.literal))
	if e.joins {
		e.text = maxText
	}
	if e.list = float64(max(s.List, e.weight)); e.spreads {
		e.list *= float64(e.weight)
	}
	return e.most(d), e.text
}

// effort works out such a bound.
type effort struct {
	risks *Risks
	of    map[types.Symbol]float64
	list  float64 // items of a list that may be made
	text  float64 // letters of a text that may be
	parts float64 // steps of comparing two values

	weight         int  // of how many values something is made
	literal        int  // how long a text of the design is
	spreads, joins bool // lists are made of several, texts of lists
}

// most is the most steps that a piece takes.
func (e *effort) most(d *design.Design) (steps float64) {
	e.of = map[types.Symbol]float64{}
	shown := func(x types.Expr) {
		if e.risks.Harmless(x) { // others are worked out in any case
			e.weight = max(e.weight, e.risks.weight(x))
			steps = max(steps, e.steps(x))
		}
	}
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Text:
			shown(n.Unit.Expr)
		case *design.Element:
			for _, a := range append(slices.Clone(n.Attrs), n.Marks...) {
				shown(a.Unit.Expr)
			}
		case *design.Use:
			for _, a := range n.Marks {
				shown(a.Unit.Expr)
			}
		}
	}}.Design(d)
	return steps
}

// maxText is how long a text may be: a join makes no longer one.
const maxText = 1_000_000

// sortFactor is how many times a list of a million items is gone through to be sorted.
const sortFactor = 20

// steps is what an expression takes with all that is in it.
func (e *effort) steps(x types.Expr) float64 {
	n := 0.0
	types.Walk(x, func(x types.Expr) bool {
		switch x := x.(type) {
		case *types.Method:
			n += e.method(x)
			return false
		case *types.Apply: // what is handed over may be called as often as anything in it
			args := 1.0
			for _, a := range x.Args {
				args += e.steps(a)
			}
			n += e.steps(x.Fun) * args
			return false
		}
		n += e.own(x)
		return true
	})
	return n
}

// own is what an expression takes besides its parts.
func (e *effort) own(x types.Expr) float64 {
	switch x := x.(type) {
	case *types.Const:
		if s, ok := x.Value.(value.String); ok {
			e.literal = max(e.literal, len(s))
		}
	case *types.Ref:
		return e.symbol(x.Symbol)
	case *types.Select:
		return e.symbol(x.Member)
	case *types.Template:
		for _, s := range x.Texts {
			e.literal = max(e.literal, len(s))
		}
		return 1 + e.text/1024
	case *types.Builtin:
		return 1 + e.text/1024
	case *types.ListOf:
		e.spreads = e.spreads || slices.ContainsFunc(x.Items, func(it types.Item) bool { return it.Spread })
		return 1 + e.list/8
	case *types.Binary:
		switch x.Op {
		case syntax.Plus:
			return 1 + e.text/1024
		case syntax.Equal, syntax.NotEqual:
			return 1 + e.parts
		}
	}
	return 1
}

// method is what a call of a method takes: those of lists go through all items, and do
// what they are given with each.
func (e *effort) method(m *types.Method) float64 {
	n, each := e.steps(m.Recv), 2.0
	for _, a := range m.Args {
		n += e.steps(a)
		each += e.steps(a)
	}
	if _, list := types.Under(types.Widen(types.NonNull(m.Recv.Type()))).(*types.List); !list {
		return n + 2 + e.text/64
	}
	switch m.Name {
	case "toSorted":
		each *= sortFactor
	case "includes", "indexOf":
		each += e.parts
	case "concat":
		e.spreads = true
	case "join":
		e.joins = true
	}
	return n + e.list*each
}

// symbol is what reading or calling a symbol takes.
func (e *effort) symbol(s types.Symbol) float64 {
	if n, ok := e.of[s]; ok {
		return n
	}
	e.of[s] = endless // of one that comes back to itself
	n := 1.0
	switch s := s.(type) {
	case *design.Member:
		if s.Init != nil && s.Init.Expr != nil && !s.IsCell() {
			n += e.steps(s.Init.Expr)
		}
		for _, x := range e.risks.linked[s] {
			n = max(n, 1+e.steps(x))
		}
	case *design.Function:
		n += e.steps(s.Unit.Expr)
	case *design.ViewLocal:
		if s.Each == nil {
			for _, x := range e.risks.handed {
				n = max(n, 1+e.steps(x))
			}
		}
	}
	e.of[s] = n
	return n
}

// endless is more than any budget.
const endless = 1e18
