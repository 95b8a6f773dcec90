package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/html"
	"lien/core/source"
)

// neverMade: handlers of events that no gesture of a scenario or proof sets off, so that they run
// in a browser alone.
var neverMade = rule{"never-made", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, n := range p.seen().nodes {
		el, ok := n.(*design.Element)
		if !ok {
			continue
		}
		for _, h := range el.Handlers {
			if !html.IsMade(h.Name) {
				report(h.Syntax.Name.Span(), "nothing that a scenario or a proof does sets off %s", h.Name).
					Instead("hear something else that tells the same, or try this handler in a browser")
			}
		}
	}
}}
