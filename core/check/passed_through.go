package check

import (
	"fmt"
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/source"
)

// drilled is how many components in a row may only pass a value on.
const drilled = 3

// passedThrough: a value goes through components that only pass it on.
var passedThrough = rule{"passed-through", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Takes && !p.feedsOn(m) {
				continue
			}
			if m.Kind != design.Holds && m.Kind != design.Derives && !p.roots[c] {
				continue
			}
			for _, l := range p.links().Feeds[m] {
				if way := p.way(l, nil); len(way) >= drilled {
					report(l.At, "%s goes through %d components that only pass it on: %s", m.Label, len(way), strings.Join(way, " → ")).
						Instead("%s", passedOn(m))
				}
			}
		}
	}
}}

// passedOn says how a value need not be passed on any more.
func passedOn(m *design.Member) string {
	rest := fmt.Sprintf("let the components in between take content, or hold %s nearer to where it is shown", m.Label)
	if m.Kind != design.Holds || m.Owner.IsContext || m.Aside {
		return rest
	}
	return fmt.Sprintf("lien supply %s.%s --as %s makes a context of it; or %s", m.Owner.Name, m.Label, design.ContextName(m), rest)
}

// forwardedThrough: an event is only passed on, by several components in a row.
var forwardedThrough = rule{"passed-through", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind != design.Emits || p.onlyForwarded(m) {
				continue
			}
			if way := p.forwards(m, nil); len(way) >= drilled {
				report(m.At, "%s goes up through %d components that only pass it on: %s", m.Label, len(way), strings.Join(way, " → ")).
					Instead("let the components in between take content, or supply a context with an action that %s calls", c.Name)
			}
		}
	}
}}

// onlyForwarded says whether an event is reported only where it is heard from below.
func (p *pass) onlyForwarded(m *design.Member) bool {
	for _, t := range p.links().Emits[m] {
		if !isForward(t) {
			return false
		}
	}
	return len(p.links().Emits[m]) > 0
}

// forwards lists the components above an event that only pass it on.
func (p *pass) forwards(m *design.Member, way []string) []string {
	best := way
	for _, h := range p.links().Hears[m] {
		for _, next := range h.User.Members {
			if next.Kind != design.Emits || len(way) > 50 || !p.onlyForwarded(next) {
				continue
			}
			for _, t := range p.links().Emits[next] {
				if t.Heard == m {
					if w := p.forwards(next, append(way[:len(way):len(way)], h.User.Name)); len(w) > len(best) {
						best = w
					}
				}
			}
		}
	}
	return best
}

// way lists the components below a link that do nothing with the value but
// hand it on under a name of their own.
func (p *pass) way(l *links.Link, way []string) []string {
	if !l.Pure || !p.feedsOn(l.To) || len(way) > 50 {
		return way
	}
	way = append(way, l.To.Owner.Name)
	best := way
	for _, next := range p.links().Feeds[l.To] {
		if w := p.way(next, way[:len(way):len(way)]); len(w) > len(best) {
			best = w
		}
	}
	return best
}

// feedsOn says whether a taken value is only handed on.
func (p *pass) feedsOn(m *design.Member) bool {
	return m.Kind == design.Takes && len(p.links().Shows[m]) == 0 && len(p.links().Feeds[m]) > 0 && len(p.links().Reads[m]) == len(p.links().Feeds[m])
}
