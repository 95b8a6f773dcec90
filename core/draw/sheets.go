package draw

import (
	"fmt"
	"slices"
	"strings"

	"lien/core/design"
	"lien/core/finding"
	"lien/core/picture"
)

// A sheet is no larger than can be read on a screen of 1280 by 800 pixels.
const (
	sheetWidth  = 1640.0
	sheetHeight = 1040.0
)

// sheet is some components drawn whole, and those that they are linked to
// drawn as far as needed.
type sheet struct {
	about *design.Component // whose parts these are
	full  []*design.Component
	stubs []*design.Component
}

// part is the plan of a sheet, with cards of its own.
func (h *house) part(s *sheet) *plan {
	p := &plan{legend: []string{"state is held here"}}
	cards, rows := map[*card]*card{}, map[*row]*row{}
	linked := map[*row]bool{}
	wires := h.wiresOn(s)
	for _, w := range wires {
		linked[w.from.row], linked[w.to.row] = true, true
	}
	for i, c := range append(slices.Clone(s.full), s.stubs...) {
		old := h.cards[c]
		k := *old
		k.rows = nil
		if k.dashed = i >= len(s.full); k.dashed {
			k.sub = h.drawnOn(c, k.sub)
		}
		for _, r := range old.rows {
			if !k.dashed || linked[r] {
				own := *r
				rows[r] = &own
				k.rows = append(k.rows, &own)
			}
		}
		cards[old] = &k
		p.cards = append(p.cards, &k)
	}
	if len(s.full) > 0 && s.full[0] == h.order[0] {
		for _, lost := range h.gone {
			k := *lost
			p.cards = append(p.cards, &k)
		}
	}
	for _, w := range wires {
		own := *w
		own.from, own.to = end{cards[w.from.card], rows[w.from.row]}, end{cards[w.to.card], rows[w.to.row]}
		p.wires = append(p.wires, &own)
	}
	p.close()
	return p
}

// wiresOn are the wires between cards of a sheet, in the order of the house.
func (h *house) wiresOn(s *sheet) []*wire {
	if h.wiresOf == nil {
		h.wiresOf = map[*card][]int{}
		for i, w := range h.wires {
			h.wiresOf[w.from.card] = append(h.wiresOf[w.from.card], i)
		}
	}
	on := map[*card]bool{}
	for _, c := range slices.Concat(s.full, s.stubs) {
		on[h.cards[c]] = true
	}
	var numbers []int
	for c := range on {
		for _, i := range h.wiresOf[c] {
			if on[h.wires[i].to.card] {
				numbers = append(numbers, i)
			}
		}
	}
	slices.Sort(numbers)
	list := make([]*wire, len(numbers))
	for i, n := range numbers {
		list[i] = h.wires[n]
	}
	return list
}

// drawnOn tells where a component is drawn whole.
func (h *house) drawnOn(c *design.Component, sub string) string {
	if n := h.numbers[c]; n > 0 {
		return fmt.Sprintf("on sheet %d", n)
	}
	return sub
}

// close moves the columns together where some are empty.
func (p *plan) close() {
	var taken []int
	for _, c := range p.cards {
		if !slices.Contains(taken, c.column) {
			taken = append(taken, c.column)
		}
	}
	slices.Sort(taken)
	for _, c := range p.cards {
		c.column = slices.Index(taken, c.column)
	}
}

// fits says whether a sheet can be read at once.
func (h *house) fits(s *sheet) bool {
	if len(s.full)+len(s.stubs) > mostCards {
		return false
	}
	return h.arrange(s, "").readable()
}

// arrange lays a sheet out: in short columns, or where that gets too wide in
// long ones.
func (h *house) arrange(s *sheet, title string, lines ...string) *layout {
	var l *layout
	for _, tall := range []float64{520, 820} {
		p := h.part(s)
		p.title, p.lines, p.tall = title, lines, tall
		if l = p.arrange(); l.readable() {
			break
		}
	}
	return l
}

func (l *layout) readable() bool {
	w, h := l.size()
	return w <= sheetWidth && h <= sheetHeight
}

// sheets draws the house on as few sheets as can be read.
func (h *house) sheets() []*picture.Picture {
	all := &sheet{full: h.order}
	if len(h.order) == 0 || h.fits(all) {
		return []*picture.Picture{h.arrange(all, h.title(), h.summary()).picture()}
	}
	var list []*sheet
	owner := h.owners()
	for _, c := range h.order {
		if owner[c] == nil && !c.IsContext {
			list = h.divide(c, owner, list)
		}
	}
	list = h.join(list)
	for i, s := range list {
		for _, c := range s.full {
			h.numbers[c] = i + 2 // the first sheet is the index
		}
	}
	pictures := []*picture.Picture{h.index(list)}
	for i, s := range list {
		line := fmt.Sprintf("Sheet %d of %d: %s and what it uses. Dashed cards are drawn whole on other sheets.", i+2, len(list)+1, s.about.Name)
		pictures = append(pictures, h.arrange(s, s.about.Name, line).picture())
	}
	return pictures
}

func (h *house) summary() string {
	if h.counts != nil {
		return h.changed()
	}
	cells := 0
	for _, c := range h.order {
		cells += len(held(c))
	}
	return fmt.Sprintf("Who holds what, and how it travels: %s, %s.", finding.Count(len(h.order), "component"), finding.Count(cells, "cell"))
}

// held are the names of the cells that a component holds or shares.
func held(c *design.Component) []string {
	var names []string
	for _, m := range c.Members {
		if m.IsCell() {
			names = append(names, m.Label)
		}
	}
	return names
}

