package check

import (
	"fmt"
	"sort"
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/source"
	"lien/core/types"
)

// supplierMissing: a component uses a context that nothing above it supplies,
// on some way down from a start. Such a page cannot be mounted.
var supplierMissing = rule{"supplier-missing", finding.Error, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	if len(p.contexts) == 0 {
		return
	}
	told := map[*design.Member]bool{}
	first := map[[2]string]*finding.Finding{} // by the context and the root
	w := &descent{p: p, seen: map[string]bool{}}
	w.missing = func(m *design.Member, way []string) {
		if told[m] {
			return
		}
		told[m] = true
		key := [2]string{m.Context.Name, way[0]}
		if f := first[key]; f != nil {
			f.See(m.At.Start, "%s uses it, too: %s", m.Owner.Name, strings.Join(way, " > "))
			return
		}
		where := way[0]
		if len(way) > 2 {
			where += ", or in another of " + strings.Join(way[1:len(way)-1], ", ")
		}
		remedy := fmt.Sprintf("write supplies %s in %s, or uses %s? and test it", m.Context.Name, where, m.Context.Name)
		if len(way) == 1 {
			remedy = fmt.Sprintf("start a component that supplies %s and uses %s in its view, or write uses %s? and test it", m.Context.Name, m.Owner.Name, m.Context.Name)
		}
		first[key] = report(m.At, "%s uses %s, but nothing above it supplies one", m.Owner.Name, m.Context.Name).
			See(m.Owner.Syntax.Start, "the way down: %s", strings.Join(way, " > ")).
			Instead("%s", remedy)
	}
	for _, s := range p.d.Starts {
		w.enter(s.Root, nil, nil)
	}
}}

// descent goes down from a start with the contexts that are supplied above.
type descent struct {
	p       *pass
	seen    map[string]bool // component with the contexts above it
	missing func(m *design.Member, way []string)
}

func (w *descent) enter(c *design.Component, above []*design.Component, way []string) {
	var names []string
	for _, a := range above {
		names = append(names, a.Name)
	}
	sort.Strings(names)
	key := c.Name + "|" + strings.Join(names, ",")
	if w.seen[key] {
		return
	}
	w.seen[key] = true
	way = append(way[:len(way):len(way)], c.Name)
	for _, m := range c.Members {
		if m.Kind == design.Used && !types.Nullable(m.Type()) && !has(above, m.Context) {
			w.missing(m, way)
		}
	}
	for _, s := range c.Supplies {
		if !has(above, s.Use.Component) {
			above = append(above[:len(above):len(above)], s.Use.Component)
		}
	}
	w.nodes(c.View, above, way)
	for _, o := range w.p.opens(c) {
		w.enter(o, above, way)
	}
}

func has(list []*design.Component, c *design.Component) bool {
	for _, x := range list {
		if x == c {
			return true
		}
	}
	return false
}

// nodes goes into what a view uses. Content stands below the component that
// it is given to, and below what that supplies.
func (w *descent) nodes(list []design.Node, above []*design.Component, way []string) {
	for _, n := range list {
		above, way := above, way
		if n, ok := n.(*design.Use); ok {
			w.enter(n.Component, above, way)
			for _, s := range n.Component.Supplies {
				above = append(above[:len(above):len(above)], s.Use.Component)
			}
			way = append(way[:len(way):len(way)], n.Component.Name)
		}
		for _, inner := range design.Inside(n) {
			w.nodes(inner, above, way)
		}
	}
}

// opens are the components that a component's handlers open.
func (p *pass) opens(c *design.Component) []*design.Component {
	var list []*design.Component
	for _, e := range p.seen().by[c] {
		if e.Kind == design.Opens {
			list = append(list, e.Use.Component)
		}
	}
	return list
}

// sentToNobody: a message that nobody hears, or one that is heard and never sent.
var sentToNobody = rule{"sent-to-nobody", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	sent, heard := map[*design.Channel]source.Span{}, map[*design.Channel]source.Span{}
	for _, c := range p.d.Components {
		for _, h := range c.Hearings {
			heard[h.Channel] = h.Syntax.Channel.Span()
		}
		for _, e := range p.seen().by[c] {
			if e.Kind == design.Sends {
				sent[e.Channel] = e.At.Span()
			}
		}
	}
	for _, ch := range p.d.Channels {
		s, isSent := sent[ch]
		h, isHeard := heard[ch]
		switch {
		case !isSent && !isHeard:
			report(ch.Syntax.Name.Span(), "the channel %s is never used", ch.Name).Instead("remove it")
		case !isHeard:
			report(s, "%s is sent, but nobody hears it", ch.Name).Instead("write hears %s(...) { ... } in a component that is mounted then", ch.Name)
		case !isSent:
			report(h, "%s is heard, but nobody sends it", ch.Name).Instead("write send %s(...) where it happens, or remove this", ch.Name)
		}
	}
}}

// neverLeaves: a component that is opened and has no leave, or the reverse.
var neverLeaves = rule{"never-leaves", finding.Warning, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		dismissed := c.Member("dismissed") != nil
		switch {
		case c.Opened && !c.Leaves && !dismissed:
			report(c.Syntax.Name.Span(), "%s is opened, but never leaves", c.Name).Instead("write leave where its user is done, or emits dismissed()")
		case c.Leaves && !c.Opened:
			report(c.Syntax.Name.Span(), "%s has a leave, but nothing opens it", c.Name).Instead("open it: open %s { ... }, or report an event instead of leave", c.Name)
		}
	}
}}

// neverStops: a timer that repeats, and that nothing stops while its owner lives.
var neverStops = rule{"never-stops", finding.Note, func(p *pass, report func(source.Span, string, ...any) *finding.Finding) {
	for _, c := range p.d.Components {
		stopped := map[*design.Member]bool{}
		for _, e := range p.seen().by[c] {
			if e.Kind == design.Stops {
				stopped[e.Event] = true
			}
		}
		for _, m := range c.Members {
			if m.Kind == design.Timer && m.Every && !stopped[m] {
				report(m.At, "nothing stops %s while %s lives", m.Label, c.Name).Instead("write stop %s where it has done its work", m.Label)
			}
		}
	}
}}
