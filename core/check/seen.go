package check

import (
	"lien/core/design"
	"lien/core/types"
)

// seen is what a design shows and does, from one walk for all rules, in the order of the text.
type seen struct {
	nodes []design.Node
	lists []listed
	tests []types.Expr                          // what compares, and what a method works out
	does  []design.Effect                       // but what is read and reported, and what may fail
	read  map[types.Symbol]bool                 // constants and functions
	by    map[*design.Component][]design.Effect // what each component does, of these
}

// listed is an each, and the component that shows it.
type listed struct {
	by   *design.Component
	each *design.Each
}

func seenIn(d *design.Design) *seen {
	s := &seen{read: map[types.Symbol]bool{}, by: map[*design.Component][]design.Effect{}}
	var in *design.Component
	v := design.Visitor{
		Node: func(n design.Node) {
			s.nodes = append(s.nodes, n)
			if e, ok := n.(*design.Each); ok {
				s.lists = append(s.lists, listed{in, e})
			}
		},
		Expr: func(x types.Expr) {
			switch x.(type) {
			case *types.Binary, *types.Method:
				s.tests = append(s.tests, x)
			}
		},
		Effect: func(e design.Effect) {
			switch e.Kind {
			case design.Reads:
				switch e.Symbol.(type) {
				case *design.Const, *design.Function:
					s.read[e.Symbol] = true
				}
			case design.Reports, design.Fails:
			default:
				s.does = append(s.does, e)
			}
		},
	}
	v.Outside(d)
	for _, c := range d.Components {
		in = c
		from := len(s.does)
		v.Component(c)
		s.by[c] = s.does[from:]
	}
	return s
}
