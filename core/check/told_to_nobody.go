package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/source"
)

// toldToNobody: an event is reported, and no use of the component listens.
var toldToNobody = rule{"told-to-nobody", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			uses := p.links().Uses[c]
			if m.Kind != design.Emits || len(p.links().Emits[m]) == 0 || len(uses) == 0 || p.roots[c] || c.IsContext {
				continue
			}
			if len(p.links().Hears[m]) == 0 {
				u := uses[0]
				f := report(m.At, "%s reports %s, but nobody who uses it listens", c.Name, m.Label).
					See(u.Node.Start, "%s uses it here", u.User.Name).
					Instead("write %s -> ... in the block of %s there, or remove the event", m.Label, c.Name)
				f.Fix = p.withoutForwarded(m)
				continue
			}
			p.unheardAt(c, m)
		}
	}
}}

// withoutForwarded takes out an event that is only passed on from below, and what passes it on; nil
// where something else reports it, which would do nothing then.
func (p *pass) withoutForwarded(m *design.Member) *finding.Fix {
	fix := p.without(m)
	for _, t := range p.links().Emits[m] {
		if fix == nil || !isForward(t) {
			return nil
		}
		fix.Edits = append(fix.Edits, p.forwardOf(t)...)
	}
	return fix
}

// isForward says whether a component's event is heard only to report another one.
func isForward(t *links.Trigger) bool {
	if t.Heard == nil || len(t.Body.Stmts) != 1 {
		return false
	}
	_, ok := t.Body.Stmts[0].(*design.Emit)
	return ok
}

// forwardOf are the edits that take a handler of a component's event out of its use.
func (p *pass) forwardOf(t *links.Trigger) []finding.Edit {
	for _, u := range p.links().Uses[t.Heard.Owner] {
		if u.User == t.Component && u.Node.Syntax != nil && u.Node.Start <= t.At.Start && t.At.End <= u.Node.Stop {
			return p.cutItems(u.Node.Syntax, []source.Span{t.At})
		}
	}
	return []finding.Edit{p.cutLine(t.At)}
}

// unheardAt notes the single uses that do not listen to an event.
func (p *pass) unheardAt(c *design.Component, m *design.Member) {
	heard := map[*design.Use]bool{}
	for _, h := range p.links().Hears[m] {
		heard[h.Use] = true
	}
	for _, u := range p.links().Uses[c] {
		if u.Node.Syntax == nil {
			continue
		}
		if !heard[u.Node] {
			f := finding.New("told-to-nobody", finding.Note, u.Node.Syntax.Name.Span(), "%s does not listen here when %s reports %s", u.User.Name, c.Name, m.Label).
				Instead("write %s -> ... if it should", m.Label)
			p.found = append(p.found, f)
		}
	}
}

// roots are the components that starts mount.
func roots(d *design.Design) map[*design.Component]bool {
	roots := map[*design.Component]bool{}
	for _, s := range d.Starts {
		roots[s.Root] = true
	}
	return roots
}

// neverReportedAtAll: an event is declared, and nothing in its component emits it.
var neverReportedAtAll = rule{"never-used", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			dismissed := c.Opened && m.Label == "dismissed" // Escape and the backdrop report it
			if m.Kind == design.Emits && len(p.links().Emits[m]) == 0 && !dismissed {
				f := report(m.At, "%s declares %s, but never reports it", c.Name, m.Label).Instead("write emit %s(...) where it happens, or remove it", m.Label)
				for _, h := range p.links().Hears[m] {
					f.See(h.At.Start, "%s waits for it here", h.User.Name)
				}
				f.Fix = p.without(m)
			}
		}
	}
}}
