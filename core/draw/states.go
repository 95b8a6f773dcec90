package draw

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/engine"
	"lien/core/finding"
	"lien/core/picture"
	"lien/core/prove"
	"lien/core/story"
)

const (
	mostStates = 2000 // that are visited
	mostLooks  = 30   // that are drawn
	mostFacts  = 6    // that a look shows
	mostAlike  = 2    // rows for what leads from one look to the same other one
)

// TooLarge says that the states of a component cannot be drawn.
type TooLarge struct {
	Looks, States int
	Smaller       []string // components in it that could be drawn
}

func (e *TooLarge) Error() string {
	return fmt.Sprintf("%s in %s are too many to draw", finding.Count(e.Looks, "look"), finding.Count(e.States, "state"))
}

// States draws in which ways a component can look, and what leads from one to
// another, from a start of the design on. Of several instances it shows the first.
func States(d *design.Design, s *design.Start, c *design.Component) (*picture.Picture, error) {
	path, several := followed(d, s, c)
	view := func(e *engine.Engine) []string {
		for _, i := range e.Instances() {
			if i.String() != c.Name || path != "" && i.Path() != path {
				continue
			}
			var lines []string
			for _, l := range story.Lines(e, i.View()) {
				lines = append(lines, strings.Replace(l.Text, " (focused)", "", 1)) // what has the focus tells little
			}
			return lines
		}
		return []string{"not on the page"}
	}
	g, err := prove.LooksOf(d, s, mostStates, view)
	if err != nil {
		return nil, err
	}
	if len(g.List) <= mostLooks {
		plan := plannedLooks(g, s, c)
		switch {
		case path == "":
			plan.lines = append(plan.lines, "It is not there at the start: what is shown is the first on the page.")
		case several:
			plan.lines = append(plan.lines, "There are several: what is shown is "+path+", and nothing where that is gone.")
		}
		if l := plan.arrange(); l.fitsTwice() {
			return l.picture(), nil
		}
	}
	return nil, &TooLarge{len(g.List), g.States, smaller(d, c)}
}

// followed is the instance whose states are drawn, as it stands on the page at the start: the first
// of its component; "" where there is none. It tells whether there are several.
func followed(d *design.Design, s *design.Start, c *design.Component) (path string, several bool) {
	e := engine.New(d)
	if _, err := e.Mount(s); err != nil {
		return "", false
	}
	for _, i := range e.Instances() {
		switch {
		case i.String() != c.Name:
		case path == "":
			path = i.Path()
		default:
			several = true
		}
	}
	return path, several
}

// fitsTwice says whether a picture is of use at half its size.
func (l *layout) fitsTwice() bool {
	w, h := l.size()
	return w <= 2*sheetWidth && h <= 2*sheetHeight
}

// smaller are the components that c uses.
func smaller(d *design.Design, c *design.Component) []string {
	h := newHouse(d)
	var names []string
	for _, u := range h.used(c) {
		names = append(names, u.Name)
	}
	return names
}

// plannedLooks makes a card of every look.
func plannedLooks(g *prove.Looks, s *design.Start, c *design.Component) *plan {
	p := &plan{title: "The states of " + c.Name, tall: 620}
	p.names = map[kind]string{downKind: "a user does it", messageKind: "time passes", callKind: "an answer comes"}
	line := fmt.Sprintf("From the start of %s: %s, in %s, merged where they look alike.", s.Root.Name, finding.Count(len(g.List), "look"), finding.Count(g.States, "state"))
	p.lines = []string{line}
	if !g.Whole {
		p.lines = append(p.lines, fmt.Sprintf("No more than %d states, and 3 waiting questions, were looked at: there may be other looks and other ways.", mostStates))
	}
	for i, k := range g.List {
		card := &card{name: fmt.Sprintf("look %d", i+1), sub: finding.Count(k.States, "state"), column: k.Depth, order: float64(i), strong: i == 0}
		if i == 0 {
			card.name = "at the start"
		}
		for _, f := range facts(g, k) {
			card.rows = append(card.rows, &row{word: "shows", text: f, whole: f})
		}
		p.cards = append(p.cards, card)
	}
	for from := range g.List {
		p.leave(g, from)
	}
	p.close()
	return p
}

// facts are the lines that tell a look from others.
func facts(g *prove.Looks, k *prove.Look) []string {
	var list []string
	for _, l := range k.Lines {
		all := true
		for _, o := range g.List {
			all = all && slices.Contains(o.Lines, l)
		}
		if !all && !slices.Contains(list, l) {
			list = append(list, l)
		}
	}
	switch {
	case len(list) > mostFacts:
		more := len(list) - mostFacts + 1
		list = append(list[:mostFacts-1:mostFacts-1], fmt.Sprintf("and %d lines more", more))
	case len(list) == 0:
		list = []string{"nothing of its own"}
	}
	return list
}

// leave adds rows and wires for what leads away from a look. Where many things
// lead to the same look they share a row.
func (p *plan) leave(g *prove.Looks, from int) {
	type way struct {
		to   int
		kind kind
	}
	var order []way
	texts := map[way][]string{}
	for _, m := range g.Moves {
		if m.From == from {
			w := way{m.To, kindOf(m.Verb)}
			if texts[w] == nil {
				order = append(order, w)
			}
			texts[w] = append(texts[w], m.Text)
		}
	}
	for _, w := range order {
		list := texts[w]
		if len(list) > mostAlike {
			list = []string{fmt.Sprintf("%s, or %d others", list[0], len(list)-1)}
		}
		for _, text := range list {
			r := &row{word: "then", text: text, whole: strings.Join(texts[w], " · ")}
			p.cards[from].rows = append(p.cards[from].rows, r)
			p.wires = append(p.wires, &wire{kind: w.kind, from: end{p.cards[from], r}, to: end{p.cards[w.to], nil}, text: text})
		}
	}
}

// kindOf is how what leads from one look to another is drawn.
func kindOf(v engine.Verb) kind {
	switch v {
	case engine.Elapse:
		return messageKind
	case engine.Reply, engine.Fail:
		return callKind
	}
	return downKind
}
