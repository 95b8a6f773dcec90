package check

import (
	"lien/core/finding"
	"lien/core/source"
)

// turnedAround: characters that nobody sees, and after which what is shown is in
// another order than what is read.
var turnedAround = rule{"turned-around", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, f := range p.d.Set.Files() {
		for i, r := range f.Text {
			if source.Turns(r) {
				at := source.Span{Start: f.Pos(i), End: f.Pos(i + len(string(r)))}
				report(at, "U+%04X stands here, which nobody sees: from here on letters are shown in another order", r).
					Instead("take it out, or write \\u{%x} where a text needs it", r)
			}
		}
	}
}}
