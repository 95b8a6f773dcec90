package check

import (
	"fmt"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/source"
	"lien/core/types"
)

// suppliedAgain: a component supplies a context below another supplier of the
// same, and hides it from all further down.
var suppliedAgain = rule{"supplied-again", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	told := map[*design.Component]bool{}
	var down func(c *design.Component, above []*design.Component, seen map[*design.Component]bool)
	down = func(c *design.Component, above []*design.Component, seen map[*design.Component]bool) {
		if seen[c] {
			return
		}
		seen[c] = true
		for _, s := range c.Supplies {
			if has(above, s.Use.Component) && !told[c] {
				told[c] = true
				report(s.Use.Syntax.Name.Span(), "%s hides the %s that is supplied above it", c.Name, s.Use.Component.Name).
					Instead("leave it if groups are meant to nest; else use the one above: uses %s", s.Use.Component.Name)
			}
			above = append(above[:len(above):len(above)], s.Use.Component)
		}
		for _, u := range p.usedBy(c) {
			down(u, above, seen)
		}
	}
	for _, s := range p.d.Starts {
		down(s.Root, nil, map[*design.Component]bool{})
	}
}}

// usedBy are the components that a component's view uses, or its handlers open.
func (p *pass) usedBy(c *design.Component) []*design.Component {
	var list []*design.Component
	supplied := map[design.Node]bool{}
	for _, s := range c.Supplies {
		supplied[s.Use] = true
	}
	design.Visitor{Node: func(n design.Node) {
		if u, ok := n.(*design.Use); ok && !supplied[u] {
			list = append(list, u.Component)
		}
	}}.Component(c)
	return list
}

// usedNextDoor: a context that only the direct children of its supplier use,
// one component of them: a plain link would do.
var usedNextDoor = rule{"used-next-door", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, s := range c.Supplies {
			users := p.usersOf(s.Use.Component)
			if len(users) != 1 || users[0] == c || len(p.links().Uses[users[0]]) == 0 || gathers(s.Use.Component) {
				continue
			}
			direct := true
			for _, u := range p.links().Uses[users[0]] {
				direct = direct && u.User == c && !inContent(u)
			}
			if direct {
				report(s.Use.Syntax.Name.Span(), "only %s, right below %s, uses %s", users[0].Name, c.Name, s.Use.Component.Name).
					Instead("%s", handedDown(c, s))
			}
		}
	}
}}

// handedDown says how a link takes the place of a context.
func handedDown(c *design.Component, s *design.Supply) string {
	text := fmt.Sprintf("hold it in %s, and link it: takes and emits say more", c.Name)
	of, cell, as := s.Use.Component, "", "report"
	for _, m := range of.Members {
		switch {
		case m.Kind == design.Action || m.Kind == design.Derives:
		case m.IsCell() && m.Kind != design.Takes && !m.Aside:
			if cell == "" {
				cell = m.Label
			}
			if m.Kind == design.Shares { // users may tie it
				as = "tie"
			}
		default:
			return text
		}
	}
	if cell == "" || len(of.Hooks)+len(of.Follows)+len(of.Hearings)+len(s.Use.Links)+len(s.Use.Ties) > 0 {
		return text
	}
	return fmt.Sprintf("lien relink %s.%s --as %s does it; or %s", of.Name, cell, as, text)
}

// gathers says whether a context knows its users as a list, which no link does.
func gathers(c *design.Component) bool {
	for _, m := range c.Members {
		if m.Kind == design.Gathered {
			return true
		}
	}
	return false
}

// inContent says whether a use stands in the content of another component.
func inContent(u *links.Use) bool {
	for _, n := range u.Path {
		if _, ok := n.(*design.Use); ok {
			return true
		}
	}
	return false
}

func (p *pass) usersOf(context *design.Component) []*design.Component {
	var list []*design.Component
	for _, c := range p.d.Components {
		for _, m := range c.Members {
			if m.Kind == design.Used && m.Context == context {
				list = append(list, c)
			}
		}
	}
	return list
}

// chasesItself: what follows one value writes another, whose follower writes
// the first.
var chasesItself = rule{"chases-itself", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		for _, f := range c.Follows {
			for _, g := range c.Follows {
				if f == g || f.Syntax.Start > g.Syntax.Start {
					continue
				}
				if p.writesWhatFollows(f, g) && p.writesWhatFollows(g, f) {
					report(g.Syntax.Value.Span(), "these two follow each other: either one's change sets off the other").
						See(f.Syntax.Start, "the other one").
						Instead("derive one of the two values from the other")
				}
			}
		}
	}
}}

// writesWhatFollows says whether f's body writes a cell that g's value reads.
func (p *pass) writesWhatFollows(f, g *design.Follow) bool {
	read := map[*design.Member]bool{}
	for _, m := range reads(g.Unit.Expr) {
		read[m] = true
	}
	found := false
	design.Visitor{Effect: func(e design.Effect) {
		found = found || e.Kind == design.Writes && read[e.Cell()]
	}}.Body(f.Body)
	return found
}

// reads are the members that an expression reads itself.
func reads(e types.Expr) []*design.Member {
	var list []*design.Member
	types.Walk(e, func(e types.Expr) bool {
		if ref, ok := e.(*types.Ref); ok {
			if m, ok := ref.Symbol.(*design.Member); ok {
				list = append(list, m)
			}
		}
		return true
	})
	return list
}
