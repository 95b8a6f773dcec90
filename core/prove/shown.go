package prove

import (
	"lien/core/design"
	"lien/core/engine"
	"lien/core/types"
	"lien/core/value"
)

// What is only shown, and cannot fail, is not worked out again by a proof. It takes from
// the budget of a turn, though: with it, the turn could fail. So a bound is kept on what
// all of it takes; where that does not fit beside what the largest turn took, all is done
// once more, and all is worked out.

// skipped is what that bound is made of. It grows as the proof goes on.
type skipped struct {
	pieces int            // the most that a page had
	left   *design.Budget // by the turn that took most; nil before there was one
	cells  value.Sizes    // of what is kept, and of constants

	written *value.Sizes // of what stands in the design, once asked for

	of    value.Sizes // for which the bound was worked out last
	steps float64     // of any piece then
	bytes float64     // that a step makes then
}

// see takes the page as it is into account.
func (s *skipped) see(e *engine.Engine) {
	s.pieces = max(s.pieces, e.Pieces())
	left := e.Left()
	if s.left != nil {
		left = design.Budget{Steps: min(left.Steps, s.left.Steps), Bytes: min(left.Bytes, s.left.Bytes)}
	}
	s.left = &left
	s.cells = s.cells.Or(e.Sizes())
}

// tooMuch says whether what is only shown may be too large, or take more than there is.
func (s *skipped) tooMuch(p *prover) bool {
	p.mu.Lock()
	defer p.mu.Unlock()
	if s.left == nil || p.o.Disabled[passLazy.Name] {
		return false
	}
	sizes := s.cells.Or(p.pool.Sizes())
	if sizes.Large() {
		return true
	}
	if s.written == nil {
		s.written = new(written(p.d))
	}
	if sizes = sizes.Or(*s.written); sizes != s.of {
		var letters float64
		s.of = sizes
		s.steps, letters = p.risk().Effort(p.d, sizes)
		s.bytes = bytesOf(letters)
	}
	all := s.steps * float64(s.pieces)
	return all > float64(s.left.Steps) || all*s.bytes > float64(s.left.Bytes)
}

// bytesOf is how many bytes a step makes at most, where no text has more letters: a text
// of more than a kilobyte takes several steps, and what is no text is small.
func bytesOf(letters float64) float64 { return min(letters, 1024) + 256 }

// written are the sizes of what is written in a design: long texts, lists, and lists of
// so many items.
func written(d *design.Design) (s value.Sizes) {
	design.Visitor{Expr: func(x types.Expr) {
		switch x := x.(type) {
		case *types.Const:
			s = s.Or(value.SizesIn(x.Value))
		case *types.ListOf:
			s.List = max(s.List, len(x.Items))
		case *types.Builtin:
			if x.Name == "Array.from" {
				if n, ok := x.Args[0].(*types.Const); ok {
					if n, ok := n.Value.(value.Number); ok {
						s.List = max(s.List, int(min(n, 1e6)))
					}
				}
			}
		}
	}}.Design(d)
	return s
}
