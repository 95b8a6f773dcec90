package check

import (
	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/value"
)

// idRepeated: an id that is always the same stands in what is there several times.
var idRepeated = rule{"id-repeated", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	if ids, all := p.ids(); all && len(ids) == 0 {
		return
	}
	in := instancesIn(p.d)
	for _, c := range p.d.Components {
		several := in.several(c, map[*design.Component]bool{})
		walkEach(c.View, false, func(n design.Node, inEach bool) {
			el, ok := n.(*design.Element)
			if !ok || !inEach && !several {
				return
			}
			for _, a := range el.Attrs {
				if id, _ := design.FixedText(a.Unit.Expr); a.Name == "id" && id != "" {
					what := "every item has"
					if !inEach {
						what = "every " + c.Name + " has"
					}
					report(a.Syntax.Value.Span(), "%s the id %s, but an id is one element's", what, value.Show(value.String(id))).
						Instead("write `%s-${...}`, with what tells them apart, and the same where it is referred to", id)
				}
			}
		})
	}
}}

// instances says how often views use a component, and who does.
type instances struct {
	times map[*design.Component]int
	users map[*design.Component][]*design.Component
}

func instancesIn(d *design.Design) instances {
	in := instances{map[*design.Component]int{}, map[*design.Component][]*design.Component{}}
	for _, c := range d.Components {
		for used, n := range timesIn(c.View) {
			in.times[used] += n
			in.users[used] = append(in.users[used], c)
		}
	}
	return in
}

// several says whether a page may have more than one of a component.
func (in instances) several(c *design.Component, seen map[*design.Component]bool) bool {
	if in.times[c] != 1 || seen[c] {
		return in.times[c] > 1 || seen[c] // it is in itself
	}
	seen[c] = true
	return in.several(in.users[c][0], seen)
}

// timesIn says how often nodes use components at a time: of the branches of a when there is one, of an each's items many.
func timesIn(nodes []design.Node) map[*design.Component]int {
	times := map[*design.Component]int{}
	add := func(more map[*design.Component]int, by int) {
		for c, n := range more {
			times[c] += n * by
		}
	}
	for _, n := range nodes {
		switch n := n.(type) {
		case *design.When:
			most := map[*design.Component]int{}
			for _, b := range n.Branches {
				for c, k := range timesIn(b.Body) {
					most[c] = max(most[c], k)
				}
			}
			add(most, 1)
			continue
		case *design.Each:
			add(timesIn(n.Body), 2)
			continue
		case *design.Use:
			times[n.Component]++
		}
		for _, list := range design.Inside(n) {
			add(timesIn(list), 1)
		}
	}
	return times
}

// walkEach visits the nodes of a view, with whether they stand in an each.
func walkEach(nodes []design.Node, inEach bool, visit func(n design.Node, inEach bool)) {
	for _, n := range nodes {
		visit(n, inEach)
		_, each := n.(*design.Each)
		for _, list := range design.Inside(n) {
			walkEach(list, inEach || each, visit)
		}
	}
}
