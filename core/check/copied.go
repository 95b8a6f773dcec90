package check

import (
	"lien/core/design"
	"lien/core/types"
)

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
