package check

import (
	"lien/core/design"
	"lien/core/types"
)

// outdated is the first member that a cell's first value is worked out from and that changes, where
// nothing changes the cell; nil where there is none.
func (p *pass) outdated(m *design.Member) (from *design.Member) {
	if m.Copy || m.Init == nil || len(p.journey(m).Changed) > 0 || p.seeded(m) || m.Kind == design.Shares {
		return nil
	}
	types.Walk(m.Init.Expr, func(x types.Expr) bool {
		if r, ok := x.(*types.Ref); ok && from == nil {
			if s, ok := r.Symbol.(*design.Member); ok && (s.Kind == design.Takes || p.changes(r)) {
				from = s
			}
		}
		return from == nil
	})
	return from
}

// copied is the taken member that a cell's first value is a copy of, or a
// part of; nil where it is worked out in another way.
func (p *pass) copied(m *design.Member) *design.Member {
	e := m.Init.Expr
	for {
		switch x := e.(type) {
		case *types.Dot:
			e = x.X
			continue
		case *types.Binary:
			if x.Type() == types.Boolean {
				return nil
			}
			e = x.X
			continue
		case *types.Ref:
			if t, ok := x.Symbol.(*design.Member); ok && t.Kind == design.Takes {
				return t
			}
		}
		return nil
	}
}
