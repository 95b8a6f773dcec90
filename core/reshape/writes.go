package reshape

import (
	"fmt"
	"strings"

	"lien/core/design"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// How a cell is changed, in the text, and how each change is written another way.

// write is a statement that changes a cell.
type write struct {
	stmt  *syntax.AssignStmt
	place *design.Place
}

// writesOf are the statements of a cell's component that change it, in the order of the text.
func (w *draft) writesOf(m *design.Member) (list []write) {
	at := w.assignsIn(m.Owner)
	design.Visitor{Effect: func(e design.Effect) {
		if e.Kind == design.Writes && e.Place != nil && e.Place.Root == types.Symbol(m) {
			if s := at[e.At.Span()]; s != nil {
				list = append(list, write{s, e.Place})
			}
		}
	}}.Component(m.Owner)
	return list
}

// assignsIn are the assignments in a component by their places.
func (w *draft) assignsIn(c *design.Component) map[source.Span]*syntax.AssignStmt {
	at := map[source.Span]*syntax.AssignStmt{}
	syntax.Walk(c.Syntax, func(n syntax.Node) bool {
		if s, ok := n.(*syntax.AssignStmt); ok {
			at[s.Span()] = s
		}
		return true
	})
	return at
}

// newValue is what the whole cell is after a write, as an expression.
func (w *draft) newValue(wr write) string {
	s := wr.stmt
	value := w.text(s.Value)
	if s.Op != syntax.Assign {
		op := " + "
		if s.Op == syntax.MinusAssign {
			op = " - "
		}
		value = w.text(s.Target) + op + inParens(s.Value, value)
	}
	return updated(w.text(root(s.Target)), wr.place.Steps, w.indexes(s.Target), value)
}

// root is the name that a path begins with.
func root(e syntax.Expr) syntax.Expr {
	for {
		switch x := e.(type) {
		case *syntax.Dotted:
			e = x.X
		case *syntax.Index:
			e = x.X
		case *syntax.Paren:
			e = x.X
		default:
			return e
		}
	}
}

// indexes are the texts of the indexes in a path, the first one first.
func (w *draft) indexes(e syntax.Expr) (list []string) {
	syntax.Walk(e, func(n syntax.Node) bool {
		if i, ok := n.(*syntax.Index); ok {
			list = append([]string{w.text(i.I)}, list...)
		}
		return true
	})
	return list
}

// updated is a value in which a part is another, as an expression: { ...form, name: value }.
func updated(whole string, steps []design.PlaceStep, indexes []string, value string) string {
	if len(steps) == 0 {
		return value
	}
	if steps[0].Field != "" {
		field := steps[0].Field
		inner := updated(whole+"."+field, steps[1:], indexes, value)
		if inner == field {
			return "{ ..." + whole + ", " + field + " }"
		}
		return "{ ..." + whole + ", " + field + ": " + inner + " }"
	}
	inner := updated("x", steps[1:], indexes[1:], value)
	inner = strings.ReplaceAll(inner, whole+"["+indexes[0]+"]", "x")
	return fmt.Sprintf("%s.map((x, at) => at == %s ? %s : x)", whole, indexes[0], inner)
}

// tiesOf are the ties of a component's view to a cell of its own: on elements, and to what its children share.
func (w *draft) tiesOf(m *design.Member) (elements []*design.Tie, children []*design.Given, owners []*design.Element) {
	design.Visitor{Node: func(n design.Node) {
		switch n := n.(type) {
		case *design.Element:
			for _, t := range n.Ties {
				if t.Write != nil && t.Write.Cell() == m {
					elements, owners = append(elements, t), append(owners, n)
				}
			}
		case *design.Use:
			for _, t := range n.Ties {
				if t.Place != nil && t.Place.Cell() == m {
					children = append(children, t)
				}
			}
		}
	}}.Component(m.Owner)
	return elements, children, owners
}

// throughItems says where an item of a list that is the cell, or a part of it, is written.
func (w *draft) throughItems(m *design.Member) (at source.Span, ok bool) {
	design.Visitor{Effect: func(e design.Effect) {
		if e.Kind == design.Writes && e.Place != nil && e.Place.Root != types.Symbol(m) && e.Place.Cell() == m && !ok {
			at, ok = e.At.Span(), true
		}
	}}.Component(m.Owner)
	return at, ok
}
