package draw

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/links"
	"lien/core/picture"
)

// Journey draws how one cell travels: its holder, where it is shown and
// changed, and all that it passes through. The rest is faint, or left out
// where it is not wanted or one sheet has no room for it.
func Journey(d *design.Design, cell *design.Member, rest bool) *picture.Picture {
	h := newHouse(d)
	j := &journey{house: h, cell: cell, path: h.g.Journey(cell), hot: map[*row]bool{}}
	j.follow()
	j.ends()
	if rest && len(h.order) <= mostCards {
		if l := j.draw(&sheet{full: h.order}); l.readable() {
			return l.picture()
		}
	}
	j.trim()
	near := j.near()
	n, _ := slices.BinarySearchFunc(near, true, func(c *design.Component, _ bool) int { // how many can be read at once
		at := slices.Index(near, c) + 1
		if at > mostCards || !j.draw(&sheet{full: near[:at]}).readable() {
			return 1
		}
		return -1
	})
	return j.draw(&sheet{full: near[:max(1, n)]}).picture()
}

// mostCards is how many cards are tried on one sheet.
const mostCards = 40

// journey is a house of which only what a cell touches matters.
type journey struct {
	*house
	cell *design.Member
	path *links.Journey
	hot  map[*row]bool
}

// near are the components that the cell touches, those that are fewer links
// away from its holder first.
func (j *journey) near() []*design.Component {
	away := map[*card]int{j.cards[j.cell.Owner]: 0}
	list := []*design.Component{j.cell.Owner}
	byCard := map[*card]*design.Component{}
	for _, c := range j.order {
		byCard[j.cards[c]] = c
	}
	for i := 0; i < len(list); i++ {
		from := j.cards[list[i]]
		for _, w := range j.wires {
			for _, to := range []*card{w.from.card, w.to.card} {
				if _, known := away[to]; (w.from.card == from || w.to.card == from) && !known && j.touches(to) {
					away[to] = away[from] + 1
					list = append(list, byCard[to])
				}
			}
		}
	}
	for _, c := range j.order {
		if _, known := away[j.cards[c]]; !known && j.touches(j.cards[c]) {
			list = append(list, c)
		}
	}
	return list
}

func (j *journey) draw(s *sheet) *layout {
	for _, w := range j.wires {
		w.faint = !j.hot[w.from.row] || !j.hot[w.to.row]
		if w.kind == contextKind && j.hot[w.to.row] {
			w.faint = false
		}
	}
	for _, c := range s.full {
		k := j.cards[c]
		k.faint, k.strong = !j.touches(k), c == j.cell.Owner
		for _, r := range k.rows {
			r.faint = !j.hot[r]
		}
	}
	lines := []string{j.told()}
	if left := len(j.order) - len(s.full); left > 0 {
		touched := 0
		for _, c := range j.order {
			if j.touches(j.cards[c]) && !slices.Contains(s.full, c) {
				touched++
			}
		}
		line := finding.Count(left-touched, "component") + " that it does not touch left out."
		if touched > 0 {
			line = fmt.Sprintf("%s left out; %d of them it does touch, further away: lien map lists them.", finding.Count(left, "component"), touched)
		}
		lines = append(lines, line)
	}
	return j.arrange(s, "The journey of "+j.cell.Owner.Name+"."+j.cell.Label, lines...)
}

// touches says whether the cell touches anything of a component.
func (j *journey) touches(k *card) bool {
	return slices.ContainsFunc(k.rows, func(r *row) bool { return j.hot[r] })
}

// trim takes the rows that the cell does not touch from the cards.
func (j *journey) trim() {
	for _, c := range j.order {
		k := j.cards[c]
		k.rows = slices.DeleteFunc(k.rows, func(r *row) bool { return !j.hot[r] })
	}
	j.wires = slices.DeleteFunc(j.wires, func(w *wire) bool {
		return w.kind == usesKind || w.from.row != nil && !j.hot[w.from.row] || w.to.row != nil && !j.hot[w.to.row]
	})
}

// told tells the journey in one line.
func (j *journey) told() string {
	text := "Held by " + j.cell.Owner.Name
	for _, part := range []struct {
		verb  string
		names []string
	}{{"shown in ", componentsOf(j.path.Shown)}, {"changed from ", componentsOf(j.path.Changed)}, {"only passed on by ", j.path.PassedOnBy()}} {
		if len(part.names) > 0 {
			text += "; " + part.verb + strings.Join(part.names, ", ")
		}
	}
	return text + "."
}