// owners gives every component one of those that use it: the first.
func (h *house) owners() map[*design.Component]*design.Component {
	owner := map[*design.Component]*design.Component{}
	seen := map[*design.Component]bool{}
	var visit func(c *design.Component)
	visit = func(c *design.Component) {
		seen[c] = true
		for _, s := range c.Supplies {
			if !seen[s.Use.Component] {
				owner[s.Use.Component] = c
				seen[s.Use.Component] = true
			}
		}
		for _, u := range h.used(c) {
			if !seen[u] {
				owner[u] = c
				visit(u)
			}
		}
	}
	for _, c := range h.roots() {
		if !c.IsContext && !seen[c] {
			visit(c)
		}
	}
	for _, c := range h.order {
		if !seen[c] && !c.IsContext {
			visit(c)
		}
	}
	return owner
}

// within are a component and all that it owns, however deep; of more than any sheet has room for, some.
func (h *house) within(c *design.Component, owner map[*design.Component]*design.Component) []*design.Component {
	if h.inside == nil {
		h.inside = map[*design.Component][]*design.Component{}
		for _, o := range h.order {
			for a := o; a != nil && len(h.inside[a]) <= mostCards; a = owner[a] { // what is around a full one is full
				h.inside[a] = append(h.inside[a], o)
			}
		}
	}
	return h.inside[c]
}

// divide adds the sheets of a component: with as many of its parts on each as fit.
func (h *house) divide(c *design.Component, owner map[*design.Component]*design.Component, list []*sheet) []*sheet {
	if all := h.within(c, owner); len(all) <= mostCards {
		if whole := h.near(c, all); h.fits(whole) {
			return append(list, whole)
		}
	}
	var own []*design.Component // what is drawn with it
	own = append(own, c)
	for _, s := range c.Supplies {
		if owner[s.Use.Component] == c {
			own = append(own, s.Use.Component)
		}
	}
	s := &sheet{about: c, full: own}
	var deeper []*design.Component
	for _, u := range h.used(c) {
		full, stubs := h.within(u, owner), []*design.Component(nil)
		if owner[u] != c {
			full, stubs = nil, []*design.Component{u}
		} else if len(full) > mostCards || !h.fits(h.near(c, full, c)) {
			full, stubs, deeper = nil, []*design.Component{u}, append(deeper, u)
		}
		next := &sheet{c, append(slices.Clone(s.full), full...), append(slices.Clone(s.stubs), stubs...)}
		if !h.fits(h.near(c, next.full, next.stubs...)) && len(s.full)+len(s.stubs) > len(own) {
			list = append(list, h.near(c, s.full, s.stubs...))
			next = &sheet{c, full, append([]*design.Component{c}, stubs...)}
			own = next.full[:0:0]
		}
		s = next
	}
	list = append(list, h.near(c, s.full, s.stubs...))
	for _, u := range deeper {
		list = h.divide(u, owner, list)
	}
	return list
}

// near is a sheet with what its components are linked to: the contexts they
// reach and the parts that others own.
func (h *house) near(about *design.Component, full []*design.Component, stubs ...*design.Component) *sheet {
	s := &sheet{about, full, slices.Clone(stubs)}
	on := map[*design.Component]bool{}
	for _, c := range slices.Concat(full, stubs) {
		on[c] = true
	}
	for _, c := range full {
		var linked []*design.Component
		for _, m := range c.Members {
			if m.Kind == design.Used && m.Context != nil {
				linked = append(linked, m.Context)
			}
		}
		if c != about {
			linked = append(linked, h.used(c)...)
		}
		for _, o := range linked {
			if !on[o] {
				on[o] = true
				s.stubs = append(s.stubs, o)
			}
		}
	}
	return s
}

// join puts sheets that follow each other on one, where that can still be read.
func (h *house) join(list []*sheet) []*sheet {
	var out []*sheet
	for _, s := range list {
		if n := len(out) - 1; n >= 0 && out[n].about != s.about {
			both := h.near(out[n].about, append(slices.Clone(out[n].full), s.full...), merge(out[n].stubs, s.stubs)...)
			both.stubs = slices.DeleteFunc(both.stubs, func(c *design.Component) bool { return slices.Contains(both.full, c) })
			if h.fits(both) {
				out[n] = both
				continue
			}
		}
		out = append(out, s)
	}
	return out
}

// merge joins lists, without doubles.
func merge(lists ...[]*design.Component) []*design.Component {
	var out []*design.Component
	for _, l := range lists {
		for _, c := range l {
			if !slices.Contains(out, c) {
				out = append(out, c)
			}
		}
	}
	return out
}

// index is the sheet that tells what is on the others, with the holders of state.
func (h *house) index(list []*sheet) *picture.Picture {
	p := &plan{title: h.title(), tall: 820, legend: []string{"state is held here"}}
	p.lines = []string{h.summary(), fmt.Sprintf("Sheet 1 of %d: what is on the others, and who holds state.", len(list)+1)}
	for i, s := range list {
		k := &card{name: fmt.Sprintf("%d  %s", i+2, s.about.Name), sub: finding.Count(len(s.full), "component"), order: float64(i), plain: true}
		for _, c := range s.full {
			if cells := held(c); len(cells) > 0 {
				k.rows = append(k.rows, &row{text: c.Name + ": " + strings.Join(cells, ", "), cell: true})
			}
		}
		p.cards = append(p.cards, k)
	}
	return p.arrange().picture()
}
