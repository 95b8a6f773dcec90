package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

// linkedOneWay: a component writes what it shares, but a use only links it
// down, so that what it writes is lost.
var linkedOneWay = rule{"linked-one-way", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind != design.Shares || len(p.g.Journey(m).Changed) == 0 {
				continue
			}
			w := p.g.Journey(m).Changed[0]
			for _, u := range p.g.Uses[c] {
				for _, l := range u.Node.Links {
					if l.Member != m {
						continue
					}
					report(l.Syntax.Span(), "%s writes %s, but this only links it down", c.Name, m.Label).
						See(w.At.Start, "it is written here").
						Instead("tie it: %s <-> a cell; or give it a first value: %s = ...", m.Label, m.Label)
				}
			}
		}
	}
}}
