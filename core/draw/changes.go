package draw

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/picture"
)

// change is what became of a row, a card or a wire. Each has a sign of its own, so that it is told
// without colour.
type change byte

const (
	stays change = iota
	added
	gone
	moved
	altered
)

var signs = map[change]string{added: "+", gone: "−", moved: "→", altered: "≠"}

// roleOf is the colour that goes with a sign.
func (c change) roleOf() picture.Role {
	switch c {
	case gone:
		return picture.Message
	case moved:
		return picture.Up
	case altered:
		return picture.Down
	}
	return picture.Tie
}

// room is how wide the sign is.
func (c change) room() float64 {
	if c == stays {
		return 0
	}
	return 20
}

// Changes draws the components of a design with what was added, gone and moved since another one. What
// stayed as it was is faint.
func Changes(before, after *design.Design) []*picture.Picture {
	h := newHouse(after)
	h.since(newHouse(before))
	return h.sheets()
}

// since marks what differs from an earlier house.
func (h *house) since(old *house) {
	h.counts = map[change]int{}
	for _, c := range h.order {
		k := h.cards[c]
		if was := old.d.Component(c.Name); was != nil {
			h.compareRows(k, old.cards[was])
			continue
		}
		k.change = added
		h.counts[added]++
		for _, r := range k.rows {
			r.change = added
		}
	}
	h.movedCells(old)
	for _, c := range old.order {
		if h.d.Component(c.Name) == nil {
			h.lost(old, c)
		}
	}
	known := map[string]bool{}
	for _, w := range old.wires {
		known[w.key()] = true
	}
	for _, w := range h.wires {
		w.faint = known[w.key()]
		if !w.faint {
			h.counts[added]++
		}
	}
	for _, c := range h.order {
		k := h.cards[c]
		for _, r := range k.rows {
			r.faint = r.faint || r.change == stays
		}
		k.quiet = k.change == stays && !slices.ContainsFunc(k.rows, func(r *row) bool { return r.change != stays })
	}
}

// key tells a wire from others by what it joins.
func (w *wire) key() string {
	return fmt.Sprint(w.kind, "\x00", w.from.name(), "\x00", w.to.name(), "\x00", w.text)
}

func (r *row) key() string { return r.word + "\x00" + r.text }

// compareRows marks the rows that are new, and adds those that are gone at the end.
func (h *house) compareRows(k, was *card) {
	has := func(list []*row, r *row) bool {
		return slices.ContainsFunc(list, func(o *row) bool { return o.key() == r.key() })
	}
	now := slices.Clone(k.rows)
	same := func(list []*row, r *row) bool { // which says something else now
		return slices.ContainsFunc(list, func(o *row) bool { return o.word == r.word && o.called() == r.called() })
	}
	for _, r := range k.rows {
		switch {
		case has(was.rows, r):
		case same(was.rows, r):
			r.change = altered
			h.counts[altered]++
		default:
			r.change = added
			h.counts[added]++
		}
	}
	for _, r := range was.rows {
		if !has(now, r) && !same(now, r) {
			h.goneRow(k, r)
		}
	}
}

// called is the name at the beginning of a row.
func (r *row) called() string {
	if i := strings.IndexAny(r.text, " :("); i > 0 {
		return r.text[:i]
	}
	return r.text
}

func (h *house) goneRow(k *card, r *row) {
	lost := *r
	lost.change, lost.faint = gone, true
	h.counts[gone]++
	k.rows = append(k.rows, &lost)
}

// lost draws a component that is gone where it stood.
func (h *house) lost(old *house, c *design.Component) {
	was := old.cards[c]
	k := &card{name: was.name, sub: "gone", column: was.column, order: float64(len(h.order)) + was.order, double: was.double, dashed: true, change: gone}
	for _, r := range was.rows {
		h.goneRow(k, r)
	}
	h.counts[gone]++
	h.gone = append(h.gone, k)
}

// movedCells marks cells that another component holds now.
func (h *house) movedCells(old *house) {
	was := map[string]string{}
	for _, c := range old.order {
		for _, r := range old.cards[c].rows {
			if r.cell {
				was[r.text] = c.Name
			}
		}
	}
	for _, c := range h.order {
		for _, r := range h.cards[c].rows {
			from := was[r.text]
			if r.cell && r.change == added && from != "" && from != c.Name && h.lostThere(from, r) {
				r.change = moved
				r.text += "  from " + from
				h.counts[added]--
				h.counts[moved]++
			}
		}
	}
}

// lostThere says whether a component does not hold a cell any more.
func (h *house) lostThere(component string, r *row) bool {
	c := h.d.Component(component)
	if c == nil {
		return true
	}
	return slices.ContainsFunc(h.cards[c].rows, func(o *row) bool { return o.change == gone && o.cell && o.text == r.text })
}

// changed tells how much differs.
func (h *house) changed() string {
	var parts []string
	for _, c := range []struct {
		is   change
		word string
	}{{added, "new"}, {altered, "changed"}, {moved, "moved"}, {gone, "gone"}} {
		parts = append(parts, fmt.Sprintf("%s  %d %s", signs[c.is], h.counts[c.is], c.word))
	}
	text := strings.Join(parts, "     ")
	if h.counts[added]+h.counts[altered]+h.counts[moved]+h.counts[gone] == 0 {
		text = "nothing changed"
	}
	return text + "     " + finding.Count(len(h.order), "component") + "; what stayed is faint"
}

// paintChange draws the sign of a row's change, and strikes through what is gone.
func (c *card) paintChange(r *row, y float64) []picture.Mark {
	if r.change == stays {
		return nil
	}
	role := r.change.roleOf()
	x := c.x + c.w - 16
	marks := []picture.Mark{
		&picture.Box{X: x - 4, Y: y + 3, W: 14, H: grid - 6, Round: 3, Fill: picture.Card, Stroke: role, Width: 1},
		picture.NewText(x-1, y+14, textSize, true, role, signs[r.change], 14),
	}
	if r.change == gone {
		at := y + grid/2
		marks = append(marks, &picture.Line{Points: []picture.Point{{X: c.x + indent, Y: at}, {X: x - 8, Y: at}}, Stroke: role, Width: 1})
	}
	return marks
}
