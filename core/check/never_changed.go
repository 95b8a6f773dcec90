package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

// neverChanged: a cell that nothing writes is a constant.
var neverChanged = rule{"never-changed", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	writes := p.writes()
	for _, m := range p.links().Cells() {
		if len(p.journey(m).Changed) > 0 || p.seeded(m) || len(p.links().Reads[m]) == 0 || m.Kind == design.Shares || p.outdated(m) != nil {
			continue
		}
		f := report(m.At, "%s holds %s, but nothing ever changes it", m.Owner.Name, m.Label).
			Instead("write const %s = ..., or change it where something happens", m.Label)
		if w, ok := writes[m]; ok {
			f.See(w.Span().Start, "this would, but nothing sets it off").Instead("set that off where something happens, or remove it and write const %s = ...", m.Label)
			continue
		}
		if s := m.Syntax.Span(); !m.Copy && !m.Aside {
			f.Mend("make it a constant", source.Span{Start: s.Start, End: s.Start + source.Pos(len("holds"))}, "const")
		}
	}
}}

// writes are the places that write cells, or tie them, for each the first.
func (p *pass) writes() map[*design.Member]design.Placed {
	writes := map[*design.Member]design.Placed{}
	for _, e := range p.seen().does {
		if e.Kind == design.Writes && writes[e.Cell()] == nil {
			writes[e.Cell()] = e.At
		}
	}
	return writes
}

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