func componentsOf(paths []*links.Path) []string {
	var names []string
	for _, p := range paths {
		if !slices.Contains(names, p.Component.Name) {
			names = append(names, p.Component.Name)
		}
	}
	return names
}

// ends adds rows for what shows the cell and for the gestures that change it.
func (j *journey) ends() {
	j.add("shown", j.path.Shown)
	j.add("changed", j.path.Changed)
}

func (j *journey) add(word string, paths []*links.Path) {
	for _, c := range j.order {
		var whats []string
		var at string
		for _, p := range paths {
			if p.Component == c && !slices.Contains(whats, p.What) {
				if at == "" {
					at = fmt.Sprint(j.d.Set.Position(p.At.Start))
				}
				whats = append(whats, p.What)
			}
		}
		if len(whats) > 0 {
			r := &row{word: word, text: strings.Join(whats, ", "), whole: strings.Join(whats, ", ") + " · " + at}
			j.hot[r] = true
			j.cards[c].rows = append(j.cards[c].rows, r)
		}
	}
}

// follow finds every row that the cell's value comes to, and every one that a
// change of it comes from.
func (j *journey) follow() {
	down := map[*design.Member]bool{}
	var show func(m *design.Member)
	show = func(m *design.Member) {
		if down[m] {
			return
		}
		down[m] = true
		j.mark(m)
		for _, c := range j.order {
			for _, o := range c.Members {
				if o.Kind == design.Derives && o.Init != nil && slices.Contains(links.Direct(o.Init.Expr), m) {
					show(o)
				}
				if o.Kind == design.Used && o.Context == m.Owner && j.shows(c, m) {
					j.mark(o)
				}
			}
		}
		for _, l := range j.g.Feeds[m] {
			if l.Near {
				show(l.To)
			}
		}
	}
	show(j.cell)
	up := map[*design.Member]bool{}
	var change func(m *design.Member)
	change = func(m *design.Member) {
		if up[m] {
			return
		}
		up[m] = true
		j.mark(m)
		for _, c := range j.order {
			j.bodies(c, func(at end, b *design.Body) { j.changes(c, at, b, m, change) })
			for _, event := range c.Members {
				if slices.ContainsFunc(j.g.Hears[event], func(x *links.Handler) bool { return does(x.Body, m) }) {
					change(event)
				}
			}
		}
		for _, l := range j.g.Feeds[m] {
			if l.Tie || m.Kind == design.Action {
				change(l.To)
			}
		}
	}
	change(j.cell)
}

// does says whether a body changes or calls m.
func does(b *design.Body, m *design.Member) bool {
	return slices.ContainsFunc(effects(b), func(e effect) bool { return e.member == m })
}

// changes goes on from a body that changes or calls m.
func (j *journey) changes(c *design.Component, at end, b *design.Body, m *design.Member, change func(*design.Member)) {
	if !does(b, m) {
		return
	}
	if at.row != nil {
		j.hot[at.row] = true
	}
	for _, o := range c.Members {
		switch {
		case o.Body == b && o.Kind == design.Action:
			change(o)
		case o.Kind == design.Used && o.Context == m.Owner:
			j.mark(o)
		}
	}
	for _, x := range c.Hearings {
		if x.Body == b {
			j.senders(x.Channel, change)
		}
	}
}

// senders goes on from all that send on a channel.
func (j *journey) senders(ch *design.Channel, change func(*design.Member)) {
	for _, c := range j.order {
		j.bodies(c, func(at end, b *design.Body) {
			if at.row == nil || !slices.ContainsFunc(effects(b), func(e effect) bool { return e.channel == ch }) {
				return
			}
			j.hot[at.row] = true
			for _, o := range c.Members {
				if o.Body == b && o.Kind == design.Action {
					change(o)
				}
			}
		})
	}
}

func (j *journey) mark(m *design.Member) {
	if r := j.rows[m]; r != nil {
		j.hot[r] = true
	}
}

// shows says whether a component shows a context's value itself.
func (j *journey) shows(c *design.Component, m *design.Member) bool {
	return slices.ContainsFunc(j.g.Shows[m], func(s *links.Site) bool { return s.Component == c }) ||
		slices.ContainsFunc(j.g.Feeds[m], func(l *links.Link) bool { return l.User == c })
}
