package prove

import (
	"fmt"

	"lien/core/design"
)

// blindSpots are what no search can visit whole: all texts that could be
// typed, where a design does more with them than to store, show and compare
// them with literals; and the time of day.
func (p *prover) blindSpots() []string {
	var list []string
	if at, ok := openText(p.d); ok {
		list = append(list, fmt.Sprintf("samples: texts other than those typed, since %s does more with them than to compare them with literals", at))
	}
	clock := false
	design.Visitor{Effect: func(e design.Effect) { clock = clock || e.Kind == design.Tells }}.Design(p.d)
	if clock {
		list = append(list, "clock: now() reads the same throughout")
	}
	return list
}
