package links

import (
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/source"
)

// Journey is how the value of one cell travels.
type Journey struct {
	Cell    *design.Member
	Shown   []*Path
	Asked   []*Path // what else reads it: handlers, what follows it, first values
	Changed []*Path
}

// Path leads from the cell to a place that shows it, or from a gesture to the
// cell, hop by hop.
type Path struct {
	Hops      []Hop
	Component *design.Component // where it ends, or begins
	What      string            // what shows it, or what the user does
	At        source.Span
}

// Hop is one link on a path.
type Hop struct {
	Kind string // "down", "up", "tie", "call", "context", "slot" or "send"
	Text string // such as "picked <- chosen == shelf.id"
	To   string // such as "shelf-button.picked"
	At   source.Span
}

// Cells are all cells of a design, in text order.
func (g *Graph) Cells() []*design.Member {
	var list []*design.Member
	for _, c := range g.Design.Components {
		for _, m := range c.Members {
			if m.IsCell() {
				list = append(list, m)
			}
		}
	}
	return list
}

// Tied says whether every use of a component ties a cell that it shares, so
// that another holds it.
func (g *Graph) Tied(m *design.Member) bool {
	uses := g.Uses[m.Owner]
	for _, u := range uses {
		if !slices.ContainsFunc(u.Node.Ties, func(l *design.Given) bool { return l.Member == m }) {
			return false
		}
	}
	return m.Kind == design.Shares && len(uses) > 0
}

// Journey follows a cell to everything that shows or changes it.
func (g *Graph) Journey(m *design.Member) *Journey {
	j := &Journey{Cell: m}
	g.follow(m, nil, map[*Link]bool{}, j)
	g.changers(m, nil, map[*Link]bool{}, j)
	return j
}

// PassedOnBy are the components that the value only goes through.
func (j *Journey) PassedOnBy() []string {
	seen := map[string]bool{j.Cell.Owner.Name: true}
	for _, p := range append(slices.Clone(j.Shown), j.Changed...) {
		seen[p.Component.Name] = true
	}
	var list []string
	for _, p := range j.Shown {
		for _, h := range p.Hops {
			if name, _, _ := strings.Cut(h.To, "."); !seen[name] {
				seen[name] = true
				list = append(list, name)
			}
		}
	}
	return list
}

// changers adds what writes a cell, here or through a child it is tied to.
func (g *Graph) changers(m *design.Member, hops []Hop, seen map[*Link]bool, j *Journey) {
	for _, w := range g.Writes[m] {
		g.trace(w.Trigger, hops, map[*Trigger]bool{}, &j.Changed)
	}
	for _, l := range g.Feeds[m] {
		if l.Tie && !seen[l] {
			seen[l] = true
			g.changers(l.To, append([]Hop{l.hop()}, hops...), seen, j)
		}
	}
}

func (l *Link) hop() Hop {
	kind := "down"
	if l.Tie {
		kind = "tie"
	}
	return Hop{kind, l.Text, l.To.Owner.Name + "." + l.To.Label, l.At}
}

// follow adds every place that shows a value, here and further down. Each
// link is followed once.
func (g *Graph) follow(m *design.Member, hops []Hop, seen map[*Link]bool, j *Journey) {
	for _, s := range g.Shows[m] {
		j.Shown = append(j.Shown, s.path(m, hops))
	}
	for _, s := range g.Asked[m] {
		j.Asked = append(j.Asked, s.path(m, hops))
	}
	for _, l := range g.Feeds[m] {
		if seen[l] {
			continue
		}
		seen[l] = true
		g.follow(l.To, append(hops[:len(hops):len(hops)], l.hop()), seen, j)
	}
}

// path leads from a member, to which hops lead, to a place that reads it.
func (s *Site) path(m *design.Member, hops []Hop) *Path {
	way := append(hops[:len(hops):len(hops)], s.Via...)
	if m.Owner.IsContext && s.Component != m.Owner {
		way = append(way, Hop{"context", "uses " + m.Owner.Name, s.Component.Name, s.At})
	}
	return &Path{way, s.Component, s.What, s.At}
}

// trace adds every gesture that sets a trigger off, hop by hop from the gesture.
func (g *Graph) trace(t *Trigger, hops []Hop, seen map[*Trigger]bool, out *[]*Path) {
	if seen[t] {
		return
	}
	seen[t] = true
	if t.Slot != nil {
		hops = append([]Hop{*t.Slot}, hops...)
	}
	switch {
	case t.Tie != "":
		*out = append(*out, &Path{hops, t.Component, "input to " + t.Element.Tag, t.At})
	case t.Element != nil:
		*out = append(*out, &Path{hops, t.Component, t.Event + " on " + t.Element.Tag, t.At})
	case t.Heard != nil:
		name := t.Heard.Owner.Name + "." + t.Heard.Label
		next := append([]Hop{{"up", "reports " + t.Heard.Label, name, t.At}}, hops...)
		dismissed := t.Heard.Owner.Opened && t.Heard.Label == "dismissed"
		if dismissed {
			*out = append(*out, &Path{next, t.Heard.Owner, "Escape, or a press beside it", t.Heard.At})
		}
		if len(g.Emits[t.Heard]) == 0 && !dismissed {
			*out = append(*out, &Path{next, t.Heard.Owner, "nothing reports it", t.Heard.At})
		}
		for _, e := range g.Emits[t.Heard] {
			g.trace(e, next, seen, out)
		}
	case t.Channel != nil:
		next := append([]Hop{{"send", "sent as " + t.Channel.Name, t.Component.Name, t.At}}, hops...)
		if len(g.Sends[t.Channel]) == 0 {
			*out = append(*out, &Path{next, t.Component, "nobody sends it", t.At})
		}
		for _, s := range g.Sends[t.Channel] {
			g.trace(s, next, seen, out)
		}
	case t.Living != "":
		*out = append(*out, &Path{hops, t.Component, t.Living, t.At})
	case t.Member != nil && t.Member.Kind == design.Timer:
		*out = append(*out, &Path{hops, t.Component, "timer " + t.Member.Label, t.At})
	case t.Member != nil:
		g.callers(t.Member, append([]Hop{{"call", t.Member.Label + "()", t.Component.Name + "." + t.Member.Label, t.At}}, hops...), seen, out)
	}
}

// callers adds what calls an action, here or through a child it is handed to.
func (g *Graph) callers(m *design.Member, hops []Hop, seen map[*Trigger]bool, out *[]*Path) {
	found := m.Kind != design.Action
	for _, c := range g.Calls[m] {
		found = true
		g.trace(c, hops, seen, out)
	}
	for _, l := range g.Feeds[m] {
		found = true
		if l.Tie {
			for _, w := range g.Writes[l.To] {
				g.trace(w.Trigger, append([]Hop{l.hop()}, hops...), seen, out)
			}
		}
		g.callers(l.To, append([]Hop{l.hop()}, hops...), seen, out)
	}
	if !found {
		*out = append(*out, &Path{hops, m.Owner, "nothing calls it", m.At})
	}
}
