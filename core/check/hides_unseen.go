package check

import (
	"strings"

	"lien/core/finding"
	"lien/core/page"
	"lien/core/source"
)

// hidesUnseen: what decides whether something is shown, and the simulated page does not know.
var hidesUnseen = rule{"hides-unseen", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	unseen := p.d.Hiding.Unseen(page.KnowsState)
	if len(unseen) == 0 {
		return
	}
	for _, s := range p.d.Styles {
		for _, u := range unseen {
			if at := strings.Index(s.Sheet.Text, strings.Fields(u)[0]); at >= 0 {
				report(s.At(at, at+len(strings.Fields(u)[0])), "what is shown depends on %s, which tests and proofs take as not so", u).
					Instead("hide by a class that the design sets, or look at it in a browser: lien test --browser")
				return
			}
		}
	}
}}
