package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/types"
)

// heldUnseen: a cell that no view shows is memory, and should say so.
var heldUnseen = rule{"held-unseen", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, m := range p.links().Cells() {
		if m.Aside || m.Kind == design.Shares || len(p.links().Writes[m]) == 0 || len(p.journey(m).Shown) > 0 || p.watched(m) {
			continue
		}
		end := m.At.Start
		report(m.At, "%s holds %s, but no view shows it", m.Owner.Name, m.Label).
			Instead("write holds aside %s, or show it", m.Label).
			Mend("make it aside", source.Span{Start: end, End: end}, "aside ")
	}
}}

// watched says whether something that a refresh brings up to date reads a cell: a child that it is
// linked to, a context, or what follows it. Held aside, these would not hear of its changes.
func (p *pass) watched(m *design.Member) bool {
	if len(p.links().Feeds[m]) > 0 {
		return true
	}
	watched := false
	for _, f := range m.Owner.Follows {
		types.Walk(f.Unit.Expr, func(x types.Expr) bool {
			ref, ok := x.(*types.Ref)
			watched = watched || ok && (ref.Symbol == m || p.derivesFrom(ref.Symbol, m))
			return !watched
		})
	}
	return watched
}

// derivesFrom says whether a symbol is a derived value that reads a member.
func (p *pass) derivesFrom(s types.Symbol, m *design.Member) bool {
	d, ok := s.(*design.Member)
	if !ok || d.Kind != design.Derives {
		return false
	}
	for _, r := range p.links().Reads[m] {
		if r.By == d || r.By != nil && r.By != m && p.derivesFrom(d, r.By) {
			return true
		}
	}
	return false
}

// asideShown: a view shows a cell whose changes refresh nothing.
var asideShown = rule{"aside-shown", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, m := range p.links().Cells() {
		if !m.Aside {
			continue
		}
		shown := p.journey(m).Shown
		if len(shown) == 0 {
			continue
		}
		c := m.Syntax.Span()
		f := report(m.At, "%s is held aside, but a view shows it", m.Label).
			Instead("write holds %s", m.Label).
			See(shown[0].At.Start, "%s of %s shows it", shown[0].What, shown[0].Component.Name)
		f.Mend("drop aside", source.Span{Start: c.Start, End: m.At.Start}, "holds ")
	}
}}

// copyGoesStale: a cell that starts as a copy of a taken value never hears of
// it again.
var copyGoesStale = rule{"copy-goes-stale", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, m := range p.links().Cells() {
		if m.Copy || m.Init == nil {
			continue
		}
		if from := p.outdated(m); from != nil {
			report(m.Init.Expr.Span(), "%s stays as it is at first, when %s changes", m.Label, from.Label).
				See(from.At.Start, "%s stands here", from.Label).
				Instead("write derives %s = %s", m.Label, p.d.Text(m.Init.Expr.Span()))
			continue
		}
		from := p.copied(m)
		if from == nil {
			continue
		}
		f := report(m.Init.Expr.Span(), "%s starts as a copy of %s, and does not follow when that changes", m.Label, from.Label).
			See(from.At.Start, "%s is handed down here", from.Label)
		if m.Kind == design.Shares {
			f.Instead("begin with a value of its own, and tie it where %s is used; or read %s, and report changes", m.Owner.Name, from.Label)
			continue
		}
		at := source.Span{Start: m.At.End, End: m.Init.Expr.Span().Start}
		f.Instead("write holds %s from %s if the copy is meant; else read %s, and report changes", m.Label, p.d.Text(m.Init.Expr.Span()), from.Label)
		f.Mend("say that the copy is meant", at, typeText(p, m)+" from ")
	}
}}

// typeText is the type as the cell's declaration has it, with its colon.
func typeText(p *pass, m *design.Member) string {
	text := p.d.Text(source.Span{Start: m.At.End, End: m.Init.Expr.Span().Start})
	for i := len(text) - 1; i >= 0; i-- {
		if text[i] == '=' {
			text = text[:i]
			break
		}
	}
	for len(text) > 0 && text[len(text)-1] == ' ' {
		text = text[:len(text)-1]
	}
	return text
}
