package flow

import (
	"lien/core/design"
	"lien/core/source"
	"lien/core/types"
)

// Twins are two cells that one handler sets to the same value: directly, or by
// reporting it to somebody who keeps it, too. The same truth is then held twice.
type Twins struct {
	A, B *design.Member
	At   source.Span // where A is set
	Also source.Span // where B is
}

// TwinsIn finds them, in text order.
func (g *Graph) TwinsIn() (list []Twins) {
	g.Design.Bodies(func(b *design.Body) {
		var writes []*design.Assign
		design.Visitor{Stmt: func(s design.Stmt) {
			if a, ok := s.(*design.Assign); ok && keeps(a) != nil && !isConst(a.Value) {
				writes = append(writes, a)
			}
		}, Enter: notOpened}.Body(b)
		for i, a := range writes {
			for _, o := range writes[i+1:] {
				if keeps(o) != keeps(a) && g.same(a, o.Value) {
					list = append(list, Twins{keeps(a), keeps(o), a.Span(), o.Span()})
				}
			}
		}
		design.Visitor{Effect: func(e design.Effect) {
			if e.Kind != design.Reports {
				return
			}
			for _, a := range writes {
				for i, x := range e.Args {
					if !g.same(a, x) {
						continue
					}
					for _, h := range g.Heard(e.Event) {
						for _, kept := range g.keepsParam(h, i, 0) {
							if keeps(kept) != keeps(a) {
								list = append(list, Twins{keeps(a), keeps(kept), a.Span(), kept.Span()})
							}
						}
					}
				}
			}
		}, Enter: notOpened}.Body(b)
	})
	return list
}

func notOpened(s design.Stmt) bool {
	_, opens := s.(*design.Open)
	return !opens
}

// keeps is the cell that an assignment sets as a whole, or nil.
func keeps(a *design.Assign) *design.Member {
	m, ok := a.Place.Root.(*design.Member)
	if !ok || len(a.Place.Steps) > 0 || !m.IsCell() || m.Copy || a.Read != nil {
		return nil
	}
	return m
}

// same says whether an expression gives what an assignment has set: it is
// written alike, or reads the cell.
func (g *Graph) same(a *design.Assign, x types.Expr) bool {
	if ref, ok := x.(*types.Ref); ok && ref.Symbol == types.Symbol(keeps(a)) {
		return true
	}
	return !isConst(x) && g.Design.Text(x.Span()) == g.Design.Text(a.Value.Span())
}

// keepsParam are the assignments that keep a parameter of a body as it is, in
// it, or in the action that it is passed to.
func (g *Graph) keepsParam(b *design.Body, i, depth int) (list []*design.Assign) {
	if i >= len(b.Params) || depth > 3 {
		return nil
	}
	param := types.Symbol(b.Params[i])
	is := func(x types.Expr) bool {
		ref, ok := x.(*types.Ref)
		return ok && ref.Symbol == param
	}
	design.Visitor{Stmt: func(s design.Stmt) {
		switch s := s.(type) {
		case *design.Assign:
			if keeps(s) != nil && is(s.Value) {
				list = append(list, s)
			}
		case *design.Do:
			for at, x := range s.Args {
				if m := (design.Effect{Fun: s.Fun}).Called(); is(x) && m != nil && m.Body != nil {
					list = append(list, g.keepsParam(m.Body, at, depth+1)...)
				}
			}
		case *design.Emit:
			for at, x := range s.Args {
				if is(x) {
					for _, h := range g.Heard(s.Event) {
						list = append(list, g.keepsParam(h, at, depth+1)...)
					}
				}
			}
		}
	}}.Body(b)
	return list
}
