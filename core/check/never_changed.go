package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

// neverChanged: a cell that nothing writes is a constant.
var neverChanged = rule{"never-changed", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, m := range p.g.Cells() {
		if len(p.g.Journey(m).Changed) > 0 || p.seeded(m) || len(p.g.Reads[m]) == 0 || m.Kind == design.Shares || p.outdated(m) != nil {
			continue
		}
		f := report(m.At, "%s holds %s, but nothing ever changes it", m.Owner.Name, m.Label).
			Instead("write const %s = ..., or change it where something happens", m.Label)
		if s := m.Syntax.Span(); !m.Copy && !m.Aside {
			f.Mend("make it a constant", source.Span{Start: s.Start, End: s.Start + source.Pos(len("holds"))}, "const")
		}
	}
}}

func (p *pass) seeded(m *design.Member) bool {
	for _, s := range p.d.Starts {
		for _, g := range s.Seeds {
			if g.Member == m {
				return true
			}
		}
	}
	return false
}
