package prove

import (
	"fmt"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/flow"
	"lien/core/source"
)

// blindSpots are what no search can visit whole: all texts and numbers that
// could be typed, where a design does more with them than to store, show and
// compare them with what is known; and the time of day.
func (p *prover) blindSpots() []string {
	var list []string
	g := flow.Of(p.d)
	if at := g.Open(false); len(at) > 0 {
		list = append(list, fmt.Sprintf("samples: texts other than those typed, since %s more with them than to compare them with what is known", p.places(at)))
	}
	if at := g.Open(true); len(at) > 0 {
		list = append(list, fmt.Sprintf("samples: other numbers than those set, since %s more with them than to compare them with what is known", p.places(at)))
	}
	clock := false
	design.Visitor{Effect: func(e design.Effect) { clock = clock || e.Kind == design.Tells }}.Design(p.d)
	if clock {
		list = append(list, "clock: now() reads the same throughout")
	}
	return list
}

// places names the first of some places, and how many others there are.
func (p *prover) places(at []source.Span) string {
	first := p.d.Set.Position(at[0].Start).String()
	if len(at) == 1 {
		return first + " does"
	}
	return fmt.Sprintf("%s and %s do", first, finding.Count(len(at)-1, "other place"))
}
