package prove

import (
	"fmt"

	"lien/core/design"
	"lien/core/types"
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
	v := design.Visitor{Expr: func(x types.Expr) {
		if b, ok := x.(*types.Builtin); ok && b.Name == "now" {
			clock = true
		}
	}}
	for _, c := range p.d.Components {
		v.Component(c)
	}
	if clock {
		list = append(list, "clock: now() reads the same throughout")
	}
	return list
}
