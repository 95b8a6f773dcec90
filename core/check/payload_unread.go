package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/source"
	"lien/core/syntax"
	"lien/core/types"
)

// payloadUnread: an event carries a value that nobody who hears it reads.
var payloadUnread = rule{"payload-unread", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			heard := p.links().Hears[m]
			if m.Kind != design.Emits || len(heard) == 0 || len(p.links().Emits[m]) == 0 || p.roots[c] {
				continue
			}
			e := m.Syntax.(*syntax.Emits)
			for i, param := range m.Sig {
				if !readsNth(heard, i) {
					report(e.Params[i].Name.Span(), "%s carries %s, and nobody who hears it reads that", m.Label, param.Name).
						See(heard[0].At.Start, "it is heard here").
						Instead("name what it carries where it is heard: %s%s -> ...; or let it carry less", m.Label, types.Names(m.Sig))
				}
			}
		}
	}
}}

// readsNth says whether any of these bodies reads the value of an event at a place.
func readsNth(heard []*links.Handler, i int) bool {
	for _, t := range heard {
		if i < len(t.Body.Params) && readsLocal(t.Body, t.Body.Params[i]) {
			return true
		}
	}
	return false
}

// readsLocal says whether a body reads a local of its own.
func readsLocal(b *design.Body, local *types.Local) (reads bool) {
	design.Visitor{Effect: func(e design.Effect) {
		reads = reads || e.Kind == design.Reads && e.Symbol == local
	}}.Body(b)
	return reads
}
