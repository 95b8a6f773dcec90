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

// TwinsIn finds them, in text order. heard gives the bodies that run when an event is reported.
func TwinsIn(d *design.Design, heard func(event *design.Member) []*design.Body) (list []Twins) {
	g := twinning{d, heard}
	d.Bodies(func(b *design.Body) { list = g.twins(b.Stmts, list) })
	return list
}

// twinning looks for twins.
type twinning struct {
	design *design.Design
	heard  func(*design.Member) []*design.Body
}

// twins finds them among statements that run one after the other, and in those.
func (g twinning) twins(stmts []design.Stmt, list []Twins) []Twins {
	var writes []*design.Assign
	for _, s := range stmts {
		switch s := s.(type) {
		case *design.Assign:
			if keeps(s) == nil || isConst(s.Value) {
				continue
			}
			for _, a := range writes {
				if keeps(a) != keeps(s) && g.same(a, s.Value) {
					list = append(list, Twins{keeps(a), keeps(s), a.Span(), s.Span()})
				}
			}
			writes = append(writes, s)
		case *design.If:
			list = g.twins(s.Else, g.twins(s.Then, list))
		case *design.For:
			list = g.twins(s.Body, list)
		}
	}
	for _, s := range stmts {
		if e, ok := s.(*design.Emit); ok {
			for _, a := range writes {
				list = g.reported(a, e, list)
			}
		}
	}
	return list
}

// reported adds those who keep what is reported of an assignment.
func (g twinning) reported(a *design.Assign, e *design.Emit, list []Twins) []Twins {
	for i, x := range e.Args {
		if !g.same(a, x) {
			continue
		}
		for _, h := range g.heard(e.Event) {
			for _, kept := range g.keepsParam(h, i, 0) {
				if keeps(kept) != keeps(a) {
					list = append(list, Twins{keeps(a), keeps(kept), a.Span(), kept.Span()})
				}
			}
		}
	}
	return list
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
func (g twinning) same(a *design.Assign, x types.Expr) bool {
	if ref, ok := x.(*types.Ref); ok && ref.Symbol == types.Symbol(keeps(a)) {
		return true
	}
	return !isConst(x) && g.design.Text(x.Span()) == g.design.Text(a.Value.Span())
}

// keepsParam are the assignments that keep a parameter of a body as it is, in
// it, or in the action that it is passed to.
func (g twinning) keepsParam(b *design.Body, i, depth int) (list []*design.Assign) {
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
					for _, h := range g.heard(s.Event) {
						list = append(list, g.keepsParam(h, at, depth+1)...)
					}
				}
			}
		}
	}}.Body(b)
	return list
}
