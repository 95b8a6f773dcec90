package check

import (
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
)

// handedToNobody: a slot hands out values that no fill can receive, or none does.
var handedToNobody = rule{"handed-to-nobody", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, s := range c.Slots {
			switch {
			case len(s.Names) == 0:
			case s.Name == "":
				report(s.Span(), "the slot of %s hands out %s, but has no name by which a fill could receive it", c.Name, strings.Join(s.Names, ", ")).
					Instead("name it: slot row(%s <- ...), and fill row(%s) { ... } where %s is used", s.Names[0], strings.Join(s.Names, ", "), c.Name)
			case !p.received(c, s):
				report(s.Span(), "the slot %s of %s hands out %s, and nobody who fills it receives any", s.Name, c.Name, strings.Join(s.Names, ", ")).
					Instead("write fill %s(%s) { ... } where it is needed, or hand out nothing", s.Name, strings.Join(s.Names, ", "))
			}
		}
	}
}}

// received says whether any use receives what a slot hands out; one that nobody fills says nothing.
func (p *pass) received(c *design.Component, s *design.SlotPlace) bool {
	filled := false
	for _, u := range p.links().Uses[c] {
		for _, f := range u.Node.Fills {
			if f.Name == s.Name {
				filled = true
				if len(f.Params) > 0 {
					return true
				}
			}
		}
	}
	return !filled
}
